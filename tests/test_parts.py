"""A task with several parts: each scored with its own calls, then put together."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Result
from ferox.formats.suite import Suite
from tests.traces import TOOLS, call, checks, end, failed, find, reply, trace, turn

DETAILS = "harbour/vessel_details"
WINDOW = "tides/tide_window"
HIGH = "tides/high_water"
BOOK = "harbour/assign_berth"


def task(*parts: dict[str, Any], **whole: Any) -> Script:
    """A task of these parts' expectations; `user` of a part may stand among them."""
    found = [
        {"say": f"Part {n}.", "user": part.pop("user", []), "expect": part}
        for n, part in enumerate(dict(p) for p in parts)
    ]
    body = {"task": "t", "parts": found, **whole}
    suite = Suite.model_validate({"ferox": 1, "suite": "s", "tasks": [body]})
    return compile_script(suite, suite.tasks[0])


def opening(part: int, t: float, text: str = "Go on.", rule: int | None = None) -> Any:
    return {**turn(t, text, rule), "part": part}


def judged(script: Script, *events: Any, **fields: Any) -> Result:
    return score_trial(script, trace(*events, **fields))


TWO = ({"calls": [{"as": "a", "tool": DETAILS}]}, {"calls": [{"as": "b", "tool": WINDOW}]})


class Sums(unittest.TestCase):
    def test_matching_that_looks_back_on_an_earlier_part_leaves_nothing_missing(self) -> None:
        # Which of two calls answers `b` is decided by what `a` of the first part gave.
        b = {"as": "b", "tool": WINDOW, "args": {"day": {"from": "a", "path": "$.day"}}}
        result = judged(
            task(TWO[0], {"calls": [b]}),
            opening(0, 0), call("c1", DETAILS, 1, result={"day": "tue"}), reply(2),
            opening(1, 2), call("c2", WINDOW, 3, {"day": "mon"}),
            call("c3", WINDOW, 4, {"day": "tue"}), reply(5),
        )  # fmt: skip
        self.assertEqual(result["matched"], {"a": ["c1"], "b": ["c3"]})
        self.assertEqual(result["missing"], [])
        # M = 2, X = 1, R = 2: precision 2/3, recall 1.
        self.assertEqual(result["scores"]["choice"], 0.8)

    def test_a_call_belongs_to_the_part_that_was_open_when_it_started(self) -> None:
        # The window is asked in part 0, where nothing expects it: extra there, missing in 1.
        result = judged(
            task(*TWO),
            opening(0, 0), call("c1", DETAILS, 1), call("c2", WINDOW, 1.9), reply(2),
            opening(1, 2), reply(3),
        )  # fmt: skip
        self.assertEqual(result["matched"], {"a": ["c1"]})
        self.assertEqual(result["extra"], ["c2"])
        self.assertEqual([m["name"] for m in result["missing"]], ["b"])
        # M = 1, X = 1, R = 2: precision 1/2, recall 1/2.
        self.assertEqual(result["scores"]["choice"], 0.5)
        later = judged(
            task(*TWO),
            opening(0, 0), call("c1", DETAILS, 1), reply(2),
            opening(1, 2), call("c2", WINDOW, 2), reply(3),
        )  # fmt: skip
        self.assertEqual((later["verdict"], later["scores"]["choice"]), ("pass", 1.0))

    def test_the_mean_of_arguments_is_over_the_matched_calls_of_all_parts(self) -> None:
        script = task(
            {"calls": [{"as": "a", "tool": DETAILS, "args": {"x": 1, "y": 1}}]},
            {"calls": [{"as": "b", "tool": WINDOW}]},
        )
        # a: schema and x hold, y does not: 2/3; b: its schema: 1.
        result = judged(
            script,
            opening(0, 0), call("c1", DETAILS, 1, {"x": 1, "y": 2}), reply(2),
            opening(1, 3), call("c2", WINDOW, 4), reply(5),
        )  # fmt: skip
        self.assertEqual(result["scores"]["arguments"], round((2 / 3 + 1) / 2, 6))
        self.assertEqual(find(result, "a.args.y")["part"], 0)
        self.assertEqual(find(result, "b.schema")["part"], 1)

    def test_a_part_that_never_opened_misses_its_calls_and_answers(self) -> None:
        script = task(TWO[0], {**TWO[1], "answer": [{"matches": "."}]})
        gone = end(3, "crash", "boom")
        result = judged(script, opening(0, 0), call("c1", DETAILS, 1), reply(2), gone)
        self.assertEqual([m["name"] for m in result["missing"]], ["b"])
        self.assertIs(checks(result)["answer.0"], False)

    def test_parts_without_calls_are_not_tested_for_choice(self) -> None:
        events = [opening(0, 0), reply(1), opening(1, 2), call("c1", HIGH, 3), reply(4)]
        self.assertIsNone(judged(task({}, {}), *events)["scores"]["choice"])
        # calls: [] in the second: its call is extra, and nothing else counts.
        result = judged(task({}, {"calls": []}), *events)
        self.assertEqual((result["scores"]["choice"], result["extra"]), (0.0, ["c1"]))


