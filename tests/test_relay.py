"""The relay: every transport on either side, every message both ways, and bad servers."""

from __future__ import annotations

import asyncio
import contextlib
import json
import subprocess
import sys
import tempfile
import unittest
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any
from unittest import mock

import httpx2
from mcp import Client
from mcp.client.sse import sse_client
from mcp.client.stdio import StdioServerParameters
from mcp.shared.exceptions import MCPError
from mcp_types import ElicitResult

from ferox.formats.server import ServerFile
from ferox.gateway.relay import relay
from ferox.gateway.relay.recording import RelayRecording, standing_before
from tests.async_case import AsyncCase
from tests.test_live import HERE, QUICK_TIDES, TIDES, served, server
from tests.waiting import HANG_S

BAD = str(HERE / "servers/bad.py")


@contextlib.asynccontextmanager
async def recorded(file: ServerFile) -> AsyncIterator[RelayRecording]:
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "out.jsonl"
        async with standing_before(file, "live", HERE, out) as standing:
            yield standing


def live() -> ServerFile:
    return server(command=[sys.executable, QUICK_TIDES])


async def use(client: Client) -> None:
    """One of everything."""
    tools = await client.list_tools()
    assert "sound" in [t.name for t in tools.tools]
    said: list[float] = []

    async def progress(progress: float, total: float | None, message: str | None) -> None:
        said.append(progress)

    result = await client.call_tool("sound", {"steps": 2}, progress_callback=progress)
    assert result.content[0].text == "2 soundings", result
    assert said == [1, 2], said
    assert (await client.read_resource("tides://table")).contents[0].text == "14:31"
    assert (await client.get_prompt("ask", {"day": "x"})).messages


class Transports(AsyncCase):
    async def check(self, file: ServerFile) -> None:
        async with recorded(file) as standing:
            async with Client(f"{standing.relay.base}/mcp", mode="legacy") as client:
                await use(client)
            async with Client(f"{standing.relay.base}/mcp", mode="auto") as client:
                await use(client)
            old = sse_client(f"{standing.relay.base}/sse")
            async with Client(old, mode="legacy") as client:
                await use(client)
        assert standing.recording is not None
        methods = {e.method for e in standing.recording.exchanges}
        self.assertLessEqual({"tools/list", "tools/call", "resources/read"}, methods)
        found = [x.msg.get("method") for x in standing.recording.lines if x.dir == "to_client"]
        self.assertEqual(found.count("notifications/progress"), 6)
        self.assertEqual(standing.remarks, [])

    async def test_before_a_command(self) -> None:
        await self.check(server(command=[sys.executable, TIDES]))

    async def test_before_streamable_http(self) -> None:
        with served("http") as port:
            await self.check(server(url=f"http://127.0.0.1:{port}/mcp"))

    async def test_before_the_older_event_stream(self) -> None:
        with served("sse") as port:
            await self.check(server(url=f"http://127.0.0.1:{port}/sse", transport="sse"))

    async def test_a_shim_for_clients_that_only_start_commands(self) -> None:
        async with recorded(live()) as standing:
            command = StdioServerParameters(
                command=sys.executable, args=["-m", "ferox", "shim", f"{standing.relay.base}/mcp"]
            )
            async with Client(command, mode="legacy") as client:
                await use(client)

    async def test_a_question_goes_to_the_client_and_back(self) -> None:
        async def elicit(context: Any, params: Any) -> ElicitResult:
            return ElicitResult(action="accept", content={"berth": "N2"})

        async with recorded(live()) as standing:
            url = f"{standing.relay.base}/mcp"
            async with Client(url, mode="legacy", elicitation_callback=elicit) as client:
                result = await client.call_tool("book", {})
        self.assertEqual(result.content[0].text, "Booked N2.")  # type: ignore[union-attr]
        assert standing.recording is not None
        asked = [x for x in standing.recording.lines if x.msg.get("method") == "elicitation/create"]
        self.assertEqual([x.dir for x in asked], ["to_client"])

    async def test_a_cancelled_call_is_cancelled_at_the_server(self) -> None:
        async with recorded(live()) as standing:
            async with Client(f"{standing.relay.base}/mcp", mode="legacy") as client:
                with self.assertRaises(TimeoutError):
                    await asyncio.wait_for(client.call_tool("sound", {"steps": 300}), 3)
                await asyncio.sleep(0.5)
        assert standing.recording is not None
        methods = [x.msg.get("method") for x in standing.recording.lines]
        self.assertIn("notifications/cancelled", methods)

    # An answer that takes long comes as a stream, whatever else was asked for.
    @mock.patch.object(relay, "FIRST_WORD_S", HANG_S)
    async def test_messages_pass_untouched(self) -> None:
        async with recorded(live()) as standing, httpx2.AsyncClient(timeout=HANG_S) as http:
            params = {
                "protocolVersion": "2025-06-18",
                "capabilities": {"experimental": {"x": {"y": 1}}},
                "clientInfo": {"name": "by hand", "version": "1"},
                "unknown": [None, 1e3],
            }
            odd = {"jsonrpc": "2.0", "id": "ä/1", "method": "initialize", "params": params}
            headers = {"Accept": "application/json, text/event-stream"}
            answer = await http.post(f"{standing.relay.base}/mcp", json=odd, headers=headers)
            self.assertEqual(answer.json()["id"], "ä/1")
            self.assertEqual(answer.json()["result"]["protocolVersion"], "2025-06-18")
            unknown = {"jsonrpc": "2.0", "id": 2, "method": "harbour/unknown"}
            session = {**headers, "Mcp-Session-Id": answer.headers["mcp-session-id"]}
            response = await http.post(f"{standing.relay.base}/mcp", json=unknown, headers=session)
            self.assertEqual(response.headers["content-type"].split(";")[0], "text/event-stream")
            event = json.loads(response.text.partition("data: ")[2])
            self.assertEqual(event["error"]["code"], -32601)
            plain = {**session, "Accept": "application/json"}
            response = await http.post(f"{standing.relay.base}/mcp", json=unknown, headers=plain)
            self.assertEqual(response.json()["error"]["code"], -32601)
        assert standing.recording is not None
        self.assertEqual(standing.recording.lines[0].msg, odd)


