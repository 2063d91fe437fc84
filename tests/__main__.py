"""Runs the tests: `python -m tests`, or `python -m tests tests.test_matching` for some."""

from __future__ import annotations

import sys
import unittest
from pathlib import Path


def main(names: list[str]) -> int:
    """0 if every test passed; the last line counts them."""
    loader = unittest.defaultTestLoader
    top = Path(__file__).resolve().parents[1]
    suite = (
        loader.loadTestsFromNames(names)
        if names
        else loader.discover(str(top / "tests"), top_level_dir=str(top))
    )
    outcome = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
    failed = len(outcome.failures) + len(outcome.errors)
    skipped = len(outcome.skipped)
    print(f"{outcome.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 0 if outcome.wasSuccessful() and outcome.testsRun else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
