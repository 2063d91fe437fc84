"""What a server's wording does: cost, remarks and look-alikes."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from ferox.core import wording
from ferox.core.wording import look_alikes, token_cost, wording_remarks


def tool(name: str, words: str = "Times of high water on one day.", **more: Any) -> dict[str, Any]:
    day = {"type": "string", "description": "Day"}
    return {
        "name": name, "description": words,
        "inputSchema": {"type": "object", "properties": {"day": day}}, **more,
    }  # fmt: skip


class Remarks(unittest.TestCase):
    def remarks_on(self, *tools: dict[str, Any]) -> list[str]:
        return [r.message for r in wording_remarks(list(tools))]

    def test_a_good_definition_gets_none(self) -> None:
        self.assertEqual(self.remarks_on(tool("high_water")), [])

    def test_an_optional_argument_may_be_called_so(self) -> None:
        day = {"type": "string", "description": "Optional. The day."}
        schema = {"type": "object", "properties": {"day": day}}
        self.assertEqual(self.remarks_on(tool("high_water", inputSchema=schema)), [])
        required = {**schema, "required": ["day"]}
        (remark,) = self.remarks_on(tool("high_water", inputSchema=required))
        self.assertIn("day is required, and its description calls it optional", remark)

    def test_each_remark(self) -> None:
        def schema(**parts: Any) -> dict[str, Any]:
            return {"inputSchema": {"type": "object", **parts}}

        for bad, wanted in [
            (tool("high water"), "breaks the protocol's rules"),
            (tool("x", ""), "no description"),
            (tool("x", "High water."), "a thin description"),
            (tool("x", **schema(properties={"a": {"description": "A"}})), "without a type: a"),
            (tool("x", **schema(properties={"a": {"type": "string"}})), "without a description: a"),
            (tool("x", **schema(properties={}, required=["b"])), "does not define: b"),
            (
                tool("x", "Books a berth for a vessel.", annotations={"readOnlyHint": True}),
                "speaks of a change",
            ),
            (
                tool(
                    "x",
                    **schema(
                        properties={"a": {"type": "string", "description": "Optional."}},
                        required=["a"],
                    ),
                ),
                "a is required, and its description calls it optional",
            ),
            (
                tool(
                    "x", **schema(properties={"a": {"type": "string", "description": "Required"}})
                ),
                "a may be left out, and its description calls it required",
            ),
            (
                tool(
                    "x",
                    "Books the berth named by `code` for a vessel.",
                    **schema(properties={"a": {"type": "string", "description": "A."}}),
                ),
                "speaks of `code`, which is not an argument",
            ),
        ]:
            with self.subTest(wanted):
                (message,) = self.remarks_on(bad)
                self.assertIn(wanted, message)

    def test_four_words_are_enough_and_three_are_thin(self) -> None:
        self.assertEqual(self.remarks_on(tool("x", "Water at the quay.")), [])
        self.assertIn("a thin description", self.remarks_on(tool("x", "Water at quay."))[0])

    def test_names_of_arguments_and_of_tools_may_stand_in_a_description(self) -> None:
        words = "Needs the `day`, see also `low_water`, which is free."
        self.assertEqual(self.remarks_on(tool("x", words), tool("low_water")), [])
        bare = {"name": "x", "description": "Books the berth `code` for you."}
        self.assertEqual(self.remarks_on(bare), [])  # it declares no arguments at all

    def test_broken_keywords_are_counted(self) -> None:
        for broken, wanted in ((3, "/minimum$"), (4, "and 1 more$"), (6, "and 3 more$")):
            keys = ("pattern", "format", "minimum", "maximum", "items", "minLength")
            parts = {key: [] for key in keys[:broken]}
            (message, *_) = self.remarks_on({**tool("x"), "outputSchema": parts})
            self.assertRegex(message, f"the schema of its result is broken at .*{wanted}")

    def test_cost_grows_with_the_wording(self) -> None:
        self.assertGreater(token_cost(tool("a", "word " * 100)), token_cost(tool("a")) + 100)


class LookAlikes(unittest.TestCase):
    TOOLS = (
        tool("high_water"),
        {"name": "assign_berth", "description": "Book a berth for a vessel."},
        tool("low_water", "Times of low water on one day."),
    )

    def test_the_alike_stand_together_and_are_distinguished(self) -> None:
        found = look_alikes(list(self.TOOLS))
        places = {name: i for i, name in enumerate(found.order)}
        self.assertEqual(abs(places["high_water"] - places["low_water"]), 1)
        (pair,) = found.pairs
        self.assertEqual({pair.one, pair.other}, {"high_water", "low_water"})
        self.assertEqual((pair.only_one, pair.only_other), (("high",), ("low",)))

    def test_few_tools_are_no_trouble(self) -> None:
        self.assertEqual(look_alikes([]).order, ())
        self.assertEqual(look_alikes([tool("a")]).matrix, ((1.0,),))
        self.assertEqual(len(look_alikes([tool("a"), tool("b")]).order), 2)

    def test_the_pairs_are_the_most_alike_first_however_they_are_worked_out(self) -> None:
        words = ("high water", "high water table", "low water table", "water table", "pilot order")
        tools = [tool(w.replace(" ", "_"), f"{w} for a day") for w in words]
        whole = look_alikes(tools)
        likes = [pair.likeness for pair in whole.pairs]
        self.assertEqual(likes, sorted(likes, reverse=True))
        self.assertEqual(whole.alike, len(likes))
        self.assertGreater(len(likes), 2)
        for rows in (1, 2, 3):
            with mock.patch.object(wording, "ROWS_AT_ONCE", rows):
                self.assertEqual(look_alikes(tools), whole)
        with mock.patch.object(wording, "MOST_PAIRS", 2):
            few = look_alikes(tools)
        self.assertEqual((few.pairs, few.alike), (whole.pairs[:2], whole.alike))

    def test_of_many_tools_the_most_alike_are_in_the_matrix(self) -> None:
        with mock.patch.object(wording, "MOST_IN_MATRIX", 2):
            found = look_alikes(list(self.TOOLS))
        self.assertEqual(set(found.order), {"high_water", "low_water"})
        self.assertEqual((found.tools, len(found.matrix)), (3, 2))

    @settings(deadline=None, max_examples=40)
    @given(st.lists(st.text("ab _", min_size=1, max_size=8), min_size=1, max_size=8, unique=True))
    def test_the_matrix_is_symmetric_and_from_0_to_1(self, names: list[str]) -> None:
        found = look_alikes([tool(n, n * 2) for n in names])
        self.assertEqual(sorted(found.order), sorted(names))
        for i, row in enumerate(found.matrix):
            for j, value in enumerate(row):
                self.assertTrue(-1e-9 <= value <= 1 + 1e-4)
                self.assertEqual(value, found.matrix[j][i])
