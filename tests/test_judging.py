"""Stored trials that are judged again: in this process, or side by side in others."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import unittest
from contextlib import suppress
from pathlib import Path
from typing import Any, ClassVar
from unittest import mock

import psutil

from bench.filled_run import fill_run
from ferox.formats.suite import Suite
from ferox.runs import judging, rescoring
from ferox.runs.judging import JudgePool
from ferox.runs.rescoring import RescoredBatch, rescore_next, stale_count
from ferox.store.database import open_database, read_session
from ferox.store.results import read_results
from tests.waiting import HANG_S, until

TRIALS = 230
"""More than the processes are asked for ahead, and no multiple of a portion."""


def judges() -> list[psutil.Process]:
    """The processes of a pool of this process."""
    found = []
    for process in psutil.Process().children():
        with suppress(psutil.Error):  # it has just ended
            if "spawn_main" in " ".join(process.cmdline()):
                found.append(process)
    return found


class Judging(unittest.TestCase):
    """All tests use one pool, and leave the trials judged as they were."""

    root: ClassVar[Path]
    suite: ClassVar[Suite]
    pool: ClassVar[JudgePool]

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.root = Path(folder.name)
        cls.suite = fill_run(cls.root, TRIALS)
        cls.pool = JudgePool(cls.root, processes=2)
        cls.addClassCleanup(cls.pool.close)

    def setUp(self) -> None:
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)
        self.addCleanup(self.rescore, self.suite)
        for name, value in (("MANY", 1), ("AT_A_TIME", 20)):
            patched = mock.patch.object(rescoring, name, value)
            patched.start()
            self.addCleanup(patched.stop)

    def expecting(self, answer: str) -> Suite:
        """The suite, with another answer demanded."""
        document = self.suite.model_dump(by_alias=True, exclude_unset=True)
        document["tasks"][0]["expect"]["answer"] = [{"matches": answer}]
        return Suite.model_validate(document)

    def rescore(self, suite: Suite, **options: Any) -> RescoredBatch:
        return rescore_next(self.engine, suite, suite.tasks, batch_s=HANG_S, **options)

    def results(self) -> list[Any]:
        with read_session(self.engine) as session:
            found = read_results(session, range(1, TRIALS + 1))
        return [found[number] for number in sorted(found)]

    def test_other_processes_judge_as_this_one_does(self) -> None:
        before = self.results()
        batch = self.rescore(self.expecting("Finished"), pool=self.pool)
        self.assertEqual(batch, RescoredBatch(done=TRIALS, changed=TRIALS, left=0))
        self.assertEqual(len(judges()), 2)
        apart = self.results()
        self.assertEqual([r["verdict"] for r in apart], ["fail"] * TRIALS)
        self.assertEqual(self.rescore(self.suite).changed, TRIALS)
        self.assertEqual(self.results(), before)
        self.rescore(self.expecting("Finished"))
        self.assertEqual(self.results(), apart)

    def test_few_are_judged_here(self) -> None:
        pool = mock.create_autospec(JudgePool)
        with mock.patch.object(rescoring, "MANY", TRIALS + 1):
            batch = self.rescore(self.expecting("Finished"), pool=pool)
        self.assertEqual(batch.changed, TRIALS)
        pool.judge_all.assert_not_called()

    def test_a_batch_ends_and_the_next_goes_on(self) -> None:
        suite, batches = self.expecting("Finished"), []
        while not batches or batches[-1].left:
            batches.append(rescore_next(self.engine, suite, suite.tasks, batch_s=0, pool=self.pool))
            with read_session(self.engine) as session:
                self.assertEqual(batches[-1].left, stale_count(session, suite, suite.tasks))
        self.assertEqual([b.done for b in batches], [20] * 11 + [10])

    def test_a_process_that_is_killed_costs_no_trial(self) -> None:
        self.rescore(self.expecting("Finished"), pool=self.pool)
        for judge in judges():
            judge.send_signal(signal.SIGKILL)
        batch = self.rescore(self.suite, pool=self.pool)
        self.assertEqual((batch.changed, batch.left), (TRIALS, 0))
        batch = self.rescore(self.expecting("Finished"), pool=self.pool)
        self.assertEqual((batch.changed, batch.left), (TRIALS, 0))
        self.assertEqual(len(judges()), 2)

    def test_processes_end_when_there_is_nothing_to_judge(self) -> None:
        with mock.patch.object(judging, "IDLE_S", 0.01):
            self.rescore(self.expecting("Finished"), pool=self.pool)
        until(lambda: not judges())

    def test_processes_end_with_the_one_that_started_them(self) -> None:
        code = (
            "import sys, time\n"
            "from pathlib import Path\n"
            "from ferox.runs import rescoring\n"
            "from ferox.runs.judging import JudgePool\n"
            "from ferox.store.database import open_database\n"
            "from ferox.workspace.load import load_workspace\n"
            "if __name__ == '__main__':\n"
            "    root = Path(sys.argv[1])\n"
            "    rescoring.MANY = 1\n"
            "    (suite,) = load_workspace(root).suites.values()\n"
            "    suite.tasks[0].expect.answer.clear()\n"
            "    pool = JudgePool(root, 2)\n"
            "    rescoring.rescore_next(open_database(root), suite, suite.tasks, pool=pool)\n"
            "    print('judged', flush=True)\n"
            "    time.sleep(600)\n"
        )
        (self.root / "judge.py").write_text(code)
        command = [sys.executable, str(self.root / "judge.py"), str(self.root)]
        here = {**os.environ, "PYTHONPATH": str(Path(__file__).parents[1])}
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=here) as parent:
            assert parent.stdout is not None
            self.assertEqual(parent.stdout.readline(), "judged\n")
            left = psutil.Process(parent.pid).children()
            self.assertGreaterEqual(len(left), 2)
            parent.kill()
        until(lambda: not any(p.is_running() and p.status() != "zombie" for p in left))
