"""The interface of the Agents place: details, connections, probes, conversations, holds."""

from __future__ import annotations

import asyncio
import json
import socket
import sys
from pathlib import Path
from typing import Any

from mcp import Client

from tests.serving import AppCase, OwnProcessCase
from tests.waiting import HANG_S, until

AGENT = Path(__file__).parent / "servers/link_agent.py"
ASKING = """
    ferox: 1
    server: tides
    mock:
      tools:
        - name: high_water
          description: Times of high water on one day.
          input: {type: object, properties: {day: {type: string}}}
          answers:
            - ask: {message: At which gauge?, schema: {type: object, properties: {gauge: {type: string}}}}
              give: {high_water: "14:31", gauge: "{{ asked.gauge }}"}
"""  # noqa: E501


class Asking:
    """What tests of agents ask of the interface, in this process or served."""

    write: Any
    ask: Any
    root: Path
    assertEqual: Any
    assertLess: Any

    def process_agent(self, how: str) -> None:
        command = json.dumps([sys.executable, "-u", str(AGENT), how])
        self.write(
            "agents/any.yaml",
            f"ferox: 1\nagent: any\nlink: process\nmodel: steady\ncommand: {command}\n"
            "env: {DESK: north}\n",
        )

    def begin(self, agent: str = "plain", **body: Any) -> Any:
        answer = self.ask(f"/api/agents/{agent}/conversations", body)
        self.assertEqual(answer.status, 201, answer.body)
        return answer.body

    def until(self, talk: Any, kind: str | None) -> Any:
        """The conversation once it waits for this, or, without a kind, is over."""

        def there() -> Any:
            now = self.ask(f"/api/conversations/{talk['id']}").body
            waits_for = (now["waits"] or {}).get("kind")
            return now if (waits_for == kind if kind else now["over"]) else None

        return until(there)

    def do(self, talk: Any, what: str, body: Any = None, status: int = 200) -> Any:
        answer = self.ask(f"/api/conversations/{talk['id']}/{what}", body or {}, "POST")
        self.assertEqual(answer.status, status, answer.body)
        return answer.body


class AgentsCase(Asking, AppCase):
    """Agents of a workspace whose application is in this process."""


class ServedAgents(Asking, OwnProcessCase):
    """Agents of a workspace that is served."""


class Details(AgentsCase):
    def test_what_an_agent_is(self) -> None:
        self.process_agent("well")
        self.write("agents/broken.yaml", "ferox: 1\nagent: broken\nlink: plane\nmodel: steady\n")
        lines = {a["agent"]: a for a in self.ask("/api/agents").body["agents"]}
        self.assertEqual(list(lines), ["any", "broken", "plain"])
        self.assertEqual((lines["plain"]["link"], lines["plain"]["simulated"]), ("plain", True))
        self.assertIn("link", lines["broken"]["problems"][0]["message"])
        answer = self.ask("/api/agents/any").body
        self.assertIn("link_agent.py well", answer["reached"])
        (offered,) = answer["servers"]
        self.assertEqual(
            (offered["server"], offered["mode"], offered["tools"], offered["left_out"]),
            ("tides", "mock", ["high_water", "low_water"], []),
        )
        (model,) = answer["models"]
        self.assertEqual((model["called"], model["simulated"]), ("main", True))
        variables = {v["name"]: v["origin"] for v in answer["variables"]}
        self.assertEqual(variables["DESK"], "the file")
        self.assertEqual(self.ask("/api/agents/nobody").status, 404)
        self.assertEqual(self.ask("/api/agents/broken").status, 404)

    def test_what_is_withheld_unset_and_standing(self) -> None:
        self.write(
            "agents/desk.yaml",
            "ferox: 1\nagent: desk\nlink: chat\nurl: http://127.0.0.1:9/v1\nmodel: steady\n"
            "offer: {tides: [high_*]}\ncommand: [desk]\nenv: {KEY: {secret: FEROX_TEST_UNSET}}\n",
        )
        answer = self.ask("/api/agents/desk").body
        self.assertEqual(answer["servers"][0]["left_out"], ["low_water"])
        self.assertIn("FEROX_TEST_UNSET", answer["unset"])
        self.assertEqual(
            [a["url"] for a in answer["standing"]],
            ["http://127.0.0.1:8641/a/desk/tides/mcp", "http://127.0.0.1:8641/a/desk/model/v1"],
        )

    def test_connections_are_files_that_can_be_written(self) -> None:
        answer = self.ask("/api/connections?agent=new-desk&model=hasty").body["connections"]
        by_name = {c["name"]: c for c in answer}
        self.assertGreaterEqual(len(by_name), 9)
        self.assertIn("/a/new-desk/tides/mcp", by_name["a2a"]["standing"][0]["url"])
        files = by_name["python"]["files"]
        self.assertEqual([f["name"] for f in files],
                         ["agents/new-desk.yaml", "agents/new_desk_agent.py"])  # fmt: skip
        self.assertEqual(self.ask("/api/agents", {"files": files}).status, 201)
        self.assertIn("open_desk", (self.root / "agents/new_desk_agent.py").read_text())
        again = self.ask("/api/agents", {"files": files})
        self.assertEqual(again.status, 409)
        self.assertIn("is there already", again.body["message"])
        for name in ("servers/x.yaml", "agents/../x.py", "agents/x.sh"):
            bad = {"files": [{"name": name, "text": ""}]}
            self.assertEqual(self.ask("/api/agents", bad).status, 409, name)

    def test_an_agents_file_is_checked_against_the_workspace(self) -> None:
        body = {"name": "agents/plain.yaml", "text": "ferox: 1\nagent: plain\nlink: plain\n"
                "model: stedy\n"}  # fmt: skip
        (problem,) = self.ask("/api/file/check", body).body["problems"]
        self.assertIn("did you mean `steady`", problem["message"])


