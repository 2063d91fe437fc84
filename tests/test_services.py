"""Links to running services, each built with a real framework, and their standing addresses."""

from __future__ import annotations

import asyncio
import json
import shutil
import socket
import sys
from pathlib import Path
from typing import Any

import httpx2
from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from ferox.agents import standing_addresses as standing
from ferox.agents.links.link import AgentSetup
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.gateway.listening import listen_on
from ferox.making.connecting import CODE
from ferox.runs.linking import link_of
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.runs.standing_addresses import serve_standing_addresses
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.store.database import results_folder
from ferox.workspace import WorkspaceError, load_workspace
from tests.async_case import AsyncCase
from tests.endpoint import endpoint
from tests.workspaces import WorkspaceCase

ROOT = Path(__file__).resolve().parents[1]
OLD, NEW = (str(ROOT / f"demo/.venv-agents{end}/bin/python") for end in ("", "-mcp2"))
TWO_TURNS = """
    ferox: 1
    suite: small
    servers: {tides: mock}
    tasks:
      - task: high
        say: When is high water today?
        user: [{if_reply: {matches: "14:31"}, say: "And when is high water today, again?", at_most: 1}]
        expect:
          calls: [{as: high, tool: tides/high_water, args: {day: {day: today}}, times: {min: 1, max: 2}}]
          answer: [{mentions: "14:31"}]
          at_most: {turns: 2}
"""  # noqa: E501


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


class ServiceCase(WorkspaceCase, AsyncCase):
    def setUp(self) -> None:
        super().setUp()
        self.standing = free_port()
        with (self.root / "ferox.yaml").open("a") as file:
            file.write(f"defaults: {{standing_port: {self.standing}}}\n")
        self.write("tasks/small.yaml", TWO_TURNS)

    def agent(self, **fields: Any) -> Snapshot:
        document = {"ferox": 1, "agent": "desk", "model": "steady", "timeouts": {"start_s": 60}}
        self.write("agents/desk.yaml", json.dumps({**document, **fields}))
        return take_snapshot(load_workspace(self.root), ["small"], ["desk"])

    async def trials(self, snapshot: Snapshot, count: int = 2) -> list[Any]:
        """Trials one after another, by one link."""
        link = link_of(snapshot, "desk", self.root)
        script = compile_script(snapshot.suites["small"], snapshot.find_task("small", "high"))
        found = []
        async with Gateway().serve() as gateway, serve_standing_addresses(self.root, snapshot):
            try:
                for number in range(count):
                    job = TrialJob(snapshot, "small", "high", "desk", number + 1, 1)
                    async with link.hold_place():
                        surroundings = TrialSurroundings(gateway=gateway, link=link)
                        trace = await TrialRun(job, surroundings).carry_out()
                    found.append((trace, score_trial(script, trace)))
            finally:
                await link.shut_down()
        return found

    def well(self, found: list[Any]) -> None:
        for trace, result in found:
            self.assertEqual(result["verdict"], "pass", (result, trace["events"]))
            kinds = [e["kind"] for e in trace["events"]]
            self.assertEqual(kinds.count("turn"), 2)
            self.assertGreaterEqual(kinds.count("model"), 3)
            self.assertTrue(trace["model_seam"])


