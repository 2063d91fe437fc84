"""Servers kept open between requests: one call at a time, another file another connection."""

from __future__ import annotations

import asyncio
import os
import sys
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from ferox.formats.server import ServerFile
from ferox.recordings.recording import RecordingError
from ferox.servers.by_hand import open_servers
from ferox.servers.by_hand.open_server import CallByHand, OpenServer
from ferox.servers.by_hand.open_servers import OpenServers, ServerBusy
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.connection.keeper import keep_open
from ferox.web.background_loop import BackgroundLoop
from tests.async_case import AsyncCase
from tests.test_live import HERE, QUICK_TIDES, server
from tests.waiting import HANG_S, until
from tests.workspaces import know_secrets

BAD = str(HERE / "servers/bad.py")


def counting(answer: str = "{{ state.n }}") -> ServerFile:
    change = {"op": "replace", "path": "/n", "value": "{{ state.n + 1 }}"}
    tool = {"name": "count", "answers": [{"give": {"n": answer}, "change": [change]}]}
    body = {"ferox": 1, "server": "s", "mock": {"state": {"n": 1}, "tools": [tool]}}
    return ServerFile.model_validate(body)


class OpenServersCase(unittest.TestCase):
    def setUp(self) -> None:
        self.loop = BackgroundLoop()
        self.addCleanup(self.loop.close)
        self.servers = OpenServers()
        self.loop.at_close(self.servers.close)

    def begin(self, file: ServerFile, mode: str, tool: str, args: Any = None) -> CallByHand:
        return self.loop.run(self.servers.begin_call(file, mode, HERE, tool=tool, args=args or {}))

    def cancel(self, call: CallByHand) -> None:
        async def cancel() -> None:
            call.cancel()

        self.loop.run(cancel())

    def wait(self, call: CallByHand) -> CallByHand:
        async def until_over() -> None:
            while not call.over:
                await call.wait_for_change(call.version, HANG_S)

        self.loop.run(until_over())
        return call

    def call(self, file: ServerFile, mode: str, tool: str, args: Any = None) -> CallByHand:
        return self.wait(self.begin(file, mode, tool, args))

    def open(self, file: ServerFile, mode: str, *, afresh: bool = False) -> OpenServer:
        return self.loop.run(self.servers.open(file, mode, HERE, afresh=afresh))

    def if_open(self, server: str, mode: str) -> OpenServer | None:
        return self.loop.run(self.servers.if_open(server, mode))


class KeepingOpen(OpenServersCase):
    def test_a_mock_keeps_its_state_from_call_to_call(self) -> None:
        self.assertEqual(self.call(counting(), "mock", "count").after, {"n": 2})
        self.assertEqual(self.call(counting(), "mock", "count").after, {"n": 3})
        self.assertIs(self.open(counting(), "mock"), self.open(counting(), "mock"))

    def test_another_file_or_afresh_is_another_connection(self) -> None:
        one = self.open(counting(), "mock")
        self.call(counting(), "mock", "count")
        other = self.open(counting("{{ state.n * 2 }}"), "mock")
        self.assertIsNot(one, other)
        self.assertEqual(self.call(counting("{{ state.n * 2 }}"), "mock", "count").after, {"n": 2})
        self.assertIsNot(self.open(counting(), "mock", afresh=True), one)

    def test_a_live_server_is_started_once_and_stopped_at_the_close(self) -> None:
        file = server(command=[sys.executable, QUICK_TIDES])
        one = self.open(file, "live")
        self.assertIs(self.open(file, "live"), one)
        self.assertIsNone(self.if_open("tides", "mock"))
        self.assertEqual(self.children(), 1)
        self.loop.close()
        self.assertEqual(self.children(), 0)

    def children(self) -> int:
        """How many of the tests' servers this process has started and not ended."""
        mine = Path(f"/proc/{os.getpid()}/task").glob("*/children")
        ids = [id for path in mine for id in path.read_text().split()]
        return sum(QUICK_TIDES in Path(f"/proc/{id}/cmdline").read_text() for id in ids)

    def test_a_connection_that_nobody_used_is_closed(self) -> None:
        with mock.patch.object(open_servers, "IDLE_S", 0.05):
            self.open(counting(), "mock")
            until(lambda: self.if_open("s", "mock") is None)

    def test_a_server_that_cannot_be_opened_says_why_and_leaves_nothing(self) -> None:
        with self.assertRaises(ServerUnreachable):
            self.open(server(command=["no-such-command"]), "live")
        body = {"ferox": 1, "server": "s", "recording": "none.jsonl"}
        with self.assertRaises(RecordingError):
            self.open(ServerFile.model_validate(body), "recorded")
        self.assertIsNone(self.if_open("s", "recorded"))


