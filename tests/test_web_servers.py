"""The interface of the Servers place, over HTTP, with real servers behind it."""

from __future__ import annotations

import asyncio
import json
import sys
import time
from pathlib import Path
from typing import Any

from mcp import Client

from tests.serving import Answer, AppCase
from tests.waiting import HANG_S

TIDES = Path(__file__).parent / "servers/quick_tides.py"
LIVE = f"ferox: 1\nserver: live\nlive: {{command: [{sys.executable}, {TIDES}]}}\n"


class ServersCase(AppCase):
    def tried(self, server: str, tool: str, args: Any, mode: str = "live") -> Any:
        """A call by hand, waited for."""
        body = {"mode": mode, "tool": tool, "args": args}
        answer = self.ask(f"/api/servers/{server}/calls", body).body
        return self.watch("calls", answer["id"], lambda call: call["question"])

    def reach(self, server: str, mode: str | None = None, *, afresh: bool = False) -> Answer:
        return self.ask(f"/api/servers/{server}/reach", {"mode": mode, "afresh": afresh})

    def edit(self, name: str, old: str, new: str) -> None:
        path = self.root / name
        self.assertIn(old, path.read_text())
        path.write_text(path.read_text().replace(old, new))

    def put(self, path: str, body: Any) -> Answer:
        return self.ask(path, body, method="PUT")


class Looking(ServersCase):
    def test_a_server_is_read_and_a_call_is_tried(self) -> None:
        (line,) = self.ask("/api/servers").body["servers"]
        self.assertEqual((line["server"], line["modes"]), ("tides", ["mock"]))
        self.assertEqual(self.ask("/api/servers/tides/tools").status, 404, "nothing is started")
        seen = self.reach("tides").body
        lines = seen["tools"]["tools"]
        self.assertEqual([t["name"] for t in lines], ["high_water", "low_water"])
        self.assertEqual(seen["tokens"], sum(t["cost"] for t in lines))
        wording = self.ask("/api/servers/tides/wording").body
        self.assertEqual(sorted(wording["order"]), ["high_water", "low_water"])
        page = self.ask("/api/servers/tides/tools?search=HIGH").body
        self.assertEqual([t["name"] for t in page["tools"]], ["high_water"])
        tool = self.ask("/api/servers/tides/tool?tool=high_water").body
        self.assertEqual(tool["arguments"], tool["definition"]["inputSchema"])
        self.assertEqual(self.ask("/api/servers/tides/tool?tool=none").status, 404)
        tried = self.tried("tides", "high_water", {"day": "x"}, "mock")
        self.assertEqual(json.loads(tried["content"][0]["text"]), {"high_water": "14:31"})
        self.assertEqual(tried["changes"], [{"op": "replace", "path": "/asked", "value": 1}])
        again = self.tried("tides", "high_water", {"day": "x"}, "mock")
        self.assertEqual((again["before"]["asked"], again["after"]["asked"]), (1, 2))
        wrong = self.tried("tides", "high_water", {}, "mock")
        self.assertIn("'day' is a required property", wrong["error"])
        earlier = self.ask("/api/servers/tides/calls?tool=high_water").body["calls"]
        self.assertEqual([t["args"] for t in earlier], [{}, {"day": "x"}, {"day": "x"}])
        self.assertEqual(self.reach("nobody").status, 404)
        self.assertEqual(self.reach("tides", "live").status, 404)

    def test_a_mock_begins_anew_when_its_file_changes_or_it_is_asked_to(self) -> None:
        self.tried("tides", "high_water", {"day": "x"}, "mock")
        self.reach("tides", "mock", afresh=True)
        again = self.tried("tides", "high_water", {"day": "x"}, "mock")
        self.assertEqual(again["before"]["asked"], 0)

    def test_a_server_out_of_reach_has_a_diagnosis(self) -> None:
        self.write(
            "servers/live.yaml", "ferox: 1\nserver: live\nlive: {command: [no-such-command]}\n"
        )
        seen = self.reach("live").body
        self.assertEqual((seen["diagnosis"]["kind"], seen["tools"]["total"]), ("no_command", 0))
        self.assertIn("PATH", [v["name"] for v in seen["variables"]])
        tried = self.ask("/api/servers/live/calls", {"mode": "live", "tool": "x"})
        self.assertEqual(tried.status, 502)
        self.assertIn("`no-such-command` was not found", tried.body["message"])

    def test_a_file_that_does_not_load_is_listed_with_its_problems(self) -> None:
        self.write("servers/broken.yaml", "ferox: 1\nserver: broken\nmocks: {}\n")
        lines = {x["server"]: x for x in self.ask("/api/servers").body["servers"]}
        self.assertEqual(lines["tides"]["modes"], ["mock"])
        (problem,) = lines["broken"]["problems"]
        self.assertEqual((problem["line"], problem["file"]), (3, "servers/broken.yaml"))
        self.assertIn("did you mean `mock`", problem["message"])

    def test_resources_and_prompts_and_raw_messages(self) -> None:
        self.write("servers/live.yaml", LIVE)
        read = self.ask("/api/servers/live/read", {"mode": "live", "uri": "tides://table"}).body
        self.assertEqual(read["items"][0]["text"], "14:31")
        body = {"mode": "live", "name": "ask", "args": {"day": "Monday"}}
        (message,) = self.ask("/api/servers/live/prompt", body).body["items"]
        self.assertEqual(message["content"]["text"], "When is high water on Monday?")
        gone = self.ask("/api/servers/live/read", {"mode": "live", "uri": "tides://none"})
        self.assertEqual(gone.status, 422)
        tried = self.tried("live", "high_water", {"day": "Monday"})
        sent = tried["events"][0]
        self.assertEqual((sent["dir"], sent["msg"]["method"]), ("to_server", "tools/call"))
        came = next(e["msg"] for e in tried["events"] if e["dir"] == "to_client")
        self.assertEqual(came["id"], sent["msg"]["id"])
        answer = self.ask("/api/servers/live/connection?mode=live").body
        self.assertTrue(answer["connected"])
        self.assertGreater(len(answer["messages"]), 4)

    def test_what_changed_since_the_last_look_is_reported(self) -> None:
        self.assertEqual(self.reach("tides").body["changes"], [])
        self.edit("servers/tides.yaml", "Times of low water on one day", "Low water, all of it")
        (change,) = self.reach("tides").body["changes"]
        self.assertEqual((change["tool"], change["kind"]), ("low_water", "changed"))
        self.assertEqual(change["what"][0]["where"], "/description")
        self.assertEqual(self.reach("tides").body["changes"], [])