class Probes(AgentsCase):
    def test_a_probe_is_watched(self) -> None:
        answer = self.ask("/api/agents/plain/probe", {}).body
        answer = self.watch("probes", answer["id"], lambda probe: probe["doing"] is None)
        self.assertEqual([s["about"] for s in answer["steps"]], ["model", "start", "tools", "turn"])
        self.assertEqual(answer["tools"][0]["as_name"], "high_water")
        self.assertEqual(self.ask("/api/probes/none").status, 404)
        bad = {"overrides": {"modes": {"tides": "live"}}}
        self.assertEqual(self.ask("/api/agents/plain/probe", bad).status, 409)


class StandingAddresses(ServedAgents):
    """A service may connect before its first trial, as long as Ferox serves the workspace."""

    def setUp(self) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.standing = probe.getsockname()[1]
        super().setUp()

    def write(self, name: str, text: str) -> Path:
        path = super().write(name, text)
        if name == "ferox.yaml":
            path.write_text(f"{path.read_text()}defaults: {{standing_port: {self.standing}}}\n")
            agent = "ferox: 1\nagent: desk\nlink: chat\nurl: http://127.0.0.1:9/v1\nmodel: steady\n"
            super().write("agents/desk.yaml", agent)
        return path

    def test_the_tools_are_listed_between_trials(self) -> None:
        url = f"http://127.0.0.1:{self.standing}/a/desk/tides/mcp"

        async def listed() -> list[str]:
            async with Client(url) as client:
                return [t.name for t in (await client.list_tools()).tools]

        self.assertEqual(asyncio.run(listed()), ["high_water", "low_water"])
        self.server.terminate()
        self.assertEqual(self.server.wait(HANG_S), 0)


