"""A live HTTP interface as a tool server: served, called, captured, replayed, drifted, mocked."""

from __future__ import annotations

import json
import unittest
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from mcp import Client
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route

from ferox.core.openapi import OpenApiError, operations_of
from ferox.core.openapi_requests import request_of
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.server import Reach
from ferox.gateway.gateway import Gateway
from ferox.gateway.listening import listen_on
from ferox.making.from_openapi import from_openapi
from ferox.recordings.recording import read_recording
from ferox.runs.captures import Captures
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_seams import SeamTaps
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.drift import find_drift
from ferox.workspace import load_workspace
from ferox.workspace.problems import WorkspaceError
from tests.async_case import AsyncCase
from tests.test_trial import PuppetLink, TrialCase
from tests.workspaces import WorkspaceCase, know_secrets

DOCUMENT: dict[str, Any] = {
    "openapi": "3.1.0",
    "info": {"title": "Tide tables", "version": "1"},
    "paths": {
        "/stations/{station}/high": {
            "get": {
                "operationId": "high_water",
                "summary": "Times of high water",
                "parameters": [
                    {"name": "station", "in": "path", "required": True,
                     "schema": {"type": "string"}},
                    {"name": "day", "in": "query", "schema": {"type": "string"}},
                    {"name": "kinds", "in": "query",
                     "schema": {"type": "array", "items": {"type": "string"}}},
                    {"name": "X-Trace", "in": "header", "required": True,
                     "schema": {"type": "string"}},
                ],
                "responses": {"200": {"description": "ok", "content": {"application/json": {
                    "schema": {"type": "object", "properties": {"at": {"type": "string"}},
                               "required": ["at"]}}}}},
            }
        },
        "/bookings": {
            "post": {
                "operationId": "book",
                "requestBody": {"required": True, "content": {"application/json": {"schema": {
                    "type": "object", "properties": {"berth": {"type": "string"}},
                    "required": ["berth"]}}}},
                "responses": {"201": {"description": "made"}},
            }
        },
    },
}  # fmt: skip


class Interface:
    """The interface itself; what it was sent, and what it answers."""

    def __init__(self) -> None:
        self.sent: list[tuple[str, str, dict[str, str], bytes]] = []
        self.high: Any = {"at": "14:31"}
        self.document = json.dumps(DOCUMENT)

    async def answer(self, request: Request) -> Response:
        path = request.scope["raw_path"].decode()
        if path == "/openapi.json":
            return PlainTextResponse(self.document)
        if path == "/":
            return PlainTextResponse("nothing here", 404)
        target = f"{path}?{request.url.query}" if request.url.query else path
        self.sent.append((request.method, target, dict(request.headers), await request.body()))
        if path == "/bookings":
            body = json.loads(self.sent[-1][3])
            if body["berth"] == "N9":
                return JSONResponse({"why": "no such berth"}, 422)
            return JSONResponse({"booking": "BK1"}, 201)
        return JSONResponse(self.high)

    @asynccontextmanager
    async def listening(self) -> AsyncIterator[str]:
        routes = [Route("/{rest:path}", self.answer, methods=["GET", "POST"])]
        async with listen_on(Starlette(routes=routes), 0) as base:
            yield base


async def looks_up(text: str, hooks: Any, setup: Any) -> str:
    async with Client(setup.servers["tides"]) as client:
        args = {"station": "north quay/1", "day": "2031-03-14"}
        found: Any = await client.call_tool("high_water", args)
    return f"High water is at {found.structured_content['at']}."


