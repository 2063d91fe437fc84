"""Each rule of each family on a case worked by hand, and properties of the whole."""

from __future__ import annotations

import copy
import json
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import Suite
from ferox.workspace.yaml_files import read_yaml, validate_file
from tests.traces import (
    TOOLS,
    call,
    checks,
    end,
    failed,
    find,
    judged,
    model,
    reply,
    script,
    trace,
    turn,
)

DETAILS = "harbour/vessel_details"
BERTHS = "harbour/list_berths"
WINDOW = "tides/tide_window"
HIGH = "tides/high_water"
BOOK = "harbour/assign_berth"
DATA = Path(__file__).parent / "data"

TWO = {"calls": [{"as": "a", "tool": DETAILS}, {"as": "b", "tool": WINDOW}]}


class Choice(unittest.TestCase):
    def test_harmonic_mean_of_precision_and_recall(self) -> None:
        # M = 1, X = 1, R = 2: precision 1/2, recall 1/2.
        result = judged(TWO, call("c1", DETAILS, 1), call("c2", HIGH, 2))
        self.assertEqual(result["scores"]["choice"], 0.5)
        # M = 2 of which one optional, X = 1, R = 1: precision 2/3, recall 1: 4/5.
        spec = {"calls": [TWO["calls"][0], {"tool": WINDOW, "optional": True}]}
        result = judged(spec, call("c1", DETAILS, 1), call("c2", WINDOW, 2), call("c3", HIGH, 3))
        self.assertEqual(result["scores"]["choice"], 0.8)

    def test_nothing_called_scores_zero_and_only_optional_calls_score_one(self) -> None:
        # Nothing matched and nothing extra: precision is 1, recall 0, their mean 0.
        self.assertEqual(judged(TWO)["scores"]["choice"], 0)
        optional = {"calls": [{"tool": DETAILS, "optional": True}]}
        self.assertEqual(judged(optional)["scores"]["choice"], 1)

    def test_no_calls_expected(self) -> None:
        self.assertEqual(judged({"calls": []})["scores"]["choice"], 1)
        result = judged({"calls": []}, call("c1", HIGH, 1))
        self.assertEqual(result["scores"]["choice"], 0)
        self.assertIs(checks(result)["extra.c1"], False)

    def test_without_calls_it_is_not_tested_though_checks_stand(self) -> None:
        result = judged({"never": ["tides/*"], "at_most": {"calls": 3}}, call("c1", HIGH, 1))
        self.assertIsNone(result["scores"]["choice"])
        self.assertEqual(result["extra"], ["c1"])
        self.assertIs(checks(result)["never.tides/*"], False)
        self.assertIs(checks(result)["at_most.calls"], True)
        self.assertEqual(judged({}, call("c1", HIGH, 1))["extra"], [])

    def test_how_others_are_treated(self) -> None:
        extra = call("c9", HIGH, 3)
        made = [call("c1", DETAILS, 1), call("c2", WINDOW, 2), extra]
        for others, counted, passed in [
            ("counted", ["c9"], None),
            ("forbidden", ["c9"], False),
            (["harbour/*"], ["c9"], False),
        ]:
            result = judged({**TWO, "others": others}, *made)
            self.assertEqual(result["extra"], counted)
            self.assertIs(checks(result)["extra.c9"], passed)
        for others in ("allowed", ["tides/*"]):
            result = judged({**TWO, "others": others}, *made)
            self.assertEqual((result["extra"], result["scores"]["choice"]), ([], 1))

    def test_a_never_call_is_extra_even_where_others_are_allowed(self) -> None:
        spec = {**TWO, "others": "allowed", "never": [HIGH]}
        result = judged(spec, call("c1", DETAILS, 1), call("c2", WINDOW, 2), call("c3", HIGH, 3))
        self.assertEqual(result["extra"], ["c3"])
        self.assertIs(checks(result)["extra.c3"], None)
        self.assertEqual(result["verdict"], "fail")

    def test_at_most_same_call_counts_equal_canonical_arguments(self) -> None:
        spec = {"calls": [{"tool": DETAILS, "times": 3}], "at_most": {"same_call": 2}}
        same = [call(f"c{i}", DETAILS, i, {"x": 1.0 if i else 1}) for i in range(3)]
        self.assertIs(checks(judged(spec, *same))["at_most.same_call"], False)
        differ = [call(f"c{i}", DETAILS, i, {"x": i}) for i in range(3)]
        self.assertIs(checks(judged(spec, *differ))["at_most.same_call"], True)

    def test_a_call_after_its_approval_was_denied(self) -> None:
        ask = {
            "t": 1,
            "kind": "ask",
            "id": "1",
            "tool": BOOK,
            "args": {},
            "decision": "deny",
            "s": 0,
        }
        denied = failed("c1", BOOK, 1, kind="denied")
        result = judged({}, ask, denied, call("c2", BOOK, 2))
        self.assertIs(checks(result)[f"denied.{BOOK}"], False)
        self.assertEqual(result["scores"]["failures"], None)  # a denied proposal is not a failure
        self.assertIs(checks(judged({}, ask, denied))[f"denied.{BOOK}"], True)

    def test_why_a_call_is_missing(self) -> None:
        spec = {"calls": [{"as": "b", "tool": BOOK}]}

        def why(*events: Any, **fields: Any) -> str:
            return score_trial(script(spec), trace(*events, **fields))["missing"][0]["why"]

        self.assertEqual(why(), "not_seen")
        self.assertEqual(why(tools={}), "not_offered")
        self.assertEqual(why(model("m1", 1), model_seam=True), "not_proposed")
        self.assertEqual(why(model("m1", 1, offered=[HIGH]), model_seam=True), "not_offered")
        self.assertEqual(why(model("m1", 1, [("p1", BOOK)]), model_seam=True), "refused")
        self.assertEqual(why(failed("c1", BOOK, 1, kind="denied")), "refused")

    def test_x_chosen_where_y_was_expected(self) -> None:
        spec = {"calls": [{"tool": DETAILS}, {"tool": WINDOW}, {"tool": BOOK}]}
        result = judged(spec, call("c1", DETAILS, 1), call("c2", HIGH, 2), call("c3", BOOK, 3))
        wanted = [{"expected": WINDOW, "chosen": HIGH, "call": "c2"}]
        self.assertEqual(result["confusions"], wanted)
        elsewhere = judged(spec, call("c2", HIGH, 0.5), call("c1", DETAILS, 1), call("c3", BOOK, 3))
        self.assertEqual(elsewhere["confusions"], [])


