"""JSON values: equality, canonical form, paths."""

from __future__ import annotations

import json
import unittest
from typing import Any
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from ferox.core import json_paths
from ferox.core.json_paths import PathError, find_nodes, find_values
from ferox.core.json_values import brief_json, canonical_json, equal_json, holds_at_most
from ferox.intake.limits import GivenUp

STATE = {
    "bookings": [{"imo": "1", "berth": "N1"}, {"imo": "2", "berth": "S2"}],
    "harbour": {"name": "Skerrow", "open": True},
    "a-b": 1,
}


class Paths(unittest.TestCase):
    def test_nodes(self) -> None:
        for path, wanted in [
            ("$", [STATE]),
            ("$.harbour.name", ["Skerrow"]),
            ("$['a-b']", [1]),
            ("$.bookings[*].berth", ["N1", "S2"]),
            ("$.bookings[?@.imo == '2'].berth", ["S2"]),
            ("$.bookings[-1].imo", ["2"]),
            ("$..imo", ["1", "2"]),
            ("$.nothing.there", []),
            ("$.harbour.name.more", []),
        ]:
            with self.subTest(path):
                self.assertEqual(find_nodes(STATE, path), wanted)

    def test_the_fast_way_and_the_general_one_agree(self) -> None:
        for path in ("$.harbour", "$.harbour.open", "$.bookings", "$.x"):
            self.assertEqual(find_nodes(STATE, path), find_nodes(STATE, path.replace("$.", "$['", 1)
                             .replace(".", "']['") + "']"))  # fmt: skip

    def test_an_only_node_that_is_a_list_gives_its_elements_too(self) -> None:
        self.assertEqual(
            find_values({"codes": ["N1", "N3"]}, "$.codes"), [["N1", "N3"], "N1", "N3"]
        )
        self.assertEqual(find_values({"a": [[1], [2]]}, "$.a[*]"), [[1], [2]])

    def test_as_many_nodes_as_may_be_found_and_no_more(self) -> None:
        with mock.patch.object(json_paths, "MOST_NODES", 3):
            self.assertEqual(find_nodes([1, 2, 3], "$[*]"), [1, 2, 3])
            with self.assertRaisesRegex(GivenUp, "finds more than 3 values"):
                find_nodes([1, 2, 3, 4], "$[*]")

    def test_patterns_in_filters(self) -> None:
        value = ["N1", "N12", 7, "N\n"]
        for path, wanted in [
            ("$[?match(@, 'N.')]", ["N1"]),  # `.` is no line end
            ("$[?search(@, 'N')]", ["N1", "N12", "N\n"]),
            ("$[?match(@, '(')]", []),
            ("$[?match('N1', @)]", ["N1"]),
        ]:
            with self.subTest(path):
                self.assertEqual(find_nodes(value, path), wanted)

    def test_what_is_no_path(self) -> None:
        for path in ("", "harbour", "$.", "$[", "$.a[?", "$..*["):
            with self.subTest(path), self.assertRaises(PathError):
                find_nodes(STATE, path)


class Values(unittest.TestCase):
    def test_equality_is_jsons(self) -> None:
        self.assertTrue(equal_json({"a": [1, 2.0]}, {"a": [1.0, 2]}))
        # Not the same objects, as values from two messages never are.
        for text in '"harbour"', "1.5", str(2**70):
            self.assertTrue(equal_json(json.loads(text), json.loads(text)), text)
        self.assertFalse(equal_json(1, True))
        self.assertFalse(equal_json(0, False))
        self.assertFalse(equal_json("1", 1))
        self.assertFalse(equal_json([1, 2], [2, 1]))
        self.assertFalse(equal_json({"a": None}, {}))

    def test_what_a_value_holds_is_told_by_its_texts_keys_and_values(self) -> None:
        for value, signs in (("abcde", 5), (1, 4), ({"key": "word"}, 11), ([1, [2, "three"]], 21)):
            with self.subTest(value):
                self.assertTrue(holds_at_most(value, signs))
                self.assertFalse(holds_at_most(value, signs - 1))

    def test_canonical_form_of_rfc_8785(self) -> None:
        self.assertEqual(
            canonical_json({"b": 2.0, "a": [True, None, "é"]}), '{"a":[true,null,"é"],"b":2}'
        )
        self.assertEqual(canonical_json(1e21), "1e+21")
        self.assertEqual(canonical_json("\u2028\n"), '"\u2028\\n"')
        self.assertEqual(canonical_json(2**70), str(2**70))  # beyond the form; kept as it is

    @given(st.text())
    def test_a_text_is_written_so_that_it_can_be_read_back(self, text: str) -> None:
        self.assertEqual(json.loads(canonical_json(text)), text)

    @given(st.dictionaries(st.text(max_size=3), st.integers(-9, 9), max_size=5))
    def test_the_order_of_keys_does_not_matter(self, value: dict[str, Any]) -> None:
        backwards = dict(reversed(list(value.items())))
        self.assertEqual(canonical_json(value), canonical_json(backwards))

    def test_a_brief_form_is_cut(self) -> None:
        self.assertEqual(brief_json("x"), '"x"')
        self.assertEqual(len(brief_json("x" * 500)), 60)
