"""A task made from a trace: what is inferred, why, and that the trace passes it."""

from __future__ import annotations

import unittest
from itertools import pairwise
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import Suite
from ferox.making.drafting import TaskDraft, draft_task, trace_of_session
from tests.test_parts import opening
from tests.traces import call, failed, reply, trace, turn

DETAILS = "harbour/vessel_details"
BERTHS = "harbour/list_berths"
WINDOW = "tides/tide_window"
BOOK = "harbour/assign_berth"
FREE = {"berths": [{"code": "N1", "depth_m": 9.1}, {"code": "N3", "depth_m": 8.4}]}


def judged(made: TaskDraft, of: Any) -> Any:
    suite = Suite.model_validate(
        {"ferox": 1, "suite": "s", "zone": "Europe/Lisbon", "tasks": [made.task]}
    )
    return score_trial(compile_script(suite, suite.tasks[0]), of)


def whys(made: TaskDraft) -> dict[str, str]:
    return {r.what: r.why for r in made.reasons}


BOOKING = trace(
    turn(0, "Book a berth for IMO 9471102 this afternoon."),
    call("c1", DETAILS, 1, {"imo": "9471102"}, result={"imo": "9471102", "draught_m": 7.4}),
    call("c2", WINDOW, 2, {"day": "2031-03-14", "min_depth_m": 7.9},
         result={"opens": "2031-03-14T13:10:00Z"}),
    failed("c3", BERTHS, 3),
    call("c4", BERTHS, 4, result=FREE),
    reply(5, "The window opens at 13:10. Shall I book N1?"),
    turn(6, "Yes, go ahead.", 0),
    call("c5", BOOK, 7, {"imo": "9471102", "berth": "N3", "start": "2031-03-14T13:10:00Z"},
         result={"booking": "BK7"}),
    reply(8, "Booked N3, which is 8.4 m deep; the booking is BK7."),
)  # fmt: skip