class Arguments(unittest.TestCase):
    def test_mean_over_matched_calls_of_the_part_that_holds(self) -> None:
        # a: schema and x hold, y does not: 2/3; b: its schema holds: 1. Mean 5/6.
        spec = {"calls": [{**TWO["calls"][0], "args": {"x": 1, "y": 2}}, TWO["calls"][1]]}
        result = judged(spec, call("c1", DETAILS, 1, {"x": 1, "y": 3}), call("c2", WINDOW, 2))
        self.assertEqual(result["scores"]["arguments"], 0.833333)
        self.assertEqual(find(result, "a.args.y")["message"], "y was 3; expected 2")

    def test_schema_as_offered_without_asserting_formats(self) -> None:
        schema = {
            "type": "object",
            "properties": {"n": {"type": "integer"}, "d": {"format": "date"}},
            "required": ["n"],
        }
        tools = {DETAILS: {"input": schema}}
        spec = script({"calls": [{"as": "a", "tool": DETAILS}]})
        good = trace(call("c1", DETAILS, 1, {"n": 1, "d": "no date"}), tools=tools)
        self.assertIs(checks(score_trial(spec, good))["a.schema"], True)
        bad = trace(call("c1", DETAILS, 1, {"n": "1"}), tools=tools)
        self.assertIn("$.n", find(score_trial(spec, bad), "a.schema")["message"])

    def test_a_missing_or_broken_schema_is_a_remark(self) -> None:
        spec = script({"calls": [{"as": "a", "tool": DETAILS}]})
        for tools in ({DETAILS: {}}, {DETAILS: {"input": {"type": "shoe"}}}):
            result = score_trial(spec, trace(call("c1", DETAILS, 1), tools=tools))
            self.assertIs(checks(result)["a.schema"], None)
            self.assertIsNone(result["scores"]["arguments"])

    def test_only_args(self) -> None:
        spec = {"calls": [{"as": "a", "tool": DETAILS, "args": {"x": 1}, "only_args": True}]}
        result = judged(spec, call("c1", DETAILS, 1, {"x": 1, "z": 2}))
        self.assertIs(checks(result)["a.only_args"], False)

    def test_from_a_matched_copy_a_truth_or_seen(self) -> None:
        spec = {
            "calls": [
                {"as": "free", "tool": BERTHS, "optional": True},
                {"as": "b", "tool": BOOK, "args": {"berth": {"from": "free", "path": "$.codes"}}},
            ]
        }
        listed = call("c1", BERTHS, 1, result={"codes": ["N1", "N3"]})
        passed = judged(spec, listed, call("c2", BOOK, 2, {"berth": "N3"}))
        self.assertIs(checks(passed)["b.args.berth"], True)
        # The optional list was not called, but the user said N1: `from` becomes `seen`.
        self.assertIs(
            checks(judged(spec, call("c2", BOOK, 2, {"berth": "N1"})))["b.args.berth"], True
        )
        self.assertIs(
            checks(judged(spec, call("c2", BOOK, 2, {"berth": "S2"})))["b.args.berth"], False
        )
        required = copy.deepcopy(spec)
        del required["calls"][0]["optional"]  # type: ignore[misc, index]
        self.assertIs(
            checks(judged(required, call("c2", BOOK, 2, {"berth": "N1"})))["b.args.berth"], False
        )

    def test_as_approved_holds_for_the_arguments_as_edited(self) -> None:
        spec = {"calls": [{"as": "b", "tool": BOOK, "as_approved": True}]}
        ask = {
            "t": 1, "kind": "ask", "id": "1", "tool": BOOK, "args": {"berth": "N1"},
            "decision": "approve", "edited": {"berth": "N3"}, "s": 0.5,
        }  # fmt: skip
        good = judged(spec, ask, call("c1", BOOK, 2, {"berth": "N3"}))
        self.assertIs(checks(good)["b.as_approved"], True)
        bad = judged(spec, ask, call("c1", BOOK, 2, {"berth": "N1"}))
        self.assertIs(checks(bad)["b.as_approved"], False)
        early = judged(spec, ask, call("c1", BOOK, 1.4, {"berth": "N3"}))
        self.assertIs(checks(early)["b.as_approved"], False)


