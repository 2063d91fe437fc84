"""Expressions and templates: what they give, and how they fail."""

from __future__ import annotations

import unittest
from unittest import mock

from ferox.core import expressions
from ferox.core.expressions import (
    ExpressionError,
    check_expressions,
    condition_holds,
    evaluate,
    render_value,
)

NAMES = {"args": {"berth": "N1", "metres": 7.5}, "state": {"bookings": []}}


class Values(unittest.TestCase):
    def test_a_string_that_is_one_expression_keeps_its_type(self) -> None:
        self.assertEqual(render_value("{{ args.metres }}", NAMES), 7.5)
        self.assertEqual(render_value(" {{ args.metres }} ", NAMES), 7.5)
        self.assertEqual(render_value("{{ args.metres }} m", NAMES), "7.5 m")
        self.assertEqual(render_value("{% if args %}yes{% endif %}", NAMES), "yes")

    def test_values_are_rendered_inside_and_keys_are_not(self) -> None:
        value = {"{{ args.berth }}": ["{{ args.berth }}", 3, None, {"a": "at {{ args.berth }}"}]}
        self.assertEqual(
            render_value(value, NAMES), {"{{ args.berth }}": ["N1", 3, None, {"a": "at N1"}]}
        )

    def test_what_is_not_there_makes_a_condition_false(self) -> None:
        for condition in ("args.nothing", "nothing", "args.nothing.more", "state.bookings[0]"):
            with self.subTest(condition):
                self.assertFalse(condition_holds(condition, NAMES))
        self.assertTrue(condition_holds("args.metres > 7", NAMES))
        self.assertFalse(condition_holds("args.metres > 8", NAMES))

    def test_any_other_fault_is_an_error(self) -> None:
        for condition in ("args.metres > 'x'", "1 / 0", "("):
            with self.subTest(condition), self.assertRaises(ExpressionError):
                condition_holds(condition, NAMES)


class Faults(unittest.TestCase):
    def message(self, source: str) -> str:
        with self.assertRaises(ExpressionError) as caught:
            evaluate(source, NAMES)
        return str(caught.exception)

    def test_a_message_shows_the_expression_up_to_120_characters(self) -> None:
        self.assertTrue(self.message("nothing").startswith("`nothing`: "))
        whole = f"nothing_{'x' * 112}"
        self.assertIn(f"`{whole}`", self.message(whole))
        self.assertIn(f"`{whole[:119]}…`", self.message(f"{whole}x"))

    def test_a_template_may_be_so_long_and_no_longer(self) -> None:
        with mock.patch.object(expressions, "LONGEST", 10):
            self.assertEqual(evaluate("args.berth", NAMES), "N1")
            self.assertEqual(evaluate("args['berth'", {"args": 1}) if 0 else 1, 1)
            self.assertIn("more than 10 characters", self.message("args.metres"))

    def test_what_does_not_parse_is_found_beforehand(self) -> None:
        for text in ("{{ args. }}", "{{ a }} and {{ b", "{% if %}"):
            with self.subTest(text), self.assertRaises(ExpressionError):
                check_expressions(text)
        with self.assertRaises(ExpressionError):
            check_expressions("a b", condition=True)
        check_expressions("a b")  # plain words, with nothing to work out
        check_expressions("args.metres > 7", condition=True)
        check_expressions("{{ args.metres }} m")
