"""The sandbox of templates: the everyday works, and each bound holds where it is."""

from __future__ import annotations

import unittest
from contextlib import AbstractContextManager
from typing import Any
from unittest import mock

from ferox.core import template_sandbox
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.template_sandbox import size_of

NAMES = {"words": ["tide", "berth"], "text": "a\nb", "n": 3, "big": "ab" * 50, "state": {"a": [1]}}


def gives(text: str, **names: Any) -> Any:
    return render_value(text, {**NAMES, **names})


def bounded(name: str, most: int) -> AbstractContextManager[Any]:
    return mock.patch.object(template_sandbox, name, most)


class Refusing(unittest.TestCase):
    def refused(self, text: str, why: str = "") -> None:
        with self.assertRaisesRegex(ExpressionError, why):
            gives(text)


class Everyday(unittest.TestCase):
    def test_filters_methods_and_operators(self) -> None:
        for text, value in (
            ("{{ words|join(', ') }}", "tide, berth"), ("{{ words|first|upper }}", "TIDE"),
            ("{{ ', '.join(words) }}", "tide, berth"), ("{{ text|indent(2) }}", "a\n  b"),
            ("{{ text|replace('a', 'xyz') }}", "xyz\nb"), ("{{ text.replace('a', 'c') }}", "c\nb"),
            ("{{ text.replace('a', 'c', 1) }}", "c\nb"),
            ("{{ n * 4 }}", 12), ("{{ n + 0.5 }}", 3.5),
            ("{{ words + ['quay'] }}", ["tide", "berth", "quay"]), ("{{ 'a' + 'b' }}", "ab"),
            ("{{ '%s m'|format(n) }}", "3 m"), ("{{ '%d m' % n }}", "3 m"),
            ("{{ '{} m'.format(n) }}", "3 m"), ("{{ range(3)|list }}", [0, 1, 2]),
            ("{{ [1, 2, 3]|batch(2)|list }}", [[1, 2], [3]]), ("{{ [1, 2]|sum }}", 3),
            ("{{ words|length }}", 2), ("{{ state.a|tojson }}", "[1]"),
            ("{{ [n]|map('string')|list }}", ["3"]),
            ("{% for w in words %}{{ w }};{% endfor %}", "tide;berth;"),
            ("{{ 'a long quay wall'|truncate(9) }}", "a..."),
            ("{{ -n // 2 }}", -2), ("{{ n % 2 }}", 1), ("{{ [{'m': 2}]|sum(attribute='m') }}", 2),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(gives(text), value)

    def test_tests_of_our_own(self) -> None:
        self.assertTrue(gives("{{ 'N1 Quay' is containing 'quay' }}"))
        self.assertFalse(gives("{{ 'N1' is containing 'S1' }}"))
        self.assertTrue(gives("{{ 'N1' is starting 'N' }}"))

    def test_bounds_are_for_each_rendering_anew(self) -> None:
        with bounded("MOST_STEPS", 60):
            for _ in range(5):
                gives("{% for x in range(20) %}{{ x }}{% endfor %}")


class Numbers(Refusing):
    def test_powers_and_repeated_texts_are_refused(self) -> None:
        for text in ("{{ 2 ** 3 }}", "{{ 'a' * 3 }}", "{{ [1] * 3 }}", "{{ 3 * 'a' }}"):
            self.refused(text, "is not available for these values")

    def test_numbers_of_many_digits(self) -> None:
        with bounded("MOST_BITS", 8):
            self.assertEqual(gives("{{ 15 * 15 }}"), 225)
            self.refused("{{ 31 * 15 }}", "too many digits")

    def test_a_range_and_a_filters_numbers(self) -> None:
        self.assertEqual(gives("{{ range(10000)|length }}"), 10_000)
        self.refused("{{ range(10001)|length }}", "at most 10,000")
        self.assertEqual(gives("{{ [1]|batch(10000)|list }}"), [[1]])
        self.refused("{{ [1]|batch(10001)|list }}", "takes numbers up to 10,000")
        self.refused("{{ 'a'|truncate(-10001) }}", "takes numbers up to 10,000")

    def test_widths(self) -> None:
        self.assertEqual(gives("{{ '%3d'|format(7) }}"), "  7")
        for text in ("{{ '%1000d'|format(7) }}", "{{ '%1000d' % 7 }}", "{{ '{:1000}'.format(7) }}"):
            self.refused(text, "four digits or more")
        self.refused("{{ '{:{}}'.format(7, 3) }}", "worked out")


class Sizes(Refusing):
    def test_what_a_value_holds(self) -> None:
        self.assertEqual([size_of(v) for v in (7, None, "abc", "")], [1, 1, 3, 0])
        self.assertEqual(size_of([1, "ab", [True]]), 1 + 1 + 2 + 1 + 1)
        self.assertEqual(size_of({"ab": "cde"}), 1 + 2 + 3)

    def test_what_is_shown_up_to_the_bound(self) -> None:
        with bounded("LARGEST", 100):
            self.assertEqual(len(gives("{{ big }}.")), 101)
            self.refused("{{ big }}{{ n }}", "more than")
            self.assertEqual(len(gives("{{ big + '' }}")), 100)
            self.refused("{{ big + 'c' }}", "more than")
            self.assertEqual(len(gives("{{ big ~ '' }}")), 100)
            self.refused("{{ [big, 'c']|length }}", "more than")

    def test_texts_that_grow(self) -> None:
        with bounded("LARGEST", 130):
            self.assertEqual(len(gives("{{ big.replace('aba', 'c') }}")), 100 - 25 * 2)
            self.refused("{{ big.replace('a', 'ccc') }}", "more than")
            self.refused("{{ big|replace('a', 'ccc') }}", "more than")
            self.assertEqual(len(gives("{{ words|join(', ') }}")), 11)
            self.refused("{{ words|join(big) }}", "more than")
            self.refused("{{ big.join(words) }}", "more than")
            self.assertEqual(gives("{{ text|indent(30) }}"), "a\n" + " " * 30 + "b")
            self.assertEqual(len(gives("{{ text|indent(100) }}")), 103)
            self.refused("{{ text|indent(200) }}", "more than")


class Steps(Refusing):
    def test_each_round_of_a_loop_and_each_call_is_one(self) -> None:
        with bounded("MOST_STEPS", 50):
            gives("{% for x in range(40) %}{% endfor %}")
            self.refused("{% for x in range(60) %}{% endfor %}", "more than 50 steps")
            self.refused("{{ " + " ~ ".join(["'a'.upper()"] * 60) + " }}", "more than 50 steps")

    def test_time(self) -> None:
        with bounded("RENDER_S", -1):
            self.refused("{% for x in range(3) %}{% endfor %}", "longer than")

    def test_nothing_else_is_reachable(self) -> None:
        for text in (
            "{{ ''.__class__ }}", "{{ text.center(3) }}", "{{ words.append('x') }}",
            "{{ state.update({}) }}", "{{ text.encode() }}", "{{ 'a'|center(3) }}",
            "{% macro f() %}{% endmacro %}", "{% include 'x' %}", "{{ lipsum() }}",
            "{% for x in words recursive %}{% endfor %}",
        ):  # fmt: skip
            with self.subTest(text):
                self.refused(text)