class RealServices(ServiceCase):
    def code(self, name: str) -> str:
        """A connection's code by itself: beside the others it would import them as frameworks."""
        shutil.copy(CODE / name, self.root / f"desk_{name}")
        return str(self.root / f"desk_{name}")

    async def test_a_chat_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}/v1"
        command = [NEW, "-u", self.code("chat.py"), str(port)]
        self.well(await self.trials(self.agent(link="chat", url=url, command=command)))
        snapshot = self.agent(link="chat", url=url, command=command, params={"stream": True})
        (one,) = await self.trials(snapshot, 1)
        self.well([one])
        partial = [e["text"] for e in one[0]["events"] if e["kind"] == "partial"]
        self.assertIn("14:31", partial[0])

    async def test_an_agent_that_is_a_tool_over_stdio(self) -> None:
        command = [OLD, "-u", self.code("tool.py")]
        (one,) = await self.trials(self.agent(link="tool", command=command), 1)
        self.well([one])
        partial = [e["text"] for e in one[0]["events"] if e["kind"] == "partial"]
        self.assertEqual(partial, ["Looking it up.", "Looking it up."])

    async def test_an_agent_that_is_a_tool_of_a_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}/mcp"
        command = [OLD, "-u", self.code("tool.py"), str(port)]
        self.well(await self.trials(self.agent(link="tool", url=url, command=command)))

    async def test_an_agent2agent_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}"
        command = [NEW, "-u", self.code("a2a.py"), str(port)]
        self.well(await self.trials(self.agent(link="a2a", url=url, command=command)))

    async def test_a_service_with_an_interface_of_its_own(self) -> None:
        port = free_port()
        command = [NEW, "-u", self.code("http.py"), str(port)]
        fields: dict[str, Any] = {"link": "http", "url": f"http://127.0.0.1:{port}"}
        whole = {
            "path": "/ask",
            "body": {"question": "{{ text }}", "thread": "{{ conversation }}"},
            "reply": "$.answer.text",
            "data": "$.answer",
        }
        found = await self.trials(self.agent(**fields, command=command, http=whole))
        self.well(found)
        replies = [e for e in found[0][0]["events"] if e["kind"] == "reply"]
        self.assertEqual(replies[0]["data"]["text"], replies[0]["text"])
        streamed = {
            "path": "/ask",
            "query": {"stream": "1"},
            "body": {"question": "{{ text }}", "thread": "{{ taken.thread }}"},
            "take": {"thread": "$.thread"},
            "reply": "$.piece",
            "stream": "sse",
        }
        (one,) = await self.trials(self.agent(**fields, command=command, http=streamed), 1)
        self.well([one])
        partial = [e["text"] for e in one[0]["events"] if e["kind"] == "partial"]
        self.assertIn("14:31", partial[0])


