"""What a replay came to: calls, replies, ends and words to the model, then and now."""

from __future__ import annotations

import random
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.replay_verdict import (
    Difference,
    Replayed,
    ShownRequest,
    bundles,
    compare_requests,
    judge_replay,
)
from ferox.core.story import Story, read_story
from tests.traces import call, end, failed, reply, trace, turn

HIGH, LOW = "tides/high_water", "tides/low_water"


def story(*events: Any) -> Story:
    return read_story(trace(*events))


def plain(*calls: Any, says: str = "Done.", why: str = "done", reason: str | None = None) -> Story:
    told = [reply(9, says)] if why == "done" else []
    return story(turn(), *calls, *told, {**end(9.5), "why": why, "reason": reason})


def judged(stored: Story, now: Story) -> Replayed:
    return judge_replay(stored, now, [], None)


class Calls(unittest.TestCase):
    def test_the_same_calls_and_replies_are_the_same_whatever_they_took(self) -> None:
        stored = plain(call("c1", HIGH, 1, {"day": "mon"}), call("c2", LOW, 2))
        now = plain(call("c1", HIGH, 3, {"day": "mon"}, s=2.0), call("c2", LOW, 6))
        self.assertEqual(judged(stored, now), Replayed("same"))

    def test_other_arguments_part(self) -> None:
        stored = plain(call("c1", HIGH, 1, {"day": "mon"}))
        came = judged(stored, plain(call("c1", HIGH, 1, {"day": "tue"})))
        self.assertEqual(came.verdict, "parted")
        assert came.parted is not None
        self.assertEqual(came.parted.at, "c1")
        self.assertEqual(came.first, "tides/high_water is called with other arguments")
        self.assertEqual(
            came.parted.lines,
            ('- tides/high_water {"day":"mon"}', '+ tides/high_water {"day":"tue"}'),
        )

    def test_another_tool_a_missing_call_and_a_further_one_part(self) -> None:
        one, other = call("c1", HIGH, 1), call("c1", LOW, 1)
        two = call("c2", LOW, 2)
        for stored, now, at, what in (
            (plain(one), plain(other), "c1", f"{LOW} is called in place of {HIGH}"),
            (plain(one, two), plain(one), "c2", f"{LOW} is not called"),
            (plain(one), plain(one, two), "end", f"{LOW} is called once more"),
        ):
            came = judged(stored, now)
            assert came.parted is not None
            self.assertEqual((came.parted.at, came.parted.what), (at, what))

    def test_the_order_of_calls_matters_but_not_of_those_in_flight_together(self) -> None:
        def made(first: str, second: str, at: float) -> Story:
            return plain(call("c1", first, 1, s=1.0), call("c2", second, at, s=1.0))

        self.assertEqual(judged(made(HIGH, LOW, 3), made(LOW, HIGH, 3)).verdict, "parted")
        # 1 to 2 and 1.5 to 2.5: either might have been first.
        self.assertEqual(judged(made(HIGH, LOW, 1.5), made(LOW, HIGH, 1.5)).verdict, "same")

    def test_calls_inside_the_agent_have_an_order_of_their_own(self) -> None:
        note, other = "own/note", "own/other"
        stored = plain(call("c1", note, 1), call("c2", HIGH, 2), call("c3", other, 3))
        later = plain(call("c1", HIGH, 1), call("c2", note, 2), call("c3", other, 3))
        self.assertEqual(judged(stored, later), Replayed("same"))
        turned = plain(call("c1", other, 1), call("c2", HIGH, 2), call("c3", note, 3))
        came = judged(stored, turned)
        self.assertEqual(
            (came.verdict, came.first), ("parted", f"{other} is called in place of {note}")
        )
        more = plain(
            *(call(f"c{n}", tool, n) for n, tool in enumerate((note, HIGH, other, note), 1))
        )
        self.assertEqual(judged(stored, more).first, f"{note} is called once more")

    def test_a_bundle_ends_where_nothing_is_in_flight(self) -> None:
        calls = plain(
            call("c1", HIGH, 1, s=2.0),
            call("c2", HIGH, 2, s=0.1),
            call("c3", HIGH, 3, s=0.5),
            call("c4", HIGH, 4, s=None),
            call("c5", HIGH, 5),
        ).calls
        found = [[c.id for c in bundle] for bundle in bundles(calls)]
        self.assertEqual(found, [["c1", "c2"], ["c3"], ["c4", "c5"]])

    @given(st.lists(st.tuples(st.integers(0, 9), st.integers(1, 4)), max_size=8), st.randoms())
    def test_calls_of_a_bundle_may_come_in_any_order(
        self, times: list[tuple[int, int]], chance: random.Random
    ) -> None:
        made = [call(f"c{n}", HIGH, t, {"n": n}, s=s) for n, (t, s) in enumerate(times)]
        stored = plain(*made)
        mixed: list[Any] = []
        for bundle in bundles(stored.calls):
            some = [c.args for c in bundle]
            chance.shuffle(some)
            mixed += some
        now = plain(*(call(f"c{n}", HIGH, n, args) for n, args in enumerate(mixed)))
        self.assertEqual(judged(stored, now).verdict, "same")


