"""The seams, over the wire: every protocol version, private addresses, what is recorded."""

from __future__ import annotations

import asyncio
import json
import unittest
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from typing import Any
from unittest import mock
from urllib.parse import urlsplit

import httpx2
from mcp import Client
from mcp.shared.exceptions import MCPError
from mcp_types.version import HANDSHAKE_PROTOCOL_VERSIONS, KNOWN_PROTOCOL_VERSIONS

from ferox.core.clock import Clock
from ferox.core.matcher import MatchContext
from ferox.core.tool_names import ToolNames
from ferox.formats.server import Mock
from ferox.formats.stand_in import StandInFile
from ferox.gateway.gateway import Gateway, SeamAddresses
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.model_seam.stand_in_model import StandInModel
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam import wire
from ferox.gateway.tool_seam.chain import SeamSettings
from ferox.gateway.tool_seam.seam import ToolSeam
from ferox.gateway.tool_seam.wire import WireHeard
from ferox.servers.sources.mock import MockServer
from ferox.stand_in.model import StandIn
from tests.async_case import AsyncCase
from tests.seams import model_seam

CLOCK = Clock("2031-03-14T06:30:00Z")
MOCK = Mock.model_validate(
    {
        "tools": [
            {
                "name": "high_water",
                "description": "Times of high water on one day.",
                "input": {"type": "object", "properties": {"day": {"type": "string"}}},
                "output": {"type": "object"},
                "answers": [{"give": {"at": "14:31"}}],
            },
            {"name": "low_water", "answers": [{"error": "There is no table."}]},
        ]
    }
)
DESK = StandInFile.model_validate(
    {
        "ferox": 1,
        "stand_in": "desk",
        "latency": {"ms": 0},
        "scenes": [
            {
                "request": "when is high water",
                "does": [
                    {
                        "as": "h",
                        "intent": "times of high water on one day",
                        "values": {"day": {"day": 0}},
                    },
                    {"say": "At {{ h.at }}."},
                ],
            }
        ],
    }
)


@dataclass
class Opened:
    """One trial's seams, open."""

    gateway: Gateway
    addresses: SeamAddresses
    recorder: Recorder
    seam: ToolSeam

    @property
    def url(self) -> str:
        return self.addresses.servers["tides"]


@asynccontextmanager
async def opened(
    offer: Any = "all", most_calls: int = 50, heard: WireHeard | None = None
) -> AsyncIterator[Opened]:
    recorder = Recorder(lambda n, event: None, most_calls, 50)
    tides = MockServer("tides", MOCK, 1, MatchContext(CLOCK))
    seam = ToolSeam(tides, recorder, SeamSettings(offer=offer), wire=heard)
    offered = seam.offered_tools()
    seen = SeenByModel(ToolNames({a: a.split("/")[1] for a in offered}), offered)
    stand_in = StandInModel("steady", lambda seed: StandIn(DESK, "steady", seed, CLOCK), 1)
    model = model_seam("steady", stand_in, recorder, seen)
    models = {"main": model}
    async with (
        Gateway().serve() as gateway,
        gateway.open_seams({"tides": seam}, models) as addresses,
    ):
        yield Opened(gateway, addresses, recorder, seam)