class Order(unittest.TestCase):
    CHAIN = {**TWO, "order": [["a", "b"]]}

    def test_answered_before_started(self) -> None:
        result = judged(self.CHAIN, call("c1", DETAILS, 1, s=1), call("c2", WINDOW, 2))
        self.assertEqual(result["scores"]["order"], 1)  # 1 + 1 ≤ 2 is before
        result = judged(self.CHAIN, call("c1", DETAILS, 1, s=1.000001), call("c2", WINDOW, 2))
        self.assertIn("in flight", find(result, "order.a.b")["message"])
        result = judged(self.CHAIN, call("c2", WINDOW, 1), call("c1", DETAILS, 2))
        self.assertEqual(find(result, "order.a.b")["message"], "b came before a")

    def test_an_error_is_an_answer_and_never_is_none(self) -> None:
        result = judged(self.CHAIN, failed("c1", DETAILS, 1), call("c2", WINDOW, 2))
        self.assertIs(checks(result)["order.a.b"], True)
        result = judged(self.CHAIN, call("c1", DETAILS, 1, s=None), call("c2", WINDOW, 2))
        self.assertIs(checks(result)["order.a.b"], False)

    def test_a_missing_required_call_breaks_its_pairs(self) -> None:
        self.assertIs(checks(judged(self.CHAIN, call("c1", DETAILS, 1)))["order.a.b"], False)

    def test_optional_calls_not_made_are_left_out_and_pairs_count_once(self) -> None:
        spec = {
            "calls": [*TWO["calls"], {"as": "o", "tool": BERTHS, "optional": True}],
            "order": [["a", "o", "b"], ["a", "b"]],
        }
        result = judged(spec, call("c1", DETAILS, 1), call("c2", WINDOW, 2))
        self.assertEqual([k for k in checks(result) if k.startswith("order")], ["order.a.b"])
        result = judged(spec, call("c1", DETAILS, 1), call("c2", WINDOW, 2), call("c3", BERTHS, 3))
        # a–o holds, o–b does not, a–b holds.
        self.assertEqual(result["scores"]["order"], 0.666667)

    def test_after_grant(self) -> None:
        user = [{"if_reply": {"matches": "go"}, "say": "Yes.", "grants": "g"}]
        spec = {"calls": [{"as": "b", "tool": BOOK, "after_grant": "g"}]}
        asked = [turn(), reply(1, "go?"), turn(2, "Yes.", rule=0)]
        good = judged(spec, *asked, call("c1", BOOK, 2), reply(3), user=user)
        self.assertIs(checks(good)["order.grant:g.b"], True)
        later = judged(spec, *asked, call("c1", BOOK, 2.5), reply(3), user=user)
        self.assertIs(checks(later)["order.grant:g.b"], True)
        other = [{**user[0], "grants": "z"}]
        with self.subTest("another go-ahead"):
            both = [*other, *user]
            result = judged(spec, *asked, call("c1", BOOK, 2.5), reply(3), user=both)
            self.assertIs(checks(result)["order.grant:g.b"], False)
        early = judged(spec, turn(), call("c1", BOOK, 0.5), *asked[1:], reply(3), user=user)
        self.assertIs(checks(early)["order.grant:g.b"], False)
        never = judged(spec, turn(), call("c1", BOOK, 0.5), reply(1), user=user)
        self.assertIn("without the go-ahead", find(never, "order.grant:g.b")["message"])

    def test_an_optional_call_needs_its_go_ahead_only_if_it_is_made(self) -> None:
        user = [{"if_reply": {"matches": "go"}, "say": "Yes.", "grants": "g"}]
        spec = {"calls": [{"as": "b", "tool": BOOK, "after_grant": "g", "optional": True}]}
        early = judged(spec, turn(), call("c1", BOOK, 1), reply(2), turn(3, "Yes.", 0), user=user)
        self.assertIs(checks(early)["order.grant:g.b"], False)
        never = judged(spec, turn(), reply(2), user=user)
        self.assertNotIn("order.grant:g.b", checks(never))

    def test_only_what_is_to_be_approved_is_asked_for(self) -> None:
        spec = {"calls": [{"as": "b", "tool": BOOK}]}
        made = (turn(), call("c1", BOOK, 1), reply(2))
        for decision, wanted in (("approve", True), ("deny", False)):
            approvals = [{"tool": BOOK, "decision": decision}]
            found = checks(judged(spec, *made, approvals=approvals))
            self.assertEqual("order.approval.b" in found, wanted)
        self.assertNotIn("order.approval.b", checks(judged(spec, *made)))
        spare = {"calls": [{"as": "b", "tool": BOOK, "optional": True}]}
        approvals = [{"tool": BOOK, "decision": "approve"}]
        for calls, wanted in (((turn(), reply(2)), False), (made, True)):
            found = checks(judged(spare, *calls, approvals=approvals))
            self.assertEqual("order.approval.b" in found, wanted)

    def test_each_call_uses_up_one_approval(self) -> None:
        approvals = [{"tool": BOOK, "decision": "approve"}]
        spec = {"calls": [{"as": "b", "tool": BOOK, "times": 2}]}
        ask = {
            "t": 1,
            "kind": "ask",
            "id": "1",
            "tool": BOOK,
            "args": {},
            "decision": "approve",
            "s": 0,
        }
        again = {**ask, "t": 2.5}
        calls = [call("c1", BOOK, 2), call("c2", BOOK, 3)]
        one = judged(spec, ask, *calls, approvals=approvals)
        self.assertIs(checks(one)["order.approval.b"], False)
        self.assertIn("not approved before", find(one, "order.approval.b")["message"])
        two = judged(spec, ask, again, *calls, approvals=approvals)
        self.assertIs(checks(two)["order.approval.b"], True)
        self.assertIn("was approved before", find(two, "order.approval.b")["message"])


