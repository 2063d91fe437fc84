"""The mock's language on the wire, in both eras of the protocol, and bad answers by hand."""

from __future__ import annotations

import json
import sys
import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from mcp import Client
from mcp.shared.exceptions import MCPError
from mcp_types import CreateMessageResult, ElicitResult
from pydantic import ValidationError

from ferox.core.clock import Clock
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock
from ferox.servers.by_hand.open_server import opened_by_hand
from ferox.servers.offering import Offering
from ferox.servers.sources.mock import MockServer
from tests.async_case import AsyncCase
from tests.test_live import HERE, server, tried

ERAS = ("legacy", "2026-07-28")
BAD = str(HERE / "servers/bad.py")
MOCK: dict[str, Any] = {
    "instructions": "Times are UTC.",
    "state": {"berths": {"N1": "free"}, "booked": []},
    "tools": [
        {
            "name": "book",
            "input": {"type": "object", "properties": {"imo": {"type": "string"}}},
            "answers": [
                {
                    "ask": {
                        "message": "Which berth for {{ args.imo }}?",
                        "schema": {"properties": {"berth": {"type": "string"}}},
                    },
                    "give": {"berth": "{{ asked.berth }}", "how": "{{ asked.action }}"},
                    "change": [{"op": "add", "path": "/booked/-", "value": "{{ asked.berth }}"}],
                }
            ],
        },
        {
            "name": "survey",
            "answers": [
                {
                    "tell": [
                        {"progress": 1, "total": 2, "text": "half"},
                        {"log": "warning", "text": "silt"},
                    ],
                    "give": "done",
                }
            ],
        },
        {"name": "think", "answers": [{"sample": {"say": "Depth?"}, "give": "{{ sampled }}"}]},
        {
            "name": "chart",
            "answers": [
                {
                    "content": [
                        {"type": "image", "data": "AA==", "mimeType": "image/png"},
                        {"type": "resource_link", "uri": "chart://{{ today }}", "name": "today's"},
                    ]
                }
            ],
        },
    ],
    "resources": [
        {"uri": "berth://all", "name": "all", "text": "{{ state.berths }}"},
        {"uriTemplate": "berth://{code}", "name": "one", "text": "{{ state.berths[args.code] }}"},
    ],
    "prompts": [
        {
            "name": "handover",
            "arguments": [{"name": "day", "required": True, "values": ["monday", "friday"]}],
            "messages": [{"content": "Sum up {{ args.day }}."}],
        }
    ],
}  # fmt: skip


async def answers(context: Any, params: Any) -> ElicitResult:
    return ElicitResult(action="accept", content={"berth": "N1"})


async def declines(context: Any, params: Any) -> ElicitResult:
    return ElicitResult(action="decline")


async def thinks(context: Any, params: Any) -> CreateMessageResult:
    content: Any = {"type": "text", "text": f"{params.messages[0].content.text} 7 m."}
    return CreateMessageResult(role="assistant", content=content, model="m")


