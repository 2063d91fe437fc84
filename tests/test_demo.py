"""The demo: real agents over real seams; steady passes, hasty fails in different ways."""

from __future__ import annotations

import json
import math
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from statistics import fmean, variance
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


def failed_checks(result: Any) -> list[str]:
    """What failed but for budgets, which a slow machine breaks."""
    return [c["id"] for c in result["checks"] if c["passed"] is False and c["family"] != "latency"]


def ferox(*words: object) -> None:
    """A command that may find that checks failed."""
    done = subprocess.run(
        [sys.executable, "-m", "ferox", *map(str, words)],
        capture_output=True, text=True, timeout=3 * HANG_S,
    )  # fmt: skip
    if done.returncode not in (0, 1):
        raise AssertionError(f"status {done.returncode}: {done.stdout}{done.stderr}")


class DemoPlan(unittest.TestCase):
    def test_its_comparison_against_a_computation_of_its_own(self) -> None:
        """Both arms of the demo's first plan, from the results as they are written to a file."""
        folder = Path(tempfile.mkdtemp(prefix="ferox-demo-plan-"))
        self.addCleanup(shutil.rmtree, folder)
        root, out, compared = copy_demo(folder), folder / "results.json", folder / "compared.json"
        plan = "wording-of-look-alikes"
        ferox("run", root, "--plan", plan, "--trials", 3, "--at-once", 4, "--json", out)
        arms = ("plain-desk-muddled", "plain-desk-muddled · clearer")
        ferox("compare", root, *(f"1:{arm}" for arm in arms), "--json", compared)
        results, report = json.loads(out.read_text()), json.loads(compared.read_text())
        values: dict[str, dict[tuple[str, str], list[float]]] = {
            "pass": {}, "choice": {}, "turn_ms": {}
        }  # fmt: skip
        for result in results:
            key = (result["arm"], f"{result['suite']}/{result['task']}")
            values["pass"].setdefault(key, []).append(float(result["verdict"] == "pass"))
            if result["scores"]["choice"] is not None:
                values["choice"].setdefault(key, []).append(result["scores"]["choice"])
            taken = math.log(sum(result["latency"]["turn_ms"]))
            values["turn_ms"].setdefault(key, []).append(taken)
        metrics = {metric["metric"]: metric for metric in report["metrics"]}
        self.assertEqual(report["shared_tasks"], 8)
        for metric in values:
            with self.subTest(metric):
                self.compare_one(metrics[metric], values[metric], arms, bounded=metric != "turn_ms")

    def compare_one(
        self,
        metric: Any,
        values: dict[tuple[str, str], list[float]],
        arms: tuple[str, str],
        *,
        bounded: bool,
    ) -> None:
        tasks = sorted({task for _, task in values})
        a, b = ([values[arm, task] for task in tasks] for arm in arms)
        k = len(tasks)
        apart = [fmean(y) - fmean(x) for x, y in zip(a, b, strict=True)]
        d = fmean(apart)
        spread = [variance(x) / len(x) for x in (*a, *b)]
        floor = (1 / (4 * (3 + 1)) + 1 / (4 * (3 + 1))) / k**2 if bounded else 0.0
        shown = math.exp if metric["ratio"] else float
        self.assertAlmostEqual(metric["difference"], shown(d), places=7)
        if bounded:
            error = 1.959964 * math.sqrt(sum(spread) / k**2 + floor)
            self.assertAlmostEqual(metric["these"]["low"], max(-1.0, d - error), places=7)
            self.assertAlmostEqual(metric["these"]["high"], min(1.0, d + error), places=7)
        t = 2.364624251592784  # Student's 97.5 % point with 7 degrees of freedom
        self.assertEqual(k, 8)
        error = t * math.sqrt(variance(apart) / k + floor)
        low, high = (
            (max(-1.0, d - error), min(1.0, d + error)) if bounded else (d - error, d + error)
        )
        self.assertAlmostEqual(metric["like_these"]["low"], shown(low), places=7)
        self.assertAlmostEqual(metric["like_these"]["high"], shown(high), places=7)


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
            self.assertEqual(failed_checks(result), [], (result["agent"], result["task"]))

    def test_a_framework_that_makes_every_argument_required_is_seen(self) -> None:
        for result in self.of(MADE_UP[0]):
            if result["task"] == MADE_UP[1]:
                self.assertEqual(failed_checks(result), ["state.0"])

    def test_only_who_asks_first_sends_what_the_harbour_master_let_go(self) -> None:
        for result in self.of(*STEADY):
            if result["task"] in APPROVED:
                asks = result["agent"] in ASKS_FIRST
                self.assertEqual(not failed_checks(result), asks, result["agent"])

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