class PlainService(ServiceCase):
    """The http link, and a service that answers as it is asked to."""

    async def turn(self, http: dict[str, Any], words: str = "Hello?", **fields: Any) -> Any:
        """The trace of a trial of one turn, and what the service was sent."""
        self.write("tasks/small.yaml", TWO_TURNS.replace("When is high water today?", words, 1))
        self.sent = []

        async def answer(request: Request) -> Response:
            self.sent.append((request, await request.body()))
            if request.url.path == "/refuse":
                return Response("no such desk", 418)
            if request.url.path == "/text":
                return Response("Good evening.", media_type="text/plain")
            if request.url.path == "/large":
                return Response(b"x" * (17 << 20))
            if request.url.path == "/events":
                lines = ['data: "Good "', "", ": ping", "event: x", 'data: "evening."', "", ""]
                return Response("\n".join(lines), media_type="text/event-stream")
            return JSONResponse({"id": "s/7", "out": ["Good evening."], "meta": {"n": 1}})

        app = Starlette(routes=[Route("/{rest:path}", answer, methods=["GET", "POST"])])
        async with listen_on(app, 0) as base:
            snapshot = self.agent(link="http", url=base, model=None, http=http, **fields)
            ((trace, _),) = await self.trials(snapshot, 1)
        self.sent = self.sent[1:]  # the first only sees whether anything is there
        return trace

    def reply(self, trace: Any) -> Any:
        return next(e for e in trace["events"] if e["kind"] in ("reply", "end"))

    async def test_each_part_of_the_request_is_a_template(self) -> None:
        trace = await self.turn(
            {
                "path": "/threads/{{ trial }}/{{ conversation }}",
                "query": {"q": "{{ text }}", "n": "{{ params.n }}"},
                "headers": {"X-Said": "{{ text }}"},
                "body": {"words": "{{ text }}", "at": "{{ now }}", "depth": "{{ params.n }}"},
                "reply": "$.out[0]",
                "data": "$.meta",
            },
            words="Hello & bye",
            params={"n": 7},
        )
        (request, body), *_ = self.sent
        path = request.scope["raw_path"].decode()
        self.assertRegex(path, r"^/threads/small%2Fhigh%231/[0-9a-f]{32}$")
        self.assertEqual(dict(request.query_params), {"q": "Hello & bye", "n": "7"})
        self.assertEqual(request.headers["x-said"], "Hello & bye")
        expected = {"words": "Hello & bye", "at": "2031-03-14T06:30:00Z", "depth": 7}
        self.assertEqual(json.loads(body), expected)
        reply = self.reply(trace)
        self.assertEqual((reply["text"], reply["data"]), ("Good evening.", {"n": 1}))

    async def test_words_of_the_user_are_no_header_of_their_own(self) -> None:
        await self.turn({"headers": {"X-Said": "{{ text }}\r\nX-Evil: 1"}, "path": "/text"})
        (request, _), *_ = self.sent
        self.assertEqual(request.headers["x-said"], "Hello? X-Evil: 1")
        self.assertNotIn("x-evil", request.headers)

    async def test_a_text_and_a_stream_without_json_paths(self) -> None:
        said = {"body": "{{ text }}"}
        trace = await self.turn({**said, "path": "/text"})
        self.assertEqual(self.reply(trace)["text"], "Good evening.")
        self.assertEqual(self.sent[0][1], b"Hello?")
        trace = await self.turn({**said, "path": "/events", "stream": "sse", "reply": "$"})
        self.assertEqual(self.reply(trace)["text"], "Good evening.")

    async def test_what_goes_wrong_is_said(self) -> None:
        said: dict[str, Any] = {"body": {"q": "{{ text }}"}}
        for http, words in (
            ({**said, "path": "/refuse"}, "/refuse answered HTTP 418: no such desk"),
            ({**said, "path": "/text", "reply": "$.x"}, "answered no JSON"),
            ({**said, "reply": "$.answer"}, "nothing at $.answer in its answer"),
            ({**said, "path": "/large"}, "larger than 16 MB"),
            ({"body": {"q": "{{ text }}", "n": "{{ params.m.n }}"}}, "`http` of the agent's file"),
        ):
            with self.subTest(words):
                trace = await self.turn(http)
                end = trace["events"][-1]
                self.assertEqual(end["why"], "crash")
                self.assertIn(words, end["reason"])

    async def test_nothing_is_said_to_be_simulated_where_the_agent_thinks_elsewhere(self) -> None:
        trace = await self.turn({"path": "/text", "body": "{{ text }}"})
        self.assertFalse(trace["model_seam"])
        snapshot = self.agent(link="http", url="http://x", model=None, http={"body": "{{ text }}"})
        self.assertFalse(snapshot.is_simulated("desk"))

    def test_its_file_is_checked(self) -> None:
        for http, words in (
            (None, "`http` is missing"),
            ({"body": "hello"}, "nothing sends the user's words"),
            ({"body": "{{ txet }}"}, "`txet` is not known here; did you mean `text`?"),
            ({"body": "{{ text"}, "unexpected end of template"),
            ({"path": "ask", "body": "{{ text }}"}, "must begin with /"),
            ({"method": "GET", "body": "{{ text }}"}, "a GET has no body"),
            ({"body": "{{ text }}", "reply": "$["}, "is not a JSONPath"),
            ({"body": "{{ text }}", "take": {"a": "x"}}, "is not a JSONPath"),
        ):
            with self.subTest(words), self.assertRaises(WorkspaceError) as caught:
                fields = {} if http is None else {"http": http}
                self.agent(link="http", url="http://x", **fields)
            self.assertIn(words, str(caught.exception.problems))


