"""The desk: servers kept at hand, one call at a time, told apart by their files."""

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
from ferox.servers.by_hand import open_servers as desk_module
from ferox.servers.by_hand.open_servers import Busy, Desk
from ferox.servers.connection.diagnosis import OutOfReach
from ferox.servers.connection.keeper import kept
from tests.test_live import HERE, TIDES, server
from tests.waiting import until
from tests.workspaces import know_secrets

BAD = str(HERE / "servers/bad.py")


def counting(answer: str = "{{ state.n }}") -> ServerFile:
    change = {"op": "replace", "path": "/n", "value": "{{ state.n + 1 }}"}
    tool = {"name": "count", "answers": [{"give": {"n": answer}, "change": [change]}]}
    body = {"ferox": 1, "server": "s", "mock": {"state": {"n": 1}, "tools": [tool]}}
    return ServerFile.model_validate(body)


class DeskCase(unittest.TestCase):
    def setUp(self) -> None:
        self.desk = Desk()
        self.addCleanup(self.desk.close)

    def tried(self, file: ServerFile, mode: str, tool: str, args: Any = None) -> Any:
        number, tried = self.desk.run(self.desk.begin(file, mode, HERE, tool, args or {}))
        while tried.state == "running":
            self.desk.run(self.desk.wait(number, tried.version, 5))
        return tried

    def hand(self, file: ServerFile, mode: str, afresh: bool = False) -> Any:
        return self.desk.run(self.desk.hand(file, mode, HERE, afresh))


class Keeping(DeskCase):
    def test_a_mock_keeps_its_state_from_call_to_call(self) -> None:
        self.assertEqual(self.tried(counting(), "mock", "count").after, {"n": 2})
        self.assertEqual(self.tried(counting(), "mock", "count").after, {"n": 3})
        self.assertIs(self.hand(counting(), "mock"), self.hand(counting(), "mock"))

    def test_another_file_or_afresh_is_another_connection(self) -> None:
        one = self.hand(counting(), "mock")
        self.tried(counting(), "mock", "count")
        other = self.hand(counting("{{ state.n * 2 }}"), "mock")
        self.assertIsNot(one, other)
        self.assertEqual(self.tried(counting("{{ state.n * 2 }}"), "mock", "count").after, {"n": 2})
        self.assertIsNot(self.hand(counting(), "mock", afresh=True), one)

    def test_a_live_server_is_started_once_and_ended_with_the_desk(self) -> None:
        file = server(command=[sys.executable, TIDES])
        hand = self.hand(file, "live")
        self.assertIs(self.hand(file, "live"), hand)
        self.assertIsNone(self.desk.run(self.desk.at_rest("tides", "mock")))
        self.assertEqual(self.children(), 1)
        self.desk.close()
        self.assertEqual(self.children(), 0)

    def children(self) -> int:
        """How many of the tests' servers this process has started and not ended."""
        mine = Path(f"/proc/{os.getpid()}/task").glob("*/children")
        ids = [id for path in mine for id in path.read_text().split()]
        return sum(TIDES in Path(f"/proc/{id}/cmdline").read_text() for id in ids)

    def test_what_nobody_used_is_closed(self) -> None:
        hand = self.hand(counting(), "mock")
        hand.used -= 1000
        with mock.patch.object(desk_module, "IDLE_S", 600):
            self.desk._loop.call_soon_threadsafe(self.desk._reap)
            until(lambda: self.desk.run(self.desk.at_rest("s", "mock")) is None)

    def test_what_cannot_be_opened_says_why_and_leaves_nothing(self) -> None:
        with self.assertRaises(OutOfReach):
            self.hand(server(command=["no-such-command"]), "live")
        body = {"ferox": 1, "server": "s", "recording": "none.jsonl"}
        with self.assertRaises(RecordingError):
            self.hand(ServerFile.model_validate(body), "recorded")
        self.assertIsNone(self.desk.run(self.desk.at_rest("s", "recorded")))


class Trying(DeskCase):
    def test_one_call_at_a_time(self) -> None:
        file = server(command=[sys.executable, TIDES])
        number, _ = self.desk.run(self.desk.begin(file, "live", HERE, "sound", {"steps": 100}))
        with self.assertRaises(Busy):
            self.desk.run(self.desk.begin(file, "live", HERE, "sound", {"steps": 1}))
        over = self.desk.run(self.desk.cancel(number))
        assert over is not None
        self.assertEqual(over.state, "cancelled")
        self.assertEqual(self.tried(file, "live", "sound", {"steps": 1}).state, "done")

    def test_waiting_ends_with_a_change_or_the_time(self) -> None:
        file = server(command=[sys.executable, TIDES])
        number, tried = self.desk.run(self.desk.begin(file, "live", HERE, "sound", {"steps": 100}))
        self.desk.run(self.desk.wait(number, 0, 5))
        self.assertGreater(tried.version, 0)  # progress
        self.desk.run(self.desk.wait(number, tried.version + 100, 0.2))
        self.assertEqual(tried.state, "running")  # the time was up before the call was
        self.desk.run(self.desk.cancel(number))

    def test_what_is_not_there_any_more(self) -> None:
        self.assertIsNone(self.desk.run(self.desk.wait("x", 0, 0.1)))
        self.assertIsNone(self.desk.run(self.desk.cancel("x")))
        self.assertIsNone(self.desk.run(self.desk.answer("x", "accept", {})))

    def test_a_server_that_died_is_started_anew(self) -> None:
        file = server(command=[sys.executable, BAD, "die"])
        self.assertIn("losed", self.tried(file, "live", "misbehave").error)
        self.hand(file, "live", afresh=True)
        self.assertEqual(self.tried(file, "live", "behave").content[0]["text"], "well")

    def test_a_secret_that_comes_back_is_not_shown(self) -> None:
        secret = {"KELP": {"secret": "FEROX_TEST_KELP"}}
        know_secrets(self, FEROX_TEST_KELP="high_water")
        hand = self.hand(server(command=[sys.executable, TIDES], env=secret), "live")
        self.desk.run(hand.look())
        self.assertNotIn("high_water", str(list(hand.messages)))


class Keeper(unittest.IsolatedAsyncioTestCase):
    async def test_what_goes_wrong_on_entering_is_raised_here(self) -> None:
        class Fails:
            async def __aenter__(self) -> None:
                raise OutOfReach("nobody", "nobody is there", "look again")

            async def __aexit__(self, *error: object) -> None:
                return None

        with self.assertRaises(OutOfReach):
            async with kept(Fails()):
                self.fail("entered")

    async def test_what_breaks_later_cancels_nobody(self) -> None:
        class Breaks:
            async def __aenter__(self) -> str:
                return "held"

            async def __aexit__(self, *error: object) -> None:
                raise ConnectionError("broken")

        async with kept(Breaks()) as held:
            await asyncio.sleep(0)
            self.assertEqual(held, "held")

    async def test_it_is_left_in_the_task_that_entered_it(self) -> None:
        tasks: list[Any] = []

        class Notes:
            async def __aenter__(self) -> None:
                tasks.append(asyncio.current_task())

            async def __aexit__(self, *error: object) -> None:
                tasks.append(asyncio.current_task())

        async with kept(Notes()):
            pass
        self.assertIs(tasks[0], tasks[1])
        self.assertIsNot(tasks[0], asyncio.current_task())