class Keeping(AsyncCase):
    async def test_a_session_left_open_is_remarked_on(self) -> None:
        async with recorded(live()) as standing, httpx2.AsyncClient(timeout=HANG_S) as http:
            begin = {"jsonrpc": "2.0", "id": 1, "method": "initialize", "params": {
                "protocolVersion": "2025-11-25", "capabilities": {},
                "clientInfo": {"name": "by hand", "version": "1"}}}  # fmt: skip
            await http.post(f"{standing.relay.base}/mcp", json=begin)
        self.assertEqual(standing.remarks, ["session 1 was left open by its client"])

    async def test_other_hosts_sites_and_addresses_are_kept_out(self) -> None:
        async with recorded(live()) as standing, httpx2.AsyncClient(timeout=HANG_S) as http:
            base = standing.relay.base
            for headers in ({"Host": "evil.example"}, {"Origin": "http://evil.example"}):
                self.assertEqual((await http.post(f"{base}/mcp", headers=headers)).status_code, 403)
            self.assertEqual((await http.get(f"{base}/else")).status_code, 404)
            self.assertEqual((await http.get(f"{base}/mcp")).status_code, 405)
            gone = {"Mcp-Session-Id": "nobody"}
            ping = {"jsonrpc": "2.0", "id": 1, "method": "ping"}
            self.assertEqual(
                (await http.post(f"{base}/mcp", json=ping, headers=gone)).status_code, 404
            )
            self.assertEqual((await http.post(f"{base}/mcp", content=b"{oops")).status_code, 400)
            self.assertEqual((await http.post(f"{base}/mcp", json=ping)).status_code, 400)


class BadServers(AsyncCase):
    patience = HANG_S

    async def through(self, how: str) -> RelayRecording:
        """A call of a server that misbehaves, and then one that goes well."""
        async with recorded(server(command=[sys.executable, BAD, how])) as standing:
            url = f"{standing.relay.base}/mcp"
            async with Client(url, mode="legacy", read_timeout_seconds=self.patience) as client:
                with contextlib.suppress(MCPError, ValueError, RuntimeError):
                    await client.call_tool("misbehave", {})
                result = await client.call_tool("behave", {})
                self.assertEqual(result.content[0].text, "well")  # type: ignore[union-attr]
        return standing

    async def test_lines_that_are_no_messages(self) -> None:
        standing = await self.through("rubbish")
        self.assertTrue([r for r in standing.remarks if "no message of the protocol" in r])

    async def test_an_answer_given_twice(self) -> None:
        standing = await self.through("twice")
        self.assertTrue([r for r in standing.remarks if "answered again" in r], standing.remarks)

    async def test_fifty_megabytes(self) -> None:
        standing = await self.through("huge")
        self.assertTrue([r for r in standing.remarks if "a message of 5" in r], standing.remarks)

    async def test_a_flood_of_notifications(self) -> None:
        standing = await self.through("flood")
        assert standing.recording is not None
        self.assertGreater(len(standing.recording.lines), 2500)

    async def test_no_answer_at_all(self) -> None:
        self.patience = 2.0
        standing = await self.through("silent")
        self.assertIn("session 1 has a request that was never answered", standing.remarks)

    async def test_a_server_that_dies(self) -> None:
        async with recorded(server(command=[sys.executable, BAD, "die"])) as standing:
            url = f"{standing.relay.base}/mcp"
            async with Client(url, mode="legacy", read_timeout_seconds=5) as client:
                with self.assertRaises(MCPError) as caught:
                    await client.call_tool("misbehave", {})
        self.assertIn("closed", str(caught.exception))


class CommandLine(unittest.TestCase):
    def test_ferox_record_stands_until_stopped(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            root = Path(folder)
            (root / "servers").mkdir()
            (root / "ferox.yaml").write_text("ferox: 1\nname: x\n")
            command = json.dumps([sys.executable, QUICK_TIDES])
            (root / "servers/live.yaml").write_text(
                f"ferox: 1\nserver: live\nlive: {{command: {command}}}\n"
            )
            out = root / "calm.jsonl"
            words = [sys.executable, "-m", "ferox", "record", str(root), "live", "--out", str(out)]
            with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as process:
                assert process.stdout
                url = process.stdout.readline().split(" at ")[1].strip()

                async def client() -> None:
                    async with Client(url) as client:
                        await client.call_tool("high_water", {"day": "Monday"})

                asyncio.run(client())
                process.terminate()
                found = process.stdout.read()
                self.assertEqual(process.wait(HANG_S), 0)
            self.assertIn("1 call", found)
            self.assertIn("high_water", out.read_text())
            again = subprocess.run(words, capture_output=True, text=True)
            self.assertEqual(again.returncode, 2)
            self.assertIn("is there already", again.stderr)
            words = [sys.executable, "-m", "ferox", "drift", "live", "--recording", str(out)]
            drift = subprocess.run(
                [*words, "--also", "high_water"], cwd=root, capture_output=True, text=True
            )
            self.assertEqual((drift.returncode, drift.stderr), (0, ""))
            self.assertIn("1 call asked again, 0 not asked: as recorded", drift.stdout)
