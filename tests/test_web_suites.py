"""Suites over HTTP: read as pictures, tried on stored trials, scored again, made from trials."""

from __future__ import annotations

import json
from typing import Any

from ferox.workspace.yaml_files import parse_yaml
from tests.serving import AppCase
from tests.test_web import ALL

NAME = "tasks/small.yaml"


class SuitesCase(AppCase):
    def text(self) -> str:
        return (self.root / NAME).read_text()

    def finished(self, **more: Any) -> int:
        run = self.ask("/api/runs", {**ALL, **more}).body["id"]
        self.follow(run)
        return int(run)

    def trials(self, run: int) -> list[Any]:
        where = "suite=small&task=high&agent=plain"
        found: list[Any] = self.ask(f"/api/runs/{run}/trials?{where}").body["trials"]
        return found

    def first_trial(self) -> Any:
        trial = self.trials(self.finished())[0]
        return self.ask(f"/api/trials/{trial['id']}").body

    def save(self, text: str) -> None:
        stamp = self.ask(f"/api/file?name={NAME}").body["stamp"]
        body = {"name": NAME, "text": text, "stamp": stamp}
        saved = self.ask("/api/file", body, "PUT")
        self.assertEqual(saved.status, 200, saved.body)


class Reading(SuitesCase):
    def test_files_of_suites_with_their_problems(self) -> None:
        self.write("tasks/broken.yaml", "ferox: 1\nsuite: broken\ntask: []\n")
        answer = self.ask("/api/suites").body
        self.assertEqual(answer["servers"], ["tides"])
        broken, small = answer["files"]
        self.assertEqual((broken["suite"], broken["problems"]), (None, 2))
        self.assertEqual(
            (small["suite"], small["tasks"], small["problems"]), ("small", ["high"], 0)
        )

    def test_the_picture_of_the_task_under_the_cursor(self) -> None:
        text = self.text() + (
            "  - task: two\n"
            "    user: [{if_reply: {matches: sure}, say: Yes., grants: go, at_most: 1}]\n"
            "    approvals: [{tool: tides/low_water, decision: approve, edit: {day: x}}]\n"
            "    parts:\n"
            "      - say: First.\n"
            "        expect:\n"
            "          calls:\n"
            "            - {as: low, tool: tides/low_water, after_grant: go}\n"
            "            - {tool: tides/high_water, args: {day: {from: low, path: $.day}}}\n"
            "          order: [[low, high_water]]\n"
            "      - say: Second.\n"
            "        fresh: true\n"
            "        expect: {either: [{calls: []}, {answer: [{matches: x}]}]}\n"
            "    expect: {never: [tides/depth_at], at_most: {calls: 3}}\n"
        )
        answer = self.ask("/api/suite/read", {"name": NAME, "text": text, "line": 14}).body
        self.assertEqual([t["task"] for t in answer["tasks"]], ["high", "two"])
        picture = answer["picture"]
        self.assertEqual(picture["task"], "two")
        first, second = picture["parts"]
        (way,) = first["ways"]
        low, high = way["calls"]
        self.assertEqual((low["approval"], low["after_grant"]), ("approve", "go"))
        self.assertEqual(high["args"][0]["sources"], ["low"])
        self.assertEqual(
            text.splitlines()[high["line"] - 1].strip()[:25], "- {tool: tides/high_water"
        )
        self.assertEqual(first["rules"][0]["grants"], "go")
        self.assertEqual((second["fresh"], len(second["ways"])), (True, 2))
        self.assertEqual(second["ways"][0]["limits"][0]["text"], "no tool is to be called")
        self.assertEqual([w["text"] for w in picture["whole"]],
                         ["never tides/depth_at", "at most 3 calls"])  # fmt: skip
        at_first = self.ask("/api/suite/read", {"name": NAME, "text": text, "line": 1}).body
        self.assertEqual(at_first["picture"]["task"], "high")

    def test_a_text_that_does_not_load_has_no_picture(self) -> None:
        answer = self.ask("/api/suite/read", {"name": NAME, "text": "ferox: 1\nsuite: [\n"}).body
        self.assertIsNone(answer["picture"])
        self.assertIn("not YAML", answer["fault"])
        self.assertEqual(self.ask("/api/suite/read", {"name": "../x.yaml", "text": ""}).status, 409)

    def test_a_file_that_loads_and_is_no_suite_says_so(self) -> None:
        text = "ferox: 1\nagent: my-desk\nlink: plain\nmodel: steady\n"
        answer = self.ask("/api/suite/read", {"name": "agents/my-desk.yaml", "text": text}).body
        self.assertEqual(answer["fault"], "agents/my-desk.yaml is not in tasks/")

    def test_tools_for_completion(self) -> None:
        answer = self.ask("/api/suite/tools").body
        high = next(t for t in answer["tools"] if t["tool"] == "tides/high_water")
        (day,) = high["arguments"]
        self.assertEqual((day["name"], day["type"], day["required"]), ("day", "string", True))

    def test_a_text_is_set_right_with_its_comments(self) -> None:
        text = "ferox: 1   # the version\nsuite:   small\ntasks:\n- task: x   # first\n  say: y\n"
        answer = self.ask("/api/file/format", {"name": NAME, "text": text}).body["text"]
        self.assertIn("# the version", answer)
        self.assertIn("  - task: x", answer)
        self.assertEqual(self.ask("/api/file/format", {"name": NAME, "text": "["}).status, 409)

    def test_a_change_on_disk_is_seen(self) -> None:
        before = self.ask(f"/api/file/stamp?name={NAME}").body["stamp"]
        self.write(NAME, self.text() + "# more\n")
        self.assertNotEqual(self.ask(f"/api/file/stamp?name={NAME}").body["stamp"], before)


