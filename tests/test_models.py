"""Models behind the seam: streamed stand-ins, endpoints passed on to, several for one agent."""

from __future__ import annotations

import json
import threading
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import httpx2

from ferox.agents.links.link import AgentCrashed, AgentHooks, AgentSetup
from ferox.agents.links.plain import PlainLink
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.gateway.model_seam.chat_interface import AssembledChat
from ferox.runs.trial import TrialRun, TrialSurroundings
from tests.async_case import AsyncCase
from tests.test_gateway import opened
from tests.test_trial import PuppetLink, TrialCase
from tests.workspaces import know_secrets

KEY = "kelp-and-barnacle"
USER = {"role": "user", "content": "When is high water?"}
SAYS = {"choices": [{"index": 0, "message": {"role": "assistant", "content": "At 14:31."},
                     "finish_reason": "stop"}],
        "usage": {"prompt_tokens": 21, "completion_tokens": 5}}  # fmt: skip
FINISH = {"type": "function", "function": {
    "name": "final_answer", "description": "Gives the reply.",
    "parameters": {"type": "object", "properties": {"answer": {"type": "string"}},
                   "required": ["answer"]}}}  # fmt: skip


def chunk(delta: Any, finish: str | None = None) -> str:
    one = {"index": 0, "delta": delta, "finish_reason": finish}
    return f"data: {json.dumps({'choices': [one]})}\n\n"


STREAM = [
    chunk({"role": "assistant", "content": ""}),
    chunk({"content": "At "}),
    chunk({"content": "14:31."}),
    chunk({}, "stop"),
    'data: {"choices": [], "usage": {"prompt_tokens": 21, "completion_tokens": 5}}\n\n',
    "data: [DONE]\n\n",
]


@contextmanager
def endpoint(*answers: Any) -> Iterator[tuple[str, list[Any]]]:
    """An endpoint that gives these answers in turn: a body, a status with headers, or lines."""
    asked: list[Any] = []

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            body = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
            asked.append((self.path, self.headers.get("Authorization"), body))
            answer = answers[min(len(asked), len(answers)) - 1]
            status, headers, found = answer if isinstance(answer, tuple) else (200, {}, answer)
            streamed = isinstance(found, list)
            words = "".join(found) if streamed else json.dumps(found)
            self.send_response(status)
            kind = "text/event-stream" if streamed else "application/json"
            for name, value in {"Content-Type": kind, **headers}.items():
                self.send_header(name, value)
            self.send_header("Content-Length", str(len(words)))
            self.end_headers()
            self.wfile.write(words.encode())

        def log_message(self, *args: Any) -> None:
            return None

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_port}/v1", asked
    finally:
        server.shutdown()
        server.server_close()


class StandIns(AsyncCase):
    TOOL = {"type": "function", "function": {
        "name": "high_water", "description": "Times of high water on one day.",
        "parameters": {"type": "object", "properties": {"day": {"type": "string"}}}}}  # fmt: skip

    async def ask(self, seams: Any, **body: Any) -> Any:
        async with httpx2.AsyncClient() as http:
            url = f"{seams.addresses.main_model}/chat/completions"
            return await http.post(url, json={"model": "steady", "messages": [USER], **body})

    async def test_a_streamed_answer_is_the_plain_one_in_pieces(self) -> None:
        for tools in ([self.TOOL], []):
            async with opened() as seams:
                plain = (await self.ask(seams, tools=tools)).json()["choices"][0]
            async with opened() as seams:
                answer = await self.ask(
                    seams, tools=tools, stream=True, stream_options={"include_usage": True}
                )
            gathered = AssembledChat()
            for line in answer.text.splitlines():
                gathered.take_line(line)
            self.assertTrue(answer.text.endswith("data: [DONE]\n\n"))
            self.assertEqual(gathered.message["content"], plain["message"]["content"])
            self.assertEqual(gathered.finish, plain["finish_reason"])
            calls = [c["function"] for c in plain["message"].get("tool_calls", [])]
            self.assertEqual([c["function"] for c in gathered.message["tool_calls"]], calls)
            assert gathered.usage is not None
            self.assertGreater(gathered.usage["input"], 0)
            (event,) = seams.recorder.events
            self.assertEqual(len(event["proposed"]), len(calls))

    async def test_a_reply_may_have_to_be_a_call(self) -> None:
        other = {"role": "user", "content": "Paint my boat"}
        async with opened([]) as seams:
            answer = await self.ask(seams, messages=[other], tools=[FINISH], tool_choice="required")
        (call,) = answer.json()["choices"][0]["message"]["tool_calls"]
        self.assertEqual(call["function"]["name"], "final_answer")
        self.assertIn("no way to help", json.loads(call["function"]["arguments"])["answer"])
        (event,) = seams.recorder.events  # the reply is not a call of the agent's choosing
        self.assertIn("no way to help", event["text"] or "")