class ToolSeamTest(AsyncCase):
    async def test_every_protocol_version_of_the_sdk(self) -> None:
        async with opened() as seams:
            for version in KNOWN_PROTOCOL_VERSIONS:
                if version in HANDSHAKE_PROTOCOL_VERSIONS:
                    answer = await self.by_hand(seams.url, version)
                else:
                    async with Client(seams.url, mode=version) as client:
                        result = await client.call_tool("high_water", {})
                        answer = result.structured_content
                self.assertEqual(answer, {"at": "14:31"}, version)
        calls = [e for e in seams.recorder.events if e["kind"] == "call"]
        self.assertEqual(len(calls), len(KNOWN_PROTOCOL_VERSIONS))

    async def by_hand(self, url: str, version: str) -> Any:
        """The handshake and a call in plain JSON-RPC, as a client of that version sends them."""
        headers = {"Accept": "application/json, text/event-stream"}
        async with httpx2.AsyncClient(headers=headers) as http:
            params = {
                "protocolVersion": version, "capabilities": {},
                "clientInfo": {"name": "by hand", "version": "1"},
            }  # fmt: skip
            begun = await self.post(http, url, "initialize", params)
            self.assertEqual(begun["protocolVersion"], version)
            http.headers["MCP-Protocol-Version"] = version
            await http.post(url, json={"jsonrpc": "2.0", "method": "notifications/initialized"})
            call = {"name": "high_water", "arguments": {}}
            result = await self.post(http, url, "tools/call", call)
            return json.loads(result["content"][0]["text"])

    async def post(self, http: Any, url: str, method: str, params: Any) -> Any:
        body = {"jsonrpc": "2.0", "id": 1, "method": method, "params": params}
        response = await http.post(url, json=body)
        if "mcp-session-id" in response.headers:
            http.headers["Mcp-Session-Id"] = response.headers["mcp-session-id"]
        lines = [li for li in response.text.splitlines() if li.startswith("data: {")]
        return json.loads(lines[0][6:] if lines else response.text)["result"]

    async def test_sessions_that_are_left_open_are_counted(self) -> None:
        async with opened() as seams:
            async with Client(seams.url, mode="legacy") as client:
                await client.list_tools()
            await self.by_hand(seams.url, "2025-06-18")
            await self.by_hand(seams.url, "2025-06-18")
            traffic = seams.seam.traffic
        self.assertEqual((traffic["sessions"], traffic["left_open"]), (3, 2))

    async def test_raw_messages_are_heard_as_they_stood_on_the_wire(self) -> None:
        call, asked, answered = await self.heard_of_a_call()
        self.assertEqual(call, "c1")
        self.assertEqual(json.loads(asked)["params"]["name"], "high_water")
        self.assertIn("14:31", answered)
        with mock.patch.object(wire, "MOST_OF_A_MESSAGE", 20):
            _, cut, _ = await self.heard_of_a_call()
        self.assertEqual(cut, f"{asked[:20]}… ({len(asked)} bytes in all)")

    async def heard_of_a_call(self) -> tuple[str, str, str]:
        heard: list[tuple[str, str, str]] = []
        async with opened(heard=lambda *messages: heard.append(messages)) as seams:
            await self.by_hand(seams.url, "2025-06-18")
            while not heard:  # it is told once the whole answer has been sent
                await asyncio.sleep(0.01)
        (messages,) = heard
        return messages

    async def test_calls_are_recorded_with_result_error_and_time(self) -> None:
        async with opened() as seams, Client(seams.url) as client:
            await client.call_tool("high_water", {"day": "2031-03-14"})
            self.assertTrue((await client.call_tool("low_water", {})).is_error)
            self.assertTrue((await client.call_tool("high_water", {"day": 5})).is_error)
            with self.assertRaises(MCPError):
                await client.call_tool("no_water", {})
        first, second, third, fourth = seams.recorder.events
        self.assertEqual(first["tool"], "tides/high_water")
        self.assertEqual((first["args"], first["result"]), ({"day": "2031-03-14"}, {"at": "14:31"}))
        self.assertGreater(first["s"] or 0, 0)
        wanted = {"kind": "tool_error", "message": "There is no table."}
        self.assertEqual(second["error"], wanted)
        self.assertIn("Invalid arguments", third["error"]["message"])  # type: ignore[index]
        self.assertEqual(fourth["error"]["kind"], "protocol_error")  # type: ignore[index]

    async def test_what_is_not_offered_does_not_exist(self) -> None:
        async with opened(["high_*"]) as seams, Client(seams.url) as client:
            listed = await client.list_tools()
            self.assertEqual([t.name for t in listed.tools], ["high_water"])
            with self.assertRaises(MCPError):
                await client.call_tool("low_water", {})

    async def test_a_limit_of_calls_ends_the_trial(self) -> None:
        async with opened(most_calls=2) as seams, Client(seams.url) as client:
            for _ in range(3):
                await client.call_tool("high_water", {})
            self.assertEqual(seams.recorder.over.result(), "more than 2 calls")

    async def test_hosts_origins_and_other_trials_are_kept_out(self) -> None:
        async with opened() as seams, httpx2.AsyncClient() as http:
            base, path = seams.gateway.base, seams.url.removeprefix(seams.gateway.base)
            post = {"jsonrpc": "2.0", "id": 1, "method": "ping"}
            answer = await http.post(base + path, json=post, headers={"Host": "evil.example"})
            self.assertEqual(answer.status_code, 403)
            answer = await http.post(
                base + path, json=post, headers={"Origin": "http://evil.example"}
            )
            self.assertEqual(answer.status_code, 403)
            answer = await http.post(f"{base}/t/guess/tides/mcp", json=post)
            self.assertEqual(answer.status_code, 404)
            answer = await http.post(base + path.replace("tides", "harbour"), json=post)
            self.assertEqual(answer.status_code, 404)

    async def test_an_address_dies_with_its_trial(self) -> None:
        async with Gateway().serve() as gateway:
            async with gateway.open_seams({}, {}) as addresses:
                root = f"{gateway.base}/t/{addresses.key}"
            async with httpx2.AsyncClient() as http:
                self.assertEqual((await http.get(f"{root}/model/v1/models")).status_code, 404)


