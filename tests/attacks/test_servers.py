"""Hostile tool servers: each listing is read or diagnosed, and each call ends."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from tests.test_web_servers import ServersCase

HOSTILE = Path(__file__).resolve().parents[1] / "servers/hostile.py"


class HostileServers(ServersCase):
    """A hostile tool server"""

    def serve(self, how: str) -> str:
        name = f"h-{how}"
        self.write(
            f"servers/{name}.yaml",
            f"ferox: 1\nserver: {name}\nlive: {{command: [{sys.executable}, {HOSTILE}, {how}]}}\n",
        )
        return name

    def test_every_listing_is_read_or_diagnosed(self) -> None:
        for how in ("properties", "odd", "twice", "number", "none", "escape"):
            with self.subTest(how):
                name = self.serve(how)
                seen = self.reach(name)
                self.assertEqual(seen.status, 200, seen.body)
                if seen.body["diagnosis"]:
                    self.assertEqual(seen.body["diagnosis"]["kind"], "bad_list")
                    continue
                self.assertTrue(seen.body["tools"]["tools"])
                first = seen.body["tools"]["tools"][0]["name"]
                tool = self.ask(f"/api/servers/{name}/tool?tool={first}")
                self.assertEqual(tool.status, 200)
                self.assertIsInstance(tool.body["arguments"].get("properties", {}), dict)
                self.assertEqual(self.ask(f"/api/servers/{name}/wording").status, 200)
                self.assertEqual(self.ask("/api/suite/tools").status, 200)
        self.assertEqual(self.reach("h-number").body["diagnosis"]["kind"], "bad_list")
        remarks = self.ask("/api/servers/h-odd/wording").body["remarks"]
        text = " ".join(r["message"] for r in remarks)
        self.assertIn("is broken at /properties/a/items", text)
        self.assertIn("refers to `http://x/y`, outside itself", text)
        self.assertIn("refers to `file:///etc/passwd`, outside itself", text)

    def test_every_call_ends(self) -> None:
        wanted = {
            "utf8": "no UTF-8", "nan": "not a JSON number", "deep": "levels", "digits": "digits",
            "shape": "",
        }  # fmt: skip
        for how, why in wanted.items():
            with self.subTest(how):
                tried = self.tried(self.serve(how), "call", {})
                self.assertNotEqual(tried["state"], "running")
                self.assertIn(why, f"{tried['error']} {tried['remark']}")
        half = self.tried(self.serve("half"), "call", {})
        self.assertEqual(half["content"][0]["text"], "\N{REPLACEMENT CHARACTER}")

    def test_a_pattern_of_its_own_schema_holds_nobody_up(self) -> None:
        tried = self.tried(self.serve("schema"), "call", {})
        self.assertEqual(tried["state"], "done")
        self.assertIn("was given up", tried["remark"])

    def test_a_call_that_is_never_answered_can_be_cancelled(self) -> None:
        body = {"mode": "live", "tool": "call", "args": {}}
        begun = self.ask(f"/api/servers/{self.serve('silent')}/calls", body).body
        self.assertEqual(begun["state"], "running")
        self.assertEqual(
            self.ask(f"/api/calls/{begun['id']}/cancel", {}).body["state"], "cancelled"
        )

    def test_three_thousand_tools(self) -> None:
        name = self.serve("many")
        seen = self.reach(name)
        page: Any = seen.body["tools"]
        self.assertEqual((page["total"], len(page["tools"])), (3000, 500))
        self.assertLess(len(str(seen.body)), 400_000)
        rest = self.ask(f"/api/servers/{name}/tools?start=2900").body["tools"]
        self.assertEqual(len(rest), 100)
        wording = self.ask(f"/api/servers/{name}/wording").body
        self.assertEqual(wording["tools"], 3000)
        self.assertLessEqual(len(wording["pairs"]), 400)
        self.assertLessEqual(len(wording["order"]), 250)
        self.assertGreater(wording["alike"], 400)