class Failures(unittest.TestCase):
    def test_handled_by_the_same_tool_another_route_or_words(self) -> None:
        lone = judged({}, failed("c1", WINDOW, 1))
        self.assertEqual((lone["scores"]["failures"], lone["verdict"]), (0, "fail"))
        again = judged({}, failed("c1", WINDOW, 1), call("c2", WINDOW, 2))
        self.assertEqual((again["scores"]["failures"], again["verdict"]), (1, "pass"))
        route = {"failures": {"recovers": {"by": ["tides/high_*"]}}}
        self.assertEqual(
            judged(route, failed("c1", WINDOW, 1), call("c2", HIGH, 2))["scores"]["failures"], 1
        )
        document = {"failures": {"tells_user": "(?i)done"}}
        self.assertEqual(judged(document, failed("c1", WINDOW, 1))["scores"]["failures"], 1)

    def test_not_tested_without_failure_and_one_if_a_fault_met_nothing(self) -> None:
        self.assertIsNone(judged({}, call("c1", WINDOW, 1))["scores"]["failures"])
        slow = call("c1", WINDOW, 1, fault="slow")
        self.assertEqual(judged({}, slow)["scores"]["failures"], 1)

    def test_a_call_never_answered_is_a_failure(self) -> None:
        self.assertIs(checks(judged({}, call("c1", WINDOW, 1, s=None)))["failure.c1"], False)

    def test_proposals_never_dispatched(self) -> None:
        spec = {"calls": [{"tool": WINDOW}]}

        def scored(proposed: str, offered: list[str], *events: Any) -> Any:
            asked = model("m1", 1, [("p1", proposed)], offered)
            return score_trial(script(spec), trace(asked, *events, model_seam=True))

        unknown = scored("get_window", [WINDOW], call("c1", WINDOW, 2))
        self.assertIs(checks(unknown)["failure.p1"], True)
        self.assertIn("no such tool", find(unknown, "failure.p1")["message"])
        # A rejected one needs a later call of the same tool.
        self.assertIs(checks(scored(HIGH, [HIGH], call("c1", WINDOW, 2)))["failure.p1"], False)
        self.assertIs(checks(scored(WINDOW, [WINDOW], call("c1", WINDOW, 2)))["failure.p1"], True)
        self.assertIs(
            checks(scored(WINDOW, [WINDOW], call("c1", WINDOW, 1.05)))["failure.p1"], False
        )

    def test_a_proposal_cut_off_by_the_end_is_no_failure(self) -> None:
        events = [turn(), model("m1", 1, [("p1", WINDOW)]), end(2, "limit", "too long")]
        result = score_trial(script({}), trace(*events, model_seam=True))
        self.assertEqual([k for k in checks(result) if k.startswith("failure")], ["failure.limit"])

    def test_a_loop_is_three_times_running_with_the_same_outcome(self) -> None:
        three = [call(f"c{i}", WINDOW, i, result=1) for i in range(1, 5)]
        result = judged({}, *three)
        self.assertEqual([k for k in checks(result) if "loop" in k], ["failure.loop.c3"])
        changing = [call(f"c{i}", WINDOW, i, result=i) for i in range(1, 5)]
        self.assertEqual(judged({}, *changing)["verdict"], "pass")
        broken = [*three[:2], call("x", HIGH, 2.5), *three[2:]]
        self.assertEqual(judged({}, *broken)["verdict"], "pass")
        self.assertEqual(judged({"may_poll": ["tides/*"]}, *three)["verdict"], "pass")

    def test_a_claim_without_the_write(self) -> None:
        rules = {"failures": {"claims": "(?i)booked", "write": "b"}}
        spec = {"calls": [{"as": "b", "tool": BOOK}], **rules}
        lie = judged(spec, turn(), reply(1, "I booked it."))
        self.assertIs(checks(lie)["failure.claimed"], False)
        refused = judged(spec, turn(), failed("c1", BOOK, 1), reply(2, "I booked it."))
        self.assertIs(checks(refused)["failure.claimed"], False)
        true = judged(spec, turn(), call("c1", BOOK, 1), reply(2, "I booked it."))
        self.assertNotIn("failure.claimed", checks(true))

    def test_ends_of_the_agents_own_are_failures_never_handled(self) -> None:
        for why in ("no_reply", "crash", "did_not_start", "limit"):
            result = judged({}, turn(), end(1, why, "because"))
            self.assertIs(checks(result)[f"failure.{why}"], False)
            self.assertEqual((result["verdict"], result["reason"]), ("fail", "because"))

    def test_a_scripted_fault_never_met_is_a_remark(self) -> None:
        result = judged({}, call("c1", WINDOW, 1), faults=[{"do": "drop", "all": True}])
        self.assertIs(checks(result)["fault.0"], None)