class InTrials(TrialCase):
    def serve(self, url: str, openapi: str = "tides.json", **more: str) -> None:
        self.write("tides.json", json.dumps(DOCUMENT))
        extra = "".join(f", {key}: {value}" for key, value in more.items())
        live = f"live: {{openapi: {openapi!r}, url: {url!r}{extra}}}"
        path = self.root / "servers/tides.yaml"
        path.write_text(path.read_text().replace("mock:", f"{live}\nmock:", 1))

    async def carried_out(self, mode: str) -> Any:
        """The trace of a trial, its messages captured if the server is live."""
        text = (self.root / "tasks/small.yaml").read_text()
        before = next(m for m in ("mock", "live", "recorded") if f"tides: {m}}}" in text)
        self.change("tasks/small.yaml", f"tides: {before}}}", f"tides: {mode}}}")
        job = self.job()
        captures = Captures(self.root, 1, job.snapshot)
        taps = SeamTaps(capture=lambda server: captures.line_listener(server, mode))
        async with Gateway().serve() as gateway:
            around = TrialSurroundings(
                gateway=gateway,
                link=PuppetLink(looks_up),
                folder=self.root,
                taps=taps if mode == "live" else SeamTaps(),
            )
            trace = await TrialRun(job, around).carry_out()
        captures.close()
        suite = job.snapshot.suites["small"]
        result = score_trial(compile_script(suite, suite.tasks[0]), trace)
        return trace, result

    async def test_called_for_real_then_replayed_as_it_answered(self) -> None:
        self.change("tasks/small.yaml", "args: {day: {day: today}}", "args: {day: {day: today}, "
                    "station: {matches: quay}}")  # fmt: skip
        self.change("tasks/small.yaml", "suite: small", "suite: small\nclock: 2031-03-14T06:30:00Z")
        interface = Interface()
        async with interface.listening() as url:
            self.serve(url)
            live, result = await self.carried_out("live")
        self.assertEqual(result["verdict"], "pass", result["checks"])
        (method, target, _, _) = interface.sent[0]
        path = "/stations/north%20quay%2F1/high"
        self.assertEqual((method, target), ("GET", f"{path}?day=2031-03-14"))
        (call,) = [e for e in live["events"] if e["kind"] == "call"]
        self.assertEqual(call["result"], {"at": "14:31"})
        self.assertEqual(live["tools"]["tides/high_water"]["description"], "Times of high water.")
        captured = self.root / ".ferox/captures/run-1/tides.jsonl"
        self.write("recordings/tides.jsonl", captured.read_text())
        self.change("servers/tides.yaml", "mock:", "recording: recordings/tides.jsonl\nmock:")
        replayed, again = await self.carried_out("recorded")  # nothing listens any more
        self.assertEqual(again["verdict"], "pass")
        (recorded,) = [e for e in replayed["events"] if e["kind"] == "call"]
        self.assertEqual(recorded["result"], call["result"])

    async def test_it_drifts_like_any_server(self) -> None:
        interface = Interface()
        async with interface.listening() as url:
            self.serve(url)
            await self.carried_out("live")
            recording = read_recording(self.root / ".ferox/captures/run-1/tides.jsonl")
            to = load_workspace(self.root).servers["tides"].live
            assert to is not None
            async with connect_client(to, self.root) as client:
                self.assertFalse((await find_drift(recording, client)).has_drifted)
                interface.high = {"at": "15:02"}
                (call,) = (await find_drift(recording, client)).calls
        self.assertEqual((call.kind, call.what[0].after), ("changed", "15:02"))

    async def test_out_of_reach_is_no_fault_of_the_agent(self) -> None:
        async with Interface().listening() as url:
            pass
        self.serve(url)
        trace, result = await self.carried_out("live")
        self.assertEqual(result["verdict"], "error")
        self.assertIn("nothing answers at", trace["events"][-1]["reason"])

    def test_its_tools_are_known_before_anything_runs(self) -> None:
        self.serve("http://127.0.0.1:9")
        self.change("tasks/small.yaml", "tides: mock", "tides: live")
        self.change("tasks/small.yaml", "tool: tides/high_water", "tool: tides/hihg_water")
        with self.assertRaises(WorkspaceError) as caught:
            load_workspace(self.root)
        self.assertIn("did you mean `high_water`?", str(caught.exception))