class Trying(SuitesCase):
    def test_verdicts_that_would_change(self) -> None:
        self.finished()
        body = {"name": NAME, "text": self.text(), "task": "high"}
        same = self.ask("/api/suite/rejudge", body).body
        self.assertEqual([(t["was"], t["now"], t["changed_checks"]) for t in same["trials"]],
                         [("pass", "pass", [])] * 2)  # fmt: skip
        body["text"] = self.text().replace('mentions: "14:31"', 'mentions: "15:00"')
        other = self.ask("/api/suite/rejudge", body).body
        self.assertEqual([(t["was"], t["now"]) for t in other["trials"]], [("pass", "fail")] * 2)
        changed = other["trials"][0]["changed_checks"][0]
        self.assertEqual((changed["id"], changed["was"], changed["now"]), ("answer.0", True, False))
        # Nothing was kept of it.
        self.assertEqual(self.ask("/api/suite/rejudge", {**body, "text": "x: ["}).status, 422)

    def test_stored_trials_are_scored_again_and_the_earlier_result_stays(self) -> None:
        run = self.finished()
        trial = self.trials(run)[0]["id"]
        first = self.ask(f"/api/trials/{trial}").body
        self.assertIsNone(first["script"]["before"])
        self.save(self.text().replace('mentions: "14:31"', 'mentions: "15:00"'))
        self.assertEqual(self.ask("/api/suite/stale?suite=small").body["left"], 2)
        answer = self.ask("/api/suite/rescore", {"suite": "small"}).body
        self.assertEqual((answer["done"], answer["changed"], answer["left"]), (2, 2, 0))
        again = self.ask("/api/suite/rescore", {"suite": "small"}).body
        self.assertEqual(again["done"], 0)
        now = self.ask(f"/api/trials/{trial}").body
        self.assertEqual((now["result"]["verdict"], now["trial"]["verdict"]), ("fail", "fail"))
        self.assertEqual([r["verdict"] for r in now["results"]], ["fail", "pass"])
        self.assertEqual(now["script"]["task"]["expect"]["answer"], [{"mentions": "15:00"}])
        self.assertEqual(now["script"]["before"]["expect"]["answer"], [{"mentions": "14:31"}])
        earlier = now["results"][1]["id"]
        before = self.ask(f"/api/trials/{trial}?result={earlier}").body
        self.assertEqual((before["result"]["verdict"], before["shown"]), ("pass", earlier))
        self.assertIsNone(before["script"]["before"])
        (cell,) = self.ask(f"/api/runs/{run}/board").body["cells"]
        self.assertEqual((cell["passes"], cell["n"]), (0, 2))

    def test_back_under_the_first_script(self) -> None:
        trial = self.trials(self.finished())[0]["id"]
        text = self.text()
        self.save(text.replace('"14:31"', '"15:00"'))
        self.ask("/api/suite/rescore", {"suite": "small"})
        self.save(text)
        answer = self.ask("/api/suite/rescore", {"suite": "small", "tasks": ["high"]}).body
        self.assertEqual((answer["done"], answer["changed"]), (2, 2))
        now = self.ask(f"/api/trials/{trial}").body
        self.assertEqual([r["verdict"] for r in now["results"]], ["pass", "fail", "pass"])
        self.assertIsNone(now["script"]["before"])
        self.assertEqual(self.ask("/api/suite/rescore", {"suite": "none"}).status, 404)


