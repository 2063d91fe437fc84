"""The interface over HTTP: runs, boards, trials, live updates, and who is kept out."""

from __future__ import annotations

import asyncio
import gzip
import json
import re
import sqlite3
import unittest
from pathlib import Path
from typing import Any

from ferox.web.openapi import openapi_document
from ferox.web.watching import Watching
from tests.serving import AppCase, ServedCase
from tests.waiting import HANG_S, until

ROOT = Path(__file__).resolve().parents[1]
ALL = {"suites": ["small"], "agents": ["plain"], "repeats": 2}


class Interface(AppCase):
    def finished(self, body: Any = ALL) -> int:
        """Start a run and follow its stream to the end."""
        run = self.ask("/api/runs", body)
        self.assertEqual(run.status, 201, run.body)
        self.stream(run.body["id"])
        return int(run.body["id"])

    def stream(self, run: int) -> list[tuple[str, Any]]:
        found = []
        for block in self.follow(run).replace("\r\n", "\n").split("\n\n"):
            lines = dict(
                line.split(": ", 1)
                for line in block.splitlines()
                if line and not line.startswith(":")
            )
            if lines:
                found.append((lines["event"], json.loads(lines["data"])))
        return found

    def test_a_run_its_board_and_a_trial(self) -> None:
        run = self.finished()
        board = self.ask(f"/api/runs/{run}/board").body
        (cell,) = board["cells"]
        self.assertEqual((cell["passes"], cell["n"], cell["errors"]), (2, 2, 0))
        self.assertAlmostEqual(cell["interval"][0], 0.342380, places=5)  # Wilson, 2 of 2
        scores = {tooth["family"]: tooth["score"] for tooth in cell["comb"]}
        self.assertEqual(scores["choice"], 1)
        self.assertIsNone(scores["failures"])
        where = "suite=small&task=high&agent=plain"
        first, second = self.ask(f"/api/runs/{run}/trials?{where}").body["trials"]
        shown = self.ask(f"/api/trials/{first['id']}").body
        self.assertEqual(shown["result"]["verdict"], "pass")
        self.assertEqual(shown["near"]["next"], second["id"])
        self.assertEqual(shown["expected"][0]["descriptions"], {"day": "the day today"})
        text = self.ask(f"/api/trials/{first['id']}/digest").body["text"]
        self.assertIn("small/high · plain · trial 1: pass", text)
        self.assertIn("[high]", text)

    def test_a_run_may_be_carried_out_on_a_cluster(self) -> None:
        self.assertIsNone(self.ask(f"/api/runs/{self.finished()}/board").body["run"]["on"])
        refused = self.ask("/api/runs", {**ALL, "on": "quay"})
        self.assertEqual(refused.status, 409)
        self.assertIn("`quay` is no cluster", refused.body["message"])
        for on, known in (("tcp://quay:1", False), ("local:2", True)):
            asked = {**ALL, "on": on, "at_once": 0}
            found = self.ask("/api/runs/estimate", asked).body
            self.assertEqual(found["seconds"] is not None, known, on)
        run = self.finished({**ALL, "on": "local:2", "at_once": 0})
        board = self.ask(f"/api/runs/{run}/board").body
        self.assertEqual((board["run"]["on"], board["run"]["at_once"]), ("local:2", 2))
        self.assertEqual(board["cells"][0]["passes"], 2)
        self.assertEqual(self.ask("/api/workspace").body["clusters"], ["local:2"])
        where = "suite=small&task=high&agent=plain"
        first, _ = self.ask(f"/api/runs/{run}/trials?{where}").body["trials"]
        setup = self.ask(f"/api/trials/{first['id']}").body["setup"]
        self.assertEqual((setup["on"], setup["lost"]), ("local:2", []))

    def test_the_stream_tells_progress_until_the_run_is_over(self) -> None:
        run = self.ask("/api/runs", {**ALL, "repeats": 6}).body["id"]
        found = self.stream(run)
        self.assertEqual(found[-1], ("over", "done"))
        last = found[-2][1]
        self.assertEqual((last["run"]["done"], last["run"]["state"]), (6, "done"))
        self.assertEqual(last["cells"][0]["passes"], 6)

    def test_the_ledger_tells_what_changed_since_the_run_before(self) -> None:
        self.finished()
        self.change("servers/tides.yaml", '"14:31"', '"15:31"')
        run = self.finished()
        board = self.ask(f"/api/runs/{run}/board").body
        self.assertEqual(board["ledger"]["bases"], [run - 1])
        (group,) = board["ledger"]["groups"]
        (entry,) = group["entries"]
        self.assertEqual((group["kind"], entry["before"], entry["now"]), ("broke", [2, 2], [0, 2]))
        self.assertEqual((group["failed_check"], group["differs"]), ("answer.0", ["servers"]))
        self.assertEqual(group["message"], 'The answer does not mention "14:31"')
        self.change("servers/tides.yaml", '"15:31"', '"14:31"')
        last = self.finished()
        board = self.ask(f"/api/runs/{last}/board").body
        self.assertEqual(board["ledger"]["groups"][0]["kind"], "mended")
        board = self.ask(f"/api/runs/{last}/board?base={run - 1}").body
        self.assertEqual((board["ledger"]["groups"], board["ledger"]["compared"]), ([], 1))
        self.assertEqual(self.ask(f"/api/runs/{last}/board?base=99").status, 404)
        self.change("tasks/small.yaml", "is: 1}", "is: 2}")
        board = self.ask(f"/api/runs/{self.finished()}/board").body
        (group,) = board["ledger"]["groups"]
        self.assertEqual((group["kind"], group["differs"]), ("broke", ["script"]))

    def test_a_trial_that_runs_is_followed_by_what_is_new(self) -> None:
        self.change("stand_ins/desk.yaml", "{ms: 0}", "{ms: 1000}")
        run = self.ask("/api/runs", ALL).body["id"]
        board = f"/api/runs/{run}/trials?suite=small&task=high&agent=plain"
        number = self.ask(board).body["trials"][0]["id"]
        shown: list[Any] = []
        places: list[int] = []

        async def follow() -> None:
            async for event in await Watching(self.site).find_events("trials", str(number)):
                if event.event == "change":
                    new = json.loads(event.data)
                    shown[new["place"] :] = new["events"]
                    places.append(new["place"])

        asyncio.run(asyncio.wait_for(follow(), HANG_S))
        self.assertEqual(shown, self.ask(f"/api/trials/{number}").body["trace"]["events"])
        self.assertEqual(shown[-1]["kind"], "end")
        self.assertEqual(places, sorted(places))
        self.assertGreater(len(places), 2)
        self.assertGreater(places[-1], 1, "what is settled is not sent again")
        self.assertEqual(self.ask("/api/watch/trials/99").status, 404)

    def test_a_run_can_be_stopped_and_resumed(self) -> None:
        self.change("stand_ins/desk.yaml", "{ms: 0}", "{ms: 150}")
        run = self.ask("/api/runs", {**ALL, "repeats": 20}).body["id"]
        until(lambda: self.ask(f"/api/runs/{run}/board").body["run"]["done"])
        self.ask(f"/api/runs/{run}/stop", {})
        self.assertEqual(self.stream(run)[-1], ("over", "stopped"))
        halted = self.ask("/api/runs").body["runs"][0]
        self.assertLess(halted["done"], 20)
        self.assertEqual(self.ask(f"/api/runs/{run}/resume", {}).status, 200)
        self.stream(run)
        self.assertEqual(self.ask("/api/runs").body["runs"][0]["done"], 20)
        self.assertEqual(self.ask(f"/api/runs/{run}/resume", {}).status, 409)

    def test_a_broken_workspace_is_shown_and_starts_nothing(self) -> None:
        self.change("tasks/small.yaml", "tides/high_water", "tides/high")
        shown = self.ask("/api/workspace").body
        self.assertEqual(shown["problems"][0]["line"], 8)
        refused = self.ask("/api/runs", ALL)
        self.assertEqual(refused.status, 409)
        self.assertIn("tasks/small.yaml:8:26", refused.body["message"])
        self.assertEqual(self.ask("/api/runs").body["runs"], [])

    def test_what_a_run_would_take(self) -> None:
        before = self.ask("/api/runs/estimate", ALL).body
        self.assertEqual((before["trials"], before["known"], before["seconds"]), (2, 0, None))
        self.finished()
        after = self.ask("/api/runs/estimate", {**ALL, "repeats": 4}).body
        self.assertEqual((after["trials"], after["known"]), (4, 1))
        self.assertGreater(after["seconds"], 0)
        self.assertGreater(after["tokens_in"], 0)
        self.assertEqual(len(self.ask("/api/runs").body["runs"]), 1, "none is started")
        self.assertEqual(self.ask("/api/runs/estimate", {**ALL, "agents": ["nobody"]}).status, 409)

    def test_bad_bodies_and_addresses(self) -> None:
        for body in ({}, {**ALL, "repeats": 0}, {**ALL, "agents": []}, {**ALL, "suites": 5}):
            answer = self.ask("/api/runs", body)
            self.assertEqual(answer.status, 422, body)
            self.assertTrue(answer.body["message"])
        self.assertEqual(self.ask("/api/runs", {**ALL, "agents": ["plian"]}).status, 409)
        for path in ("/api/trials/99", "/api/runs/99/board", "/api/watch/runs/99", "/api/nothing"):
            self.assertEqual(self.ask(path).status, 404, path)

    def test_a_database_damaged_meanwhile_is_reported(self) -> None:
        self.finished()
        self.assertEqual(self.ask("/api/runs", {**ALL, "x": "y" * 2_000_000}).status, 413)
        path = self.root / ".ferox/results.sqlite"
        with sqlite3.connect(path) as connection:
            connection.execute("ALTER TABLE run RENAME TO elsewhere")
        answer = self.ask("/api/runs")
        self.assertEqual(answer.status, 503)
        self.assertIn("cannot be opened", answer.body["message"])


