"""Probing an agent and its model: each way in which it can go wrong, and what to try next."""

from __future__ import annotations

import asyncio
import json
import threading
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from click.testing import CliRunner

from ferox.cli.main import main
from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.model_check import Finding, look_at_model
from ferox.runs.overrides import Overrides
from ferox.runs.probe import WORDS, Probe
from ferox.runs.trial_by_hand import snapshot_by_hand
from ferox.workspace import load_workspace
from tests.workspaces import WorkspaceCase, know_secrets

CALLS = {"message": {"content": None, "tool_calls": [
    {"id": "1", "function": {"name": "say_ready", "arguments": "{}"}}]}}  # fmt: skip
SAYS = {"message": {"content": "Ready."}}


@contextmanager
def model(
    listed: Any, *answers: Any, key: str | None = None
) -> Iterator[tuple[str, list[dict[str, Any]]]]:
    """An endpoint: what `GET models` gives (a status, or entries), then its answers in turn."""
    asked: list[dict[str, Any]] = []

    class Handler(BaseHTTPRequestHandler):
        def answer(self, status: int, body: Any) -> None:
            found = json.dumps(body).encode()
            self.send_response(status)
            self.send_header("Content-Length", str(len(found)))
            self.end_headers()
            self.wfile.write(found)

        def do_GET(self) -> None:
            if key and self.headers.get("Authorization") != f"Bearer {key}":
                self.answer(401, {})
            elif isinstance(listed, int):
                self.answer(listed, {})
            else:
                self.answer(200, {"data": listed})

        def do_POST(self) -> None:
            asked.append(json.loads(self.rfile.read(int(self.headers["Content-Length"]))))
            given = answers[min(len(asked), len(answers)) - 1]
            status, body = given if isinstance(given, tuple) else (200, given)
            self.answer(status, body)

        def log_message(self, *args: Any) -> None:
            return None

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_port}/v1", asked
    finally:
        server.shutdown()
        server.server_close()


class Models(unittest.TestCase):
    def look(self, base: str, **fields: Any) -> list[tuple[bool | None, str]]:
        source = ModelSource.model_validate({"base_url": base, "name": "big", **fields})

        async def look() -> list[Finding]:
            return [finding async for finding in look_at_model("m", source)]

        return [(f.ok, f"{f.message}; {f.advice}") for f in asyncio.run(look())]

    def test_one_that_is_well(self) -> None:
        entry = {"id": "big", "context_length": 32768}
        with model([entry], {"choices": [CALLS]}) as (base, asked):
            found = self.look(base)
        self.assertEqual([ok for ok, _ in found], [True, True, True])
        self.assertIn("it says that it reads 32,768 tokens", found[2][1])
        self.assertEqual(len(asked), 1)

    def test_one_that_does_not_list_itself_and_reads_little(self) -> None:
        cut = {"choices": [SAYS], "usage": {"prompt_tokens": 512, "completion_tokens": 1}}
        with model([{"id": "small"}], {"choices": [SAYS]}, cut) as (base, asked):
            found = self.look(base)
        self.assertEqual([ok for ok, _ in found], [None, None, None])
        self.assertIn("does not list `big`; it lists small", found[0][1])
        self.assertIn("did not call it when it was asked to", found[1][1])
        self.assertIn("of about 4,000 tokens it read 512; raise its context window", found[2][1])
        self.assertGreater(len(asked[1]["messages"][0]["content"]), 10_000)

    def test_no_list_no_tools(self) -> None:
        refused = (400, {"error": {"message": "big does not support tools"}})
        with model(404, refused) as (base, _):
            found = self.look(base)
        self.assertEqual([ok for ok, _ in found], [None, False])
        self.assertIn("HTTP 400", found[1][1])
        self.assertIn("choose a model that takes tools", found[1][1])

    def test_a_long_request_that_is_refused_or_not_counted(self) -> None:
        long = (400, {"error": "maximum context length is 2048"})
        for last, words in ((long, "too many for it"), ({"choices": [SAYS]}, "does not say how")):
            with model([{"id": "big"}], {"choices": [CALLS]}, last) as (base, _):
                found = self.look(base)
            self.assertEqual(found[-1][0], None)
            self.assertIn(words, found[-1][1])

    def test_what_is_no_model(self) -> None:
        with model([{"id": "big"}], {"hello": 1}) as (base, _):
            self.assertIn("is not a chat completion", self.look(base)[-1][1])
        ((ok, found),) = self.look("http://127.0.0.1:9/v1")
        self.assertFalse(ok)
        self.assertIn("nothing listens at http://127.0.0.1:9/v1; start it", found)

    def test_its_key(self) -> None:
        with model([{"id": "big"}], {"choices": [CALLS]}, key="right") as (base, _):
            ((ok, found),) = self.look(base, api_key="wrong")
            self.assertIn("does not take the key; correct its `api_key`", found)
            ((ok, found),) = self.look(base, api_key={"secret": "FEROX_TEST_UNSET"})
            self.assertIn("FEROX_TEST_UNSET", found)
            know_secrets(self, FEROX_TEST_KEY="right")
            self.assertTrue(self.look(base, api_key={"secret": "FEROX_TEST_KEY"})[0][0])
        self.assertFalse(ok)