class RepliesAndEnds(unittest.TestCase):
    def test_another_reply_parts_at_its_turn(self) -> None:
        came = judged(plain(says="At 14:31."), plain(says="At 15:12."))
        assert came.parted is not None
        self.assertEqual((came.parted.at, came.first), ("turn 1", "the reply is another"))
        self.assertEqual(came.parted.lines, ("-At 14:31.", "+At 15:12."))

    def test_another_structured_reply_parts(self) -> None:
        stored, now = (story(turn(), reply(2, "Done.", {"n": n}), end(3)) for n in (1, 2))
        self.assertEqual(judged(stored, now).first, "the reply is another")

    def test_a_crash_is_what_parted_though_calls_are_missing_for_it(self) -> None:
        stored = plain(call("c1", HIGH, 1), call("c2", LOW, 2))
        now = plain(call("c1", HIGH, 1), why="crash", reason="KeyError: 'day'")
        came = judged(stored, now)
        assert came.parted is not None
        self.assertEqual(came.parted.what, "crashes, which it did not")
        self.assertIn("+it crashes: KeyError: 'day'", came.parted.lines)

    def test_an_agent_that_crashes_no_more_parts(self) -> None:
        stored = story(turn(), failed("c1", HIGH, 1), {**end(2), "why": "crash", "reason": "x"})
        now = story(turn(), failed("c1", HIGH, 1), {**end(2), "why": "done", "reason": None})
        self.assertEqual(judged(stored, now).first, "comes to its end, which it did not")

    def test_where_nothing_was_stored_comes_before_all_else(self) -> None:
        parted = Difference("m2", "asks the model once more")
        came = judge_replay(plain(), plain(says="Other."), [], parted)
        self.assertEqual((came.verdict, came.parted), ("parted", parted))


def says(role: str, words: str) -> dict[str, Any]:
    return {"role": role, "content": words}


class Requests(unittest.TestCase):
    def differences(self, stored: ShownRequest, now: ShownRequest) -> list[tuple[str, Any]]:
        return [(d.what, d.lines) for d in compare_requests("m1", stored, now)]

    def test_reworded_messages_are_shown_by_their_changed_lines(self) -> None:
        words = list("abcdefghij")
        stored = ShownRequest([says("system", "\n".join(words)), says("user", "High water?")])
        words[0], words[-1] = "A", "J"
        now = ShownRequest([says("system", "\n".join(words)), says("user", "High water?")])
        what, lines = self.differences(stored, now)[0]
        self.assertEqual(what, "a system message is reworded")
        folded = ("-a", "+A", " b", " c", "…", " h", " i", "-j", "+J")
        self.assertEqual(lines, folded)

    def test_messages_added_and_gone(self) -> None:
        few, more = [says("user", "Hello")], [says("user", "Hello"), says("assistant", "Yes?")]
        one, two = ShownRequest(few), ShownRequest(more)
        self.assertEqual(
            self.differences(one, two), [("an assistant message is added", ("+ Yes?",))]
        )
        self.assertEqual(
            self.differences(two, one), [("an assistant message is gone", ("- Yes?",))]
        )

    def test_tools_and_parameters(self) -> None:
        tool = {"description": "Times.", "input": {"type": "object"}}
        stored = ShownRequest([], {"a": tool, "b": tool}, {"temperature": 0, "n": 1})
        now = ShownRequest(
            [], {"a": {**tool, "description": "Hours."}, "c": tool}, {"temperature": 0.5, "n": 1}
        )
        found = dict(self.differences(stored, now))
        self.assertEqual(
            list(found),
            [
                "the model is shown a further tool, c",
                "the model is not shown the tool b",
                "the tool a is described otherwise",
                "the parameter temperature is another",
            ],
        )
        changed = found["the tool a is described otherwise"]
        self.assertIn('- "description": "Times.",', changed)
        self.assertIn('+ "description": "Hours.",', changed)

    def test_numbers_that_are_equal_as_json_are_no_difference(self) -> None:
        stored, now = (ShownRequest([], {}, {"temperature": t}) for t in (0, 0.0))
        self.assertEqual(self.differences(stored, now), [])

    def test_other_words_to_the_model_are_told_once_each(self) -> None:
        one = Difference("m1", "a system message is reworded", ("-a", "+b"))
        came = judge_replay(plain(), plain(), [one, one], None)
        self.assertEqual((came.verdict, came.differences), ("other words", (one,)))


if __name__ == "__main__":
    unittest.main()
