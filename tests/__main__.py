"""Runs the tests: `python -m tests`, or `python -m tests tests.test_matching` for some.

All of them run module by module, one more at once than there are processors: much of the time
they wait for processes of their own.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

TOP = Path(__file__).resolve().parents[1]
FIRST = (
    "test_demo",
    "test_servers_screen",
    "test_screens",
    "test_tracks",
    "test_relay",
    "test_agents_screen",
    "test_tasks_screen",
    "test_framework_faults",
    "test_runs",
    "attacks.test_input",
)
"""The modules that take longest: begun first, so that none is left alone at the end."""
COUNTED = re.compile(r"^(\d+) passed, (\d+) failed, (\d+) skipped$", re.M)


class Told(NamedTuple):
    """How one module's tests went."""

    module: str
    seconds: float
    counts: tuple[int, int, int]
    output: str


def run_here(names: list[str]) -> int:
    """Run these modules in this process; 0 if every test passed. The last line counts them."""
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    outcome = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
    failed = len(outcome.failures) + len(outcome.errors)
    skipped = len(outcome.skipped)
    print(f"{outcome.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 0 if outcome.wasSuccessful() and outcome.testsRun else 1


def run_apart(module: str) -> Told:
    """Run one module in a process of its own."""
    begun = time.monotonic()
    command = [sys.executable, "-m", "tests", f"tests.{module}"]
    done = subprocess.run(command, cwd=TOP, capture_output=True, text=True)
    found = COUNTED.search(done.stdout)
    counts = (int(found[1]), int(found[2]), int(found[3])) if found else (0, 1, 0)
    if done.returncode and not counts[1]:
        counts = (counts[0], 1, counts[2])  # it ended badly, or held no test
    return Told(module, time.monotonic() - begun, counts, done.stdout + done.stderr)


def run_all() -> int:
    """Run every module; 0 if every test passed. The last line counts them."""
    there = sorted(p.stem for p in (TOP / "tests").glob("test_*.py"))
    there += sorted(f"attacks.{p.stem}" for p in (TOP / "tests/attacks").glob("test_*.py"))
    modules = [m for m in FIRST if m in there] + [m for m in there if m not in FIRST]
    total = [0, 0, 0]
    with ThreadPoolExecutor((os.cpu_count() or 2) + 1) as pool:
        for told in pool.map(run_apart, modules):
            total = [a + b for a, b in zip(total, told.counts, strict=True)]
            passed, failed, _ = told.counts
            print(f"{told.module:24} {passed:4} tests {told.seconds:7.1f} s", flush=True)
            if failed:
                print(told.output, flush=True)
    print("{} passed, {} failed, {} skipped".format(*total))
    return 0 if total[0] and not total[1] else 1


if __name__ == "__main__":
    sys.exit(run_here(sys.argv[1:]) if sys.argv[1:] else run_all())
