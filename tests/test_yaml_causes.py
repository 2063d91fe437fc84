"""What is said of a text that is no YAML: the place of the mistake, and what to write instead."""

from __future__ import annotations

import unittest

from ferox.intake.yaml_text import read_yaml_text

HEAD = "suite: s\ntasks:\n  - task: a\n"


class YamlCauseTest(unittest.TestCase):
    def assert_fault(self, text: str, place: tuple[int, int], *pieces: str) -> None:
        """The first fault of a text after `HEAD`, of three lines: its place and words."""
        fault = read_yaml_text(HEAD + text).faults[0]
        self.assertEqual((fault.line, fault.column), place, fault)
        for piece in pieces:
            self.assertIn(piece, fault.message)

    def test_colon_within_a_text_is_told_with_the_line_to_write(self) -> None:
        self.assert_fault(
            "    say: Please renew: my booking.\n",
            (4, 22),
            '`say: "Please renew: my booking."`',
        )

    def test_a_quote_that_is_never_closed_is_told_where_it_opens(self) -> None:
        text = '    say: "Renew it.\n    expect:\n      calls: []\n  - task: b\n    say: x\n'
        self.assert_fault(text, (4, 10), "never closed")

    def test_a_quote_closed_by_a_later_one_is_told_where_it_opens(self) -> None:
        text = '    say: "Renew it.\n    expect:\n      answer: [{matches: "x"}]\n'
        self.assert_fault(text, (4, 10), "closed only on line 6")

    def test_an_apostrophe_in_single_quotes(self) -> None:
        self.assert_fault("    say: 'The captain's berth.'\n", (4, 22), "as ''")

    def test_a_sign_that_begins_no_text(self) -> None:
        self.assert_fault(
            "    say: @duty please\n", (4, 10), "cannot begin with `@`", '"@duty please"'
        )

    def test_an_expression_without_quotes(self) -> None:
        self.assert_fault("    say: {{ now }} please\n", (4, 20), '"{{ now }} please"')
        self.assert_fault("    say: {{ now }}\n", (4, 5), "in quotes")

    def test_a_bracket_that_is_not_closed(self) -> None:
        self.assert_fault("    tags: [a, b\n    say: x\n", (4, 11), "`[` that opens here")

    def test_tabs(self) -> None:
        self.assert_fault("\tsay: x\n", (4, 1), "by spaces")

    def test_a_text_that_is_long_is_not_repeated(self) -> None:
        fault = read_yaml_text(f"say: a: {'b' * 100}\n").faults[0]
        self.assertIn("put the text in quotes", fault.message)
        self.assertNotIn("bbb", fault.message)
