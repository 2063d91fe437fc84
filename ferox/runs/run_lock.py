"""A run's lock: held by whoever carries the run out, or is about to.

It is claimed before the run is stored, and handed from the process that starts a worker to the
worker itself. So a run is claimed from its first moment to its last, and one that is claimed by
nobody was interrupted, however slow the machine is.
"""

from __future__ import annotations

import fcntl
import os
import time
from pathlib import Path
from types import TracebackType
from typing import Self

from ferox.store.database import results_folder

GLANCE_S = 0.5
"""Seconds for which a claim is tried: whoever looks whether a run is claimed holds it a moment."""


def lock_path(workspace: Path, run: int | str) -> Path:
    """The file that is locked while a run, or other long work by its name, is claimed."""
    return results_folder(workspace) / f"run-{run}.lock"


def is_claimed(workspace: Path, run: int | str) -> bool:
    """Whether some process carries the run out, or is about to."""
    try:
        # A shared lock, tried and let go at once: looking takes nothing from those who look too.
        file = lock_path(workspace, run).open("r")
    except FileNotFoundError:
        return False
    with file:
        try:
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
    return False


class RunLock:
    """The claim to carry out one run, let go at the end of a `with` block.

    A worker that was started with it holds it on: the lock belongs to the open file, of which
    the worker has a descriptor of its own.
    """

    def __init__(self, workspace: Path) -> None:
        self._workspace = workspace
        self._descriptor: int | None = None

    def claim(self, run: int | str, wait_s: float = GLANCE_S) -> bool:
        """Claim a run; False if another still holds it after `wait_s` seconds."""
        path = lock_path(self._workspace, run)
        # The file is never removed: another process may just have opened it, and two would each
        # hold the lock of a file by the same name.
        descriptor = os.open(path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        end = time.monotonic() + wait_s
        while True:
            try:
                fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                if time.monotonic() >= end:
                    os.close(descriptor)
                    return False
                time.sleep(0.02)
            else:
                self.release()
                self._descriptor = descriptor
                return True

    def adopt(self, descriptor: int) -> None:
        """Hold on to a lock that the process which started this one has claimed."""
        os.set_inheritable(descriptor, False)  # what this process starts shall not hold it too
        self._descriptor = descriptor

    @property
    def descriptor(self) -> int:
        """The file descriptor that a started worker has to inherit."""
        if self._descriptor is None:
            raise ValueError("no run has been claimed")
        return self._descriptor

    @property
    def is_held(self) -> bool:
        """Whether a run is claimed by it."""
        return self._descriptor is not None

    def release(self) -> None:
        """Let go of the run, if one is held."""
        if self._descriptor is not None:
            os.close(self._descriptor)
            self._descriptor = None

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.release()