class Latency(unittest.TestCase):
    def test_shares_are_unions_of_intervals(self) -> None:
        events = [
            turn(0), model("m1", 0.1, s=0.4), call("c1", WINDOW, 1, s=1),
            call("c2", HIGH, 1.5, s=1), reply(4), end(5),
        ]  # fmt: skip
        taken = score_trial(script(), trace(*events, model_seam=True))["latency"]
        self.assertEqual(
            taken,
            {"turn_ms": [4000], "model_ms": 400, "tool_ms": 1500, "ask_ms": 0, "agent_ms": 2100},
        )

    def test_what_never_ended_lasts_to_the_end(self) -> None:
        taken = judged({}, turn(0), call("c1", WINDOW, 1, s=None), end(3, "no_reply"))["latency"]
        self.assertEqual((taken["turn_ms"], taken["tool_ms"]), ([None], 2000))
        self.assertIsNone(taken["model_ms"])

    def test_budgets_include_their_limit(self) -> None:
        events = [turn(0), call("c1", WINDOW, 1, s=1), reply(4)]
        kept = judged({}, *events, budget={"turn_ms": 4000, "tool_ms": 1000})
        self.assertEqual(kept["scores"]["latency"], 1)
        broken = judged({}, *events, budget={"turn_ms": 3999.999, "tool_ms": 1000})
        self.assertEqual(broken["scores"]["latency"], 0.5)
        self.assertIsNone(judged({}, *events)["scores"]["latency"])

    def test_a_turn_without_reply_breaks_its_budget(self) -> None:
        result = judged({}, turn(0), end(1, "crash"), budget={"turn_ms": 9999})
        self.assertIs(checks(result)["budget.turn_ms"], False)

    def test_budgets_at_the_model_seam(self) -> None:
        spec = script(budget={"model_calls": 1, "tokens": 15})
        seen = trace(model("m1", 1), model_seam=True)
        self.assertEqual(score_trial(spec, seen)["scores"]["latency"], 1)
        unseen = score_trial(spec, trace())
        self.assertEqual(checks(unseen), {"budget.model_calls": None, "budget.tokens": None})
        silent = trace(model("m1", 1, usage=None), model_seam=True)
        self.assertIs(checks(score_trial(spec, silent))["budget.tokens"], False)


