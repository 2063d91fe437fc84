"""Why a required call is missing: what the trace holds, and no more than that."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from tests.traces import call, end, find, model, reply, script, trace, turn

WINDOW, HIGH, BOOK = "tides/tide_window", "tides/high_water", "harbour/assign_berth"
DENIED = {"kind": "denied", "message": "the approval was denied"}


def why(tool: str, *events: Any, seam: bool = True) -> tuple[str, str]:
    """The kind and the reason for one expected call of a tool."""
    spec = script({"calls": [{"tool": tool}]})
    result = score_trial(spec, trace(*events, model_seam=seam))
    (missing,) = result["missing"]
    return missing["why"], find(result, f"{missing['name']}.called")["message"]


class Reasons(unittest.TestCase):
    def test_a_denied_approval_is_of_that_tool(self) -> None:
        denied = call("c1", BOOK, 1, error=DENIED)
        self.assertEqual(why(BOOK, denied)[0], "refused")
        self.assertIn("its approval was denied", why(BOOK, denied)[1])
        self.assertEqual(why(WINDOW, denied)[0], "not_proposed")  # a tool before it, by name
        self.assertEqual(why(HIGH, denied)[0], "not_proposed")

    def test_a_proposal_that_was_lost_is_of_that_tool(self) -> None:
        lost = model("m1", 1, [("p1", HIGH)])
        self.assertEqual(why(HIGH, lost)[0], "refused")
        self.assertEqual(why(WINDOW, lost)[0], "not_proposed")
        self.assertEqual(why(BOOK, lost)[0], "not_proposed")

    def test_in_how_many_requests_it_was_shown(self) -> None:
        shown, hidden = model("m1", 1, offered=[WINDOW]), model("m2", 2, offered=[HIGH])
        self.assertIn("in 1 of 2 requests", why(WINDOW, shown, hidden)[1])
        self.assertNotIn("requests", why(WINDOW, shown)[1])
        self.assertEqual(why(WINDOW, hidden)[0], "not_offered")

    def test_what_was_not_seen_is_not_said(self) -> None:
        self.assertEqual(why(WINDOW, seam=False)[0], "not_seen")
        self.assertIn("no request to its model was seen in this part", why(WINDOW)[1])
        cut = [turn(), model("m1", 1, s=None), end(2, "crash")]
        self.assertIn("before its model answered", why(WINDOW, *cut)[1])
        self.assertIn("before its model was asked", why(WINDOW, turn(), end(2, "crash"))[1])
        answered = [turn(), model("m1", 1), reply(2), end(3, "crash")]
        self.assertEqual(why(WINDOW, *answered)[0], "not_proposed")
