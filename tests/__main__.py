"""Runs the tests: `python -m tests`, or `python -m tests tests.test_matching` for some.

All of them run in processes of a few modules each, three more at once than there are processors:
much of the time they wait for processes of their own.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import time
import unittest
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path
from typing import NamedTuple

TOP = Path(__file__).resolve().parents[1]
FIRST = (
    "test_demo",
    "test_newcomer",
    "test_traced",
    "test_docs",
    "attacks.test_input",
    "test_relay",
    "test_servers_screen",
    "test_screens",
    "test_runs",
    "attacks.test_fuzz",
    "test_framework_faults",
    "test_compare_screen",
    "test_tracks",
    "test_tasks_screen",
    "test_agents_screen",
    "test_begin_screen",
    "attacks.test_agents",
    "test_soak",
    "test_services",
    "test_web_agents",
    "test_access",
    "test_cli",
    "test_accessibility",
    "test_keyboard",
    "test_zoom",
    "test_connections",
    "test_new",
)
"""The modules that take longest: begun first, so that none is left alone at the end."""
BATCH = 8
"""Modules that share a process: importing what they test takes longer than most of them."""
COUNTED = re.compile(r"^(\d+) passed, (\d+) failed, (\d+) skipped$", re.M)
TIMED = re.compile(r"^(?:attacks\.)?test_\w+ +\d+ tests .*$", re.M)


class Outcome(NamedTuple):
    """How the tests of a process went."""

    counts: tuple[int, int, int]
    output: str


def _cpu_seconds() -> float:
    """What this process and those that it has waited for took of the processors."""
    used = os.times()
    return used.user + used.system + used.children_user + used.children_system


def run_here(names: list[str]) -> int:
    """Run these modules in this process; 0 if every test passed. The last line counts them."""
    total = [0, 0, 0]
    for name in names:
        begun, spent = time.monotonic(), _cpu_seconds()
        suite = unittest.defaultTestLoader.loadTestsFromName(name)
        result = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
        failed, skipped = len(result.failures) + len(result.errors), len(result.skipped)
        passed = result.testsRun - failed - skipped
        total = [a + b for a, b in zip(total, (passed, failed, skipped), strict=True)]
        took_s, cpu_s = time.monotonic() - begun, _cpu_seconds() - spent
        line = f"{name.removeprefix('tests.'):28} {passed:4} tests {took_s:7.1f} s"
        print(f"{line} {cpu_s:7.1f} s of CPU", flush=True)
    print("{} passed, {} failed, {} skipped".format(*total))
    return 0 if total[0] and not total[1] else 1


def run_apart(modules: list[str]) -> Outcome:
    """Run modules in a process of their own."""
    command = [sys.executable, "-m", "tests", *(f"tests.{module}" for module in modules)]
    done = subprocess.run(command, cwd=TOP, capture_output=True, text=True)
    found = COUNTED.search(done.stdout)
    counts = (int(found[1]), int(found[2]), int(found[3])) if found else (0, 1, 0)
    if done.returncode and not counts[1]:
        counts = (counts[0], 1, counts[2])  # it ended badly, or held no test
    return Outcome(counts, done.stdout + done.stderr)


def run_all() -> int:
    """Run every module; 0 if every test passed. The last line counts them."""
    there = sorted(p.stem for p in (TOP / "tests").glob("test_*.py"))
    there += sorted(f"attacks.{p.stem}" for p in (TOP / "tests/attacks").glob("test_*.py"))
    others = [m for m in there if m not in FIRST]
    batches = [[m] for m in FIRST if m in there]
    # Dealt out, for neighbours by name are about the same and take about as long.
    count = max(1, len(others) // BATCH)
    batches += [others[i::count] for i in range(count)]
    total = [0, 0, 0]
    with ThreadPoolExecutor((os.cpu_count() or 2) + 3) as pool:
        for done in as_completed([pool.submit(run_apart, batch) for batch in batches]):
            counts, output = done.result()
            total = [a + b for a, b in zip(total, counts, strict=True)]
            print("\n".join(TIMED.findall(output)) if not counts[1] else output, flush=True)
    print("{} passed, {} failed, {} skipped".format(*total))
    return 0 if total[0] and not total[1] else 1


if __name__ == "__main__":
    sys.exit(run_here(sys.argv[1:]) if sys.argv[1:] else run_all())
