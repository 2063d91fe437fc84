"""Agents that do all they should not, side by side; and kills in the middle of a run."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from bench.hostile import BODIES, workspace
from bench.soak import left_over, soak
from ferox.runs.records import make_ready_again, plan_run, start_worker, state_of
from ferox.runs.run_lock import is_claimed
from ferox.store import tables
from ferox.store.database import open_database
from ferox.store.traces import read_trace
from ferox.workspace import load_workspace
from tests.waiting import HANG_S, until

ENDS = {
    "crashes": "crash", "dies": "crash", "hangs": "no_reply", "deaf": "no_reply",
    "floods": "done", "leaves": "done", "heavy": "done", "endless": "limit",
    "rubbish": "done", "nonsense": "done", "plain": "done",
}  # fmt: skip


class Soak(unittest.TestCase):
    def test_every_trial_has_a_verdict_and_nothing_is_left(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            found = soak(Path(folder).resolve(), len(ENDS))
        self.assertEqual(found.ends, dict.fromkeys(ENDS.items(), 1))
        self.assertEqual(found.status, 0)


class Killed(unittest.TestCase):
    """A run that is killed and taken up again ends as one that nobody disturbed."""

    AGENTS = ("crashes", "leaves", "endless", "rubbish", "floods")
    REPEATS = 2

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name).resolve()
        self.agents = workspace(self.root, {name: BODIES[name] for name in self.AGENTS})
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)

    def plan(self) -> int:
        loaded = load_workspace(self.root)
        return plan_run(self.engine, loaded, ["small"], self.agents, self.REPEATS, 4)

    def trials_of(self, run: int) -> list[Any]:
        with Session(self.engine) as session:
            query = select(tables.Trial).where(tables.Trial.run_id == run)
            trials = session.scalars(query.order_by(tables.Trial.agent, tables.Trial.number))
            return [
                (t.agent, t.number, t.state, t.verdict, t.reason, t.calls,
                 (read_trace(session, t.id) or {"events": [{}]})["events"][-1].get("why"))
                for t in trials
            ]  # fmt: skip

    def some_done(self, run: int) -> None:
        until(lambda: sum(t[2] == "done" for t in self.trials_of(run)) >= 2)

    def test_the_worker_and_the_web_process_are_killed(self) -> None:
        calm = self.plan()
        self.assertEqual(start_worker(self.root, calm).wait(HANG_S), 0)
        wild = self.plan()
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        command = [sys.executable, "-m", "ferox", "serve", str(self.root), "--port", str(port)]
        web = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
        assert web.stdout is not None
        web.stdout.readline()
        worker = start_worker(self.root, wild)
        self.some_done(wild)
        os.kill(web.pid, signal.SIGKILL)
        web.wait()
        web.stdout.close()
        self.assertTrue(is_claimed(self.root, wild))
        os.kill(worker.pid, signal.SIGKILL)
        worker.wait()
        before = {t[:2]: t for t in self.trials_of(wild) if t[2] == "done"}
        with Session(self.engine) as session:
            state = state_of(session, self.root, session.get_one(tables.Run, wild))
        self.assertEqual(state, "interrupted")
        self.until_nothing_is_left()
        missing = make_ready_again(self.engine, self.root, wild)
        self.assertEqual(missing, self.REPEATS * len(self.agents) - len(before))
        self.assertEqual(start_worker(self.root, wild).wait(HANG_S), 0)
        after = {t[:2]: t for t in self.trials_of(wild)}
        self.assertEqual({key: after[key] for key in before}, before)
        self.assertEqual(self.trials_of(wild), self.trials_of(calm))

    def until_nothing_is_left(self) -> None:
        """Agents end with the worker that drove them, though it was killed."""
        until(lambda: not left_over(self.root))