class OwnAndWhole(unittest.TestCase):
    EVENTS = (
        opening(0, 0), call("c1", DETAILS, 1), reply(2, "Window 14:10."),
        opening(1, 3), call("c2", DETAILS, 4), call("c3", WINDOW, 5), reply(6, "Opens at 15:00."),
    )  # fmt: skip

    def test_never_and_at_most_of_a_part_look_at_it_alone(self) -> None:
        script = task({"never": ["tides/*"], "at_most": {"calls": 1, "turns": 1}}, {})
        result = judged(script, *self.EVENTS)
        self.assertEqual(result["verdict"], "pass")
        second = judged(task({}, {"never": ["tides/*"], "at_most": {"calls": 1}}), *self.EVENTS)
        found = checks(second)
        self.assertEqual((found["never.tides/*"], found["at_most.calls"]), (False, False))

    def test_those_of_the_task_look_at_all_parts_once(self) -> None:
        whole = {"never": ["tides/*"], "at_most": {"calls": 2, "same_call": 1, "turns": 2}}
        result = judged(task({}, {}, expect=whole), *self.EVENTS)
        found = {i: p for i, p in checks(result).items() if i.startswith(("never", "at_most"))}
        self.assertEqual(
            found,
            {"never.tides/*": False, "at_most.calls": False, "at_most.same_call": False,
             "at_most.turns": True},
        )  # fmt: skip
        self.assertNotIn("part", find(result, "at_most.calls"))
        self.assertEqual(result["extra"], ["c3"])  # a never call is in X in any part

    def test_chains_over_parts(self) -> None:
        order = [["a", "b"]]
        good = judged(task(*TWO, expect={"order": order}), *self.EVENTS)
        self.assertIs(checks(good)["order.a.b"], True)
        turned = task(TWO[1], TWO[0], expect={"order": [["a", "b"]]})
        events = [
            opening(0, 0), call("c1", WINDOW, 1), reply(2),
            opening(1, 3), call("c2", DETAILS, 4), reply(5),
        ]  # fmt: skip
        self.assertIs(checks(judged(turned, *events))["order.a.b"], False)

    def test_a_later_part_takes_values_from_an_earlier_one(self) -> None:
        imo = {"from": "vessel", "path": "$.imo"}
        script = task(
            {"calls": [{"as": "vessel", "tool": DETAILS}]},
            {"calls": [{"as": "book", "tool": BOOK, "args": {"imo": imo}}]},
        )
        for given_, holds in (("9471102", True), ("9471103", False)):
            result = judged(
                script,
                opening(0, 0), call("c1", DETAILS, 1, result={"imo": "9471102"}), reply(2),
                opening(1, 3), call("c2", BOOK, 4, {"imo": given_}), reply(5),
            )  # fmt: skip
            self.assertIs(checks(result)["book.args.imo"], holds)
        self.assertIn('vessel gave "9471102"', find(result, "book.args.imo")["message"])

    def test_answers_look_at_the_last_reply_of_their_part_and_are_numbered_on(self) -> None:
        script = task(
            {"answer": [{"mentions": "14:10"}], "state": [{"server": "s", "path": "$.n", "is": 1}]},
            {"answer": [{"mentions": "15:00"}, {"not_matches": "14:10"}]},
            expect={"state": [{"server": "s", "path": "$.n", "is": 2}]},
        )
        result = judged(script, *self.EVENTS, state={"s": {"n": 2}})
        found = {i: p for i, p in checks(result).items() if i[:6] in ("answer", "state.")}
        self.assertEqual(
            found,
            {"answer.0": True, "state.0": False, "answer.1": True, "answer.2": True,
             "state.1": True},
        )  # fmt: skip

    def test_claimed_tools_are_those_of_the_part(self) -> None:
        script = task({}, {"answer": [{"claims_tools": "$.tools"}]})
        events = [
            opening(0, 0), call("c1", DETAILS, 1), reply(2),
            opening(1, 3), call("c2", WINDOW, 4), reply(5, data={"tools": ["tide_window"]}),
        ]  # fmt: skip
        self.assertIs(checks(judged(script, *events))["answer.0"], True)


