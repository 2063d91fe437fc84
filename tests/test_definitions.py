"""Schemas from outside, without what is of no use in them."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.definitions import (
    description_of,
    properties_of,
    required_of,
    sound_schema,
)

JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=3),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner),
    max_leaves=8,
)


class Sound(unittest.TestCase):
    def test_a_good_schema_is_left_as_it_is(self) -> None:
        schema: dict[str, Any] = {
            "type": ["object", "null"], "required": ["day"], "title": "Day", "minProperties": 1,
            "properties": {"day": {"type": "string", "enum": ["x", 7], "format": "date"}},
            "additionalProperties": False, "exclusiveMinimum": True, "x-own": [1],
            "anyOf": [{"items": {"const": None}}, True], "default": {"type": 3},
            "$defs": {"a": {"not": {}}},
        }  # fmt: skip
        self.assertEqual(sound_schema(schema), (schema, []))

    def test_what_is_of_no_use_is_left_out_and_named(self) -> None:
        for key, value in (
            ("properties", []), ("required", "day"), ("required", [1]), ("enum", {}),
            ("pattern", 7), ("maximum", "9"), ("type", 3), ("type", ["string", 4]),
            ("items", []), ("anyOf", {}), ("$ref", None), ("description", {}),
        ):  # fmt: skip
            with self.subTest(key=key, value=value):
                kept, dropped = sound_schema({key: value, "title": "Day"})
                self.assertEqual((kept, dropped), ({"title": "Day"}, [f"/{key}"]))

    def test_inside_too(self) -> None:
        schema = {
            "properties": {"a": {"pattern": 7}, "b": 9},
            "items": {"maximum": "x"},
            "anyOf": [{"type": 3}, {}],
        }
        kept, dropped = sound_schema(schema)
        self.assertEqual(kept, {"properties": {"a": {}, "b": {}}, "items": {}, "anyOf": [{}, {}]})
        self.assertEqual(
            dropped, ["/properties/a/pattern", "/properties/b", "/items/maximum", "/anyOf/0/type"]
        )
        self.assertEqual(sound_schema([]), ({}, ["/"]))

    @given(JSON)
    def test_once_is_enough(self, schema: Any) -> None:
        kept, _ = sound_schema(schema)
        self.assertEqual(sound_schema(kept), (kept, []))


class Parts(unittest.TestCase):
    def test_parts_of_malformed_definitions_are_empty(self) -> None:
        self.assertEqual(description_of({"description": 7}), "")
        self.assertEqual(description_of({"description": "High water."}), "High water.")
        for schema in ([], {"properties": []}, {"required": "day"}, None):
            self.assertEqual((properties_of(schema), required_of(schema)), ({}, []))
        self.assertEqual(required_of({"required": ["day", 7]}), ["day"])