class ModelSeamTest(AsyncCase):
    TOOL = {
        "type": "function",
        "function": {
            "name": "tides__high-water",
            "description": "Times of high water on one day.",
            "parameters": {"type": "object", "properties": {"day": {"type": "string"}}},
        },
    }
    USER = {"role": "user", "content": "When is high water?"}

    async def complete(self, seams: Opened, **body: Any) -> Any:
        async with httpx2.AsyncClient() as http:
            url = f"{seams.addresses.main_model}/chat/completions"
            return await http.post(url, json={"model": "steady", "messages": [self.USER], **body})

    async def test_a_proposal_under_an_altered_name_is_joined_with_its_call(self) -> None:
        async with opened() as seams:
            answer = (await self.complete(seams, tools=[self.TOOL])).json()
            (call,) = answer["choices"][0]["message"]["tool_calls"]
            self.assertEqual(call["function"]["name"], "tides__high-water")
            self.assertEqual(answer["choices"][0]["finish_reason"], "tool_calls")
            async with Client(seams.url) as client:
                await client.call_tool("high_water", json.loads(call["function"]["arguments"]))
        model, made = seams.recorder.events
        self.assertEqual(model["offered"], ["tides/high_water"])
        self.assertEqual(model["proposed"][0]["tool"], "tides/high_water")
        self.assertEqual(made["proposal"], model["proposed"][0]["id"])
        self.assertGreater(model["usage"]["input"], 0)  # type: ignore[index]

    async def test_a_tool_inside_the_agent_becomes_a_local_call(self) -> None:
        own = {**self.TOOL, "function": {**self.TOOL["function"], "name": "my_high_water"}}  # type: ignore[dict-item]
        async with opened([]) as seams:
            answer = (await self.complete(seams, tools=[own])).json()
            message = answer["choices"][0]["message"]
            id = message["tool_calls"][0]["id"]
            came = {"role": "tool", "tool_call_id": id, "content": "kept"}
            await self.complete(seams, messages=[self.USER, message, came], tools=[own])
        local = next(e for e in seams.recorder.events if e["kind"] == "call")
        self.assertEqual((local["seam"], local["tool"]), ("local", "own/my_high_water"))
        self.assertEqual(local["result"], "kept")

    async def test_requests_that_are_none_get_a_clear_error(self) -> None:
        async with opened() as seams:
            for body in ({"messages": "x"}, {"tools": 5}):
                response = await self.complete(seams, **body)
                self.assertEqual(response.status_code, 400, body)
                self.assertIn("message", response.json()["error"])
            async with httpx2.AsyncClient() as http:
                listed = (await http.get(f"{seams.addresses.main_model}/models")).json()
        self.assertEqual(listed["data"][0]["id"], "steady")
        self.assertEqual(seams.recorder.events, [])

    async def test_who_leaves_in_the_middle_of_a_request_harms_nothing(self) -> None:
        async with opened() as seams:
            url = urlsplit(seams.addresses.main_model)
            with self.assertNoLogs("uvicorn.error"):
                _, out = await asyncio.open_connection(url.hostname, url.port)
                head = f"POST {url.path}/chat/completions HTTP/1.1\r\nHost: {url.netloc}\r\n"
                head += "Content-Type: application/json\r\nContent-Length: 100\r\n\r\n{"
                out.write(head.encode())
                await out.drain()
                await asyncio.sleep(0.2)
                out.close()
                async with httpx2.AsyncClient() as http:
                    answer = await http.get(f"{seams.addresses.main_model}/models")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(seams.recorder.events, [])


class Names(unittest.TestCase):
    def test_names_that_frameworks_alter_find_their_tool(self) -> None:
        names = ToolNames(
            {
                a: a.split("/")[1]
                for a in ("harbour/find_vessel", "tides/tide.window", "yard/find_vessel")
            }
        )
        self.assertEqual(names.find_address("find_vessel"), "harbour/find_vessel")
        self.assertEqual(names.find_address("yard__find_vessel"), "yard/find_vessel")
        self.assertEqual(names.find_address("tide_window"), "tides/tide.window")
        self.assertIsNone(names.find_address("final_answer"))