class CallingByHand(OpenServersCase):
    def test_one_call_at_a_time(self) -> None:
        file = server(command=[sys.executable, QUICK_TIDES])
        call = self.begin(file, "live", "sound", {"steps": 100})
        with self.assertRaises(ServerBusy):
            self.begin(file, "live", "sound", {"steps": 1})
        self.cancel(call)
        self.assertEqual(self.wait(call).state, "cancelled")
        self.assertEqual(self.call(file, "live", "sound", {"steps": 1}).state, "done")

    def test_waiting_ends_with_a_change_or_the_time(self) -> None:
        file = server(command=[sys.executable, QUICK_TIDES])
        call = self.begin(file, "live", "sound", {"steps": 100})
        self.loop.run(call.wait_for_change(0, HANG_S))
        self.assertGreater(call.version, 0)  # progress
        self.loop.run(call.wait_for_change(call.version, 0))
        self.assertEqual(call.state, "running")  # the time was up before the call was
        self.cancel(call)
        self.wait(call)

    def test_a_server_that_died_is_started_again(self) -> None:
        file = server(command=[sys.executable, BAD, "die"])
        self.assertIn("losed", self.call(file, "live", "misbehave").error or "")
        self.open(file, "live", afresh=True)
        self.assertEqual(self.call(file, "live", "behave").content[0]["text"], "well")

    def test_a_secret_that_comes_back_is_not_shown(self) -> None:
        secret = {"KELP": {"secret": "FEROX_TEST_KELP"}}
        know_secrets(self, FEROX_TEST_KELP="high_water")
        opened = self.open(server(command=[sys.executable, QUICK_TIDES], env=secret), "live")
        self.loop.run(opened.read_offer())
        self.assertNotIn("high_water", str(list(opened.messages)))


class Keeper(AsyncCase):
    async def test_what_goes_wrong_on_entering_is_raised_here(self) -> None:
        class Fails:
            async def __aenter__(self) -> None:
                raise ServerUnreachable("nobody", "nobody is there", "look again")

            async def __aexit__(self, *error: object) -> None:
                return None

        with self.assertRaises(ServerUnreachable):
            async with keep_open(Fails()):
                self.fail("entered")

    async def test_what_breaks_later_cancels_nobody(self) -> None:
        class Breaks:
            async def __aenter__(self) -> str:
                return "held"

            async def __aexit__(self, *error: object) -> None:
                raise ConnectionError("broken")

        async with keep_open(Breaks()) as held:
            await asyncio.sleep(0)
            self.assertEqual(held, "held")

    async def test_it_is_left_in_the_task_that_entered_it(self) -> None:
        tasks: list[Any] = []

        class Notes:
            async def __aenter__(self) -> None:
                tasks.append(asyncio.current_task())

            async def __aexit__(self, *error: object) -> None:
                tasks.append(asyncio.current_task())

        async with keep_open(Notes()):
            pass
        self.assertIs(tasks[0], tasks[1])
        self.assertIsNot(tasks[0], asyncio.current_task())
