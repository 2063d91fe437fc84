"""What changed between two lists and two values; drift of a recording against a live server."""

from __future__ import annotations

import copy
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from mcp import Client

from ferox.core.clock import Clock
from ferox.core.listing import Difference, json_differences, list_changes
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock
from ferox.recordings.recording import Recording
from ferox.servers.drift import CHANGED, GONE, NOT_ASKED, SAME, Drift, find_drift
from ferox.servers.offering import Offering
from ferox.servers.sources.mock import MockServer
from tests.async_case import AsyncCase
from tests.test_recording import JSON, call, exchange, parsed

READS = {"readOnlyHint": True}


class Differences(unittest.TestCase):
    def test_places_are_json_pointers(self) -> None:
        before = {"a": {"b/c": 1, "d~": [1, 2]}, "gone": True}
        after = {"a": {"b/c": 2, "d~": [1, 3]}, "new": None}
        self.assertEqual(
            json_differences(before, after),
            [
                Difference("/a/b~1c", 1, 2),
                Difference("/a/d~0/1", 2, 3),
                Difference("/gone", True, None),
                Difference("/new", None, None),
            ],
        )

    def test_lists_of_other_lengths_are_one_difference(self) -> None:
        self.assertEqual(
            json_differences({"a": [1]}, {"a": [1, 2]}), [Difference("/a", [1], [1, 2])]
        )

    def test_numbers_that_are_equal_as_json_do_not_differ(self) -> None:
        self.assertEqual(json_differences({"a": 2}, {"a": 2.0}), [])
        self.assertEqual(json_differences(1, True), [Difference("", 1, True)])

    @given(JSON)
    def test_nothing_differs_from_itself(self, value: Any) -> None:
        self.assertEqual(json_differences(value, copy.deepcopy(value)), [])

    @given(JSON, JSON)
    def test_there_and_back_are_the_same_places(self, one: Any, other: Any) -> None:
        there = {d.where for d in json_differences(one, other)}
        back = {d.where for d in json_differences(other, one)}
        self.assertEqual(there, back)

    @given(st.dictionaries(st.text(max_size=4), JSON, max_size=4), st.text(max_size=4))
    def test_one_key_more_is_one_difference(self, value: dict[str, Any], key: str) -> None:
        more = {**value, key: "tide"}
        expected = 0 if value.get(key) == "tide" else 1
        found = json_differences({k: v for k, v in value.items() if k != key}, more)
        self.assertEqual(len(found), 1)
        self.assertLessEqual(len(json_differences(value, value)), expected)


class Lists(unittest.TestCase):
    def test_new_changed_and_gone(self) -> None:
        old = [{"name": "a", "description": "x"}, {"name": "b"}, {"name": "c"}]
        new = [{"name": "d"}, {"name": "a", "description": "y"}, {"name": "c"}]
        changes = list_changes(old, new)
        found = [(c.tool, c.kind) for c in changes]
        self.assertEqual(found, [("d", "new"), ("a", "changed"), ("b", "gone")])
        self.assertEqual(changes[1].what, (Difference("/description", "x", "y"),))

    def test_the_order_of_a_list_is_no_change(self) -> None:
        tools = [{"name": "a"}, {"name": "b"}]
        self.assertEqual(list_changes(tools, tools[::-1]), [])


def offering(*tools: dict[str, Any]) -> Offering:
    mock = Mock.model_validate({"tools": list(tools)})
    return Offering(MockServer("s", mock, 1, MatchContext(Clock("2031-03-14T06:30:00Z"))))


class Drifting(AsyncCase):
    async def drift(self, recording: Recording, now: Offering, also: tuple[str, ...] = ()) -> Drift:
        self.heard: list[int] = []
        async with Client(now.client_streams(), mode="legacy") as client:
            return await find_drift(
                recording, client, also, lambda drift: self.heard.append(len(drift.calls))
            )

    async def recorded(self, then: Offering, *calls: tuple[str, Any]) -> Recording:
        """A recording of these calls, as the server answers them."""
        lines: list[Any] = []
        async with Client(then.client_streams(), mode="legacy") as client:
            tools = [t.model_dump(by_alias=True, exclude_none=True, mode="json")
                     for t in (await client.list_tools()).tools]  # fmt: skip
            lines += exchange(0, "tools/list", {}, {"result": {"tools": tools}})
            for n, (tool, args) in enumerate(calls, 1):
                found = await client.call_tool(tool, args)
                result = found.model_dump(by_alias=True, exclude_none=True, mode="json")
                result.pop("resultType")
                params = {"name": tool, "arguments": args}
                lines += exchange(n, "tools/call", params, {"result": result}, n)
        return parsed(lines)

    async def test_nothing_drifts_from_itself(self) -> None:
        tool = {"name": "a", "annotations": READS, "answers": [{"give": {"at": "14:31"}}]}
        recording = await self.recorded(offering(tool), ("a", {}), ("a", {"n": 1}))
        drift = await self.drift(recording, offering(tool))
        self.assertFalse(drift.has_drifted)
        self.assertEqual([c.kind for c in drift.calls], [SAME, SAME])
        self.assertEqual((drift.total, self.heard), (2, [1, 2]))

    async def test_answers_schemas_and_tools_that_changed(self) -> None:
        then = offering(
            {"name": "a", "annotations": READS, "answers": [{"give": {"at": "14:31"}}]},
            {"name": "b", "annotations": READS, "answers": [{"give": "x"}]},
        )
        recording = await self.recorded(then, ("a", {}), ("b", {}))
        now = offering(
            {
                "name": "a",
                "annotations": READS,
                "description": "Anew.",
                "answers": [{"give": {"at": "14:40"}}],
            }
        )
        drift = await self.drift(recording, now)
        self.assertEqual([(c.tool, c.kind) for c in drift.tools], [("a", "changed"), ("b", "gone")])
        self.assertEqual([c.kind for c in drift.calls], [CHANGED, GONE])
        self.assertEqual(drift.calls[0].what, (Difference("/at", "14:31", "14:40"),))
        self.assertTrue(drift.has_drifted)

    async def test_only_what_says_that_it_only_reads_is_asked(self) -> None:
        tool = {"name": "a", "answers": [{"give_in_turn": ["first", "second"]}]}
        recording = await self.recorded(offering(tool), ("a", {}))
        drift = await self.drift(recording, offering(tool))
        self.assertEqual([c.kind for c in drift.calls], [NOT_ASKED])
        self.assertFalse(drift.has_drifted)
        asked = await self.drift(recording, offering(tool), also=("a",))
        self.assertEqual([c.kind for c in asked.calls], [SAME])

    async def test_a_success_that_fails_now_is_a_change(self) -> None:
        well = {"name": "a", "annotations": READS, "answers": [{"give": "well"}]}
        ill = {"name": "a", "annotations": READS, "answers": [{"error": "shut"}]}
        recording = await self.recorded(offering(well), ("a", {}))
        drift = await self.drift(recording, offering(ill))
        (difference,) = drift.calls[0].what
        self.assertEqual((difference.before, difference.after), ("well", {"error": "shut"}))

    async def test_each_call_is_asked_once_against_its_last_answer(self) -> None:
        lines = [*call(1, {"n": 1}, "old", 1), *call(2, {"n": 1}, "new", 2)]
        tool = {"name": "high_water", "annotations": READS, "answers": [{"give": "new"}]}
        drift = await self.drift(parsed(lines), offering(tool))
        self.assertEqual([(c.number, c.kind) for c in drift.calls], [(1, SAME)])
