"""Live servers that remember: prepared, restored, looked at before and after, one at a time."""

from __future__ import annotations

import asyncio
import json
import sys
import unittest
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

from mcp import Client
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.gateway.listening import listen_on
from ferox.runs.preparing import hold_servers, prepare_run, remembering_servers
from ferox.runs.snapshot import take_snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.workspace import load_workspace
from ferox.workspace.load import load_loosely
from tests.test_trial import PuppetLink, TrialCase
from tests.traces import checks, find, judged, script, trace, turn

BOOKED = {"type": "object", "properties": {"imo": {"type": "string"}}, "required": ["imo"]}
DOCUMENT: dict[str, Any] = {
    "openapi": "3.1.0",
    "paths": {
        "/bookings": {
            "get": {"operationId": "list_bookings"},
            "post": {"operationId": "book", "requestBody": {"required": True, "content": {
                "application/json": {"schema": BOOKED}}}},
            "delete": {"operationId": "clear"},
        }
    },
}  # fmt: skip
SUITE = """
    ferox: 1
    suite: small
    clock: "2031-03-14T06:30:00Z"
    servers: {register: live}
    tasks:
      - task: high
        say: Book N1 for 7.
        truth: [{as: seen, tool: register/list_bookings, when: both}]
        expect:
          state:
            - {server: register, path: "$.bookings[?@.imo == '7']", changed: true, count: 1}
            - {from: seen, path: "$.bookings[*].imo", changed: true, is: {matches: "^7$"}}
"""


class Register:
    """A live register that remembers its bookings."""

    def __init__(self) -> None:
        self.bookings: list[dict[str, str]] = [{"imo": "7", "of": "yesterday"}]
        self.done: list[str] = []
        self.at_once = self.most_at_once = 0

    async def answer(self, request: Request) -> Response:
        if request.url.path == "/":
            return Response("", 404)
        self.done.append(request.method)
        if request.method == "DELETE":
            self.bookings = []
        if request.method == "POST":
            self.at_once += 1
            self.most_at_once = max(self.at_once, self.most_at_once)
            await asyncio.sleep(0.02)
            self.at_once -= 1
            self.bookings.append({**(await request.json()), "of": "today"})
        return JSONResponse({"bookings": self.bookings})

    @asynccontextmanager
    async def listening(self) -> AsyncIterator[str]:
        routes = [Route("/{rest:path}", self.answer, methods=["GET", "POST", "DELETE"])]
        async with listen_on(Starlette(routes=routes), 0) as base:
            yield base


async def books(text: str, hooks: Any, setup: Any) -> str:
    async with Client(setup.servers["register"]) as client:
        await client.call_tool("book", {"imo": "7"})
    return "Booked."


async def does_nothing(text: str, hooks: Any, setup: Any) -> str:
    return "Booked."


