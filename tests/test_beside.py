"""Two ways to one server compared over HTTP."""

from __future__ import annotations

import sys
import unittest
from pathlib import Path
from typing import Any

from tests.serving import AppCase

TIDES = Path(__file__).parent / "servers/quick_tides.py"
PATH = "/api/servers/tides/beside"


class Beside(AppCase):
    def live(self, command: str) -> None:
        self.change("servers/tides.yaml", "mock:", f"live: {{command: [{command}]}}\nmock:")

    def test_what_each_way_offers(self) -> None:
        self.live(f"{sys.executable}, {TIDES}")
        found = self.ask(PATH, {"mode": "mock", "other": "live"}).body
        self.assertEqual(found["same"], [])
        self.assertEqual(found["only_one"], ["low_water"])
        self.assertEqual(found["only_other"], ["environment", "sound", "book"])
        (differing,) = found["differing"]
        self.assertEqual(differing["tool"], "high_water")
        where = {w["where"]: (w["before"], w["after"]) for w in differing["what"]}
        self.assertEqual(where["/inputSchema/additionalProperties"], (False, None))
        turned: Any = self.ask(PATH, {"mode": "live", "other": "mock"}).body
        self.assertEqual(turned["only_one"], found["only_other"])
        self.assertEqual(turned["only_other"], found["only_one"])

    def test_a_way_beside_itself_is_the_same(self) -> None:
        found = self.ask(PATH, {"mode": "mock", "other": "mock"}).body
        self.assertEqual(found["same"], ["high_water", "low_water"])
        self.assertEqual((found["differing"], found["only_one"], found["only_other"]), ([], [], []))

    def test_a_way_that_cannot_be_gone_says_why(self) -> None:
        self.live("no-such-command-here")
        answer = self.ask(PATH, {"mode": "mock", "other": "live"})
        self.assertEqual(answer.status, 502)
        self.assertIn("tides cannot be reached (live)", answer.body["message"])
        self.assertIn("Next: ", answer.body["message"])
        self.assertEqual(self.ask(PATH, {"mode": "mock", "other": "weekend"}).status, 404)


if __name__ == "__main__":
    unittest.main()