class Outcome(unittest.TestCase):
    def test_answers(self) -> None:
        for spec, text, wanted in [
            ({"mentions": "N1"}, "Booked N1.", True),
            ({"mentions": 7.62, "as": "number"}, "There are 7.6 m.", True),
            ({"matches": "(?i)north"}, "On the North side", True),
            ({"not_matches": "south"}, "south", False),
            ({"json": {"required": ["a"]}}, '{"a": 1}', True),
            ({"json": {"required": ["a"]}}, 'So:\n```json\n{"a": 1}\n```', True),
            ({"json": {"required": ["a"]}}, "words", False),
        ]:
            with self.subTest(spec):
                result = judged({"answer": [spec]}, turn(), reply(1, text))
                self.assertIs(checks(result)["answer.0"], wanted)

    def test_data_and_claimed_tools(self) -> None:
        data = {"decision": "yes", "tools": ["tide_window", HIGH]}
        events = [turn(), call("c1", WINDOW, 1), call("c2", HIGH, 2), reply(3, "", data)]
        spec = {
            "answer": [
                {"data": "$.decision", "is": "yes"},
                {"data": "$.decision", "is": {"one_of": ["no"]}},
                {"data": "$.nothing", "is": "yes"},
                {"claims_tools": "$.tools"},
            ]
        }
        held = checks(judged(spec, *events))
        self.assertEqual([held[f"answer.{i}"] for i in range(4)], [True, False, False, True])

    def test_without_a_reply_every_answer_fails(self) -> None:
        spec = {"answer": [{"not_matches": "x"}, {"mentions": "N1"}]}
        self.assertEqual(judged(spec, turn(), end(1, "crash"))["scores"]["outcome"], 0)

    def test_the_last_reply_there_is_is_looked_at(self) -> None:
        # The second turn got no reply: its failure is told, and the answer is the first's.
        gone = end(9, "no_reply")
        result = judged({"answer": [{"matches": "N1"}]}, turn(0), reply(1, "N1."), turn(2), gone)
        self.assertIs(checks(result)["answer.0"], True)
        self.assertIs(checks(result)["failure.no_reply"], False)

    def test_days_are_read_under_the_traces_own_clock(self) -> None:
        spec = {"calls": [{"as": "w", "tool": WINDOW, "args": {"day": {"day": "today"}}}]}
        made = call("c1", WINDOW, 1, {"day": "2031-06-02"})
        elsewhere = {
            "clock": "2031-06-01T23:30:00Z",
            "zone": "Europe/Lisbon",
        }  # there it is the 2nd
        self.assertIs(checks(score_trial(script(spec), trace(made)))["w.args.day"], False)
        self.assertIs(
            checks(score_trial(script(spec), trace(made, **elsewhere)))["w.args.day"], True
        )

    def test_a_message_tells_what_a_source_gave(self) -> None:
        spec = {
            "calls": [
                {"as": "v", "tool": DETAILS},
                {"as": "b", "tool": BOOK, "args": {"imo": {"from": "v", "path": "$.imo"}}},
            ]
        }
        result = judged(
            spec, call("c1", DETAILS, 1, result={"imo": "9471102"}), call("c2", BOOK, 2, {"imo": 7})
        )
        check = find(result, "b.args.imo")["message"]
        self.assertEqual(check, 'imo was 7; expected a value from v at $.imo: v gave "9471102"')

    def test_mentions_from_a_call_or_a_truth(self) -> None:
        spec = {
            "calls": [{"as": "w", "tool": WINDOW, "optional": True}],
            "answer": [{"mentions": {"from": "w", "path": "$.opens"}, "as": "time"}],
        }
        made = call("c1", WINDOW, 1, result={"opens": "2031-03-14T14:10:00Z"})
        good = judged(spec, turn(), made, reply(2, "It opens at 2:10 pm."))
        self.assertIs(checks(good)["answer.0"], True)
        empty = judged(spec, turn(), call("c1", WINDOW, 1, result={}), reply(2, "It opens."))
        self.assertIs(checks(empty)["answer.0"], False)
        self.assertIs(checks(judged(spec))["answer.0"], None)

    def test_state(self) -> None:
        state = {"harbour": {"bookings": [{"berth": "N1"}, {"berth": "S2"}]}}
        spec = {
            "state": [
                {"server": "harbour", "path": "$.bookings[*]", "count": 2},
                {"server": "harbour", "path": "$.bookings[*].berth", "is": {"matches": "^N"}},
                {"server": "harbour", "path": "$.nothing", "is": 1},
                {"server": "harbour", "path": "$.bookings[*]", "count": {"min": 3}},
                {"server": "tides", "path": "$.x", "count": 0},
            ]
        }
        result = checks(score_trial(script(spec), trace(state=state)))
        self.assertEqual(
            [result[f"state.{i}"] for i in range(5)], [True, False, False, False, None]
        )


