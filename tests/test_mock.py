"""A mock: rules, state private to a trial, validation, seeded chance, a sandbox."""

from __future__ import annotations

import asyncio
import unittest
from typing import Any

from ferox.core.chance import draw, latency_s
from ferox.core.clock import Clock
from ferox.core.expressions import ExpressionError, condition_holds, evaluate, render_value
from ferox.core.matcher import MatchContext
from ferox.formats.server import Latency, Mock
from ferox.formats.suite import Given
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.source import ToolOutput, UnknownTool

AT = MatchContext(Clock("2031-03-14T06:30:00Z"))


def mock(tool: dict[str, Any], state: Any = None, given: Any = None, seed: int = 1) -> MockServer:
    body = {"state": state or {}, "tools": [{"name": "tool", **tool}]}
    return MockServer("s", Mock.model_validate(body), seed, AT, Given.model_validate(given or {}))


def call(server: MockServer, tool: str, args: dict[str, Any]) -> ToolOutput:
    given = server.answer_call(tool, args).answer
    assert isinstance(given, ToolOutput)
    return given


class Answers(unittest.TestCase):
    def test_the_first_rule_that_fits_answers(self) -> None:
        server = mock(
            {
                "answers": [
                    {"if": "args.n > 5", "give": {"size": "large"}},
                    {"when": {"n": {"near": 3, "within": 1}}, "give": {"size": "middling"}},
                    {"error": "{{ args.n }} is too small."},
                ]
            }
        )
        self.assertEqual(call(server, "tool", {"n": 9}).value, {"size": "large"})
        self.assertEqual(call(server, "tool", {"n": 4}).value, {"size": "middling"})
        small = call(server, "tool", {"n": 1})
        self.assertTrue(small.is_error)
        self.assertEqual(small.value, "1 is too small.")

    def test_a_single_expression_keeps_its_type(self) -> None:
        server = mock({"answers": [{"give": {"n": "{{ args.n + 1 }}", "t": "{{ args.n }} m"}}]})
        self.assertEqual(call(server, "tool", {"n": 1}).value, {"n": 2, "t": "1 m"})

    def test_state_changes_by_patch_and_is_private(self) -> None:
        rule = {
            "give": {"id": "{{ new_id('BK') }}"},
            "change": [{"op": "add", "path": "/b/-", "value": {"id": "{{ given.id }}"}}],
        }
        one, two = mock({"answers": [rule]}, {"b": []}), mock({"answers": [rule]}, {"b": []})
        call(one, "tool", {})
        call(one, "tool", {})
        self.assertEqual(one.state, {"b": [{"id": "BK1041"}, {"id": "BK1042"}]})
        self.assertEqual(two.state, {"b": []})

    def test_in_turn_the_last_stays(self) -> None:
        server = mock({"answers": [{"give_in_turn": [{"n": 1}, {"n": 2}]}]})
        self.assertEqual([call(server, "tool", {}).value["n"] for _ in range(3)], [1, 2, 2])

    def test_a_condition_on_the_number_of_the_call(self) -> None:
        server = mock({"answers": [{"if": "call.of_tool == 1", "error": "busy"}, {"give": {}}]})
        self.assertEqual([call(server, "tool", {}).is_error for _ in range(2)], [True, False])

    def test_arguments_are_validated_as_a_real_server_would(self) -> None:
        schema = {"type": "object", "properties": {"n": {"type": "integer"}}, "required": ["n"]}
        server = mock({"input": schema, "answers": [{"give": {}}]})
        self.assertTrue(call(server, "tool", {"n": "x"}).is_error)
        self.assertIn("'n' is a required property", call(server, "tool", {}).value)
        with self.assertRaises(UnknownTool):
            call(server, "other", {})

    def test_what_a_task_gives_comes_first_and_changes_the_state(self) -> None:
        given = {
            "change": [{"op": "add", "path": "/x", "value": 5}],
            "answers": {"tool": [{"if": "state.x == 5", "give": {"from": "task"}}]},
        }
        server = mock({"answers": [{"give": {"from": "mock"}}]}, {}, given)
        self.assertEqual(call(server, "tool", {}).value, {"from": "task"})

    def test_a_look_up_leaves_no_trace(self) -> None:
        rule = {
            "give": {"n": "{{ state.n }}"},
            "change": [{"op": "replace", "path": "/n", "value": 9}],
        }
        server = mock({"answers": [rule]}, {"n": 1})
        self.assertEqual(asyncio.run(server.look_up("tool", {})).value, {"n": 1})
        self.assertEqual(server.state, {"n": 1})

    def test_a_broken_rule_is_an_error_that_says_so(self) -> None:
        for rule in (
            {"give": {"n": "{{ args.missing }}"}},
            {"give": 1, "change": [{"op": "remove", "path": "/nothing"}]},
            {"if": "args.(", "give": 1},
        ):
            answered = call(mock({"answers": [rule]}), "tool", {})
            self.assertTrue(answered.is_error)
            self.assertIn("is broken", answered.value)


class Sandbox(unittest.TestCase):
    def test_nothing_of_pythons_own_is_reachable(self) -> None:
        for source in (
            "args.__class__",
            "''.__class__.__mro__",
            "state.update({'a': 1})",
            "'x' * 10**9",
            "9 ** 9 ** 9",
            "range(10**8) | list",
            "'a'.ljust(10**9)",
            "args | attr('__init__')",
        ):
            with self.subTest(source), self.assertRaises(ExpressionError):
                evaluate(source, {"args": {}, "state": {}})

    def test_what_is_not_there_makes_a_condition_false(self) -> None:
        self.assertFalse(condition_holds("args.x.y == 1", {"args": {}}))
        self.assertTrue(condition_holds("args.x is not defined", {"args": {}}))
        self.assertEqual(render_value("{{ a }} and {{ b }}", {"a": 1, "b": "x"}), "1 and x")

    def test_a_key_named_like_a_method_is_the_key(self) -> None:
        names = {"args": {"copy": 3, "items": {"get": "N1"}}, "state": {}, "word": "quay"}
        for source, value in (
            ("args.copy", 3), ("args.items.get", "N1"), ("args['copy'] + 1", 4),
            ("[args]|map(attribute='copy')|list", [3]),
            # Only what is called is a method.
            ("args.items()|map('first')|list", ["copy", "items"]), ("args.get('copy')", 3),
            ("word.upper()", "QUAY"),
        ):  # fmt: skip
            with self.subTest(source):
                self.assertEqual(evaluate(source, names), value)
        for source in ("state.copy", "state.items", "state.values == 1", "word.upper"):
            with self.subTest(source):
                self.assertFalse(condition_holds(source, names))


class Chance(unittest.TestCase):
    def test_draws_depend_on_seed_and_words_alone(self) -> None:
        self.assertEqual(draw(1, "a", 2), draw(1, "a", 2))
        self.assertNotEqual(draw(1, "a", 2), draw(2, "a", 2))
        mean = sum(draw(1, i) for i in range(4000)) / 4000
        self.assertAlmostEqual(mean, 0.5, delta=0.02)

    def test_latencies_have_the_median_and_the_percentile_asked_for(self) -> None:
        spread = Latency(median_ms=100, p95_ms=300)
        waits = sorted(latency_s(spread, 1, i) for i in range(4000))
        self.assertAlmostEqual(waits[2000], 0.1, delta=0.006)
        self.assertAlmostEqual(waits[3800], 0.3, delta=0.03)
        self.assertEqual(latency_s(Latency(ms=120), 1), 0.12)
        self.assertEqual(latency_s(None, 1), 0)