class Pieces(unittest.TestCase):
    def test_calls_are_put_together(self) -> None:
        gathered = AssembledChat()
        begun = {"index": 0, "id": "p1", "function": {"name": "high_water", "arguments": ""}}
        other = {"index": 1, "id": "p2", "function": {"name": "low_water", "arguments": "{}"}}
        for line in (
            chunk({"tool_calls": [begun]}),
            chunk({"tool_calls": [{"index": 0, "function": {"arguments": '{"day"'}}]}),
            chunk({"tool_calls": [other]}),
            chunk({"tool_calls": [{"index": 0, "function": {"arguments": ': "x"}'}}]}),
            ": a remark",
            "data: {oops",
            "data: [1]",
            chunk({}, "tool_calls"),
        ):
            gathered.take_line(line.strip())
        found = [(c["id"], c["function"]["arguments"]) for c in gathered.message["tool_calls"]]
        self.assertEqual(found, [("p1", '{"day": "x"}'), ("p2", "{}")])
        self.assertEqual(gathered.finish, "tool_calls")


class EndpointCase(TrialCase):
    def use(self, base: str) -> None:
        """Have the agent's model be this endpoint, with a key that is a secret."""
        text = f"""
            ferox: 1
            name: Skerrow test desk
            models:
              steady: {{base_url: "{base}", name: gull-9, api_key: {{secret: FEROX_TEST_KEY}}}}
        """
        self.write("ferox.yaml", text)
        know_secrets(self, FEROX_TEST_KEY=KEY)

    async def carried_out(self, link: Any = None) -> Any:
        async with Gateway().serve() as gateway:
            surroundings = TrialSurroundings(gateway=gateway, link=link or PlainLink())
            return await TrialRun(self.job(), surroundings).carry_out()

    def model_events(self, trace: Any) -> list[Any]:
        return [e for e in trace["events"] if e["kind"] == "model"]


