"""Servers of the registries: each is recorded and replayed, and the client sees the same."""

from __future__ import annotations

import asyncio
import tempfile
import unittest
from collections.abc import Awaitable, Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError

from ferox.core.clock import Clock
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock, ServerFile
from ferox.gateway.relay.recording import standing_before
from ferox.making.mocks import from_recording
from ferox.recordings.recording import Recording
from ferox.servers.connection.tap import tap_streams
from ferox.servers.offering import Offering
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.recorded import RecordedServer
from ferox.servers.sources.source import Source, plain_value
from tests import registry

Script = Callable[[Client], Awaitable[None]]


def seen(messages: list[dict[str, Any]]) -> list[Any]:
    """What a client sees: each request with its answer; the handshake and log lines aside."""
    asked = {m["id"]: m for m in messages if "method" in m and "id" in m}
    return [
        [asked[m["id"]]["method"], asked[m["id"]].get("params"), m.get("result") or m.get("error")]
        for m in messages
        if "method" not in m and asked.get(m["id"], {}).get("method") not in (None, "initialize")
    ]


async def record(file: ServerFile, script: Script, folder: Path) -> tuple[Recording, list[Any]]:
    """The recording of a script's requests, and what the client saw on the wire."""
    messages: list[dict[str, Any]] = []
    out = folder / f"{file.server}.jsonl"
    async with standing_before(file, "live", folder, out) as standing:
        url = f"{standing.relay.base}/mcp"
        transport = tap_streams(streamable_http_client(url), lambda way, m: messages.append(m))
        async with Client(transport, mode="legacy", cache=None) as client:
            await script(client)
    assert standing.recording is not None
    return standing.recording, seen(messages)


async def replay(source: Source, script: Script) -> list[Any]:
    """What a client sees of the same requests, answered by the source."""
    messages: list[dict[str, Any]] = []
    transport = tap_streams(Offering(source).client_streams(), lambda way, m: messages.append(m))
    async with Client(transport, mode="legacy", cache=None) as client:
        await script(client)
    return seen(messages)


def bare(words: Any) -> Any:
    """Without the progress tokens and the handshake's own metadata of a request."""
    method, params, answer = words
    return [method, {k: v for k, v in (params or {}).items() if k != "_meta"}, answer]


def values(words: list[Any]) -> list[Any]:
    """What each call gave; of one that failed only that it did."""
    results = [t[2] for t in words if t[0] == "tools/call"]
    return [
        r.get("isError") or plain_value(r["content"], r.get("structuredContent")) for r in results
    ]


class Registry(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.folder = Path(scratch.name)

    def check(self, file: ServerFile, script: Script) -> Recording:
        """Record, replay, compare; and a mock made of the recording answers the same values."""

        async def go() -> tuple[Recording, list[Any], list[Any], list[Any]]:
            recording, live = await record(file, script, self.folder)
            found = await replay(RecordedServer(file.server, recording), script)
            mock = Mock.model_validate(from_recording(recording))
            at = MatchContext(Clock("2031-03-14T06:30:00Z"))
            mocked = await replay(MockServer(file.server, mock, 1, at), script)
            return recording, live, found, mocked

        recording, live, found, mocked = asyncio.run(go())
        self.assertGreater(len(live), 2)
        self.assertEqual([bare(t) for t in found], [bare(t) for t in live])
        self.assertEqual(values(mocked), values(live))
        return recording

    def test_time(self) -> None:
        async def script(client: Client) -> None:
            await client.list_tools()
            for zone in ("UTC", "Europe/Lisbon", "Nowhere/Atall"):
                await client.call_tool("get_current_time", {"timezone": zone})
            times = {"source_timezone": "UTC", "time": "14:10", "target_timezone": "Asia/Tokyo"}
            await client.call_tool("convert_time", times)

        self.check(registry.time_server(), script)

    def test_git(self) -> None:
        repository = self.folder / "repository"
        repository.mkdir()

        async def script(client: Client) -> None:
            await client.list_tools()
            where = {"repo_path": str(repository)}
            await client.call_tool("git_status", where)
            await client.call_tool("git_log", {**where, "max_count": 1})
            await client.call_tool("git_show", {**where, "revision": "HEAD"})
            await client.call_tool("git_show", {**where, "revision": "nowhere"})

        self.check(registry.git_server(repository), script)

    def test_everything(self) -> None:
        async def script(client: Client) -> None:
            await client.list_tools()
            await client.call_tool("echo", {"message": "N1 is free"})
            await client.call_tool("get-sum", {"a": 7, "b": 2.5})
            await client.call_tool("get-tiny-image", {})
            await client.call_tool("get-annotated-message", {"messageType": "error"})
            await client.call_tool("get-structured-content", {"location": "New York"})
            await client.call_tool("get-resource-links", {"count": 2})
            await client.call_tool("get-sum", {"a": "seven"})
            resources = await client.list_resources()
            await client.read_resource(str(resources.resources[0].uri))
            await client.list_resource_templates()
            prompts = await client.list_prompts()
            simple = next(p.name for p in prompts.prompts if not p.arguments)
            await client.get_prompt(simple, {})
            with suppress(MCPError):
                await client.read_resource("demo://nothing/here")

        recording = self.check(registry.everything_server(), script)
        self.assertEqual(recording.header.server_info and recording.header.transport, "stdio")

    def test_filesystem(self) -> None:
        async def script(client: Client) -> None:
            await client.list_tools()
            path = str(self.folder / "berths.txt")
            await client.call_tool("read_text_file", {"path": path})
            await client.call_tool("read_text_file", {"path": path, "head": 1})
            await client.call_tool("list_directory", {"path": str(self.folder)})
            await client.call_tool("read_text_file", {"path": "/etc/passwd"})

        self.check(registry.files_server(self.folder), script)

    def test_memory(self) -> None:
        async def script(client: Client) -> None:
            await client.list_tools()
            await client.call_tool("read_graph", {})
            berth = {"name": "N1", "entityType": "berth", "observations": ["9.84 m at high water"]}
            await client.call_tool("create_entities", {"entities": [berth]})
            await client.call_tool("read_graph", {})
            await client.call_tool("search_nodes", {"query": "berth"})

        self.check(registry.memory_server(self.folder), script)