class Drafting(SuitesCase):
    def test_a_trial_becomes_a_task_that_it_passes(self) -> None:
        shown = self.first_trial()
        body = {"file": "tasks/kept.yaml", "task": "kept"}
        made = self.ask(f"/api/trials/{shown['trial']['id']}/draft", body).body
        self.assertIsNone(made["stamp"])
        (task,) = parse_yaml(made["text"], "kept").value["tasks"]
        self.assertEqual(task["expect"]["calls"][0]["args"], {"day": {"day": "today"}})
        self.assertIn({"what": "high_water.day", "why": "it is the clock's day"}, made["reasons"])
        saved = self.ask("/api/file", {"name": body["file"], "text": made["text"]}, "PUT")
        self.assertEqual(saved.status, 200, saved.body)
        tried = {"name": body["file"], "text": made["text"], "task": "kept"}
        self.assertEqual(self.ask("/api/suite/rejudge", tried).body["trials"], [])  # another suite

    def test_into_a_suite_that_is_there_under_a_free_name(self) -> None:
        shown = self.first_trial()
        made = self.ask(
            f"/api/trials/{shown['trial']['id']}/draft", {"file": NAME, "task": "high"}
        ).body
        self.assertEqual(made["task"], "high-2")
        self.assertTrue(made["text"].startswith("ferox: 1\nsuite: small"))
        self.assertEqual(self.ask("/api/file/check", {"name": NAME, "text": made["text"]}).body,
                         {"problems": []})  # fmt: skip
        self.assertEqual(self.ask("/api/trials/99/draft", {"file": NAME, "task": "x"}).status, 404)

    def test_where_a_trial_is_best_kept_and_what_it_changes_there(self) -> None:
        shown = self.first_trial()
        trial = shown["trial"]["id"]
        placed = self.ask(f"/api/trials/{trial}/keep").body
        self.assertEqual(placed, {"file": NAME, "servers": {"tides": "mock"}})
        self.write("tasks/other.yaml", "ferox: 1\nsuite: other\nclock: 2032-01-01T00:00:00Z\n"
                   "servers: {}\ntasks:\n  - task: x   # mine\n    say: 'y'\n")  # fmt: skip
        before = (self.root / "tasks/other.yaml").read_text()
        body = {"file": "tasks/other.yaml", "task": "kept"}
        made = self.ask(f"/api/trials/{trial}/draft", body).body
        whys = {reason["what"]: reason["why"] for reason in made["reasons"]}
        self.assertIn("adds `tides: mock` to the suite", whys["servers"])
        self.assertIn("it is 2032-01-01T00:00:00Z in this suite", whys["clock"])
        self.assertIn("  - task: x   # mine", made["text"])
        self.assertNotEqual(made["text"], before)
        self.assertEqual(self.ask("/api/trials/99/keep").status, 404)


class Trials(SuitesCase):
    def test_values_sources_and_raw_messages(self) -> None:
        shown = self.first_trial()
        call = next(e for e in shown["trace"]["events"] if e["kind"] == "call")
        ((value,),) = shown["values"].values()
        self.assertEqual((value["text"], value["origin"]), ("14:31", "copied"))
        self.assertEqual(value["sources"], [call["id"]])
        wire = self.ask(f"/api/trials/{shown['trial']['id']}/wire/{call['id']}").body
        self.assertEqual(json.loads(wire["request"])["method"], "tools/call")
        self.assertIn("14:31", wire["answer"])
        self.assertEqual(self.ask(f"/api/trials/{shown['trial']['id']}/wire/c9").status, 404)

    def test_a_mark_and_a_note_are_kept_apart_from_the_checks(self) -> None:
        shown = self.first_trial()
        trial = shown["trial"]["id"]
        answer = self.ask(
            f"/api/trials/{trial}/mark", {"mark": "wrong", "note": " Too late. "}, "PUT"
        )
        self.assertEqual((answer.body["mark"], answer.body["note"]), ("wrong", "Too late."))
        again = self.ask(f"/api/trials/{trial}").body
        self.assertEqual(again["mark"]["note"], "Too late.")
        self.assertEqual(again["result"], shown["result"])
        line = self.trials(again["trial"]["run"])[0]
        self.assertEqual((line["mark"], line["noted"]), ("wrong", True))
        bad = self.ask(f"/api/trials/{trial}/mark", {"mark": "splendid", "note": ""}, "PUT")
        self.assertEqual(bad.status, 422)
        self.assertEqual(self.ask("/api/trials/99/mark", {"mark": None}, "PUT").status, 404)


class RecordedSessions(SuitesCase):
    def test_a_recorded_session_becomes_a_task(self) -> None:
        lines = [
            {"ferox_recording": 1, "server": "tides", "captured_at": "2031-03-14T06:30:00Z",
             "protocol": "2025-11-25", "transport": "stdio"},
            {"t": 0.1, "session": 1, "dir": "to_server", "msg": {
                "jsonrpc": "2.0", "id": 1, "method": "tools/call",
                "params": {"name": "high_water", "arguments": {"day": "2031-03-14"}}}},
            {"t": 0.2, "session": 1, "dir": "to_client", "msg": {
                "jsonrpc": "2.0", "id": 1, "result": {
                    "content": [{"type": "text", "text": '{"high_water": "14:31"}'}]}}},
        ]  # fmt: skip
        self.write("recordings/calm.jsonl", "\n".join(map(json.dumps, lines)) + "\n")
        body = {"recording": "recordings/calm.jsonl", "session": 1,
                "file": "tasks/kept.yaml", "task": "calm"}  # fmt: skip
        made = self.ask("/api/recording/draft", body).body
        found = parse_yaml(made["text"], "kept").value
        self.assertEqual(found["servers"], {"tides": "recorded"})
        (task,) = found["tasks"]
        self.assertEqual(task["expect"]["calls"][0]["args"], {"day": {"day": "today"}})
        self.assertEqual(made["reasons"][0]["what"], "say")
        gone = self.ask("/api/recording/draft", {**body, "session": 9})
        self.assertEqual(gone.status, 404, gone.body)
        outside = self.ask("/api/recording/draft", {**body, "recording": "../x.jsonl"})
        self.assertEqual(outside.status, 404)