class Trying(ServersCase):
    def test_progress_log_and_cancel(self) -> None:
        self.write("servers/live.yaml", LIVE)
        body = {"mode": "live", "tool": "sound", "args": {"steps": 200}}
        begun = self.ask("/api/servers/live/calls", body).body
        self.assertEqual(begun["state"], "running")
        self.assertEqual(self.ask("/api/servers/live/calls", body).status, 409)
        self.assertTrue([t for t in begun["log"] if "progress" in t])
        over = self.ask(f"/api/calls/{begun['id']}/cancel", {}).body
        self.assertEqual((over["state"], over["error"]), ("cancelled", "cancelled by hand"))
        methods = [e["msg"].get("method") for e in over["events"]]
        self.assertIn("notifications/cancelled", methods)
        short = self.tried("live", "sound", {"steps": 2})
        self.assertEqual(short["content"][0]["text"], "2 soundings")

    def test_a_question_is_answered_in_the_form(self) -> None:
        self.write("servers/live.yaml", LIVE)
        asked = self.tried("live", "book", {})
        self.assertEqual(asked["question"]["message"], "Which berth?")
        self.assertIn("berth", asked["question"]["wants"]["properties"])
        answer = {"action": "accept", "content": {"berth": "N1"}}
        self.ask(f"/api/calls/{asked['id']}/answer", answer)
        over = self.watch("calls", asked["id"], lambda call: call["state"] != "running")
        self.assertEqual(over["content"][0]["text"], "Booked N1.")
        asked = self.tried("live", "book", {})
        self.ask(f"/api/calls/{asked['id']}/answer", {"action": "decline"})
        over = self.watch("calls", asked["id"], lambda call: call["state"] != "running")
        self.assertEqual(over["content"][0]["text"], "Nothing was booked.")


