"""The digest: a trial in plain text, short and complete."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.digest import summarize_trial
from ferox.core.scoring import score_trial
from tests.traces import call, end, failed, reply, script, trace, turn

SPEC = {
    "calls": [
        {"as": "w", "tool": "tides/tide_window"},
        {"as": "b", "tool": "harbour/assign_berth"},
    ],
    "answer": [{"mentions": "N1"}],
}


class Digest(unittest.TestCase):
    def test_it_tells_what_happened_and_what_failed(self) -> None:
        traced = trace(
            turn(0, "Book a berth.\nPlease."),
            failed("c1", "tides/tide_window", 1),
            call("c2", "tides/tide_window", 2, {"day": "x" * 200}, result={"opens": "14:10"}),
            call("c3", "tides/high_water", 3),
            reply(4, "Booked " + "very " * 60),
        )
        text = summarize_trial(traced, score_trial(script(SPEC), traced))
        lines = text.splitlines()
        self.assertEqual(lines[0], "s/t · a · trial 1: fail")
        wanted = "Called high_water where assign_berth was expected; "
        self.assertEqual(lines[1], f'{wanted}the answer does not mention "N1"')
        self.assertIn("latency not tested", lines[2])
        self.assertIn("   0.00 s  user   “Book a berth. Please.”", lines)
        self.assertTrue(any("[attempt at w]" in li and "register is busy" in li for li in lines))
        self.assertTrue(any(li.endswith("[w]") and "14:10" in li for li in lines))
        self.assertTrue(any("[extra c3]" in li for li in lines))
        self.assertIn("missing b: not_seen", text)
        self.assertIn("failed checks:", lines)
        self.assertIn('  answer.0: the answer does not mention "N1"', lines)
        self.assertTrue(all(len(li) < 260 for li in lines))

    def test_it_tells_how_a_trial_ended_badly(self) -> None:
        traced = trace(
            turn(), call("c1", "tides/tide_window", 1, s=None), end(2, "crash", "no tide")
        )
        text = summarize_trial(traced, score_trial(script(SPEC), traced))
        self.assertIn("(no tide)", text.splitlines()[0])
        self.assertIn("never answered", text)
        self.assertIn("end    crash: no tide", text)

    def test_words_are_cut_after_160_characters(self) -> None:
        for length, shown in ((160, "x" * 160), (161, "x" * 159 + "…")):
            traced = trace(turn(0, "x" * length), reply(1))
            text = summarize_trial(traced, score_trial(script({}), traced))
            self.assertIn(f"“{shown}”", text)

    def test_the_verdict_is_not_judged_where_nothing_was_tested(self) -> None:
        traced = trace(turn(), reply(1))
        result = score_trial(script({}), traced)
        self.assertIn("trial 1: not judged", summarize_trial(traced, result))
        older: Any = {k: v for k, v in result.items() if k != "judged"}
        self.assertIn("trial 1: pass", summarize_trial(traced, older))

    def test_a_call_by_which_the_framework_replies_is_left_out(self) -> None:
        final = call("c1", "own/final_answer", 1, {"answer": "At 14:31."})
        traced = trace(turn(), final, reply(2, "At 14:31."), reply_tools=["final_answer"])
        text = summarize_trial(traced, score_trial(script({}), traced))
        self.assertNotIn("final_answer", text)
        self.assertIn("agent  “At 14:31.”", text)
