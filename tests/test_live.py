"""Live tool servers: reached over each transport, and each way of failing told apart."""

from __future__ import annotations

import asyncio
import contextlib
import json
import os
import socket
import subprocess
import sys
import threading
import time
import unittest
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any

from ferox.formats.server import Reach, ServerFile
from ferox.servers.by_hand.open_server import CallByHand, OpenServer, opened_by_hand
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.workspace.modes import modes_of
from tests.waiting import HANG_S
from tests.workspaces import know_secrets

HERE = Path(__file__).parent
TIDES = str(HERE / "servers/tides.py")
QUICK_TIDES = str(HERE / "servers/quick_tides.py")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextlib.contextmanager
def served(transport: str) -> Iterator[int]:
    """The tests' live server on a port."""
    port = free_port()
    command = [sys.executable, TIDES, transport, str(port)]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as process:
        end = time.monotonic() + HANG_S
        while time.monotonic() < end:
            with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), 0.2):
                break
            time.sleep(0.1)
        try:
            yield port
        finally:
            process.kill()


@contextlib.contextmanager
def answering(status: int, kind: str = "text/html") -> Iterator[str]:
    """A web server that gives every request the same answer."""

    class Handler(BaseHTTPRequestHandler):
        def answer(self) -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.end_headers()
            self.wfile.write(b"<h1>Harbour</h1>")

        do_GET = do_POST = answer

        def log_message(self, *args: Any) -> None:
            return None

    server = HTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_port}/"
    finally:
        server.shutdown()
        server.server_close()


def server(**live: Any) -> ServerFile:
    return ServerFile.model_validate({"ferox": 1, "server": "tides", "live": live})


async def tried(hand: OpenServer, tool: str, args: dict[str, Any]) -> CallByHand:
    made = hand.begin_call(tool, args)
    while not made.over:
        await made.wait_for_change(made.version, HANG_S)
    return made


def look(file: ServerFile, mode: str, folder: Path) -> Any:
    async def go() -> Any:
        async with opened_by_hand(file, mode, folder) as hand:
            return await hand.read_offer()

    return go()


def try_call(file: ServerFile, mode: str, folder: Path, tool: str, args: dict[str, Any]) -> Any:
    async def go() -> CallByHand:
        async with opened_by_hand(file, mode, folder) as hand:
            await hand.read_offer()
            return await tried(hand, tool, args)

    return go()


class Reaching(unittest.TestCase):
    def check_tides(self, file: ServerFile) -> None:
        seen = asyncio.run(look(file, "live", HERE))
        names = ["high_water", "environment", "sound", "book"]
        self.assertEqual([t["name"] for t in seen["tools"]], names)
        self.assertEqual(seen["tools"][0]["inputSchema"]["required"], ["day"])
        self.assertEqual(seen["resources"][0]["uri"], "tides://table")
        self.assertEqual(seen["prompts"][0]["name"], "ask")
        self.assertEqual(seen["instructions"], "Times are UTC.")
        made = asyncio.run(try_call(file, "live", HERE, "high_water", {"day": "Monday"}))
        self.assertEqual(made.content[0]["text"], "14:31 on Monday")
        self.assertGreater(made.ms, 0)
        wrong = asyncio.run(try_call(file, "live", HERE, "high_water", {}))
        self.assertIn("day", wrong.error)

    def test_over_standard_input_and_output(self) -> None:
        self.check_tides(server(command=[sys.executable, "tides.py"], cwd="servers"))

    def test_over_streamable_http(self) -> None:
        with served("http") as port:
            self.check_tides(server(url=f"http://127.0.0.1:{port}/mcp"))

    def test_over_the_older_event_stream(self) -> None:
        with served("sse") as port:
            self.check_tides(server(url=f"http://127.0.0.1:{port}/sse", transport="sse"))

    def test_a_started_server_gets_a_clean_environment(self) -> None:
        os.environ["FEROX_TEST_INHERITED"] = "x"
        self.addCleanup(os.environ.pop, "FEROX_TEST_INHERITED")
        know_secrets(self, FEROX_TEST_KEY="k")
        file = server(
            command=[sys.executable, QUICK_TIDES],
            env={"KEY": {"secret": "FEROX_TEST_KEY"}, "A": "1"},
        )
        made = asyncio.run(try_call(file, "live", HERE, "environment", {}))
        names = [c["text"] for c in made.content]
        self.assertIn("KEY", names)
        self.assertIn("A", names)
        self.assertNotIn("FEROX_TEST_INHERITED", names)

    def test_a_mock_is_tried_and_its_changes_are_reported(self) -> None:
        file = ServerFile.model_validate(
            {
                "ferox": 1,
                "server": "tides",
                "mock": {
                    "state": {"n": 1},
                    "tools": [
                        {
                            "name": "count",
                            "answers": [
                                {
                                    "give": {"n": "{{ state.n }}"},
                                    "change": [{"op": "replace", "path": "/n", "value": 2}],
                                }
                            ],
                        }
                    ],
                },
            }
        )
        self.assertEqual(modes_of(file), ["mock"])
        self.assertEqual(asyncio.run(look(file, "mock", HERE))["tools"][0]["name"], "count")
        made = asyncio.run(try_call(file, "mock", HERE, "count", {}))
        self.assertEqual(made.changes, [{"op": "replace", "path": "/n", "value": 2}])
        self.assertEqual(made.after, {"n": 2})
        self.assertIn("Unknown", asyncio.run(try_call(file, "mock", HERE, "x", {})).error)