class Files(ServersCase):
    def test_pasted_words_become_a_file(self) -> None:
        text = f"REGISTER_KEY=abc123 {sys.executable} {TIDES}"
        (found,) = self.ask("/api/pasted", {"text": text}).body["servers"]
        self.assertNotIn("abc123", found["text"])
        self.assertIn("REGISTER_KEY", found["notes"][0])
        saved = self.put("/api/file", {"name": found["file"], "text": found["text"]})
        self.assertEqual(saved.status, 200)
        names = [x["server"] for x in self.ask("/api/servers").body["servers"]]
        self.assertIn(found["name"], names)
        self.assertEqual(self.ask("/api/pasted", {"text": "{oops"}).status, 422)

    def test_a_file_is_never_written_over_a_change(self) -> None:
        file = self.ask("/api/file?name=servers/tides.yaml").body
        self.edit("servers/tides.yaml", "low water", "lowest water")
        lost = self.put("/api/file", {**file, "text": file["text"] + "# mine\n"})
        self.assertEqual(lost.status, 409)
        self.assertIn("changed on disk", lost.body["message"])
        self.assertNotIn("# mine", (self.root / "servers/tides.yaml").read_text())

    def test_a_text_that_does_not_load_is_checked_and_not_written(self) -> None:
        file = self.ask("/api/file?name=servers/tides.yaml").body
        broken = file["text"].replace("give: {high_water", "giv: {high_water")
        found = self.ask("/api/file/check", {"name": file["name"], "text": broken}).body["problems"]
        self.assertIn("did you mean `give`", found[0]["message"])
        self.assertEqual(self.put("/api/file", {**file, "text": broken}).status, 422)
        self.assertEqual(self.ask("/api/file?name=servers/tides.yaml").body["text"], file["text"])

    def test_no_path_leaves_the_workspace(self) -> None:
        for name in (
            "../secret.yaml", "servers/../../x.yaml", "/etc/passwd", "servers/x.py", "x/ferox.yaml",
            ".env", "servers/.hidden.yaml", ".ferox/results.sqlite", "servers/a/b.yaml",
        ):  # fmt: skip
            self.assertEqual(self.ask(f"/api/file?name={name}").status, 409, name)
            self.assertEqual(self.put("/api/file", {"name": name, "text": "x"}).status, 409, name)
            self.assertEqual(self.ask(f"/api/recording?file={name}").status, 404, name)

    def test_a_mock_in_few_words_is_tried_at_once(self) -> None:
        body = {
            "server": "pilots", "tool": "pilot_roster", "description": "Who is on duty.",
            "arguments": "day: date, notes?", "answer": '{"pilots": ["Ines Calder"]}',
        }  # fmt: skip
        made = self.ask("/api/mocks", body).body
        self.assertEqual(self.put("/api/file", made).status, 200)
        tried = self.tried("pilots", "pilot_roster", {"day": "2031-03-14"}, "mock")
        self.assertIn("Ines Calder", tried["content"][0]["text"])
        more = {"tool": "cancel_pilot", "arguments": "id", "answer": "cancelled"}
        self.assertEqual(self.ask("/api/servers/pilots/tool", more).status, 200)
        tried = self.tried("pilots", "cancel_pilot", {"id": "P1"}, "mock")
        self.assertEqual(tried["content"][0]["text"], "cancelled")
        self.assertEqual(self.ask("/api/servers/pilots/tool", {"tool": "a b"}).status, 422)

    def test_wording_is_changed_in_the_file_and_shown(self) -> None:
        body = {"tool": "high_water", "wording": {"name": "flood", "description": "Floods."}}
        self.assertEqual(self.ask("/api/servers/tides/wording", body).status, 200)
        seen = self.reach("tides").body
        (reads,) = [t["reads"] for t in seen["tools"]["tools"] if t["reads"]]
        self.assertEqual(reads["name"], "flood")
        clash = {"tool": "high_water", "wording": {"name": "low_water"}}
        self.assertEqual(self.ask("/api/servers/tides/wording", clash).status, 422)
        self.ask("/api/servers/tides/wording", {"tool": "high_water", "wording": None})
        lines = self.reach("tides").body["tools"]["tools"]
        self.assertEqual([t["reads"] for t in lines], [None, None])