class Remembering(TrialCase):
    def setUp(self) -> None:
        super().setUp()
        self.register = Register()
        self.write("tasks/small.yaml", SUITE)
        self.write("register.json", json.dumps(DOCUMENT))

    def serve(self, url: str, more: str = "state: {tool: list_bookings}") -> None:
        live = f"live: {{openapi: register.json, url: {url!r}}}"
        self.write("servers/register.yaml", f"ferox: 1\nserver: register\n{live}\n{more}\n")

    async def carried_out(self, say: Any = books) -> tuple[Any, Any]:
        job = self.job()
        async with Gateway().serve() as gateway:
            around = TrialSurroundings(gateway=gateway, link=PuppetLink(say), folder=self.root)
            made = await TrialRun(job, around).carry_out()
        suite = job.snapshot.suites["small"]
        return made, score_trial(compile_script(suite, suite.tasks[0]), made)

    async def test_leftovers_of_earlier_trials_pass_nothing(self) -> None:
        async with self.register.listening() as url:
            self.serve(url)
            made, result = await self.carried_out()
            self.assertEqual(result["verdict"], "pass", result["checks"])
            self.assertEqual(len(made["state_before"]["register"]["bookings"]), 1)
            self.assertEqual(len(made["state"]["register"]["bookings"]), 2)
            self.assertEqual(len(made["truth_before"]["seen"]["result"]["bookings"]), 1)
            _, idle = await self.carried_out(does_nothing)
        self.assertEqual(
            [c["passed"] for c in idle["checks"] if c["id"].startswith("state.")], [False, False]
        )

    async def test_prepared_and_restored_past_the_agent(self) -> None:
        code = "import sys; print('reset', sys.argv[1])"
        command = f"[{sys.executable}, -c, {code!r}, today]"
        more = f"prepare: [{{tool: clear}}, {{command: {command}}}]\nrestore: [{{tool: clear}}]"
        async with self.register.listening() as url:
            self.serve(url, f"state: {{tool: list_bookings}}\n{more}")
            seed = "prepare: [{tool: register/book, args: {imo: '{{ today }}'}}]"
            self.change("tasks/small.yaml", "servers:", f"{seed}\nservers:")
            made, result = await self.carried_out()
        self.assertEqual(result["verdict"], "pass", result["checks"])
        what = [step["what"] for step in made["prepared"]]
        self.assertEqual((what[0], what[2]), ("register/clear", "register/book"))
        self.assertEqual(made["prepared"][1]["result"], "reset today")
        before = made["state_before"]["register"]["bookings"]
        self.assertEqual([b["imo"] for b in before], ["2031-03-14"])
        self.assertEqual([s["what"] for s in made["restored"]], ["register/clear"])
        self.assertEqual(self.register.bookings, [])
        self.assertEqual([e["kind"] for e in made["events"]].count("call"), 1)

    async def test_a_step_that_fails_is_no_fault_of_the_agent(self) -> None:
        async with self.register.listening() as url:
            for step, words in (
                (f"{{command: [{sys.executable}, -c, 'raise SystemExit(3)']}}", "status 3"),
                ("{command: [no-such-program]}", "`no-such-program` was not found"),
                (f"{{command: [{sys.executable}, -c, 'import time; time.sleep(60)'], "
                 "within_s: 0.3}", "not done within 0.3 s"),
                ("{tool: book}", "imo"),
            ):  # fmt: skip
                self.serve(url, f"prepare: [{step}]\nrestore: [{{tool: clear}}]")
                with self.subTest(words):
                    made, result = await self.carried_out()
                    self.assertEqual(result["verdict"], "error")
                    self.assertIn(words, made["events"][-1]["reason"])
                    self.assertIn(words, made["prepared"][-1]["error"]["message"])
                    self.assertEqual([s["what"] for s in made["restored"]], ["register/clear"])

    async def test_a_failed_restoring_is_kept_and_judges_nobody(self) -> None:
        async with self.register.listening() as url:
            self.serve(url, "state: {tool: list_bookings}\nrestore: [{tool: book}, {tool: clear}]")
            made, result = await self.carried_out()
        self.assertEqual(result["verdict"], "pass")
        self.assertIsNotNone(made["restored"][0]["error"])
        self.assertIsNone(made["restored"][1]["error"])

    async def test_once_for_the_whole_run(self) -> None:
        more = "prepare: [{tool: clear, each: run}]\nrestore: [{tool: clear, each: run}]"
        async with self.register.listening() as url:
            self.serve(url, f"state: {{tool: list_bookings}}\n{more}")
            made, _ = await self.carried_out()
            self.assertNotIn("prepared", made)
            snapshot = self.job().snapshot
            suite = snapshot.suites["small"]
            done = await prepare_run(snapshot, suite, self.root, "prepare")
        self.assertEqual([(d["what"], d["error"]) for d in done], [("register/clear", None)])
        self.assertEqual(self.register.bookings, [])

    async def test_one_trial_at_a_time_unless_they_are_separate(self) -> None:
        self.serve("http://127.0.0.1:9")
        loaded = load_workspace(self.root)
        suite = loaded.suites["small"]
        self.assertEqual(remembering_servers(suite, loaded.servers), ["register"])
        self.serve("http://127.0.0.1:9", "state: {tool: list_bookings}\nseparate: true")
        separate = load_workspace(self.root)
        self.assertEqual(remembering_servers(suite, separate.servers), [])
        self.serve("http://127.0.0.1:9", "")
        plain = load_workspace(self.root)
        self.assertEqual(remembering_servers(suite, plain.servers), [])
        going = most = 0

        async def trial() -> None:
            nonlocal going, most
            async with hold_servers(self.root / ".ferox", ["register"]):
                going += 1
                most = max(most, going)
                await asyncio.sleep(0.05)
                going -= 1

        await asyncio.gather(trial(), trial(), trial())
        self.assertEqual(most, 1)

    def test_mistakes_are_told(self) -> None:
        for more, words in (
            ("prepare: [{tool: claer}]", "`claer`: no such tool; did you mean `clear`?"),
            ("prepare: [{tool: register/clear}]", "by its name alone"),
            ("prepare: [{}]", "either `tool` or `command`"),
            ("state: {tool: list}", "`list`: no such tool"),
            ("restore: [{tool: book, args: {imo: '{{ today'}}]", "unexpected end"),
        ):
            self.serve("http://127.0.0.1:9", more)
            problems = load_loosely(self.root)[1]
            with self.subTest(words):
                self.assertIn(words, "\n".join(p.message for p in problems))
        self.serve("http://127.0.0.1:9", "")
        self.change("tasks/small.yaml", "when: both", "when: after")
        problems = load_loosely(self.root)[1]
        self.assertIn("is looked up after only; say `when: both`", problems[0].message)

    def test_a_recording_says_which_truth_it_cannot_tell(self) -> None:
        header = {"ferox_recording": 1, "server": "register", "captured_at": "2031-03-14T06:00:00Z",
                  "protocol": "2025-11-25", "transport": "http"}  # fmt: skip
        self.write("recordings/r.jsonl", json.dumps(header) + "\n")
        self.write("servers/register.yaml", "ferox: 1\nserver: register\n"
                   "recording: recordings/r.jsonl\n")  # fmt: skip
        self.change("tasks/small.yaml", "register: live", "register: recorded")
        loaded, problems = load_loosely(self.root)
        words = "\n".join(p.message for p in [*problems, *loaded.notes])
        self.assertIn("a recording never changes", words)
        self.assertIn("holds no such call, so `seen` is not told", words)

    async def test_secrets_of_a_command_are_agreed_to_like_others(self) -> None:
        self.serve("http://127.0.0.1:9", "prepare: [{command: [reset], env: {K: {secret: KEY}}}]")
        snapshot = take_snapshot(load_workspace(self.root), ["small"], ["plain"])
        uses = [(use.secret, use.to) for use in snapshot.secret_uses()]
        self.assertEqual(uses, [("KEY", "the command reset")])


