"""What is asked of the answer and of states, at its edges."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from tests.traces import call, checks, find, judged, reply, script, trace, turn

WINDOW, HIGH = "tides/tide_window", "tides/high_water"


class Claims(unittest.TestCase):
    """`claims_tools` where a tool was called before the user spoke."""

    EXPECT = {"answer": [{"claims_tools": "$.used"}]}

    def claimed(self, *names: str) -> bool | None:
        early, used = call("c0", HIGH, 0.5), call("c1", WINDOW, 2)
        said = reply(3, "Done.", {"used": list(names)})
        return checks(judged(self.EXPECT, early, turn(1), used, said))["answer.0"]

    def test_a_tool_called_at_the_start_may_be_named_or_not(self) -> None:
        self.assertIs(self.claimed("tide_window"), True)
        self.assertIs(self.claimed("tide_window", "high_water"), True)

    def test_every_later_call_is_to_be_named_and_nothing_else(self) -> None:
        self.assertIs(self.claimed("high_water"), False)
        self.assertIs(self.claimed("tide_window", "list_berths"), False)


class Undecided(unittest.TestCase):
    def test_a_schema_that_cannot_be_used_tests_nothing(self) -> None:
        expect = {"answer": [{"json": {"$ref": "https://elsewhere.example/berth.json"}}]}
        check = find(judged(expect, turn(), reply(1, '{"berth": "N1"}')), "answer.0")
        self.assertIsNone(check["passed"])
        self.assertIn("not tested", check["message"])


class Truths(unittest.TestCase):
    SPEC = {"state": [{"from": "real", "path": "$.berth", "is": "N1"}]}

    def judged(self, **truth: Any) -> bool | None:
        task = script(self.SPEC, truth=[{"as": "real", "tool": WINDOW, "when": "after"}])
        return checks(score_trial(task, trace(truth=truth)))["state.0"]

    def test_a_truth_is_compared_with_what_is_expected(self) -> None:
        self.assertIs(self.judged(real={"result": {"berth": "N1"}, "error": None}), True)
        self.assertIs(self.judged(real={"result": {"berth": "S2"}, "error": None}), False)

    def test_a_truth_that_was_not_looked_up_tests_nothing(self) -> None:
        self.assertIsNone(self.judged(other={"result": {"berth": "N1"}, "error": None}))