class Conversations(AgentsCase):
    def test_a_conversation_is_kept_as_a_trial(self) -> None:
        talk = self.until(self.begin(), "words")
        talk = self.do(talk, "say", {"text": "When is high water today?"})
        talk = self.until(talk, "words")
        kinds = [e["kind"] for e in talk["events"]]
        self.assertEqual(kinds, ["turn", "model", "call", "model", "reply"])
        self.assertEqual(len(self.ask("/api/conversations").body["conversations"]), 1)
        shown = self.ask(f"/api/trials/{talk['trial']}").body
        self.assertEqual(shown["run"]["state"], "running")
        self.do(talk, "hold-decision", {"do": "go"}, 409)
        self.do(talk, "end")
        found = self.until(talk, None)
        self.assertTrue(found["over"])
        shown = self.ask(f"/api/trials/{talk['trial']}").body
        self.assertEqual((shown["trial"]["state"], shown["run"]["state"]), ("done", "done"))
        self.assertEqual(self.ask("/api/conversations").body["conversations"], [])
        self.assertEqual(self.ask("/api/runs").body["runs"], [])

    def test_approvals_and_edits_by_hand(self) -> None:
        self.process_agent("asks")
        talk = self.until(self.begin("any"), "words")
        talk = self.do(talk, "say", {"text": "Book it."})
        talk = self.until(talk, "approval")
        self.assertEqual((talk["waits"]["tool"], talk["waits"]["args"]),
                         ("harbour/assign_berth", {"berth": "N1"}))  # fmt: skip
        talk = self.do(talk, "decide", {"approved": True, "args": {"berth": "N2"}})
        talk = self.until(talk, "words")
        ask = next(e for e in talk["events"] if e["kind"] == "ask")
        self.assertEqual((ask["decision"], ask["edited"]), ("approve", {"berth": "N2"}))

    def test_a_servers_question_is_answered_by_hand(self) -> None:
        self.write("servers/tides.yaml", ASKING)
        (self.root / "tasks/small.yaml").unlink()
        talk = self.until(self.begin(), "words")
        talk = self.do(talk, "say", {"text": "When is high water today?"})
        talk = self.until(talk, "question")
        self.assertEqual(talk["waits"]["message"], "At which gauge?")
        talk = self.do(talk, "answer", {"action": "accept", "content": {"gauge": "North"}})
        talk = self.until(talk, "words")
        kinds = {e["kind"]: e for e in talk["events"]}
        self.assertEqual(kinds["call"]["result"]["gauge"], "North")
        self.assertEqual(kinds["question"]["did"], "accept")

    def test_calls_are_held_and_another_model_thinks(self) -> None:
        talk = self.begin(hold={"when": "any"}, overrides={"models": {"*": "steady"}})
        talk = self.until(talk, "words")
        talk = self.do(talk, "say", {"text": "When is high water today?"})
        talk = self.until(talk, "held")
        self.assertEqual(talk["waits"]["tool"], "tides/high_water")
        self.do(talk, "hold", {"hold": None})
        talk = self.do(talk, "hold-decision", {"do": "answer", "value": {"high_water": "23:59"}})
        talk = self.until(talk, "words")
        self.assertIn("23:59", talk["events"][-1]["text"])

    def test_what_cannot_begin_is_reported(self) -> None:
        self.assertEqual(self.ask("/api/agents/nobody/conversations", {}).status, 409)
        self.process_agent("refuses")
        talk = self.begin("any")
        found = self.until(talk, None)
        self.assertEqual(found["events"][-1]["why"], "did_not_start")
        self.assertIn("no desk today", found["events"][-1]["reason"])


class Stopping(ServedAgents):
    def test_it_can_be_ended_in_the_middle_and_the_server_may_stop(self) -> None:
        self.process_agent("hangs")
        talk = self.until(self.begin("any"), "words")
        self.do(talk, "say", {"text": "Hello."})
        self.do(talk, "end")
        found = self.until(talk, None)
        self.assertEqual(found["events"][-1]["why"], "stopped")
        self.until(self.begin(), "words")
        self.server.terminate()
        self.assertEqual(self.server.wait(HANG_S), 0)


class HeldRuns(ServedAgents):
    def test_a_held_call_of_a_run_is_let_go(self) -> None:
        wanted = {"hold": {"when": "writes"}, "overrides": {"models": {"steady": "steady"}}}
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 1, "at_once": 1, **wanted}
        run = self.ask("/api/runs", body).body
        self.assertEqual((run["hold"]["when"], run["otherwise"]), ("writes", "steady for steady"))
        import urllib.request

        held: list[Any] = []
        with urllib.request.urlopen(
            f"{self.url}/api/watch/runs/{run['id']}", timeout=HANG_S
        ) as words:
            for line in words:
                if line.startswith(b"data: {") and (held := json.loads(line[6:])["held"]):
                    break
        self.assertEqual((held[0]["tool"], held[0]["args"]),
                         ("tides/high_water", {"day": "2031-03-14"}))  # fmt: skip
        answer = self.ask(f"/api/held/{held[0]['id']}", {"do": "go"})
        self.assertEqual(answer.body, {"held": []})
        self.assertEqual(self.ask(f"/api/held/{held[0]['id']}", {"do": "go"}).status, 409)
        answer = self.ask(f"/api/runs/{run['id']}/hold", {"hold": None})
        self.assertIsNone(answer.body["hold"])
        until(lambda: self.ask(f"/api/runs/{run['id']}/board").body["run"]["state"] == "done")
        trial = self.ask(f"/api/trials/{held[0]['trial']}").body
        self.assertIn("held", [r["kind"] for r in trial["remarks"]])
