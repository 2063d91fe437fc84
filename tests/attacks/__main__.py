"""Runs every attack and prints what was tried and what held: `python -m tests.attacks`.

Also those that take long, which the tests leave out.
"""

from __future__ import annotations

import os
import sys
import time
import unittest
from pathlib import Path
from typing import Any

from tests.attacks.attack import LONG

HERE = Path(__file__).parent


class _Table(unittest.TextTestResult):
    """Prints a line for each attack: whether it held, how long it took, what was tried."""

    def startTest(self, test: Any) -> None:
        self._begun = time.monotonic()
        super().startTest(test)

    def _line(self, test: Any, held: str) -> None:
        tried = test.shortDescription() or test._testMethodName.removeprefix("test_")
        about = type(test).__doc__ or type(test).__name__
        seconds = time.monotonic() - self._begun
        words = f"{held:7}{seconds:7.1f} s  {about.splitlines()[0].rstrip('.')}: "
        print(words + tried.replace("_", " ").rstrip("."), file=sys.__stdout__, flush=True)

    def addSuccess(self, test: Any) -> None:
        super().addSuccess(test)
        self._line(test, "held")

    def addFailure(self, test: Any, err: Any) -> None:
        super().addFailure(test, err)
        self._line(test, "BROKE")

    def addError(self, test: Any, err: Any) -> None:
        super().addError(test, err)
        self._line(test, "BROKE")


def main() -> int:
    """Run all attacks; 0 if everything held."""
    os.environ[LONG] = "1"
    modules = sorted(f"tests.attacks.{path.stem}" for path in HERE.glob("test_*.py"))
    suite = unittest.defaultTestLoader.loadTestsFromNames(sys.argv[1:] or modules)
    outcome = unittest.TextTestRunner(sys.stderr, resultclass=_Table, verbosity=0, buffer=True).run(
        suite
    )
    broke = len(outcome.failures) + len(outcome.errors)
    skipped = len(outcome.skipped)
    print(f"{outcome.testsRun - broke - skipped} held, {broke} broke, {skipped} not tried")
    return 1 if broke else 0


if __name__ == "__main__":
    sys.exit(main())
