"""What was not seen is not tested: each rule with a trace worked by hand."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from ferox.formats.result import Result
from tests.traces import call, checks, end, failed, find, model, reply, script, trace, turn

NOTE, WINDOW = "own/note_down", "tides/tide_window"


def unseen(expect: dict[str, Any], *events: Any, own_seen: bool = False, **task: Any) -> Result:
    """The result of an agent whose own tools are not visible."""
    return score_trial(script(expect, **task), trace(*events, own_seen=own_seen))


class OwnTools(unittest.TestCase):
    EXPECT = {
        "calls": [
            {"as": "w", "tool": WINDOW},
            {"as": "n", "tool": NOTE},
            {"as": "b", "tool": "harbour/assign_berth"},
        ],
        "order": [["w", "n", "b"]],
    }
    CALLS = (call("c1", WINDOW, 1), call("c2", "harbour/assign_berth", 2))

    def test_a_required_one_is_neither_met_nor_missed(self) -> None:
        found = unseen(self.EXPECT, *self.CALLS)
        self.assertEqual(found["verdict"], "pass")
        self.assertIsNone(checks(found)["n.called"])
        self.assertIn("not tested", find(found, "n.called")["message"])
        self.assertEqual(found["missing"], [{"name": "n", "why": "not_seen"}])
        self.assertEqual(found["scores"]["choice"], 1.0)

    def test_seen_it_would_have_been_missing(self) -> None:
        found = unseen(self.EXPECT, *self.CALLS, own_seen=True)
        self.assertEqual(found["verdict"], "fail")
        self.assertEqual(checks(found)["n.called"], False)
        self.assertEqual(found["scores"]["choice"], 0.8)  # P = 1, R = 2/3

    def test_one_that_was_reported_all_the_same_counts(self) -> None:
        own = call("c3", NOTE, 1.5, seam="local")
        found = unseen(self.EXPECT, *self.CALLS, own)
        self.assertEqual(checks(found)["n.called"], True)
        self.assertEqual(checks(found)["order.w.n"], True)

    def test_its_pairs_are_remarks_and_those_around_it_keep_their_order(self) -> None:
        found = unseen(self.EXPECT, *self.CALLS)
        self.assertIsNone(checks(found)["order.w.n"])
        self.assertIsNone(checks(found)["order.n.b"])
        self.assertEqual(checks(found)["order.w.b"], True)
        late = unseen(self.EXPECT, call("c1", WINDOW, 3), call("c2", "harbour/assign_berth", 2))
        self.assertEqual(checks(late)["order.w.b"], False)
        self.assertEqual(late["scores"]["order"], 0.0)

    def test_never_is_not_tested_where_only_own_tools_could_fit(self) -> None:
        expect = {"calls": [], "never": [NOTE, "*/note_down", "harbour/*"]}
        found = unseen(expect)
        self.assertIsNone(checks(found)[f"never.{NOTE}"])
        self.assertEqual(checks(found)["never.*/note_down"], True)
        self.assertEqual(checks(found)["never.harbour/*"], True)
        self.assertEqual(unseen(expect, own_seen=True)["checks"][0]["passed"], True)
        seen = unseen(expect, call("c1", NOTE, 1, seam="local"))
        self.assertEqual(checks(seen)[f"never.{NOTE}"], False)

    def test_counts_that_such_a_tool_could_raise(self) -> None:
        expect = {**self.EXPECT, "at_most": {"calls": 2, "same_call": 1}}
        found = unseen(expect, *self.CALLS)
        self.assertIsNone(checks(found)["at_most.calls"])
        self.assertIsNone(checks(found)["at_most.same_call"])
        more = unseen(expect, *self.CALLS, call("c3", WINDOW, 3))
        self.assertEqual(checks(more)["at_most.calls"], False)  # too many whatever is unseen
        self.assertEqual(checks(more)["at_most.same_call"], False)
        other = {"calls": [{"as": "w", "tool": WINDOW}], "at_most": {"calls": 2}}
        self.assertEqual(checks(unseen(other, self.CALLS[0]))["at_most.calls"], True)

    def test_values_that_come_from_one(self) -> None:
        expect = {
            "calls": [
                {"as": "n", "tool": NOTE},
                {"as": "w", "tool": WINDOW, "args": {"day": {"from": "n", "path": "$.day"}}},
            ],
            "answer": [{"mentions": {"from": "n", "path": "$.day"}}],
        }
        found = unseen(expect, call("c1", WINDOW, 1, {"day": "2031-03-20"}))
        self.assertIsNone(checks(found)["w.args.day"])
        self.assertIsNone(checks(found)["answer.0"])
        self.assertEqual(found["verdict"], "pass")
        seen = unseen(expect, call("c1", WINDOW, 1, {"day": "2031-03-20"}), own_seen=True)
        self.assertEqual(checks(seen)["w.args.day"], False)

    def test_grants_approvals_and_claims(self) -> None:
        expect = {
            "calls": [{"as": "n", "tool": NOTE, "after_grant": "g"}],
            "failures": {"claims": "(?i)done", "write": "n"},
        }
        approvals = [{"tool": NOTE, "decision": "approve"}]
        rules = [{"if_reply": {"matches": "x"}, "say": "y", "grants": "g"}]
        found = unseen(expect, approvals=approvals, user=rules)
        for id in ("order.grant:g.n", "order.approval.n", "failure.claimed"):
            self.assertIsNone(checks(found)[id], id)
        self.assertEqual(found["verdict"], "pass")

    def test_claims_of_tools(self) -> None:
        expect = {"calls": [{"tool": WINDOW}], "answer": [{"claims_tools": "$.used"}]}
        served = {"used": ["tide_window", "note_down"]}
        one = call("c1", WINDOW, 1)
        found = unseen(expect, turn(), one, reply(2, "Done.", served))
        self.assertIsNone(checks(found)["answer.0"])
        false = {"used": ["tide_window", "list_berths"]}
        found = unseen(expect, turn(), one, reply(2, "Done.", false))
        self.assertEqual(checks(found)["answer.0"], False)

    def test_it_is_not_said_what_was_chosen_in_its_place(self) -> None:
        expect = {"calls": [{"as": "n", "tool": NOTE}]}
        self.assertEqual(unseen(expect, call("c1", WINDOW, 1))["confusions"], [])
        seen = unseen(expect, call("c1", WINDOW, 1), own_seen=True)
        self.assertEqual(len(seen["confusions"]), 1)

    def test_a_failure_that_an_unseen_tool_may_have_made_up_for(self) -> None:
        found = unseen({}, failed("c1", WINDOW, 1))
        self.assertIn("nothing that was seen made up for it", find(found, "failure.c1")["message"])


class ReplyTools(unittest.TestCase):
    """A proposal of a tool by which the framework replies is neither a call nor a failure."""

    def scored(self, *events: Any, **fields: Any) -> Result:
        expect = {"calls": [], "at_most": {"calls": 0}}
        return score_trial(script(expect), trace(*events, model_seam=True, **fields))

    def test_neither_a_call_nor_a_failure(self) -> None:
        asked = model("m1", 1, [("p1", "own/final_answer")], ["own/final_answer"])
        own = call("c1", "own/final_answer", 1.2, s=None, seam="local", proposal="p1")
        events = (turn(), asked, own, reply(2), end())
        found = self.scored(*events, reply_tools=["final_answer"])
        self.assertEqual((found["verdict"], found["extra"]), ("pass", []))
        self.assertEqual([c["id"] for c in found["checks"]], ["at_most.calls"])
        self.assertEqual(found["latency"]["tool_ms"], 0.0)
        without = self.scored(*events)
        self.assertEqual(checks(without)["failure.c1"], False)
        self.assertEqual(without["extra"], ["c1"])

    def test_a_proposal_that_no_call_followed(self) -> None:
        asked = model("m1", 1, [("p1", "final_answer")])
        found = self.scored(turn(), asked, reply(2), end(), reply_tools=["final_answer"])
        self.assertEqual(found["verdict"], "pass")
        self.assertEqual(self.scored(turn(), asked, reply(2), end())["verdict"], "fail")

    def test_a_served_tool_of_that_name_is_none(self) -> None:
        one = call("c1", "harbour/final_answer", 1)
        found = self.scored(turn(), one, reply(2), end(), reply_tools=["final_answer"])
        self.assertEqual(found["extra"], ["c1"])


class WhyMissing(unittest.TestCase):
    def why(self, *events: Any, tool: str = WINDOW, **fields: Any) -> tuple[str, str]:
        expect = {"calls": [{"as": "x", "tool": tool}]}
        result = score_trial(script(expect), trace(*events, **{"model_seam": True, **fields}))
        return result["missing"][0]["why"], find(result, "x.called")["message"]

    def test_it_ended_before_its_model_answered(self) -> None:
        for why in ("crash", "did_not_start", "limit", "no_reply"):
            kind, message = self.why(turn(), end(1, why, "no tide"))
            self.assertEqual(kind, "not_seen")
            self.assertIn("before its model was asked", message)
        hung = self.why(turn(), model("m1", 0.5, s=None), end(1, "no_reply"))
        self.assertEqual(hung[0], "not_seen")
        self.assertIn("before its model answered", hung[1])
        refused = model("m1", 0.5, error={"kind": "status", "message": "HTTP 500"})
        self.assertEqual(self.why(turn(), refused, end(1, "crash"))[0], "not_seen")

    def test_once_its_model_answered_it_was_not_proposed(self) -> None:
        kind, message = self.why(turn(), model("m1", 0.5), end(1, "crash"))
        self.assertEqual(kind, "not_proposed")
        self.assertIn("its model was shown it, and did not propose it", message)

    def test_only_answers_of_its_own_part_count(self) -> None:
        task = {
            "parts": [
                {"say": "One.", "expect": {}},
                {"say": "Two.", "expect": {"calls": [{"as": "x", "tool": WINDOW}]}},
            ]
        }
        events = [turn(), model("m1", 0.5), reply(1), {**turn(2), "part": 1}, end(3, "crash")]
        made = script({}, say=None, **task)
        result = score_trial(made, trace(*events, model_seam=True))
        self.assertEqual(result["missing"], [{"name": "x", "why": "not_seen"}])

    def test_what_the_requests_show(self) -> None:
        shown = model("m1", 0.5, offered=["tides/high_water"])
        kind, message = self.why(turn(), shown, reply(1))
        self.assertEqual(kind, "not_offered")
        self.assertIn("it was offered, and its model was never shown it", message)
        twice = self.why(turn(), shown, model("m2", 0.7, offered=[WINDOW]), reply(1))
        self.assertEqual(twice[0], "not_proposed")
        self.assertIn("shown it in 1 of 2 requests", twice[1])
        own = self.why(turn(), shown, reply(1), tool=NOTE)
        self.assertIn("its model was never shown it", own[1])
        self.assertNotIn("it was offered", own[1])

    def test_a_model_that_was_given_no_definitions(self) -> None:
        bare = model("m1", 0.5, offered=[])
        self.assertEqual(self.why(turn(), bare, reply(1))[0], "not_offered")
        by_code = self.why(turn(), bare, call("c1", "tides/high_water", 0.7), reply(1))
        self.assertEqual(by_code[0], "not_seen")

    def test_a_tool_of_the_same_name_answered_inside_the_agent(self) -> None:
        asked = model("m1", 0.5, [("p1", WINDOW)])
        own = call("c1", "own/tide_window", 0.7, seam="local", proposal="p1", hides=WINDOW)
        kind, message = self.why(turn(), asked, own, reply(1))
        self.assertEqual(kind, "refused")
        self.assertIn("it was proposed, and own/tide_window answered inside the agent", message)

    def test_no_request_at_all(self) -> None:
        self.assertIn("no request to its model was seen", self.why(turn(), reply(1))[1])


class BeforeTheFirstWords(unittest.TestCase):
    EXPECT = {"calls": [{"as": "w", "tool": WINDOW}], "at_most": {"calls": 1}}

    def test_a_call_of_the_start_answers_no_expectation(self) -> None:
        early = call("c1", WINDOW, 0.5)
        result = score_trial(script(self.EXPECT), trace(early, turn(1), reply(2)))
        self.assertEqual(result["missing"][0]["name"], "w")
        self.assertEqual((result["extra"], result["matched"]), ([], {}))
        both = score_trial(
            script(self.EXPECT), trace(early, turn(1), call("c2", WINDOW, 1.5), reply(2))
        )
        self.assertEqual(both["matched"], {"w": ["c2"]})
        self.assertEqual(both["verdict"], "pass")

    def test_one_that_must_never_be_called_is_seen_there_too(self) -> None:
        expect = {"calls": [], "never": [WINDOW]}
        result = score_trial(script(expect), trace(call("c1", WINDOW, 0.5), turn(1), reply(2)))
        self.assertEqual(checks(result)[f"never.{WINDOW}"], False)
        self.assertEqual(result["extra"], ["c1"])

    def test_what_it_brought_has_been_seen(self) -> None:
        expect = {"calls": [{"as": "w", "tool": WINDOW, "args": {"day": {"seen": True}}}]}
        early = call("c1", "harbour/list_berths", 0.2, result={"day": "2031-03-20"})
        used = call("c2", WINDOW, 1.5, {"day": "2031-03-20"})
        result = score_trial(script(expect), trace(early, turn(1), used, reply(2)))
        self.assertEqual(result["verdict"], "pass")


class Judged(unittest.TestCase):
    def test_what_nothing_is_demanded_of_is_not_judged(self) -> None:
        result = score_trial(script({}), trace())
        self.assertEqual((result["verdict"], result["judged"]), ("pass", False))
        self.assertTrue(score_trial(script({"calls": []}), trace())["judged"] is False)
        held = score_trial(script({"answer": [{"mentions": "Done"}]}), trace())
        self.assertTrue(held["judged"])

    def test_the_day_that_was_expected_is_reported_with_its_clock(self) -> None:
        expect = {"calls": [{"as": "w", "tool": WINDOW, "args": {"day": {"day": "next monday"}}}]}
        result = score_trial(script(expect), trace(call("c1", WINDOW, 1, {"day": "2031-03-14"})))
        self.assertEqual(
            find(result, "w.args.day")["message"],
            'day was "2031-03-14"; expected the day next monday (2031-03-17 by the trial\'s clock, '
            "2031-03-14T06:30:00Z in Europe/Lisbon)",
        )


if __name__ == "__main__":
    unittest.main()