class Guarded(BaseHTTPRequestHandler):
    """A server that wants a bearer token."""

    def do_POST(self) -> None:
        message = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        if self.headers.get("Authorization") != "Bearer kelp-and-barnacle":
            self.send_response(401)
            self.end_headers()
            return
        info = {"name": "guarded", "version": "1"}
        result = {"protocolVersion": "2025-06-18", "capabilities": {}, "serverInfo": info}
        body = json.dumps({"jsonrpc": "2.0", "id": message.get("id"), "result": result}).encode()
        self.send_response(200 if "id" in message else 202)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def do_DELETE(self) -> None:
        self.send_response(204)
        self.end_headers()

    def log_message(self, *args: Any) -> None:
        return None


class Tokens(unittest.TestCase):
    def test_a_bearer_token_is_a_secret(self) -> None:
        guarded = HTTPServer(("127.0.0.1", 0), Guarded)
        threading.Thread(target=guarded.serve_forever, daemon=True).start()
        self.addCleanup(guarded.server_close)
        self.addCleanup(guarded.shutdown)
        url = f"http://127.0.0.1:{guarded.server_port}/mcp"
        secret = {"Authorization": {"secret": "FEROX_TEST_TOKEN", "prefix": "Bearer "}}
        know_secrets(self, FEROX_TEST_TOKEN="kelp-and-barnacle")
        seen = asyncio.run(look(server(url=url, headers=secret), "live", HERE))
        self.assertEqual((seen["server_info"]["name"], seen["protocol"]), ("guarded", "2025-06-18"))
        know_secrets(self, FEROX_TEST_TOKEN="wrong")
        with self.assertRaises(ServerUnreachable) as caught:
            asyncio.run(look(server(url=url, headers=secret), "live", HERE))
        self.assertEqual(caught.exception.kind, "refused")


class Diagnosing(unittest.TestCase):
    def failure_of(self, patience_s: float = 30, **to: Any) -> ServerUnreachable:
        async def go() -> None:
            async with connect_client(Reach.model_validate(to), HERE, patience_s):
                pass

        with self.assertRaises(ServerUnreachable) as caught:
            asyncio.run(go())
        return caught.exception

    def test_commands(self) -> None:
        script = "import sys; print('no key set', file=sys.stderr); sys.exit(2)"
        for to, kind, part in [
            ({"command": ["no-such-command"]}, "no_command", "`no-such-command` was not found"),
            ({"command": ["ls"], "cwd": "nowhere"}, "no_folder", "`nowhere` does not exist"),
            ({"command": [sys.executable, "-c", script]}, "exited", "no key set"),
            (
                {"command": ["ls"], "env": {"K": {"secret": "FEROX_TEST_UNSET"}}},
                "unset",
                "FEROX_TEST_UNSET, which is not set",
            ),
            ({}, "nothing", "neither `command` nor `url`"),
        ]:
            with self.subTest(kind):
                out = self.failure_of(**to)
                self.assertEqual(out.kind, kind)
                self.assertIn(part, out.problem)
                self.assertTrue(out.advice)

    def test_a_command_that_says_nothing(self) -> None:
        out = self.failure_of(1.5, command=[sys.executable, "-c", "import time; time.sleep(30)"])
        self.assertEqual(out.kind, "silent")

    def test_addresses(self) -> None:
        nobody = f"http://127.0.0.1:{free_port()}/mcp"
        for to, kind in [
            ({"url": "harbour"}, "no_address"),
            ({"url": "http://no-such-host.invalid/mcp"}, "no_name"),
            ({"url": nobody}, "nobody"),
            ({"url": nobody, "headers": {"A": {"secret": "FEROX_TEST_UNSET"}}}, "unset"),
        ]:
            with self.subTest(kind):
                self.assertEqual(self.failure_of(**to).kind, kind)

    def test_what_answers_instead(self) -> None:
        for status, kind in [
            (200, "not_mcp"),
            (404, "not_mcp"),
            (401, "refused"),
            (403, "refused"),
        ]:
            with self.subTest(status), answering(status) as url:
                self.assertEqual(self.failure_of(url=url).kind, kind)
        with answering(503, "text/plain") as url:
            self.assertEqual(self.failure_of(url=url).kind, "broken")
            https = url.replace("http:", "https:")
            self.assertEqual(self.failure_of(url=https).kind, "tls")

    def test_a_header_that_is_set_and_not_accepted(self) -> None:
        with answering(401) as url:
            out = self.failure_of(url=url, headers={"Authorization": "Bearer old"})
        self.assertEqual(out.advice, "what it was sent is not what it wants: correct the value of "
                         "`Authorization`")  # fmt: skip

    def test_the_other_transport_at_the_address_beside_it(self) -> None:
        with served("sse") as port:
            base = f"http://127.0.0.1:{port}"
            out = self.failure_of(url=f"{base}/mcp")
            self.assertEqual(out.kind, "transport")
            self.assertEqual(out.advice, f"set `url: {base}/sse` and `transport: sse`")
        with served("http") as port:
            base = f"http://127.0.0.1:{port}"
            out = self.failure_of(url=f"{base}/sse", transport="sse")
            self.assertEqual(out.advice, f"set `url: {base}/mcp` and `transport: http`")

    def test_the_wrong_transport_names_the_right_one(self) -> None:
        with served("sse") as port:
            out = self.failure_of(url=f"http://127.0.0.1:{port}/sse")
            self.assertEqual((out.kind, out.advice), ("transport", "set `transport: sse`"))
        with served("http") as port:
            out = self.failure_of(url=f"http://127.0.0.1:{port}/mcp", transport="sse")
            self.assertEqual(out.kind, "transport")
            self.assertIn("`transport: http`", out.advice)

    def test_a_version_of_the_protocol_that_nobody_speaks(self) -> None:
        out = self.failure_of(command=[sys.executable, str(HERE / "servers/bad.py"), "version"])
        self.assertEqual(out.kind, "version")
        self.assertIn("1999-01-01", out.problem)
        self.assertIn("2025-11-25", out.advice)