class AsServer(WorkspaceCase, AsyncCase):
    @asynccontextmanager
    async def opened(self, interface: Interface, **reach: Any) -> AsyncIterator[Client]:
        async with interface.listening() as url:
            to = Reach.model_validate({"openapi": f"{url}/openapi.json", "url": url, **reach})
            async with connect_client(to, self.root) as client:
                yield client

    async def test_the_mock_of_the_same_document_offers_the_same_tools(self) -> None:
        async with self.opened(Interface()) as client:
            live = (await client.list_tools()).tools
        _, mock, _ = from_openapi(json.dumps(DOCUMENT))
        self.assertEqual([t.name for t in live], [t["name"] for t in mock["tools"]])
        self.assertEqual([t.input_schema for t in live], [t["input"] for t in mock["tools"]])
        self.assertEqual([t.output_schema for t in live],
                         [t.get("output") for t in mock["tools"]])  # fmt: skip

    async def test_what_is_sent_and_what_is_not(self) -> None:
        know_secrets(self, TIDE_KEY="s3cret-key")
        interface = Interface()
        headers = {"X-Trace": "t1", "Authorization": {"secret": "TIDE_KEY", "prefix": "Bearer "}}
        async with self.opened(interface, headers=headers, query={"v": "2"}) as client:
            made: Any = await client.call_tool("book", {"berth": "N1"})
            listed = {"station": "a", "kinds": ["high", "low & slack"]}
            await client.call_tool("high_water", listed)
            wrong: Any = await client.call_tool("high_water", {"day": "2031-03-14"})
        (method, target, sent, body), (_, query, _, _) = interface.sent
        self.assertEqual((method, target, json.loads(body)), ("POST", "/bookings?v=2",
                                                              {"berth": "N1"}))  # fmt: skip
        self.assertEqual((sent["x-trace"], sent["authorization"]), ("t1", "Bearer s3cret-key"))
        self.assertEqual(sent["content-type"], "application/json")
        self.assertEqual(query, "/stations/a/high?v=2&kinds=high&kinds=low+%26+slack")
        self.assertEqual(made.content[0].text, '{"booking": "BK1"}')
        self.assertTrue(wrong.is_error)
        self.assertIn("station", wrong.content[0].text)

    async def test_refusals_and_answers_that_break_the_document(self) -> None:
        interface = Interface()
        async with self.opened(interface) as client:
            refused: Any = await client.call_tool("book", {"berth": "N9"})
            interface.high = {"when": "14:31"}
            broken: Any = await client.call_tool("high_water", {"station": "a"})
            out: Any = await client.call_tool("high_water", {"station": ".."})
        self.assertTrue(refused.is_error and broken.is_error and out.is_error)
        self.assertEqual(refused.content[0].text, 'HTTP 422: {"why":"no such berth"}')
        self.assertIn("does not fit the interface's document", broken.content[0].text)
        self.assertIn('"14:31"', broken.content[0].text)
        self.assertIn("`station` cannot be '..'", out.content[0].text)

    async def test_documents_that_cannot_be_used(self) -> None:
        interface = Interface()
        async with interface.listening() as url:
            for document, openapi, words in (
                ("{}", f"{url}/openapi.json", "not an OpenAPI 3 document"),
                (json.dumps({"openapi": "3.1.0"}), f"{url}/openapi.json", "no operation"),
                ("", "missing.json", "cannot be read"),
                ("", "../elsewhere.json", "leaves the workspace"),
                ("", f"{url}/bookings/x", "document"),
            ):
                interface.document = document
                with self.subTest(openapi=openapi), self.assertRaises(ServerUnreachable) as caught:
                    async with connect_client(Reach(openapi=openapi, url=url), self.root):
                        pass
                self.assertIn(words, f"{caught.exception.kind} {caught.exception}")

    def test_the_file_is_checked(self) -> None:
        for live, words in (
            ("{openapi: tides.json}", "`openapi` goes with `url`"),
            ("{openapi: tides.json, command: [x], url: 'http://x'}", "`openapi` goes with `url`"),
            ("{openapi: no.json, url: 'http://x'}", "no.json"),
        ):
            path = self.root / "servers/tides.yaml"
            text = path.read_text()
            path.write_text(text.replace("mock:", f"live: {live}\nmock:", 1))
            with self.subTest(live), self.assertRaises(WorkspaceError) as caught:
                load_workspace(self.root)
            self.assertIn(words, str(caught.exception))
            path.write_text(text)


