"""Runs carried out by a thread of the test's process: a process of their own takes seconds to
start, most of them for imports. What is apart, killed or signalled is tested with real ones."""

from __future__ import annotations

import os
import threading
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from ferox.runs.records import claimed_lock, stop_run
from ferox.runs.run_lock import RunLock
from ferox.runs.worker import carry_out_run
from ferox.store.database import open_database
from tests.waiting import HANG_S

STARTED_FROM = (
    "ferox.web.runs.routes.start_worker",
    "ferox.cli.run.start_worker",
    "ferox.cli.fork.start_worker",
    "ferox.web.forks.routes.start_worker",
)


class ThreadedWorker:
    """A worker as those who start one see it, in a thread."""

    def __init__(self, workspace: Path, run: int, lock: RunLock) -> None:
        self._workspace, self.run = workspace, run
        self._status: int | None = None
        self._lock = RunLock(workspace)
        self._lock.adopt(os.dup(lock.descriptor))
        self._thread = threading.Thread(target=self._work)
        self._thread.start()

    def _work(self) -> None:
        try:
            self._status = carry_out_run(self._workspace, self.run)
        finally:
            self._lock.release()

    def poll(self) -> int | None:
        """Its status once it is over."""
        return None if self._thread.is_alive() else self._status

    def wait(self, timeout: float | None = None) -> int | None:
        """Wait until it is over; its status."""
        self._thread.join(timeout)
        return self.poll()

    def end(self) -> None:
        """Have it end, whatever it does."""
        if self.poll() is None:
            engine = open_database(self._workspace)
            stop_run(engine, self.run)
            engine.dispose()
            self.wait(HANG_S)


def start_in_thread(workspace: Path, run: int, lock: RunLock | None = None) -> ThreadedWorker:
    """As `start_worker`, but in this process.

    Raises:
        RunError: another carries the run out.
    """
    with claimed_lock(workspace, run, lock) as claimed:
        return ThreadedWorker(workspace, run, claimed)


def work_in_threads(case: unittest.TestCase) -> None:
    """Have a test's runs carried out by threads, which end with it."""
    workers: list[ThreadedWorker] = []

    def start(*given: Any) -> ThreadedWorker:
        workers.append(start_in_thread(*given))
        return workers[-1]

    for name in STARTED_FROM:
        patch = mock.patch(name, start)
        patch.start()
        case.addCleanup(patch.stop)
    case.addCleanup(lambda: [worker.end() for worker in workers])
