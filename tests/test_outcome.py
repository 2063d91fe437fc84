"""What is asked of the answer and of states, at its edges."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from tests.traces import call, checks, end, find, judged, reply, script, trace, turn

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


class Unseen(unittest.TestCase):
    """`claims_tools` of an agent whose own tools are not seen."""

    def claimed(self, *names: str) -> bool | None:
        said = reply(3, "Done.", {"used": list(names)})
        events = [turn(), call("c1", WINDOW, 1), said]
        spec = script({"answer": [{"claims_tools": "$.used"}]})
        return checks(score_trial(spec, trace(*events, own_seen=False)))["answer.0"]

    def test_a_name_that_may_be_its_own_tool_decides_nothing(self) -> None:
        self.assertIsNone(self.claimed("tide_window", "note_down"))

    def test_a_call_that_is_not_named_does(self) -> None:
        self.assertIs(self.claimed("note_down"), False)
        self.assertIs(self.claimed("tide_window"), True)


class Counts(unittest.TestCase):
    def counted(self, there: int, wanted: Any) -> bool | None:
        spec = {"state": [{"server": "harbour", "path": "$.bookings[*]", "count": wanted}]}
        state = {"harbour": {"bookings": list(range(there))}}
        return checks(score_trial(script(spec), trace(state=state)))["state.0"]

    def test_from_and_to(self) -> None:
        between = {"min": 1, "max": 3}
        found = [self.counted(n, between) for n in range(5)]
        self.assertEqual(found, [False, True, True, True, False])
        self.assertEqual([self.counted(n, {"max": 1}) for n in range(3)], [True, True, False])
        self.assertEqual([self.counted(n, {"min": 1}) for n in range(3)], [False, True, True])
        self.assertEqual([self.counted(n, 1) for n in range(3)], [False, True, False])

    def test_a_message_tells_the_first_value(self) -> None:
        expect = {"answer": [{"data": "$.berths[*]", "is": {"matches": "^N"}}]}
        check = find(
            judged(expect, turn(), reply(1, "Both.", {"berths": ["N1", "N2"]})), "answer.0"
        )
        self.assertEqual((check["passed"], check["message"]), (True, '$.berths[*] was "N1"'))


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


class Stopped(unittest.TestCase):
    def test_an_end_that_is_not_the_agents_is_an_error_and_judges_nothing(self) -> None:
        for why in ("could_not_run", "stopped"):
            result = score_trial(script({"calls": [{"tool": WINDOW}]}), trace(turn(), end(1, why)))
            self.assertEqual((result["verdict"], result["judged"]), ("error", False))
            self.assertEqual((result["checks"], result["reason"]), ([], why))


class Denials(unittest.TestCase):
    """A call after its approval was denied."""

    def denied(self, at: float) -> bool | None:
        ask = {"t": 1.5, "kind": "ask", "id": "1", "tool": WINDOW, "args": {}, "decision": "deny",
               "edited": None, "s": 1.0}  # fmt: skip
        return checks(judged({}, turn(), ask, call("c1", WINDOW, at), reply(5)))[f"denied.{WINDOW}"]

    def test_only_what_starts_after_the_decision(self) -> None:
        self.assertIs(self.denied(2.4), True)
        self.assertIs(self.denied(2.499999), True)
        self.assertIs(self.denied(2.5), False)
        self.assertIs(self.denied(2.7), False)


class UpperBounds(unittest.TestCase):
    def test_what_was_not_seen_may_be_too_many_already(self) -> None:
        expect = {"calls": [{"tool": "own/note"}], "at_most": {"calls": 1}}
        one, two = call("c1", WINDOW, 1), call("c2", WINDOW, 2)

        def bound(*calls: Any, own_seen: bool) -> Any:
            return find(score_trial(script(expect), trace(*calls, own_seen=own_seen)),
                        "at_most.calls")  # fmt: skip

        self.assertIs(bound(one, two, own_seen=False)["passed"], False)
        self.assertNotIn("not tested", bound(one, two, own_seen=False)["message"])
        self.assertIsNone(bound(one, own_seen=False)["passed"])
        self.assertIn("calls of own/note were not seen", bound(one, own_seen=False)["message"])
        self.assertIs(bound(one, own_seen=True)["passed"], True)

    def test_turns_and_the_same_call(self) -> None:
        said = [turn(), reply(1), turn(2), reply(3)]
        for most, held in ((1, False), (2, True), (3, True)):
            found = checks(judged({"at_most": {"turns": most}}, *said))
            self.assertIs(found["at_most.turns"], held, most)
        same = [call(f"c{n}", WINDOW, n, result=n) for n in (1, 2, 3)]
        other = call("c4", HIGH, 4)
        for most, held in ((2, False), (3, True)):
            result = judged({"at_most": {"same_call": most}}, other, *same)
            self.assertIs(checks(result)["at_most.same_call"], held, most)
        result = judged({"at_most": {"same_call": 2}}, other, *same)
        self.assertEqual(find(result, "at_most.same_call")["calls"], ["c1", "c2", "c3"])

    def test_over_all_parts_too(self) -> None:
        part = {"say": "Book N1.", "expect": {"calls": [{"tool": "own/note"}]}}
        spec = script({"at_most": {"calls": 1}}, say=None, parts=[part])
        found = find(score_trial(spec, trace(call("c1", WINDOW, 1), own_seen=False)),
                     "at_most.calls")  # fmt: skip
        self.assertIsNone(found["passed"])

    def test_nothing_right_is_zero(self) -> None:
        expect = {"calls": [{"tool": WINDOW}], "others": "counted"}
        self.assertEqual(judged(expect, call("c1", HIGH, 1))["scores"]["choice"], 0)


class Data(unittest.TestCase):
    """The data of an answer, and words that are none."""

    def held(self, said: str, *data: Any) -> Any:
        expect = {"answer": [{"data": "$.berth", "is": "N1"}]}
        return find(judged(expect, turn(), reply(3, said, *data)), "answer.0")

    def test_data_from_the_link_or_from_the_words(self) -> None:
        self.assertIs(self.held("Done.", {"berth": "N1"})["passed"], True)
        self.assertIs(self.held('{"berth": "N1"}')["passed"], True)
        self.assertIs(self.held('{"berth": "S1"}')["passed"], False)

    def test_words_that_are_no_data(self) -> None:
        check = self.held("It is N1.")
        self.assertEqual(
            (check["passed"], check["message"]),
            (False, "the answer has no data, and its text is not JSON"),
        )