class Assets(AppCase):
    def fetch(self, path: str, **headers: str) -> Any:
        return self.client.get(path, base_url="http://127.0.0.1", headers=headers)

    def test_what_the_page_loads_is_sent_compressed_and_kept_for_good(self) -> None:
        loaded = re.findall(r'(?:src|href)="(/assets/[^"]+)"', self.fetch("/").get_data(True))
        self.assertGreaterEqual(len(loaded), 2)
        for asset in loaded:
            plain = self.fetch(asset)
            packed = self.fetch(asset, **{"Accept-Encoding": "gzip, br"})
            self.assertNotIn("Content-Encoding", plain.headers)
            self.assertEqual(packed.headers["Content-Encoding"], "gzip")
            self.assertEqual(gzip.decompress(packed.get_data()), plain.get_data())
            for answer in plain, packed:
                self.assertEqual(
                    answer.headers["Cache-Control"], "public, immutable, max-age=31536000"
                )
        self.assertNotIn("immutable", self.fetch("/").headers["Cache-Control"])


class Guarded(ServedCase):
    def test_other_sites_and_hosts_are_kept_out(self) -> None:
        self.assertEqual(self.ask("/api/runs", Host="evil.example").status, 403)
        self.assertEqual(self.ask("/api/runs", ALL, Origin="http://evil.example").status, 403)
        self.assertEqual(self.ask("/api/runs", ALL, Origin="http://127.0.0.1:1").status, 403)
        self.assertEqual(self.ask("/api/runs", ALL, Content_Type="text/plain").status, 415)
        self.assertEqual(self.ask("/api/runs").body["runs"], [])

    def test_screens_have_a_policy_and_no_way_out_of_their_folder(self) -> None:
        page = self.ask("/trial/5")
        self.assertEqual(page.status, 200)
        self.assertIn("frame-ancestors 'none'", page.headers["Content-Security-Policy"])
        for path in ("/..%2fapp.py", "/%2e%2e/app.py", "/assets/../../app.py", "/assets/none.js"):
            answer = self.ask(path)
            self.assertNotIn("create_app", str(answer.body))
            self.assertEqual(answer.status, 404 if "assets" in path else 200, path)

    def test_a_run_is_followed_over_http(self) -> None:
        self.assertEqual(self.ask("/api/watch/runs/7").status, 404)
        run = self.ask("/api/runs", {**ALL, "repeats": 6}).body["id"]
        answer = self.ask(f"/api/watch/runs/{run}")
        self.assertIn("text/event-stream", answer.headers["Content-Type"])
        self.assertTrue(answer.body.rstrip().endswith('data: "done"'), answer.body[-200:])
        for headers in ({"Host": "evil.example"}, {"Origin": "http://evil.example"}):
            self.assertEqual(self.ask(f"/api/watch/runs/{run}", **headers).status, 403)


class Document(unittest.TestCase):
    def test_the_front_ends_types_are_made_from_the_present_interface(self) -> None:
        kept = (ROOT / "frontend/openapi.json").read_text()
        self.assertEqual(kept, openapi_document(), "run script/api")