class OverTheTrial(unittest.TestCase):
    def test_a_failure_is_handled_in_a_later_part(self) -> None:
        events = [
            opening(0, 0), failed("c1", WINDOW, 1), reply(2),
            opening(1, 3), call("c2", WINDOW, 4), reply(5),
        ]  # fmt: skip
        self.assertIs(checks(judged(task({}, {}), *events))["failure.c1"], True)

    def test_a_parts_rules_are_for_its_own_failures_and_the_tasks_for_all(self) -> None:
        rules = {"failures": {"tells_user": "(?i)busy"}}
        events = [opening(0, 0), reply(1), opening(1, 2), failed("c1", BOOK, 3), reply(4, "Busy.")]
        self.assertIs(checks(judged(task(rules, {}), *events))["failure.c1"], False)
        self.assertIs(checks(judged(task({}, rules), *events))["failure.c1"], True)
        self.assertIs(checks(judged(task({}, {}, expect=rules), *events))["failure.c1"], True)

    def test_a_loop_runs_on_into_the_next_part_unless_it_may_poll(self) -> None:
        events = [
            opening(0, 0), call("c1", HIGH, 1), call("c2", HIGH, 1.5), reply(2),
            opening(1, 3), call("c3", HIGH, 4), reply(5),
        ]  # fmt: skip
        self.assertIs(checks(judged(task({}, {}), *events))["failure.loop.c3"], False)
        polled = task({}, {}, expect={"may_poll": [HIGH]})
        self.assertNotIn("failure.loop.c3", checks(judged(polled, *events)))

    def test_a_grant_of_an_earlier_part_holds(self) -> None:
        rule = {"if_reply": {"matches": "Shall I"}, "say": "Yes.", "grants": "booking"}
        book = {"calls": [{"as": "book", "tool": BOOK, "after_grant": "booking"}]}
        script = task({"user": [rule]}, book)
        granted = judged(
            script,
            opening(0, 0), reply(1, "Shall I?"), opening(0, 2, "Yes.", 0), reply(3),
            opening(1, 4), call("c1", BOOK, 5), reply(6),
        )  # fmt: skip
        self.assertIs(checks(granted)["order.grant:booking.book"], True)
        # The same place in the second part's rules grants nothing.
        not_granted = judged(
            script, opening(0, 0), reply(1), opening(1, 2), opening(1, 3, "Yes.", 0),
            call("c1", BOOK, 5), reply(6),
        )  # fmt: skip
        self.assertIs(checks(not_granted)["order.grant:booking.book"], False)

    def test_the_tasks_own_rules_stand_after_a_parts(self) -> None:
        rule = {"if_reply": {"matches": "Shall I"}, "say": "Yes.", "grants": "booking"}
        book = {"calls": [{"as": "book", "tool": BOOK, "after_grant": "booking"}]}
        own = {"if_reply": {"matches": "x"}, "say": "y"}
        result = judged(
            task({**book, "user": [own]}, {}, user=[rule]),
            opening(0, 0), reply(1), opening(0, 2, "Yes.", 1), call("c1", BOOK, 3), reply(4),
            opening(1, 5), reply(6),
        )  # fmt: skip
        self.assertIs(checks(result)["order.grant:booking.book"], True)