class Agents(WorkspaceCase):
    def probe(self, agent: str) -> Probe:
        loaded = load_workspace(self.root)
        probe = Probe(snapshot_by_hand(loaded, agent, Overrides()), agent, loaded.root)
        asyncio.run(probe.carry_out())
        return probe

    def test_one_that_is_well(self) -> None:
        probe = self.probe("plain")
        self.assertEqual([s.about for s in probe.steps], ["model", "start", "tools", "turn"])
        self.assertTrue(all(s.ok for s in probe.steps))
        self.assertEqual(
            [(t.address, t.as_name) for t in probe.tools],
            [("tides/high_water", "high_water"), ("tides/low_water", "low_water")],
        )
        self.assertEqual(probe.reply, "I have no way to help with that.")
        self.assertIsNone(probe.doing)

    def test_no_tool_is_called_whatever_it_does(self) -> None:
        self.change("stand_ins/desk.yaml", "when is high water today", json.dumps(WORDS))
        probe = self.probe("plain")
        self.assertTrue(all(s.ok for s in probe.steps), probe.steps)

    def test_each_way_of_failing_to_start_says_what_to_try(self) -> None:
        head = "from contextlib import asynccontextmanager\nimport os\n"
        for code, fields, words, then in (
            ("import no_such_module_here", {}, "no_such_module_here' (coded.py, line 1)",
             "pip install …"),
            ("x = 1\ndef open_disk(trial): pass", {}, "has no `open_desk`",
             "it has open_disk; did you mean `open_disk`"),
            ("def open_desk(:", {}, "SyntaxError", "correct the line"),
            (f"{head}x = os.environ['DESK_KEY']", {}, "DESK_KEY",
             "env: {DESK_KEY: {secret: DESK_KEY}}"),
            ("async def open_desk(trial): pass", {}, "`open_desk` lacks `yield`",
             "@asynccontextmanager"),
            (f"{head}@asynccontextmanager\nasync def open_desk(trial): pass", {},
             "`open_desk` lacks `yield`", "`yield` the function"),
            ("async def open_desk(trial): yield 1", {}, "lacks `@asynccontextmanager`",
             "put @asynccontextmanager before it"),
            (f"{head}@asynccontextmanager\nasync def open_desk(x):\n    if x is None: yield", {},
             "didn't yield", "`yield` the function"),
            ("def open_desk(trial): return 7", {}, "gives a int", "async context manager"),
            ("x = 1", {"python": "nowhere/python"}, "interpreter", "-m venv"),
            ("import time\ntime.sleep(9)", {"timeouts": "{start_s: 1}"}, "not loaded within",
             "if its log stands still"),
            ("import os\nos._exit(3)", {}, "ended with status 3", "start it by hand"),
            ("import socket\nsocket.create_connection(('127.0.0.1', 9))", {}, "refused",
             "trial.servers"),
        ):  # fmt: skip
            with self.subTest(words):
                self.python_agent(code, **fields)
                probe = self.probe("coded")
                step = probe.steps[-1]
                self.assertEqual((step.about, step.ok), ("start", False), probe.steps)
                self.assertIn(words, step.message)
                self.assertIn(then, step.advice)

    def test_a_turn_that_fails_and_one_that_is_empty(self) -> None:
        for body, ok, words in (
            ("raise RuntimeError('no tide')", False, "it gave no reply: RuntimeError: no tide"),
            ("return ''", None, "its reply was empty"),
        ):
            self.python_agent(
                "from contextlib import asynccontextmanager\n"
                "@asynccontextmanager\nasync def open_desk(trial):\n"
                f"    async def say(text):\n        print('log'); {body}\n"
                "    yield say\n"
            )
            probe = self.probe("coded")
            self.assertEqual((probe.steps[-1].ok, probe.steps[-1].message[:39]), (ok, words[:39]))
            self.assertIn("never_listed", [r.kind for r in probe.remarks])
            self.assertIn("model_not_seen" if ok is None else "never_listed",
                          [r.kind for r in probe.remarks])  # fmt: skip
            self.assertIn("log", probe.log)

    def test_it_goes_on_past_a_server_out_of_reach(self) -> None:
        self.write("servers/gone.yaml",
                   "ferox: 1\nserver: gone\nlive: {url: 'http://127.0.0.1:9/mcp'}\n")  # fmt: skip
        steps = {s.about: s for s in self.probe("plain").steps}
        self.assertFalse(steps["server gone"].ok)
        self.assertIn("nothing listens", steps["server gone"].message)
        self.assertIn("it is offered 2 tools, and its model saw 2", steps["tools"].message)
        self.assertTrue(steps["turn"].ok)

    def test_a_reply_that_is_no_text_is_a_fault(self) -> None:
        self.python_agent(
            "from contextlib import asynccontextmanager\n"
            "@asynccontextmanager\nasync def open_desk(trial):\n"
            "    async def say(text): return {'ready': True}\n    yield say\n"
        )
        step = self.probe("coded").steps[-1]
        self.assertEqual((step.ok, step.message), (False, "its reply was not text but a dict"))

    def test_of_a_model_that_is_not_seen_it_says_one_line(self) -> None:
        self.python_agent(
            "from contextlib import asynccontextmanager\n"
            "@asynccontextmanager\nasync def open_desk(trial):\n"
            "    async def say(text): return 'Ready.'\n    yield say\n"
        )
        probe = self.probe("coded")
        self.assertEqual(probe.tools, [])
        text = next(s.message for s in probe.steps if s.about == "tools")
        self.assertIn("its model's requests do not pass Ferox: not seen", text)

    def test_a_way_of_replying_is_suggested(self) -> None:
        code = (
            "import asyncio, json, urllib.request\n"
            "from contextlib import asynccontextmanager\n"
            "TOOL = {'type': 'function', 'function': {'name': 'final_answer', 'parameters':"
            " {'type': 'object', 'properties': {'answer': {'type': 'string'}},"
            " 'required': ['answer']}}}\n"
            "def ask(trial, text):\n"
            "    main = trial.models['main']\n"
            "    body = {'model': 'm', 'messages': [{'role': 'user', 'content': text}],"
            " 'tools': [TOOL], 'tool_choice': 'required'}\n"
            "    request = urllib.request.Request(main['base_url'] + '/chat/completions',"
            " json.dumps(body).encode(), {'Content-Type': 'application/json'})\n"
            "    told = json.load(urllib.request.urlopen(request))\n"
            "    call = told['choices'][0]['message']['tool_calls'][0]\n"
            "    return json.loads(call['function']['arguments'])['answer']\n"
            "@asynccontextmanager\nasync def open_desk(trial):\n"
            "    async def say(text): return await asyncio.to_thread(ask, trial, text)\n"
            "    yield say\n"
        )
        self.python_agent(code)
        step = next(s for s in self.probe("coded").steps if s.about == "reply")
        self.assertEqual(step.message, "it replies by its tool final_answer")
        self.assertIn("write `reply_tools: [final_answer]` in its file", step.advice)
        self.python_agent(code, reply_tools="[final_answer]")
        step = next(s for s in self.probe("coded").steps if s.about == "reply")
        self.assertEqual(step.advice, "")

    def test_the_command(self) -> None:
        def ask(agent: str) -> tuple[int, str]:
            done = CliRunner().invoke(main, ["probe", str(self.root), agent])
            return done.exit_code, done.stdout + done.stderr

        status, found = ask("plain")
        self.assertEqual(status, 0, found)
        self.assertIn("tools: it is offered 2 tools, and its model saw 2", found)
        self.python_agent("import no_such_module_here")
        status, found = ask("coded")
        self.assertEqual(status, 1)
        self.assertIn("next: install what holds", found)
        self.assertEqual(ask("nobody")[0], 2)
