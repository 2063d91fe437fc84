"""The demo: real agents over real seams; steady passes, hasty fails in different ways."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from ferox.workspace import load_workspace
from tests.waiting import HANG_S

ENVIRONMENTS = (".venv-agents", ".venv-agents-mcp2", "node_modules")
STEADY = (
    "duty-officer-steady",
    "desk-openai-agents-steady",
    "desk-pydantic-ai-steady",
    "desk-smolagents-steady",
    "desk-code-steady",
    "desk-script-steady",
    "plain-desk-steady",
)
ASKS_FIRST = ("duty-officer-steady", "desk-pydantic-ai-steady", "desk-script-steady")
"""Agents that put a notice to the harbour master before it goes."""
MADE_UP = ("desk-smolagents-steady", "draft-for-each-booking")
"""Its framework shows every argument as required, so the model makes up a vessel to list."""
APPROVED = ("wording-by-the-master", "master-says-no")
DEMO = Path(__file__).resolve().parents[1] / "demo"


def copy_demo(folder: Path) -> Path:
    """A copy of the demo, so that its own results stay as they are; environments are linked."""
    root = folder / "demo"
    shutil.copytree(DEMO, root, ignore=shutil.ignore_patterns(".ferox", *ENVIRONMENTS))
    for name in ENVIRONMENTS:
        place = "agents/js" if name == "node_modules" else "."
        (root / place / name).symlink_to(DEMO / place / name)
    return root


class Demo(unittest.TestCase):
    results: list[Any]

    @classmethod
    def setUpClass(cls) -> None:
        """One run of everything."""
        cls.folder = Path(tempfile.mkdtemp(prefix="ferox-demo-"))
        cls.addClassCleanup(shutil.rmtree, cls.folder)
        root = copy_demo(cls.folder)
        out = cls.folder / "results.json"
        command = [sys.executable, "-m", "ferox", "run", str(root), "--trials", "1"]
        done = subprocess.run(
            [*command, "--json", str(out)], capture_output=True, text=True, timeout=3 * HANG_S
        )
        if done.returncode != 1:
            raise AssertionError(f"status {done.returncode}: {done.stdout}{done.stderr}")
        cls.results = json.loads(out.read_text())

    def of(self, *agents: str) -> list[Any]:
        return [r for r in self.results if r["agent"] in agents]

    def test_there_is_a_result_for_every_task_and_agent(self) -> None:
        loaded = load_workspace(DEMO)
        tasks = sum(len(s.tasks) for s in loaded.suites.values())
        self.assertGreaterEqual((tasks, len(loaded.suites)), (24, 4))
        self.assertEqual(len(self.results), tasks * len(loaded.agents))

    def test_the_steady_model_passes_everything_with_every_framework(self) -> None:
        self.assertEqual({r["agent"] for r in self.results if "steady" in r["agent"]}, {*STEADY})
        for result in self.of(*STEADY):
            if result["task"] in APPROVED and result["agent"] not in ASKS_FIRST:
                continue
            if (result["agent"], result["task"]) == MADE_UP:
                continue
            failed = [c for c in result["checks"] if c["passed"] is False]
            self.assertEqual(failed, [], (result["agent"], result["task"], result["reason"]))

    def test_a_framework_that_makes_every_argument_required_is_seen(self) -> None:
        for result in self.of(MADE_UP[0]):
            if result["task"] == MADE_UP[1]:
                failed = [c["id"] for c in result["checks"] if c["passed"] is False]
                self.assertEqual(failed, ["state.0"])

    def test_only_who_asks_first_sends_what_the_harbour_master_let_go(self) -> None:
        for result in self.of(*STEADY):
            if result["task"] in APPROVED:
                asks = result["agent"] in ASKS_FIRST
                self.assertEqual(result["verdict"] == "pass", asks, result["agent"])

    def test_the_hasty_model_fails_in_different_ways(self) -> None:
        failed = [
            check
            for result in self.of("duty-officer-hasty", "plain-desk-hasty")
            for check in result["checks"]
            if check["passed"] is False
        ]
        families = {check["family"] for check in failed}
        self.assertGreaterEqual(families, {"choice", "arguments", "order", "failures", "outcome"})

    def test_every_framework_is_seen_at_both_seams(self) -> None:
        for result in self.of(*STEADY):
            if result["task"] == "move-on-a-bad-day":
                self.assertEqual(len(result["attempts"]["move"]), 1, result["agent"])
                self.assertEqual(result["scores"]["failures"], 1)
                self.assertGreater(result["tokens"]["input"], 100)
                self.assertGreater(result["latency"]["model_ms"], 0)

    def test_nothing_is_left_running(self) -> None:
        left = subprocess.run(["pgrep", "-f", str(self.folder)], capture_output=True, text=True)
        self.assertEqual(left.stdout, "")