class Endpoints(EndpointCase):
    async def test_a_request_is_passed_on_with_the_endpoint_s_own_name_and_key(self) -> None:
        with endpoint(SAYS) as (base, asked):
            self.use(base)
            trace = await self.carried_out()
        path, key, body = asked[0]
        self.assertEqual((path, key), ("/v1/chat/completions", f"Bearer {KEY}"))
        self.assertEqual(body["model"], "gull-9")
        (event,) = self.model_events(trace)
        self.assertEqual((event["text"], event["usage"]), ("At 14:31.", {"input": 21, "output": 5}))
        self.assertNotIn(KEY, json.dumps(trace))
        self.assertNotIn(KEY, str(self.job().snapshot.document()))
        self.assertEqual(trace["events"][-2]["text"], "At 14:31.")

    async def test_proposals_of_an_endpoint_are_joined_with_calls(self) -> None:
        function = {"name": "high_water", "arguments": '{"day": "2031-03-14"}'}
        call = {"id": "p9", "type": "function", "function": function}
        message = {"role": "assistant", "content": None, "tool_calls": [call]}
        proposes = {"choices": [{"message": message}]}
        with endpoint(proposes, SAYS) as (base, _):
            self.use(base)
            trace = await self.carried_out()
        made = next(e for e in trace["events"] if e["kind"] == "call")
        self.assertEqual((made["proposal"], made["args"]), ("p9", {"day": "2031-03-14"}))
        self.assertIsNone(self.model_events(trace)[0]["usage"])  # it told nothing

    async def test_a_stream_passes_as_it_is_and_is_noted_whole(self) -> None:
        passed: list[str] = []

        async def streams(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            body = {"model": "x", "messages": [USER], "stream": True}
            url = f"{setup.models['main']['base_url']}/chat/completions"
            async with httpx2.AsyncClient() as http, http.stream("POST", url, json=body) as answer:
                passed.append((await answer.aread()).decode())
            return "done"

        with endpoint(STREAM, STREAM[:2]) as (base, _):
            self.use(base)
            trace = await self.carried_out(PuppetLink(streams))
            broken = await self.carried_out(PuppetLink(streams))
        self.assertEqual(passed[0], "".join(STREAM))
        (event,) = self.model_events(trace)
        self.assertEqual((event["text"], event["usage"]), ("At 14:31.", {"input": 21, "output": 5}))
        self.assertLessEqual(event["first_s"], event["s"])
        (event,) = self.model_events(broken)
        self.assertEqual(event["error"]["kind"], "dropped")

    async def test_a_rate_limit_is_waited_out_and_said(self) -> None:
        with endpoint((429, {"Retry-After": "0.2"}, {"error": "slow down"}), SAYS) as (base, asked):
            self.use(base)
            trace = await self.carried_out()
        self.assertEqual(len(asked), 2)
        (event,) = self.model_events(trace)
        self.assertEqual(event["waited_s"], 0.2)
        with endpoint((429, {"Retry-After": "900"}, {"error": "slow down"})) as (base, asked):
            self.use(base)
            trace = await self.carried_out()
        self.assertEqual(self.model_events(trace)[0]["error"]["kind"], "status")
        self.assertEqual(len(asked), 1)

    async def test_an_error_is_passed_on_as_it_is(self) -> None:
        with endpoint((503, {}, {"error": {"message": "no crew"}})) as (base, _):
            self.use(base)
            trace = await self.carried_out()
        (event,) = self.model_events(trace)
        self.assertIn("HTTP 503", event["error"]["message"])
        self.assertEqual(trace["events"][-1]["why"], "crash")

    async def test_a_model_out_of_reach_is_never_the_agent_s_fault(self) -> None:
        self.use("http://127.0.0.1:9/v1")
        trace = await self.carried_out()
        end = trace["events"][-1]
        self.assertEqual(end["why"], "could_not_run")
        self.assertIn("the model at http://127.0.0.1:9/v1", end["reason"])
        suite = self.job().snapshot.suites["small"]
        self.assertEqual(
            score_trial(compile_script(suite, suite.tasks[0]), trace)["verdict"], "error"
        )

    async def test_a_key_that_is_not_set_is_reported(self) -> None:
        self.use("http://127.0.0.1:9/v1")
        know_secrets(self)
        trace = await self.carried_out()
        self.assertIn("FEROX_TEST_KEY, which is not set", trace["events"][-1]["reason"])

    async def test_several_models_for_one_agent(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: steady\nmodels: {planner: hasty}")

        async def both(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            async with httpx2.AsyncClient() as http:
                for name in ("main", "planner"):
                    model = setup.models[name]
                    body = {"model": model["name"], "messages": [USER]}
                    answer = await http.post(f"{model['base_url']}/chat/completions", json=body)
                    if answer.json()["model"] != model["name"]:
                        raise AgentCrashed(answer.text)
            return "done"

        trace = await self.carried_out(PuppetLink(both))
        voices = [e["voice"] for e in self.model_events(trace)]
        self.assertEqual(voices, ["main", "planner"])


class BadDays(EndpointCase):
    """Faults at the model seam, with a stand-in and with an endpoint."""

    def on(self, fault: str) -> None:
        self.add(f"    faults: [{fault}]\n")

    def proposing(self) -> Any:
        function = {"name": "high_water", "arguments": '{"day": "2031-03-14"}'}
        call = {"id": "p9", "type": "function", "function": function}
        message = {"role": "assistant", "content": None, "tool_calls": [call]}
        return {"choices": [{"index": 0, "message": message, "finish_reason": "tool_calls"}]}

    async def test_slow(self) -> None:
        self.on("{do: model_slow, call: 1, ms: 300}")
        first, second, *_ = self.model_events(await self.carried_out())
        self.assertGreaterEqual(first["s"], 0.3)
        self.assertEqual((first["fault"], first["fault_n"]), ("model_slow", 0))
        self.assertIsNone(second["fault"])

    async def test_status(self) -> None:
        self.on("{do: model_status, call: 2, status: 429, retry_after_s: 7}")
        trace = await self.carried_out()
        events = self.model_events(trace)
        self.assertEqual(events[1]["error"], {"kind": "status", "message": "HTTP 429"})
        self.assertEqual(trace["events"][-1]["why"], "crash")  # the plain loop asks once

    async def test_bad_arguments_are_no_json(self) -> None:
        self.on("{do: model_bad_arguments, call: 1}")
        trace = await self.carried_out()
        (proposal,) = self.model_events(trace)[0]["proposed"]
        self.assertIsInstance(proposal["args"], str)
        with self.assertRaises(ValueError):
            json.loads(proposal["args"])

    async def test_an_unknown_tool_stays_as_the_model_wrote_it(self) -> None:
        self.on("{do: model_unknown_tool, call: 1}")
        trace = await self.carried_out()
        (proposal,) = self.model_events(trace)[0]["proposed"]
        self.assertEqual(proposal["tool"], "high_water_at_once")

    async def test_cut_off(self) -> None:
        self.on("{do: model_cut_off, all: true}")
        with endpoint(SAYS) as (base, _):
            self.use(base)
            trace = await self.carried_out()
        (event,) = self.model_events(trace)
        self.assertEqual((event["text"], event["fault"]), ("At 1", "model_cut_off"))
        self.assertEqual(trace["events"][-2]["text"], "At 1")

    async def test_an_endpoint_s_answer_is_altered_too_streamed_or_not(self) -> None:
        heard: list[Any] = []

        async def asks(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            url = f"{setup.models['main']['base_url']}/chat/completions"
            async with httpx2.AsyncClient() as http:
                for stream in (False, True):
                    body = {"model": "x", "messages": [USER], "stream": stream}
                    heard.append((await http.post(url, json=body)).text)
            return "done"

        self.on("{do: model_unknown_tool, all: true}")
        with endpoint(self.proposing()) as (base, asked):
            self.use(base)
            trace = await self.carried_out(PuppetLink(asks))
        self.assertEqual([a[2].get("stream") for a in asked], [None, None])
        self.assertIn("high_water_at_once", heard[0])
        gathered = AssembledChat()
        for line in heard[1].splitlines():
            gathered.take_line(line)
        (call,) = gathered.message["tool_calls"]
        self.assertEqual(call["function"]["name"], "high_water_at_once")
        for event in self.model_events(trace):
            self.assertEqual(event["proposed"][0]["tool"], "high_water_at_once")

    async def test_faults_of_tools_and_of_models_count_apart(self) -> None:
        self.on("{do: slow, call: 1, ms: 1}, {do: model_slow, call: 2, ms: 1}")
        trace = await self.carried_out()
        calls = [e["fault"] for e in trace["events"] if e["kind"] == "call"]
        self.assertEqual(calls, ["slow"])
        self.assertEqual([e["fault"] for e in self.model_events(trace)], [None, "model_slow"])
        suite = self.job().snapshot.suites["small"]
        result = score_trial(compile_script(suite, suite.tasks[0]), trace)
        self.assertFalse([c for c in result["checks"] if c["id"].startswith("fault.")])
