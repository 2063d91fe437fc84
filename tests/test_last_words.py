"""What a process said last, of logs as Python and Node write them."""

from __future__ import annotations

import subprocess
import sys
import unittest

from ferox.processes.last_words import last_words


def log_of(*command: str) -> list[str]:
    return subprocess.run(command, capture_output=True, text=True).stderr.splitlines()


class LastWords(unittest.TestCase):
    def test_node_says_its_error_before_its_stack(self) -> None:
        log = log_of("node", "--input-type=module", "--eval", "import 'tides'")
        self.assertRegex(
            last_words(log, 3), r"^Error \[ERR_MODULE_NOT_FOUND\]: Cannot find package 'tides'"
        )
        self.assertNotIn("|", last_words(log, 3))
        log = log_of("node", "--eval", "class NoTide extends Error {}; throw new TypeError('ebb')")
        self.assertEqual(last_words(log, 3), "TypeError: ebb")

    def test_python_says_it_last(self) -> None:
        log = log_of(sys.executable, "-c", "import tides")
        self.assertEqual(last_words(log, 3), "ModuleNotFoundError: No module named 'tides'")

    def test_of_several_errors_the_last_with_what_it_says_besides(self) -> None:
        log = ["ValueError: first", "", "  at sea", "pkg.ValidationError: 1 error", " berth", " N9"]
        self.assertEqual(last_words(log, 2), "pkg.ValidationError: 1 error | berth")

    def test_without_an_error_the_last_lines(self) -> None:
        self.assertEqual(last_words(["a", " ", "b", "c "], 2), "b | c")
        self.assertEqual(last_words(["no error: all is well"], 2), "no error: all is well")
        self.assertEqual(last_words([], 2), "")
        old = ["ConnectionError: tried again", *(f"{n} ships" for n in range(30))]
        self.assertEqual(last_words(old, 2), "28 ships | 29 ships")