class Changed(unittest.TestCase):
    """What a trial changed, worked by hand."""

    BEFORE = {"bookings": [{"id": 1}, {"id": 2}, {"id": 2}]}
    AFTER = {"bookings": [{"id": 2}, {"id": 3}, {"id": 3}]}

    def looked_at(self, spec: dict[str, Any], **more: Any) -> Any:
        entry = {"server": "harbour", "path": "$.bookings[*].id", **spec}
        made = trace(turn(), state={"harbour": self.AFTER}, **more)
        return find(score_trial(script({"state": [entry]}), made), "state.0")

    def test_added_and_gone_count_each_copy(self) -> None:
        before = {"state_before": {"harbour": self.BEFORE}}
        for spec, wanted in (
            ({"changed": True, "count": 2}, True),
            ({"changed": True, "is": 3}, True),
            ({"changed": "gone", "count": 2}, True),  # 1, and one of the two 2
            ({"changed": "gone", "is": {"one_of": [1, 2]}}, True),
            ({"count": 3}, True),
            ({"changed": True, "count": 3}, False),
        ):
            with self.subTest(spec):
                self.assertIs(self.looked_at(spec, **before)["passed"], wanted)

    def test_without_a_look_before_nothing_is_said(self) -> None:
        check = self.looked_at({"changed": True, "count": 2})
        self.assertIsNone(check["passed"])
        self.assertIn("before the trial was not looked up", check["message"])

    def test_a_truth_that_could_not_be_looked_up_decides_nothing(self) -> None:
        truth = [{"as": "t", "tool": "harbour/list_berths"}]
        expect = {
            "calls": [{"as": "w", "tool": "tides/tide_window", "optional": True}],
            "state": [{"from": "t", "path": "$.x", "count": 1}],
            "answer": [{"mentions": {"from": "t", "path": "$.x"}}],
        }
        for kind, passed in (("protocol_error", None), ("timeout", None), ("tool_error", False)):
            value = {"t": {"result": None, "error": {"kind": kind, "message": "no"}}}
            made = trace(turn(), {"t": 1, "kind": "reply", "text": "Hm."}, truth=value)
            found = checks(score_trial(script(expect, truth=truth), made))
            with self.subTest(kind):
                self.assertIs(found["state.0"], passed)
                self.assertIs(found["answer.0"], passed)

    def test_an_unchanged_script_is_judged_as_before(self) -> None:
        entry = {"server": "harbour", "path": "$.x", "count": 1}
        self.assertIsNone(checks(judged({"state": [entry]}))["state.0"])