class Each(unittest.TestCase):
    SPEC = {
        "calls": [
            {"as": "fleet", "tool": BERTHS},
            {
                "as": "one",
                "tool": DETAILS,
                "each": {"from": "fleet", "path": "$.vessels[*].imo", "arg": "imo"},
            },
            {"as": "book", "tool": BOOK, "optional": True},
        ],
        "order": [["fleet", "one", "book"]],
    }
    FLEET = call("c1", BERTHS, 1, result={"vessels": [{"imo": "1"}, {"imo": "2"}]})

    def test_one_call_is_required_for_every_item_and_only_those(self) -> None:
        all_ = [call("c2", DETAILS, 2, {"imo": "2"}), call("c3", DETAILS, 3, {"imo": "1"})]
        result = judged(self.SPEC, self.FLEET, *all_)
        self.assertEqual(result["verdict"], "pass")
        self.assertEqual(result["matched"], {"fleet": ["c1"], "one": ["c3", "c2"]})
        # Of fleet, 1 and 2 one is missing, and one call is of no item: M 2, X 0, R 3;
        # the call for 9 matches the copy left, with its argument wrong.
        result = judged(self.SPEC, self.FLEET, all_[0], call("c3", DETAILS, 3, {"imo": "9"}))
        self.assertIs(checks(result)["one.called"], True)
        self.assertIs(
            any(c["id"] == "one.args.imo" and c["passed"] is False for c in result["checks"]), True
        )
        missing = judged(self.SPEC, self.FLEET, all_[0])
        self.assertEqual([m["name"] for m in missing["missing"]], ["one"])
        self.assertEqual(missing["scores"]["choice"], 0.8)  # M 2, X 0, R 3: 2·1·⅔ / (1 + ⅔)
        self.assertIs(checks(missing)["order.fleet.one"], False)

    def test_without_items_or_source_no_call_is_expected(self) -> None:
        empty = call("c1", BERTHS, 1, result={"vessels": []})
        result = judged(self.SPEC, empty)
        self.assertEqual((result["verdict"], result["missing"]), ("pass", []))
        self.assertNotIn("order.fleet.one", checks(result))
        stray = judged(self.SPEC, empty, call("c2", DETAILS, 2, {"imo": "1"}))
        self.assertEqual(stray["extra"], ["c2"])
        self.assertEqual([m["name"] for m in judged(self.SPEC)["missing"]], ["fleet"])

    def test_items_of_a_list_and_of_a_truth(self) -> None:
        spec = {
            "calls": [{"tool": DETAILS, "each": {"from": "real", "path": "$.imos", "arg": "imo"}}]
        }
        truth = {"real": {"result": {"imos": ["1", "2"]}, "error": None}}
        task = script(spec, truth=[{"as": "real", "tool": BERTHS}])
        made = [call(f"c{i}", DETAILS, i, {"imo": str(i)}) for i in (1, 2)]
        self.assertEqual(score_trial(task, trace(*made, truth=truth))["verdict"], "pass")
        self.assertEqual(len(score_trial(task, trace(made[0], truth=truth))["missing"]), 1)


class InOrder(unittest.TestCase):
    def test_a_list_is_mentioned_in_its_order(self) -> None:
        spec = {"answer": [{"mentions": ["N1", "N3"], "in_order": True}]}
        good = judged(spec, turn(), reply(1, "First N1, then N3."))
        self.assertIs(checks(good)["answer.0"], True)
        bad = judged(spec, turn(), reply(1, "First N3, then N1."))
        self.assertIn("in this order", find(bad, "answer.0")["message"])
        self.assertIs(checks(judged(spec, turn(), reply(1, "Only N1.")))["answer.0"], False)