class Wire(AsyncCase):
    @asynccontextmanager
    async def client(self, era: str, **callbacks: Any) -> AsyncIterator[Client]:
        mock = Mock.model_validate(MOCK)
        self.mock = MockServer("s", mock, 1, MatchContext(Clock("2031-03-14T06:30:00Z")))
        async with Client(Offering(self.mock).client_streams(), mode=era, **callbacks) as client:
            yield client

    async def test_a_question_to_the_client(self) -> None:
        for era in ERAS:
            with self.subTest(era):
                async with self.client(era, elicitation_callback=answers) as client:
                    found: Any = await client.call_tool("book", {"imo": "7"})
                self.assertEqual(found.content[0].text, '{"berth": "N1", "how": "accept"}')
                self.assertEqual(self.mock.state["booked"], ["N1"])

    async def test_a_declined_question_changes_nothing(self) -> None:
        for era in ERAS:
            async with self.client(era, elicitation_callback=declines) as client:
                found = await client.call_tool("book", {"imo": "7"})
            self.assertTrue(found.is_error)
            self.assertEqual(self.mock.state["booked"], [])

    async def test_a_client_that_takes_no_questions_is_not_asked(self) -> None:
        for era in ERAS:
            async with self.client(era) as client:
                found: Any = await client.call_tool("book", {"imo": "7"})
            self.assertIn("is broken", found.content[0].text)  # the rule needs `asked.berth`
            self.assertEqual(self.mock.state["booked"], [])

    async def test_progress_and_log(self) -> None:
        for era in ERAS:
            said: list[Any] = []

            async def progress(progress: float, total: float | None, message: str | None) -> None:
                said.append((progress, total, message))  # noqa: B023

            async def log(params: Any) -> None:
                said.append((params.level, params.data))  # noqa: B023

            callbacks = {"logging_callback": log, "log_level": "info"}
            async with self.client(era, **callbacks) as client:
                await client.call_tool("survey", {}, progress_callback=progress)
            self.assertEqual(said, [(1, 2, "half"), ("warning", "silt")], era)

    async def test_the_client_s_model_is_asked(self) -> None:
        async with self.client("legacy", sampling_callback=thinks) as client:
            found: Any = await client.call_tool("think", {})
        self.assertEqual(found.content[0].text, "Depth? 7 m.")
        async with self.client("legacy") as client:
            self.assertTrue((await client.call_tool("think", {})).is_error)

    async def test_raw_content_of_every_kind(self) -> None:
        for era in ERAS:
            async with self.client(era) as client:
                found: Any = await client.call_tool("chart", {})
            self.assertEqual([c.type for c in found.content], ["image", "resource_link"])
            self.assertEqual(str(found.content[1].uri), "chart://2031-03-14")

    async def test_resources_and_prompts(self) -> None:
        for era in ERAS:
            async with self.client(era) as client:
                if era == "legacy":  # by the newest protocol nobody was asked for them yet
                    self.assertEqual(client.instructions, "Times are UTC.")
                (listed,) = (await client.list_resources()).resources
                self.assertEqual(str(listed.uri), "berth://all")
                (family,) = (await client.list_resource_templates()).resource_templates
                self.assertEqual(family.uri_template, "berth://{code}")
                found: Any = await client.read_resource("berth://all")
                self.assertEqual(found.contents[0].text, '{"N1": "free"}')
                found = await client.read_resource("berth://N1")
                self.assertEqual(found.contents[0].text, "free")
                with self.assertRaises(MCPError):
                    await client.read_resource("tide://N1")
                found = await client.get_prompt("handover", {"day": "friday"})
                self.assertEqual(found.messages[0].content.text, "Sum up friday.")
                with self.assertRaises(MCPError):
                    await client.get_prompt("handover", {})

    async def test_unknown_tools_and_wrong_arguments(self) -> None:
        for era in ERAS:
            async with self.client(era) as client:
                with self.assertRaises(MCPError):
                    await client.call_tool("nothing", {})
                self.assertTrue((await client.call_tool("book", {"imo": 7})).is_error)

    def test_a_resource_says_which_it_is(self) -> None:
        both = {"uri": "a:b", "uriTemplate": "a:{b}"}
        for wrong in ({"text": "y"}, {"uri": "a:b"}, {**both, "text": "y"}):
            with self.assertRaises(ValidationError):
                Mock.model_validate({"resources": [{"name": "x", **wrong}]})


class HugeHandler(BaseHTTPRequestHandler):
    """A server over HTTP whose every call is answered with 50 MB."""

    def do_POST(self) -> None:
        message = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        result: dict[str, Any] = {}
        match message["method"]:
            case "initialize":
                result = {
                    "protocolVersion": "2025-11-25",
                    "capabilities": {"tools": {}},
                    "serverInfo": {"name": "huge", "version": "1"},
                }
            case "tools/list":
                result = {"tools": [{"name": "misbehave", "inputSchema": {"type": "object"}}]}
            case "tools/call":
                result = {"content": [{"type": "text", "text": "tide " * 10_500_000}]}
        document = {"jsonrpc": "2.0", "id": message.get("id"), "result": result}
        body = json.dumps(document).encode()
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        with suppress(ConnectionError):  # nobody reads all of it
            self.wfile.write(body)

    def do_DELETE(self) -> None:
        self.send_response(204)
        self.end_headers()

    def log_message(self, *args: Any) -> None:
        return None


class BadAnswers(AsyncCase):
    async def of(self, how: str) -> Any:
        file = server(command=[sys.executable, BAD, how])
        async with opened_by_hand(file, "live", HERE) as hand:
            await hand.read_offer()
            return await tried(hand, "misbehave", {})

    async def test_a_result_that_breaks_its_own_schema_is_shown_and_remarked_on(self) -> None:
        made = await self.of("breaks_schema")
        self.assertEqual(made.structured, {"depth_m": "deep"})
        self.assertIn("breaks the tool's own output schema: $.depth_m", made.remark)

    async def test_a_result_of_the_wrong_shape(self) -> None:
        made = await self.of("no_list")
        self.assertEqual(made.remark, "the result has no list of content")

    async def test_rubbish_twice_and_floods(self) -> None:
        self.assertEqual((await self.of("rubbish")).content[0]["text"], "after rubbish")
        self.assertEqual((await self.of("twice")).content[0]["text"], "once")
        flooded = await self.of("flood")
        self.assertEqual(flooded.content[0]["text"], "after the flood")
        self.assertLess(len(flooded.events), 2000)

    async def test_too_much_over_http(self) -> None:
        huge = ThreadingHTTPServer(("127.0.0.1", 0), HugeHandler)
        threading.Thread(target=huge.serve_forever, daemon=True).start()
        self.addCleanup(huge.server_close)
        self.addCleanup(huge.shutdown)
        file = server(url=f"http://127.0.0.1:{huge.server_port}/mcp")
        async with opened_by_hand(file, "live", HERE) as hand:
            await hand.read_offer()
            made = await tried(hand, "misbehave", {})
        self.assertIn("an answer of more than", made.error)

    async def test_too_much_and_the_end(self) -> None:
        self.assertIn("more than 16,777,216", (await self.of("huge")).error)
        self.assertIn("losed", (await self.of("die")).error)
