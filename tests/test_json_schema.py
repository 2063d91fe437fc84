"""JSON Schema held against values: what is said of each fault, and what cannot be decided."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.json_schema import (
    LONGEST_MESSAGE,
    UnusableSchema,
    definition_fault,
    foreign_references,
    schema_of,
)
from ferox.intake.limits import GivenUp

BERTH = {
    "type": "object", "required": ["code"], "additionalProperties": False,
    "properties": {"code": {"type": "string", "pattern": "^[NS][0-9]$"},
                   "depths": {"type": "array", "items": {"type": "number"}, "uniqueItems": True}},
}  # fmt: skip


def fault(schema: Any, value: Any) -> str | None:
    found = schema_of(schema).find_fault(value)
    return None if found is None else str(found)


class Faults(unittest.TestCase):
    def test_the_path_and_what_is_wrong_there(self) -> None:
        for value, text in (
            ({"code": "N1", "depths": [1, 2.5]}, None),
            (7, "7 is not of type 'object'"),
            ({}, "'code' is a required property"),
            ({"code": "X1"}, "$.code: 'X1' does not match '^[NS][0-9]$'"),
            ({"code": "N1", "depths": [1, "deep"]}, "$.depths[1]: 'deep' is not of type 'number'"),
            ({"code": "N1", "depths": [1, 1.0]}, "$.depths: [1, 1.0] has non-unique elements"),
            ({"code": "N1", "a": 1},
             "Additional properties are not allowed ('a' was unexpected)"),
            ({"code": "N1", "b": 1, "a": 1},
             "Additional properties are not allowed ('a', 'b' were unexpected)"),
        ):  # fmt: skip
            with self.subTest(value=value):
                self.assertEqual(fault(BERTH, value), text)

    def test_a_long_message_is_cut(self) -> None:
        message = fault({"maxLength": 3}, "x" * 999) or ""
        self.assertEqual((len(message), message[-1]), (LONGEST_MESSAGE, "…"))
        short = fault({"maxLength": 3}, "x" * 20) or ""
        self.assertNotIn("…", short)

    def test_pattern_properties(self) -> None:
        schema = {"patternProperties": {"^b": {"type": "integer"}}, "additionalProperties": False}
        self.assertIsNone(fault(schema, {"b1": 3}))
        self.assertEqual(fault(schema, {"b1": "x"}), "$.b1: 'x' is not of type 'integer'")
        self.assertIn("'c' was unexpected", fault(schema, {"b1": 3, "c": 1}) or "")
        self.assertIsNone(fault(schema, "a text has no properties"))

    def test_additional_properties_by_a_schema(self) -> None:
        schema = {"properties": {"a": {}}, "additionalProperties": {"type": "integer"}}
        self.assertIsNone(fault(schema, {"a": "x", "b": 3}))
        self.assertEqual(fault(schema, {"b": "x"}), "$.b: 'x' is not of type 'integer'")
        self.assertIsNone(fault({"additionalProperties": True}, {"b": "x"}))
        self.assertIsNone(fault({"additionalProperties": False}, [1]))

    def test_unique_items_is_of_lists_and_may_be_off(self) -> None:
        self.assertIsNone(fault({"uniqueItems": False}, [1, 1]))
        self.assertIsNone(fault({"uniqueItems": True}, "aa"))
        self.assertIsNone(fault({"uniqueItems": True}, [1, True, "1", [1], {"a": 1}]))
        self.assertIsNotNone(fault({"uniqueItems": True}, [{"a": 1}, {"a": 1.0}]))

    @given(st.dictionaries(st.sampled_from(["code", "depths", "a"]), st.text("N1x", max_size=2)))
    def test_a_fault_is_found_exactly_where_there_is_one(self, value: dict[str, str]) -> None:
        good = set(value) == {"code"} and value["code"] in ("N1",)
        self.assertEqual(fault(BERTH, value) is None, good)


class Undecided(unittest.TestCase):
    def unusable(self, schema: Any, why: str, value: Any = 1) -> None:
        with self.assertRaisesRegex(UnusableSchema, why):
            fault(schema, value)

    def test_what_is_no_schema(self) -> None:
        self.unusable({"type": "nonsense"}, "this is not JSON Schema: 'nonsense' is not valid")
        self.unusable({"pattern": "("}, "this is not JSON Schema: no regular expression")
        self.unusable({"properties": {"a": {"patternProperties": {"[": {}}}}}, "not JSON Schema")
        self.unusable({"unevaluatedProperties": False, "patternProperties": {}}, "is not tested")

    def test_where_a_definition_is_wrong(self) -> None:
        self.assertIsNone(definition_fault(BERTH))
        path, _ = definition_fault({"properties": {"a": {"minimum": "x"}}}) or ((), "")
        self.assertEqual(path, ("properties", "a", "minimum"))

    def test_references(self) -> None:
        inside = {"$ref": "#/$defs/a", "$defs": {"a": {"type": "integer"}}}
        self.assertEqual(fault(inside, "x"), "'x' is not of type 'integer'")
        self.unusable({"$ref": "#/$defs/b"}, "leads nowhere")
        self.unusable({"$ref": "other.json"}, "`other.json` leads out of the schema")
        self.unusable({"$ref": "#"}, "refers to itself without end", {"a": 1})

    def test_references_that_lead_out(self) -> None:
        schema = {
            "$id": "urn:desk", "$ref": "urn:desk#/$defs/a",
            "allOf": [{"$ref": "#/$defs/a"}, {"$ref": "b.json"}, {"$dynamicRef": "c.json#x"},
                      {"$ref": "b.json"}, {"$ref": 7}],
        }  # fmt: skip
        self.assertEqual(foreign_references(schema), ["b.json", "c.json#x"])

    def test_a_pattern_that_runs_wild_is_given_up(self) -> None:
        with self.assertRaises(GivenUp):
            fault({"pattern": "^(a|aa)+$"}, "a" * 99 + "!")