class Inferring(unittest.TestCase):
    def setUp(self) -> None:
        self.made = draft_task(BOOKING, "book")
        self.calls = {c["as"]: c for c in self.made.task["expect"]["calls"]}

    def test_where_each_argument_comes_from(self) -> None:
        self.assertEqual(self.calls["vessel_details"]["args"], {"imo": {"from_user": True}})
        window = self.calls["tide_window"]["args"]
        self.assertEqual(window["day"], {"day": "today"})
        self.assertEqual(window["min_depth_m"], {"near": 7.9, "within": 0.4})
        book = self.calls["assign_berth"]["args"]
        self.assertEqual(book["berth"], {"from": "list_berths", "path": "$.berths[*].code"})
        self.assertEqual(book["start"], {"from": "tide_window", "path": "$.opens"})
        found = whys(self.made)
        self.assertEqual(found["vessel_details.imo"], "the user said it")
        self.assertEqual(found["tide_window.day"], "it is the clock's day")
        self.assertIn('"N3" stands in what list_berths brought', found["assign_berth.berth"])

    def test_order_only_where_a_value_flows(self) -> None:
        order = self.made.task["expect"]["order"]
        pairs = {pair for chain in order for pair in pairwise(chain)}
        self.assertEqual(pairs, {("list_berths", "assign_berth"), ("tide_window", "assign_berth")})

    def test_failed_calls_are_left_out_and_the_go_ahead_is_a_grant(self) -> None:
        self.assertEqual(len(self.calls), 4)
        self.assertIn("ended in an error", whys(self.made)[BERTHS])
        (rule,) = self.made.task["user"]
        self.assertEqual((rule["say"], rule["grants"]), ("Yes, go ahead.", "go-ahead"))
        self.assertEqual(self.calls["assign_berth"]["after_grant"], "go-ahead")
        self.assertNotIn("after_grant", self.calls["list_berths"])

    def test_what_the_answer_mentions(self) -> None:
        answer = self.made.task["expect"]["answer"]
        self.assertIn(
            {"mentions": {"from": "list_berths", "path": "$.berths[1].depth_m"}, "as": "number"},
            answer,
        )
        self.assertIn({"values": "supported"}, answer)

    def test_the_trial_passes_its_own_task(self) -> None:
        result = judged(self.made, BOOKING)
        self.assertEqual([c for c in result["checks"] if c["passed"] is False], [])

    def test_other_values(self) -> None:
        words = "Please keep clear of the north side"
        made = draft_task(
            trace(
                turn(0, "Warn everybody."),
                call("c1", BOOK, 1, {"text": words, "n": 3, "day": "2031-03-16", "flag": True,
                                     "at": "2031-03-14T20:00:00Z", "code": "Q7"}),
                reply(2, "Done."),
            ),
            "warn",
        )  # fmt: skip
        (only,) = made.task["expect"]["calls"]
        self.assertEqual(
            only["args"],
            {"text": {"any": True}, "n": {"near": 3, "within": 1}, "day": {"day": "+2"},
             "flag": True, "at": {"time": "today 20:00", "within_min": 30}, "code": "Q7"},
        )  # fmt: skip

    def test_approvals_as_they_were_decided(self) -> None:
        ask = {"t": 1, "kind": "ask", "id": "1", "tool": BOOK, "args": {"berth": "N1", "x": 1},
               "decision": "approve", "edited": {"berth": "N2", "x": 1}, "s": 0.5}  # fmt: skip
        made = draft_task(
            trace(turn(), ask, call("c1", BOOK, 2, {"berth": "N2", "x": 1}), reply(3)), "t"
        )
        self.assertEqual(
            made.task["approvals"], [{"tool": BOOK, "decision": "approve", "edit": {"berth": "N2"}}]
        )

    def test_decisions_that_changed_are_made_in_turn(self) -> None:
        asks = [
            {"t": n, "kind": "ask", "id": str(n), "tool": BOOK, "args": {}, "decision": decision,
             "edited": None, "s": 0.1}
            for n, decision in enumerate(("deny", "deny", "approve"), 1)
        ]  # fmt: skip
        of = trace(turn(), *asks, call("c1", BOOK, 4), reply(5))
        made = draft_task(of, "t")
        denied = {"tool": BOOK, "decision": "deny", "at_most": 2}
        self.assertEqual(made.task["approvals"], [denied, {"tool": BOOK, "decision": "approve"}])
        self.assertEqual(judged(made, of)["verdict"], "pass")

    def test_a_failure_that_was_made_up_for_or_told(self) -> None:
        lost = failed("c1", DETAILS, 1)
        other = call("c2", BERTHS, 2, result=FREE)
        by_other = trace(turn(), lost, other, reply(3, "N1 is free."))
        made = draft_task(by_other, "t")
        self.assertEqual(made.task["expect"]["failures"], {"recovers": {"by": [BERTHS]}})
        self.assertEqual(judged(made, by_other)["verdict"], "pass")
        said = trace(turn(), lost, reply(3, "I could not look it up."))
        made = draft_task(said, "t")
        self.assertEqual(made.task["expect"]["failures"], {"tells_user": "(?i)could not"})
        self.assertEqual(judged(made, said)["verdict"], "pass")

    def test_what_was_asked_again_and_again_may_be_polled(self) -> None:
        polled = [call(f"c{n}", WINDOW, n, {"day": "x"}, result={"busy": True}) for n in (1, 2, 3)]
        of = trace(turn(), *polled, reply(5, "Done."))
        made = draft_task(of, "t")
        self.assertEqual(made.task["expect"]["may_poll"], [WINDOW])
        self.assertEqual(judged(made, of)["verdict"], "pass")

    def test_what_nothing_mends_is_said(self) -> None:
        of = trace(turn(), failed("c1", DETAILS, 1), reply(3, "All is well."))
        made = draft_task(of, "t")
        self.assertIn("and so would the task", whys(made)["failure.c1"])

    def test_what_a_server_was_answered_is_where_a_value_comes_from(self) -> None:
        asked = {
            "t": 1, "kind": "question", "s": 0.2, "text": "Which berth?", "server": "harbour",
            "did": "accept", "data": {"code": "N7"}, "by": "person",
        }  # fmt: skip
        of = trace(turn(0, "Book it."), asked, call("c1", BOOK, 2, {"berth": "N7"}), reply(3))
        made = draft_task(of, "t")
        (entry,) = made.task["answers"]
        self.assertEqual(entry["give"], {"code": "N7"})
        (only,) = made.task["expect"]["calls"]
        self.assertEqual(only["args"], {"berth": {"from": entry["as"], "path": "$.code"}})

    def test_parts(self) -> None:
        of = trace(
            opening(0, 0, "One."), call("c1", DETAILS, 1, result={"imo": "9471102"}), reply(2),
            opening(1, 3, "Two."), call("c2", BOOK, 4, {"imo": "9471102"}), reply(5),
        )  # fmt: skip
        made = draft_task(of, "t")
        first, second = made.task["parts"]
        self.assertEqual((first["say"], second["say"]), ("One.", "Two."))
        self.assertEqual(judged(made, of)["verdict"], "pass")

    def test_a_recorded_session(self) -> None:
        of = trace_of_session(
            [{"tool": "pilot_roster", "args": {"day": "2031-03-14"}, "t": 1, "s": 0.1,
              "result": {"watches": []}, "error": None}],
            [{"name": "pilot_roster", "inputSchema": {"type": "object"}}],
            "pilots", "2031-03-14T06:30:00Z",
        )  # fmt: skip
        made = draft_task(of, "roster")
        self.assertEqual(made.task["say"], "…")
        self.assertIn("does not tell what the user said", whys(made)["say"])
        self.assertEqual(made.task["expect"]["calls"][0]["args"], {"day": {"day": "today"}})


VALUES = st.sampled_from(["9471102", "N1", "2031-03-14", 7.4, 3, True, ["N1", "N3"], None])


class Properties(unittest.TestCase):
    @settings(deadline=None, max_examples=80)
    @given(
        st.lists(
            st.tuples(
                st.sampled_from([DETAILS, BERTHS, WINDOW, BOOK]),
                st.dictionaries(st.sampled_from("abc"), VALUES, max_size=3),
                st.dictionaries(st.sampled_from("xyz"), VALUES, max_size=3),
                st.booleans(),
            ),
            max_size=5,
        ),
        st.sampled_from(["Done.", "It is 7.4 m at N1.", "Booked N3 at 14:10 for 9471102."]),
    )
    def test_a_trace_passes_what_is_made_of_it_but_for_its_failures(
        self, calls: Any, said: str
    ) -> None:
        events = [
            failed(f"c{n}", tool, n + 1, args)
            if bad
            else call(f"c{n}", tool, n + 1, args, result=result)
            for n, (tool, args, result, bad) in enumerate(calls)
        ]
        of = trace(turn(0, "Book N1 for 9471102."), *events, reply(8, said))
        result = judged(draft_task(of, "t"), of)
        wrong = [c["id"] for c in result["checks"] if c["passed"] is False]
        self.assertEqual([i for i in wrong if not i.startswith("failure.")], [])
