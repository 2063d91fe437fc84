"""A trace as scoring reads it."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.story import Call, read_story, to_micros
from tests.traces import call, end, model, reply, trace, turn

WINDOW, HIGH = "tides/tide_window", "tides/high_water"
BUSY = {"kind": "tool_error", "message": "busy"}


def only_call(**fields: Any) -> Call:
    (found,) = read_story(trace(call("c1", WINDOW, 1, **fields))).calls
    return found


class Repeats(unittest.TestCase):
    """When a call is the same as another, with the same outcome."""

    def test_results(self) -> None:
        first = only_call(args={"day": 1}, result={"h": 7})
        self.assertTrue(first.repeats(only_call(args={"day": 1.0}, result={"h": 7.0})))
        self.assertFalse(first.repeats(only_call(args={"day": 1}, result={"h": 8})))
        self.assertFalse(first.repeats(only_call(args={"day": 2}, result={"h": 7})))

    def test_another_tool_is_another_call_whichever_comes_first_by_name(self) -> None:
        (other,) = read_story(trace(call("c1", HIGH, 1))).calls
        self.assertFalse(only_call().repeats(other))
        self.assertFalse(other.repeats(only_call()))

    def test_errors_by_kind_and_message(self) -> None:
        first = only_call(error=BUSY)
        self.assertTrue(first.repeats(only_call(error=dict(BUSY))))
        self.assertFalse(first.repeats(only_call(error={**BUSY, "message": "closed"})))
        self.assertFalse(first.repeats(only_call(error={**BUSY, "kind": "timeout"})))
        self.assertFalse(first.repeats(only_call()))
        self.assertFalse(only_call().repeats(first))

    def test_calls_that_never_ended(self) -> None:
        hung = only_call(s=None)
        self.assertTrue(hung.repeats(only_call(s=None)))
        self.assertFalse(hung.repeats(only_call()))
        self.assertFalse(only_call().repeats(hung))


class Reading(unittest.TestCase):
    def test_calls_are_sorted_by_their_start_and_ends_are_exact(self) -> None:
        found = read_story(trace(call("c2", WINDOW, 2, s=0.1), call("c1", HIGH, 1.3, s=None)))
        self.assertEqual([(c.id, c.index) for c in found.calls], [("c1", 0), ("c2", 1)])
        self.assertEqual([c.end for c in found.calls], [None, 2_100_000])
        self.assertEqual(to_micros(0.1 + 0.2), 300_000)

    def test_the_end_is_the_latest_moment_and_says_why(self) -> None:
        found = read_story(trace(turn(), end(4, "limit", "more than 3 calls")))
        self.assertEqual((found.end_at, found.why, found.reason),
                         (4_000_000, "limit", "more than 3 calls"))  # fmt: skip

    def test_a_turn_without_a_part_is_of_the_first(self) -> None:
        said = {k: v for k, v in turn(1).items() if k != "part"}
        (found,) = read_story(trace(said, reply(2, "At 14:31."))).turns
        self.assertEqual((found.part, found.replied, found.reply), (0, 2_000_000, "At 14:31."))

    def test_before_the_first_turn_is_the_start(self) -> None:
        self.assertEqual(read_story(trace(turn(1.5), reply(2))).first_turn_at, 1_500_000)
        self.assertEqual(read_story(trace(end(3), turn(9))).first_turn_at, 9_000_000)


class Undispatched(unittest.TestCase):
    def lost(self, *events: Any, **fields: Any) -> list[tuple[str, str]]:
        story = read_story(trace(*events, **{"model_seam": True, **fields}))
        return [(u.id, u.kind) for u in story.undispatched]

    def test_proposals_that_the_end_cut_off_had_no_chance(self) -> None:
        cut = model("m2", 2, [("p2", HIGH)])
        first = model("m1", 1, [("p1", WINDOW)])
        for why in ("crash", "limit", "no_reply", "stopped"):
            with self.subTest(why):
                self.assertEqual(self.lost(turn(), first, cut, end(3, why)), [("p1", "rejected")])
        self.assertEqual(len(self.lost(turn(), first, cut, end(3))), 2)
        self.assertEqual(len(self.lost(turn(), first, cut, reply(2.5), end(3, "crash"))), 2)

    def test_only_calls_at_the_model_seam_are_rejected_ones(self) -> None:
        local = {**call("c1", "own/note", 1), "seam": "local"}
        self.assertEqual(self.lost(local), [])
        refused = {**call("c1", "own/note", 1, error=BUSY), "seam": "model"}
        self.assertEqual(self.lost(refused, model_seam=False), [("c1", "tool_error")])

    def test_without_the_models_traffic_nothing_is_said_of_proposals(self) -> None:
        self.assertEqual(self.lost(model("m1", 1, [("p1", HIGH)]), model_seam=False), [])

    def test_a_proposal_that_a_call_took_up_is_not_lost(self) -> None:
        asked = model("m1", 1, [("p1", HIGH), ("p2", "harbour/nothing")])
        taken = call("c1", HIGH, 2, proposal="p1")
        self.assertEqual(self.lost(asked, taken), [("p2", "unknown_tool")])
