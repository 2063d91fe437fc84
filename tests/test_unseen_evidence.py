"""Traces from elsewhere: what they do not tell is not tested, and what they tell is."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.remarks import trial_remarks
from ferox.core.scoring import score_trial
from tests.traces import call, checks, failed, model, reply, script, trace, turn

BOOK = {"as": "book", "tool": "harbour/assign_berth", "args": {"berth": "N1"}}
LOOK = {"as": "look", "tool": "tides/high_water"}


def result(expect: Any, *events: Any, not_seen: Any = (), task: Any = None, **fields: Any) -> Any:
    """Events of a trace that does not tell some things, judged."""
    told = trace(*events, not_seen=list(not_seen), **fields)
    return score_trial(script(expect, **(task or {})), told)


def check(id: str, *given: Any, **more: Any) -> bool | None:
    return checks(result(*given, **more))[id]


class Calls(unittest.TestCase):
    def test_where_calls_are_not_told_a_missing_one_is_not_tested(self) -> None:
        expect = {"calls": [BOOK, LOOK], "never": ["harbour/*"], "at_most": {"calls": 1}}
        found = result(expect, call("c1", "tides/high_water", 1.0), not_seen=["calls"])
        told = checks(found)
        self.assertIsNone(told["book.called"])
        self.assertTrue(told["look.called"])
        self.assertIsNone(told["never.harbour/*"])
        self.assertIsNone(told["at_most.calls"])
        self.assertIsNone(found["scores"]["choice"])
        self.assertEqual(found["verdict"], "pass")

    def test_what_was_seen_to_be_wrong_is_wrong_all_the_same(self) -> None:
        calls = [call("c1", "harbour/assign_berth", 1.0), call("c2", "harbour/assign_berth", 2.0)]
        expect = {"never": ["harbour/*"], "at_most": {"calls": 1}}
        told = checks(result(expect, *calls, not_seen=["calls"]))
        self.assertEqual((told["never.harbour/*"], told["at_most.calls"]), (False, False))

    def test_why_one_is_missing_follows_from_what_was_seen(self) -> None:
        def why(**more: Any) -> str:
            return str(result({"calls": [BOOK]}, **more)["missing"][0]["why"])

        seen = {"model_seam": True, "tools": {}}
        asked = model("m1", 1.0, offered=[])
        self.assertEqual(why(**seen), "not_offered")
        self.assertEqual(why(not_seen=["offers"], **seen), "not_proposed")
        self.assertEqual(why(not_seen=["offers", "proposals"], **seen), "not_seen")
        found = result({"calls": [BOOK]}, turn(), asked, reply(2.0), not_seen=["offers"], **seen)
        self.assertEqual(found["missing"][0]["why"], "not_proposed")

    def test_a_proposal_is_of_an_unknown_tool_only_where_the_offer_was_seen(self) -> None:
        asked = {**model("m1", 1.0, [("p1", "tides/low_water")]), "offered": None}
        for not_seen, said in (([], "no such tool was offered"), (["offers"], "no call followed")):
            with self.subTest(not_seen):
                seen = {"not_seen": not_seen, "model_seam": True, "tools": {}}
                found = result({}, turn(), asked, reply(2.0), **seen)
                (lost,) = (c for c in found["checks"] if c["id"] == "failure.p1")
                self.assertIn(said, lost["message"])


class OneCall(unittest.TestCase):
    def test_arguments_that_were_not_seen_are_not_tested(self) -> None:
        expect = {"calls": [{**BOOK, "only_args": True, "as_approved": True}]}
        made = call("c1", "harbour/assign_berth", 1.0, not_seen=["arguments"])
        found = result(expect, made)
        self.assertEqual(
            {id for id, passed in checks(found).items() if passed is None},
            {"book.schema", "book.args.berth", "book.only_args", "book.as_approved"},
        )
        self.assertIsNone(found["scores"]["arguments"])
        self.assertEqual(check("book.args.berth", expect, call("c", BOOK["tool"], 1.0)), False)

    def test_what_may_have_been_edited_on_approval_is_not_tested(self) -> None:
        edit = [{"tool": BOOK["tool"], "decision": "approve", "edit": {"berth": "N1"}}]
        made = call("c1", "harbour/assign_berth", 1.0, {"berth": "N9"})
        for not_seen, passed in ((["approvals"], None), ([], False)):
            found = check("book.args.berth", {"calls": [BOOK]}, made, not_seen=not_seen,
                          task={"approvals": edit})  # fmt: skip
            self.assertEqual(found, passed)

    def test_which_of_two_alike_calls_gave_a_value_is_unseen_evidence(self) -> None:
        look = {"as": "look", "tool": "tides/high_water"}
        spec = {"mentions": {"from": "look", "path": "$.at"}}
        calls = [call(f"c{n}", "tides/high_water", n, result=r, not_seen=["outcomes"])
                 for n, r in ((1, "Error: busy"), (2, {"at": "14:31"}))]  # fmt: skip
        expect = {"calls": [look], "answer": [spec]}
        self.assertIsNone(check("answer.0", expect, *calls))
        self.assertIs(check("answer.0", expect, calls[0]), False)

    def test_repeats_of_unseen_arguments_are_neither_a_loop_nor_the_same_call(self) -> None:
        made = [call(f"c{n}", "tides/high_water", n, not_seen=["arguments"]) for n in (1, 2, 3)]
        told = checks(result({"at_most": {"same_call": 1}}, *made))
        self.assertIsNone(told["at_most.same_call"])
        self.assertFalse([id for id in told if "loop" in id])

    def test_a_result_that_was_not_seen_decides_no_argument(self) -> None:
        source = {"as": "look", "tool": "tides/high_water"}
        at = {"from": "look", "path": "$.berth"}
        for matcher in (at, {"not": at}, {"seen": True}, {"not": {"seen": True}}):
            with self.subTest(matcher):
                expect = {"calls": [source, {**BOOK, "args": {"berth": matcher}}]}
                first = call("c1", "tides/high_water", 1.0, not_seen=["results"])
                second = call("c2", "harbour/assign_berth", 2.0, {"berth": "N1"})
                self.assertIsNone(check("book.args.berth", expect, first, second))
        # Another call's result that was not seen is no reason to doubt this one's.
        expect = {"calls": [source, {**BOOK, "args": {"berth": at}}]}
        seen = call("c1", "tides/high_water", 1.0, result={"berth": "N1"})
        other = call("c3", "tides/tide_window", 1.5, not_seen=["results"])
        self.assertTrue(check("book.args.berth", expect, seen, other, second))

    def test_a_second_call_whose_first_may_have_failed_is_not_extra(self) -> None:
        made = [call(f"c{n}", "harbour/assign_berth", n, {"berth": "N1"}) for n in (1, 2)]
        self.assertEqual(result({"calls": [BOOK]}, *made)["extra"], ["c2"])
        hidden = [{**one, "not_seen": ["outcomes"]} for one in made]
        found = result({"calls": [BOOK]}, *hidden)
        self.assertEqual(found["extra"], [])
        self.assertIsNone(checks(found)["failures.not_seen"])
        other = call("c3", "tides/high_water", 3.0, not_seen=["outcomes"])
        self.assertEqual(result({"calls": [BOOK]}, *hidden, other)["extra"], ["c3"])


class Order(unittest.TestCase):
    EXPECT = {"calls": [LOOK, BOOK], "order": [["look", "book"]]}

    def order(self, first: float, second: float, **more: Any) -> bool | None:
        made = [
            call("c1", "tides/high_water", first, s=1.0, **more),
            call("c2", "harbour/assign_berth", second, {"berth": "N1"}, s=1.0, **more),
        ]
        return check("order.look.book", self.EXPECT, *made)

    def test_of_one_request_it_is_not_tested_of_two_it_is(self) -> None:
        times = {"not_seen": ["times"]}
        self.assertIsNone(self.order(1.0, 1.0, **times))
        self.assertIs(self.order(1.0, 1.0), False)
        self.assertTrue(self.order(1.0, 2.0, **times))
        self.assertIs(self.order(2.0, 1.0, **times), False)

    def test_approvals_and_go_aheads_that_were_not_seen(self) -> None:
        task = {"approvals": [{"tool": "harbour/assign_berth", "decision": "approve"}],
                "user": [{"if_reply": {"matches": "x"}, "say": "Go.", "grants": "go"}]}  # fmt: skip
        expect = {"calls": [{**BOOK, "after_grant": "go"}]}
        made = call("c1", "harbour/assign_berth", 1.0, {"berth": "N1"})
        for not_seen, passed in ((["approvals", "rules"], None), ([], False)):
            told = checks(result(expect, made, task=task, not_seen=not_seen))
            self.assertEqual(told["order.approval.book"], passed)
            self.assertEqual(told["order.grant:go.book"], passed)


class Outcome(unittest.TestCase):
    def answer(self, spec: Any, not_seen: Any, *events: Any, **task: Any) -> bool | None:
        return check("answer.0", {"answer": [spec]}, *events, not_seen=not_seen, task=task)

    def test_a_reply_that_was_not_seen_is_not_tested(self) -> None:
        self.assertIsNone(self.answer({"matches": "x"}, ["reply"], turn()))
        self.assertIs(self.answer({"matches": "x"}, [], turn()), False)

    def test_a_truth_nobody_looked_up_demands_nothing(self) -> None:
        truth = [{"as": "real", "tool": "tides/high_water"}]
        spec = {"mentions": {"from": "real", "path": "$.at"}}
        self.assertIsNone(self.answer(spec, ["truth"], truth=truth))
        self.assertIs(self.answer(spec, [], truth=truth), False)

    def test_values_may_be_from_what_was_not_seen(self) -> None:
        said = [turn(), reply(2.0, "Berth N7 is free.")]
        for lacking in ("results", "words", "instructions", "calls"):
            self.assertIsNone(self.answer({"values": "supported"}, [lacking], *said))
        self.assertIs(self.answer({"values": "supported"}, ["times"], *said), False)
        copied = [turn(), reply(2.0, "Booked N1.")]
        self.assertTrue(self.answer({"values": "supported"}, ["results"], *copied))

    def test_data_that_was_not_seen(self) -> None:
        self.assertIsNone(self.answer({"data": "$.x"}, ["data"]))
        self.assertIsNone(self.answer({"json": {"type": "object"}}, ["data"]))
        self.assertIs(self.answer({"data": "$.x"}, []), False)


class Budgets(unittest.TestCase):
    def test_times_and_tokens_that_were_not_seen(self) -> None:
        budget = {"turn_ms": 1, "tool_ms": 1, "model_calls": 9, "tokens": 1}
        events = [turn(), model("m1", 0.5, usage=None), call("c1", "tides/high_water", 1.0, s=2.0),
                  reply(4.0)]  # fmt: skip
        seen = {"task": {"budget": budget}, "model_seam": True}
        lacking = ["turns", "times", "usage"]
        told = checks(result({}, *events, not_seen=lacking, **seen))
        self.assertEqual([told[f"budget.{key}"] for key in budget], [None, None, True, None])
        told = checks(result({}, *events, **seen))
        self.assertEqual([told[f"budget.{key}"] for key in budget], [False, False, True, False])
        figures = result({}, *events, not_seen=lacking, **seen)["latency"]
        self.assertEqual((figures["tool_ms"], figures["agent_ms"]), (None, None))

    def test_a_failed_call_may_have_been_made_up_for_out_of_sight(self) -> None:
        made = failed("c1", "tides/high_water", 1.0)
        self.assertIsNone(check("failure.c1", {}, made, not_seen=["calls"]))
        told = {"failures": {"tells_user": "sorry"}}
        self.assertIsNone(check("failure.c1", told, made, not_seen=["reply"]))
        self.assertIs(check("failure.c1", told, made), False)


class Words(unittest.TestCase):
    def test_what_is_not_told_is_the_first_remark(self) -> None:
        hidden = call("c1", "tides/high_water", 1.0, not_seen=["results"])
        first, *_ = trial_remarks(trace(hidden, not_seen=["approvals"]))
        self.assertEqual(first.kind, "unseen")
        self.assertIn("does not tell the results of calls, approvals.", first.text)
        self.assertNotEqual(trial_remarks(trace())[0].kind, "unseen")