class Recording(ServersCase):
    def recorded(self) -> Any:
        """A recording made through the interface, with one call of each kind."""
        self.write("servers/live.yaml", LIVE)
        relay = self.ask("/api/servers/live/relay", {"mode": "live"}).body

        async def client() -> None:
            async with Client(relay["address"]) as client:
                await client.list_tools()
                await client.call_tool("high_water", {"day": "Monday"})
                await client.call_tool("high_water", {"day": "Friday"})

        asyncio.run(client())
        return self.ask(f"/api/relays/{relay['id']}").body

    def test_a_relay_is_watched_stopped_and_kept(self) -> None:
        relay = self.recorded()
        calls = [c for c in relay["calls"] if c["tool"]]
        self.assertEqual([c["args"]["day"] for c in calls], ["Monday", "Friday"])
        self.assertTrue(all(c["s"] is not None for c in calls))
        self.assertIn(relay["address"], relay["snippets"][1]["text"])
        stopped = self.ask(f"/api/relays/{relay['id']}/stop", {}).body
        self.assertEqual(stopped["state"], "stopped")
        kept = self.ask(f"/api/relays/{relay['id']}/keep", {"name": "calm-day"}).body
        self.assertEqual(kept["name"], "recordings/calm-day.jsonl")
        seen = self.reach("live", "recorded").body
        self.assertIn("high_water", [t["name"] for t in seen["tools"]["tools"]])
        tried = self.tried("live", "high_water", {"day": "Friday"}, "recorded")
        self.assertEqual(tried["content"][0]["text"], "14:31 on Friday")
        missing = self.tried("live", "high_water", {"day": "Sunday"}, "recorded")
        self.assertIn("differs in day", missing["error"])

    def test_browse_cut_edit_merge_and_make_a_mock(self) -> None:
        relay = self.recorded()
        self.ask(f"/api/relays/{relay['id']}/keep", {"name": "one"})
        (line,) = self.ask("/api/servers/live/recordings").body["recordings"]
        self.assertEqual((line["calls"], line["used"]), (2, True))
        shown = self.ask(f"/api/recording?file={line['file']}").body
        call = next(e for e in shown["exchanges"] if e["params"].get("name") == "high_water")
        cut = self.ask(
            "/api/recording/cut", {"file": line["file"], "keep": [call["number"]], "name": "two"}
        ).body
        self.assertEqual(cut["name"], "recordings/two.jsonl")
        answer = {"result": {"content": [{"type": "text", "text": "15:00"}], "isError": False}}
        edit = {"file": line["file"], "number": call["number"], "answer": answer}
        self.assertEqual(self.ask("/api/recording/edit", edit).status, 200)
        bad = {**edit, "answer": {"what": 1}}
        self.assertEqual(self.ask("/api/recording/edit", bad).status, 422)
        merge = {"file": line["file"], "other": cut["name"], "name": "both"}
        self.assertEqual(self.ask("/api/recording/merge", merge).status, 200)
        body = {"source": "recording", "recording": line["file"]}
        made = self.ask("/api/servers/live/mock", body).body
        self.assertEqual(self.put("/api/file", made).status, 200)
        tried = self.tried("live", "high_water", {"day": "Monday"}, "mock")
        self.assertEqual(tried["content"][0]["text"], "15:00")

    def test_drift_is_found(self) -> None:
        relay = self.recorded()
        self.ask(f"/api/relays/{relay['id']}/keep", {"name": "one"})
        body = {"file": "recordings/one.jsonl", "mode": "live", "also": ["high_water"]}
        drift = self.ask("/api/servers/live/drift", body).body
        end = time.monotonic() + HANG_S
        while drift["state"] == "running" and time.monotonic() < end:
            drift = self.ask(f"/api/drifts/{drift['id']}").body
        self.assertEqual([c["kind"] for c in drift["calls"]], ["same", "same"])
        drift = self.ask("/api/servers/live/drift", {**body, "also": []}).body
        self.assertEqual({c["kind"] for c in drift["calls"]}, {"not asked"})