class StandingProcess(ServiceCase):
    """A process agent that finds the servers at addresses that it was told once."""

    async def test_it_is_told_them_at_its_start_and_takes_one_trial_at_a_time(self) -> None:
        code = """
            import json, os, sys, urllib.request
            SEAMS = json.loads(os.environ["FEROX_SEAMS"])
            def ask(op, **more):
                print(json.dumps({"op": op, **more}), flush=True)
            for line in sys.stdin:
                message = json.loads(line)
                if message["op"] == "open":
                    ask("ready")
                elif message["op"] == "turn":
                    body = {"jsonrpc": "2.0", "id": 1, "method": "tools/call", "params": {
                        "name": "high_water", "arguments": {"day": "2031-03-14"}}}
                    headers = {"Content-Type": "application/json", "MCP-Protocol-Version":
                               "2025-11-25", "Accept": "application/json, text/event-stream"}
                    init = {"jsonrpc": "2.0", "id": 0, "method": "initialize", "params": {
                        "protocolVersion": "2025-11-25", "capabilities": {},
                        "clientInfo": {"name": "desk", "version": "1"}}}
                    url = SEAMS["servers"]["tides"]
                    for sent in (init, body):
                        request = urllib.request.Request(url, json.dumps(sent).encode(), headers)
                        with urllib.request.urlopen(request) as answer:
                            session = answer.headers.get("mcp-session-id")
                            said = answer.read().decode()
                        headers = {**headers, **({"Mcp-Session-Id": session} if session else {})}
                    ask("reply", text="High water is at 14:31." if "14:31" in said else said)
                elif message["op"] == "close":
                    ask("closed")
        """
        self.write("desk.py", code)
        snapshot = self.agent(
            link="process", command=[sys.executable, "desk.py"], standing=True, model=None
        )
        found = await self.trials(snapshot)
        for trace, result in found:
            calls = [e for e in trace["events"] if e["kind"] == "call"]
            self.assertEqual([c["tool"] for c in calls][:1], ["tides/high_water"], trace["events"])
            self.assertEqual(result["verdict"], "pass")
            self.assertFalse(trace["model_seam"])

    async def test_a_python_agent_is_told_them_too(self) -> None:
        code = """
            import json, os
            from contextlib import asynccontextmanager

            @asynccontextmanager
            async def open_desk(trial):
                async def say(text):
                    return json.loads(os.environ["FEROX_SEAMS"])["servers"]["tides"]
                yield say
        """
        self.write("desk.py", code)
        snapshot = self.agent(
            link="python", python=sys.executable, entry="desk.py:open_desk", standing=True
        )
        ((trace, _),) = await self.trials(snapshot, 1)
        (reply,) = [e["text"] for e in trace["events"] if e["kind"] == "reply"]
        self.assertEqual(reply, f"http://127.0.0.1:{self.standing}/a/desk/tides/mcp")

    def test_standing_is_for_processes(self) -> None:
        with self.assertRaises(WorkspaceError) as caught:
            self.agent(link="plain", standing=True)
        self.assertIn("`standing` is for python and process", str(caught.exception.problems))


class NotThere(ServiceCase):
    async def end(self, **fields: Any) -> str:
        ((trace, result),) = await self.trials(self.agent(**fields), 1)
        self.assertEqual(result["verdict"], "fail")
        return str(trace["events"][-1]["reason"])

    async def test_each_way_of_not_starting(self) -> None:
        dead = f"http://127.0.0.1:{free_port()}"
        for link in ("chat", "a2a"):
            self.assertIn(f"nothing listens at {dead}", await self.end(link=link, url=dead))
        self.assertIn("nothing listens", await self.end(link="tool", url=f"{dead}/mcp"))
        found = await self.end(link="chat", url=dead, command=[NEW, "-c", "print('no desk')"])
        self.assertIn("it ended; its log ends: no desk", found)
        found = await self.end(
            link="chat", url=dead, command=[NEW, "-c", "import time; time.sleep(60)"],
            timeouts={"start_s": 1},
        )  # fmt: skip
        self.assertIn("not within 1 s", found)
        found = await self.end(link="tool", command=[NEW, "-c", "1"])
        self.assertIn("ended", found)
        headers = {"Authorization": {"secret": "FEROX_TEST_UNSET"}}
        self.assertIn("FEROX_TEST_UNSET", await self.end(link="chat", url=dead, headers=headers))
        async with serve_standing_addresses(self.root, self.agent(link="chat", url=dead)):
            door = f"http://127.0.0.1:{self.standing}"  # something that is not an agent
            self.assertIn("no agent card", await self.end(link="a2a", url=door))
            found = await self.end(link="chat", url=door)
            self.assertIn("`url` must be what stands before /chat/completions", found)

    def test_the_files_are_checked(self) -> None:
        for fields, words in (
            ({"link": "chat"}, "the chat link needs the service's address"),
            ({"link": "tool"}, "needs `url` or `command`"),
            ({"link": "a2a", "url": "desk"}, "is not a valid address"),
            ({"link": "plain", "model": None}, "`model` is missing"),
            ({"link": "chat", "url": "http://x", "model": None, "models": {"a": "steady"}},
             "needs a `model` too"),
        ):  # fmt: skip
            with self.assertRaises(WorkspaceError) as caught:
                self.agent(**fields)
            self.assertIn(words, str(caught.exception.problems))