class Either(unittest.TestCase):
    def test_each_part_takes_its_own_alternative(self) -> None:
        high = {"calls": [{"as": "h", "tool": HIGH}]}
        window = {"calls": [{"as": "w", "tool": WINDOW}]}
        result = judged(
            task(TWO[0], {"either": [high, window]}, TWO[1]),
            opening(0, 0), call("c1", DETAILS, 1), reply(2),
            opening(1, 3), call("c2", WINDOW, 4), reply(5),
            opening(2, 6), call("c3", WINDOW, 7), reply(8),
        )  # fmt: skip
        self.assertEqual(result["alternatives"], [None, 1, None])
        self.assertEqual(result["verdict"], "pass")

    def test_what_failed_elsewhere_does_not_weigh(self) -> None:
        # Part 0 fails whatever part 1 does; part 1's second alternative still passes.
        either = {"either": [{"calls": [{"as": "h", "tool": HIGH}]}, {"calls": []}]}
        result = judged(task(TWO[0], either), opening(0, 0), reply(1), opening(1, 2), reply(3))
        self.assertEqual(result["alternatives"], [None, 1])


class Properties(unittest.TestCase):
    @settings(deadline=None, max_examples=40)
    @given(st.lists(st.lists(st.sampled_from(sorted(TOOLS)), max_size=3), min_size=1, max_size=4))
    def test_a_trace_made_from_the_script_scores_one_everywhere(
        self, tools: list[list[str]]
    ) -> None:
        parts, events, number = [], [], 0
        for part, names in enumerate(tools):
            expected, at = [], float(10 * part)
            events.append(opening(part, at))
            for place, tool in enumerate(names):
                # Different arguments each time, for the same call three times running is a loop.
                expected.append({"as": f"n{number}", "tool": tool, "args": {"n": number}})
                events.append(call(f"c{number}", tool, at + place + 1, {"n": number}))
                number += 1
            events.append(reply(at + 9))
            chain = [e["as"] for e in expected]
            parts.append({"calls": expected, "order": [chain] if len(chain) > 1 else []})
        scores = judged(task(*parts), *events)["scores"]
        self.assertEqual({v for v in scores.values() if v is not None}, {1.0})


class Alternatives(unittest.TestCase):
    """Which of a part's alternatives is judged."""

    def test_a_failure_counts_in_the_part_of_its_call(self) -> None:
        handled = {"calls": [{"as": "b", "tool": WINDOW}], "failures": {"tells_user": "sorry"}}
        either = {"either": [{"calls": [{"as": "b", "tool": WINDOW}]}, handled]}
        script = task({"calls": [{"as": "a", "tool": DETAILS}]}, either)
        events = [
            opening(0, 0), call("c1", DETAILS, 1), reply(2),
            opening(1, 3), failed("c2", WINDOW, 4), reply(5, "sorry"),
        ]  # fmt: skip
        result = judged(script, *events)
        self.assertEqual((result["alternatives"], result["verdict"]), ([None, 1], "pass"))

    def test_a_failure_of_another_part_decides_nothing(self) -> None:
        first = {"either": [{"calls": [{"as": "a", "tool": DETAILS}]},
                            {"calls": [], "failures": {"tells_user": "sorry"}}]}  # fmt: skip
        script = task(first, {"calls": [{"as": "b", "tool": WINDOW}]})
        events = [
            opening(0, 0), call("c1", DETAILS, 1), reply(2),
            opening(1, 3), failed("c2", WINDOW, 4), reply(5, "sorry"),
        ]  # fmt: skip
        self.assertEqual(judged(script, *events)["alternatives"], [0, None])

    def test_of_equal_ones_the_earlier(self) -> None:
        either = {"either": [{"calls": [{"tool": DETAILS}]}, {"calls": [{"tool": DETAILS}]}]}
        self.assertEqual(judged(task(either), opening(0, 0), reply(1))["alternatives"], [0])


class Rules(unittest.TestCase):
    def test_the_rule_that_gave_a_turn_is_found_if_it_is_the_scripts(self) -> None:
        rule = {"if_reply": {"matches": "x"}, "say": "y"}
        script = task({"user": [rule]}, {})
        found = script.find_rule(0, 0)
        assert found is not None
        self.assertEqual(found.say, "y")
        for part, place in ((0, None), (0, 1), (0, 2), (1, 0), (2, 0), (3, 0)):
            with self.subTest(part=part, place=place):
                self.assertIsNone(script.find_rule(part, place))