def operation(*parameters: dict[str, Any], path: str = "/x", **more: Any) -> Any:
    described = {"parameters": list(parameters), **more}
    document = {"openapi": "3.0.3", "paths": {path: {"post": described}}}
    return operations_of(json.dumps(document))[0]


class Requests(unittest.TestCase):
    """How arguments are written, by OpenAPI's table of styles."""

    def query(self, value: Any, **parameter: Any) -> list[tuple[str, str]]:
        spec = {"name": "c", "in": "query", "schema": {}, **parameter}
        return list(request_of(operation(spec), {"c": value}).query)

    def test_lists_and_objects_in_a_query(self) -> None:
        listed, mapped = ["a", "b"], {"R": 1, "G": 2}
        for value, parameter, wanted in (
            (listed, {}, [("c", "a"), ("c", "b")]),
            (listed, {"explode": False}, [("c", "a,b")]),
            (listed, {"style": "pipeDelimited", "explode": False}, [("c", "a|b")]),
            (listed, {"style": "spaceDelimited", "explode": False}, [("c", "a b")]),
            (mapped, {}, [("R", "1"), ("G", "2")]),
            (mapped, {"explode": False}, [("c", "R,1,G,2")]),
            (mapped, {"style": "deepObject"}, [("c[R]", "1"), ("c[G]", "2")]),
            (True, {}, [("c", "true")]),
        ):
            with self.subTest(value=value, parameter=parameter):
                self.assertEqual(self.query(value, **parameter), wanted)

    def test_bodies(self) -> None:
        schema = {"type": "object", "properties": {"a": {}, "b": {}}}

        def body(kind: str, spec: Any, args: dict[str, Any]) -> Any:
            made = request_of(operation(requestBody={"content": {kind: {"schema": spec}}}), args)
            return made.body, made.content_type

        self.assertEqual(body("application/json", schema, {"a": 1}),
                         (b'{"a": 1}', "application/json"))  # fmt: skip
        self.assertEqual(body("application/json", {"type": "array"}, {"body": [1]}),
                         (b"[1]", "application/json"))  # fmt: skip
        self.assertEqual(body("application/x-www-form-urlencoded", schema, {"a": "x y", "b": 2}),
                         (b"a=x%20y&b=2", "application/x-www-form-urlencoded"))  # fmt: skip
        self.assertEqual(body("text/plain", {"type": "string"}, {"body": "hi"}),
                         (b"hi", "text/plain"))  # fmt: skip

    def test_a_path_that_lacks_an_argument_is_not_sent(self) -> None:
        spec = {"name": "id", "in": "path", "schema": {"type": "string"}}
        with self.assertRaises(OpenApiError):
            request_of(operation(spec, path="/x/{id}"), {})

    @given(st.text(st.characters(), min_size=1))
    def test_a_value_in_the_path_never_leads_elsewhere(self, value: str) -> None:
        spec = {"name": "id", "in": "path", "schema": {"type": "string"}}
        try:
            path = request_of(operation(spec, path="/x/{id}/y"), {"id": value}).path
        except OpenApiError:
            return
        self.assertEqual(path.count("/"), 3)
        self.assertNotIn("?", path)
        self.assertNotIn("#", path)