class Either(unittest.TestCase):
    HIGH_OR_WINDOW = {
        "either": [
            {"calls": [{"as": "a", "tool": HIGH}, {"as": "b", "tool": DETAILS}]},
            {"calls": [{"as": "w", "tool": WINDOW}]},
        ]
    }

    def test_the_first_that_passes_is_judged(self) -> None:
        result = judged(self.HIGH_OR_WINDOW, call("c1", WINDOW, 1))
        self.assertEqual((result["verdict"], result["alternatives"][0]), ("pass", 1))
        self.assertEqual(result["matched"], {"w": ["c1"]})
        both = {"either": [{"answer": [{"matches": "Done"}]}, {"calls": []}]}
        self.assertEqual(judged(both)["alternatives"], [0])

    def test_else_the_one_with_the_larger_part_held(self) -> None:
        # Of the first, `a.called` and `a.schema` hold and `b.called` does not: 2/3.
        result = judged(self.HIGH_OR_WINDOW, call("c1", HIGH, 1))
        self.assertEqual((result["verdict"], result["alternatives"][0]), ("fail", 0))
        # Nothing was called: 0/2 against 0/1, and the earlier stands.
        self.assertEqual(judged(self.HIGH_OR_WINDOW)["alternatives"], [0])
        # Of the second, 1/2 holds; of the first, 0/2.
        spec = {
            "either": [
                self.HIGH_OR_WINDOW["either"][0],
                {"calls": [], "answer": [{"matches": "D"}]},
            ]
        }
        result = judged(spec, call("c1", BERTHS, 1))
        self.assertEqual(result["alternatives"][0], 1)

    def test_an_error_is_judged_under_none(self) -> None:
        result = judged(self.HIGH_OR_WINDOW, turn(), end(1, "stopped"))
        self.assertEqual((result["verdict"], result["alternatives"][0]), ("error", None))


class Whole(unittest.TestCase):
    def test_what_was_not_the_agents_fault_is_an_error_without_checks(self) -> None:
        for why in ("could_not_run", "stopped"):
            result = judged({"answer": [{"mentions": "N1"}]}, turn(), end(1, why, "no model"))
            self.assertEqual((result["verdict"], result["reason"]), ("error", "no model"))
            self.assertEqual(result["checks"], [])
            self.assertEqual(set(result["scores"].values()), {None})

    def test_the_formats_own_example(self) -> None:
        file = read_yaml(DATA / "window-then-berth.yaml", "window-then-berth.yaml")
        suite = validate_file(file, Suite)
        assert suite is not None
        text = json.loads((DATA / "window-then-berth.trace.json").read_text())
        result = score_trial(compile_script(suite, suite.tasks[0]), text)
        self.assertEqual(result["verdict"], "pass")
        self.assertEqual(
            result["scores"],
            {
                "choice": 1.0, "arguments": 1.0, "order": 1.0, "failures": 1.0, "latency": None,
                "outcome": 1.0,
            },
        )  # fmt: skip
        self.assertEqual(result["matched"], {"window": ["c2"], "book": ["c3"]})
        self.assertEqual(result["attempts"], {"window": ["c1"]})
        self.assertEqual((result["extra"], result["missing"]), ([], []))
        self.assertEqual(
            result["latency"],
            {"turn_ms": [2400], "model_ms": 300, "tool_ms": 1000, "ask_ms": 0, "agent_ms": 1100},
        )
        self.assertEqual(result["tokens"], {"input": 310, "output": 25})

    @settings(deadline=None, max_examples=50)
    @given(st.lists(st.sampled_from(sorted(TOOLS)), min_size=1, max_size=6))
    def test_a_trace_made_from_the_script_scores_one_everywhere(self, tools: list[str]) -> None:
        names = [f"n{i}" for i in range(len(tools))]
        spec = {
            "calls": [
                {"as": n, "tool": t, "args": {"i": i}}
                for i, (n, t) in enumerate(zip(names, tools, strict=True))
            ],
            "order": [names],
            "others": "forbidden",
            "answer": [{"matches": "Done"}],
        }
        events = [call(f"c{i}", t, i + 1, {"i": i}) for i, t in enumerate(tools)]
        result = judged(spec, *events)
        self.assertEqual(result["verdict"], "pass")
        self.assertLessEqual(set(result["scores"].values()), {1.0, None})

    @settings(deadline=None, max_examples=50)
    @given(st.permutations(range(4)))
    def test_the_order_of_independent_events_in_the_file_changes_nothing(
        self, order: list[int]
    ) -> None:
        spec = {**TWO, "order": [["a", "b"]], "answer": [{"matches": "Done"}]}
        events = [
            call("c1", DETAILS, 1), call("c2", WINDOW, 2), call("c3", HIGH, 3),
            failed("c4", BERTHS, 4),
        ]  # fmt: skip
        wanted = judged(spec, *events)
        self.assertEqual(judged(spec, *(events[i] for i in order)), wanted)
