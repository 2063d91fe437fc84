"""Which numbers have what in common: lists, keys, records, tables, and the user's words."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

from ferox.core import number_sources
from ferox.core.number_sources import Number, Numbers, numbers_of

TABLE = "| berth | metres |\n|---|---|\n| N1 | 1210 |\n| N2 | 2077 |"


def values(numbers: list[Number]) -> list[float]:
    return [float(n.value) for n in numbers]


def of(*results: Any, user: str = "", context: str = "") -> Numbers:
    return numbers_of([user], [context], results)


class Texts(unittest.TestCase):
    def test_places_count_the_users_words_then_the_context_then_results(self) -> None:
        found = of({"t": 30.5}, user="It draws 7.4 m.", context="Keep 1.2 m clear.")
        self.assertEqual(values(found.user), [7.4])
        self.assertEqual(values(found.everywhere), [7.4, 1.2, 30.5])
        self.assertEqual([n.place for n in found.everywhere], [0, 1, 2])

    def test_only_the_users_own_words_are_the_users(self) -> None:
        self.assertEqual(values(of(context="Keep 1.2 m clear.").user), [])


class Values(unittest.TestCase):
    def test_numbers_of_one_object_are_a_record(self) -> None:
        found = of({"depth": 9.5, "draught": 7.4, "open": True, "name": "N1"})
        self.assertEqual([values(r) for r in found.records], [[9.5, 7.4]])
        self.assertEqual(of({"depth": 9.5}).records, [])

    def test_one_key_over_all_results_is_a_kind(self) -> None:
        found = of({"depth": 9.5}, [{"depth": 8.5}, {"depth": 7.5, "load_pct": 40}])
        self.assertEqual(values(found.kinds["depth"]), [9.5, 8.5, 7.5])
        self.assertTrue(found.kinds["load_pct"][0].percent)
        self.assertFalse(found.kinds["depth"][0].percent)

    def test_lists_with_their_lengths_and_columns(self) -> None:
        found = of({"rows": [{"t": 1.5, "u": 7}, {"t": 2.5}], "plain": [3, 4.5]})
        self.assertEqual([values(x) for x in found.lists], [[1.5, 2.5], [7], [3, 4.5]])
        self.assertEqual(found.lengths, [(2, 2), (2, 2)])
        self.assertEqual(of({"rows": []}).lengths, [])

    def test_what_is_no_number(self) -> None:
        found = of([True, None, float("nan"), float("inf"), "x"])
        self.assertEqual(found.everywhere, [])


class Bounds(unittest.TestCase):
    def test_no_more_than_so_many_numbers(self) -> None:
        with mock.patch.object(number_sources, "MOST_NUMBERS", 3):
            self.assertEqual(values(of([10.5, 20.5], [30.5, 40.5]).everywhere), [10.5, 20.5, 30.5])

    def test_no_more_than_so_many_of_a_kind(self) -> None:
        with mock.patch.object(number_sources, "MOST_OF_A_KIND", 2):
            found = of([{"t": 1.5}, {"t": 2.5}, {"t": 3.5}])
        self.assertEqual(values(found.kinds["t"]), [1.5, 2.5])
        self.assertEqual(len(found.everywhere), 3)


class Tables(unittest.TestCase):
    def test_a_named_header_gives_the_keys(self) -> None:
        found = of(TABLE)
        self.assertEqual(values(found.kinds["metres"]), [1210, 2077])
        self.assertEqual([values(c) for c in found.lists], [[1210, 2077]])
        self.assertEqual(found.lengths, [(2, 2)])

    def test_without_a_header_columns_are_counted(self) -> None:
        found = of("3.5;1210\n4.5;2077\n5.5;3300")
        self.assertEqual(list(found.kinds), ["column 1", "column 2"])
        self.assertEqual(values(found.kinds["column 2"]), [1210, 2077, 3300])
        self.assertEqual(
            [values(r) for r in found.records], [[3.5, 1210], [4.5, 2077], [5.5, 3300]]
        )

    def test_percent_by_sign_or_by_header(self) -> None:
        found = of("berth;load\nN1;61.25 %\nN2;48.5 %")
        self.assertTrue(all(n.percent for n in found.kinds["load"]))
        found = of("berth;share\nN1;61.25\nN2;48.5")
        self.assertTrue(all(n.percent for n in found.kinds["share"]))

    def test_two_lines_or_one_column_are_no_table(self) -> None:
        self.assertEqual(of("3.5;4.5\n5.5;6.5").records, [])
        self.assertEqual(of("61.5\n62.5\n63.5").lists, [])
        self.assertEqual(of("a;1.5\nb;2.5;x\nc;3.5").lists, [])