class Standing(ServiceCase):
    """The door, between trials and in one."""

    def setUp(self) -> None:
        super().setUp()
        self.snapshot = self.agent(link="chat", url="http://127.0.0.1:9", offer={"tides": "all"})
        self.url = f"http://127.0.0.1:{self.standing}/a/desk"

    async def test_between_trials_tools_are_listed_and_calls_refused(self) -> None:
        async with serve_standing_addresses(self.root, self.snapshot), httpx2.AsyncClient() as http:
            async with Client(streamable_http_client(f"{self.url}/tides/mcp")) as client:
                names = [t.name for t in (await client.list_tools()).tools]
                self.assertEqual(names, ["high_water", "low_water"])
                with self.assertRaisesRegex(MCPError, "no trial is going on"):
                    await client.call_tool("high_water", {"day": "2031-03-14"})
            answer = await http.post(f"{self.url}/model/v1/chat/completions", json={})
            self.assertEqual(answer.status_code, 503)
            for path in ("/a/desk/harbour/mcp", "/a/other/tides/mcp", "/x"):
                answer = await http.post(f"http://127.0.0.1:{self.standing}{path}", json={})
                self.assertEqual(answer.status_code, 404, path)
            headers = {"Host": "evil.example"}
            answer = await http.post(f"{self.url}/tides/mcp", json={}, headers=headers)
            self.assertEqual(answer.status_code, 403)

    async def test_a_second_process_takes_over_when_the_first_ends(self) -> None:
        async with serve_standing_addresses(self.root, self.snapshot):
            first = serve_standing_addresses(self.root, self.snapshot)
            async with first:
                pass
            async with httpx2.AsyncClient() as http:
                answer = await http.get(f"{self.url}/model/v1/models")
        self.assertEqual(answer.status_code, 503)

    async def test_one_trial_at_a_time_holds_an_agent(self) -> None:
        place, order = results_folder(self.root), []

        async def trial(name: str) -> None:
            async with standing.hold_addresses(place, "desk"):
                order.append(f"{name} in")
                await asyncio.sleep(0.2)
                order.append(f"{name} out")

        await asyncio.gather(trial("one"), trial("two"))
        self.assertEqual([step.split()[1] for step in order], ["in", "out", "in", "out"])

    def test_a_holder_whose_process_is_gone_holds_nothing(self) -> None:
        place = results_folder(self.root)
        setup = AgentSetup("t", "", {"tides": "http://x"}, {"main": {"base_url": "http://y"}}, "")
        standing.point_addresses(place, "desk", setup)
        found = standing.address_holder(place, "desk")
        assert found is not None
        self.assertEqual((found.servers, found.models), (setup.servers, {"main": "http://y"}))
        path = place / "standing/desk.json"
        path.write_text(path.read_text().replace(str(found.pid), "4194304"))
        self.assertIsNone(standing.address_holder(place, "desk"))
        standing.release_addresses(place, "desk")
        self.assertIsNone(standing.address_holder(place, "desk"))

    async def test_an_agent_whose_model_is_not_seen_is_scored_all_the_same(self) -> None:
        with endpoint([{"content": "High water is at 14:31."}]) as (url, asked):
            snapshot = self.agent(link="chat", url=url, model=None, instructions="Be brief.")
            ((trace, result),) = await self.trials(snapshot, 1)
        self.assertFalse(trace["model_seam"])
        self.assertEqual(result["missing"], [{"name": "high", "why": "not_seen"}])
        self.assertIsNone(result["tokens"])
        self.assertEqual(asked[0]["messages"][0], {"role": "system", "content": "Be brief."})
        self.assertEqual(
            [m["role"] for m in asked[1]["messages"]][1:], ["user", "assistant", "user"]
        )
