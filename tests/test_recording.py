"""Recordings: the format, masking at capture, browsing, cutting, editing, merging, replaying."""

from __future__ import annotations

import asyncio
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import Clock
from ferox.core.masking import MASK, Masker, says_secret
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock, Replay
from ferox.recordings.capture import Capture
from ferox.recordings.recording import RecordedLine, Recording, RecordingError
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.recorded import RecordedServer, argument_likeness
from ferox.servers.sources.source import ProtocolRefusal, SilentCaller, ToolOutput, UnknownTool

HEADER = {
    "ferox_recording": 1,
    "server": "tides",
    "captured_at": "2031-03-14T06:30:00Z",
    "protocol": "2025-11-25",
    "transport": "stdio",
}
JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner),
    max_leaves=12,
)


def exchange(id: int, method: str, params: Any, answer: Any, t: float = 0, session: int = 1) -> Any:
    """The two lines of a request and its answer."""
    asked = {"jsonrpc": "2.0", "id": id, "method": method, "params": params}
    document = {"jsonrpc": "2.0", "id": id, **answer}
    return [
        {"t": t, "session": session, "dir": "to_server", "msg": asked},
        {"t": t + 0.01, "session": session, "dir": "to_client", "msg": document},
    ]


def call(id: int, args: Any, text: str, t: float = 0, tool: str = "high_water") -> Any:
    result = {"content": [{"type": "text", "text": text}], "isError": False}
    params = {"name": tool, "arguments": args}
    return exchange(id, "tools/call", params, {"result": result}, t)


TOOLS = {
    "tools": [{"name": "high_water", "inputSchema": {"type": "object"}}, {"name": "low_water"}]
}
LINES = [
    *exchange(0, "initialize", {}, {"result": {"protocolVersion": "2025-11-25"}}),
    *exchange(1, "tools/list", {}, {"result": TOOLS}, 0.1),
    *call(2, {"day": "monday", "n": 1}, "14:31", 1),
    *call(3, {"day": "monday", "n": 1}, "14:32", 2),
    *call(4, {"day": "friday", "n": 9}, "17:05", 3),
]


def parsed(lines: Any = LINES, header: Any = HEADER) -> Recording:
    text = "\n".join(json.dumps(x, ensure_ascii=False) for x in [header, *lines])
    return Recording.parse("calm.jsonl", text)


class Format(unittest.TestCase):
    def test_exchanges_pair_requests_with_their_answers(self) -> None:
        recording = parsed()
        self.assertEqual([c.args["day"] for c in recording.calls], ["monday", "monday", "friday"])
        self.assertEqual(recording.calls[0].s, 0.01)
        self.assertEqual([t["name"] for t in recording.tools], ["high_water", "low_water"])

    def test_what_is_written_is_what_was_read(self) -> None:
        recording = parsed()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "calm.jsonl"
            recording.write(path)
            again = Recording.read(path)
        self.assertEqual(again.lines, recording.lines)
        self.assertEqual(again.header, recording.header)

    @given(JSON)
    def test_any_message_survives(self, value: Any) -> None:
        line = RecordedLine(
            1.5, 1, "to_server", {"jsonrpc": "2.0", "method": "m", "params": {"v": value}}
        )
        text = json.dumps(HEADER) + "\n" + line.text() + "\n"
        self.assertEqual(Recording.parse("x", text).lines, [line])

    def test_a_wrong_line_is_named(self) -> None:
        for lines, words in (
            ([{"t": -1, "session": 1, "dir": "to_server", "msg": {}}], "calm.jsonl:2: t: "),
            ([{"t": 1, "session": 1, "dir": "up", "msg": {}}], "calm.jsonl:2: dir: "),
            ([{"t": 1, "session": 1, "dir": "to_client"}], "calm.jsonl:2: msg: "),
        ):
            with self.assertRaises(RecordingError) as caught:
                parsed(lines)
            self.assertTrue(str(caught.exception).startswith(words), caught.exception)
        with self.assertRaises(RecordingError) as caught:
            parsed([], {"server": "tides"})
        self.assertIn("calm.jsonl:1: ferox_recording", str(caught.exception))

    def test_a_list_in_pages_is_one_list(self) -> None:
        pages = [
            *exchange(1, "tools/list", {}, {"result": {"tools": [{"name": "a"}]}}),
            *exchange(2, "tools/list", {"cursor": "x"}, {"result": {"tools": [{"name": "b"}]}}),
        ]
        self.assertEqual([t["name"] for t in parsed(pages).tools], ["a", "b"])
        anew = [*pages, *exchange(3, "tools/list", {}, {"result": {"tools": [{"name": "c"}]}})]
        self.assertEqual([t["name"] for t in parsed(anew).tools], ["c"])

    def test_a_request_that_nobody_answered_is_reported(self) -> None:
        self.assertEqual(parsed(LINES[:-1]).left_open(), [1])
        self.assertEqual(parsed().left_open(), [])


class Editing(unittest.TestCase):
    def test_cut_keeps_the_session_s_beginning(self) -> None:
        recording = parsed()
        cut = recording.cut([recording.calls[2].number])
        self.assertEqual([e.method for e in cut.exchanges], ["initialize", "tools/call"])
        self.assertEqual(cut.calls[0].args["day"], "friday")
        with self.assertRaises(RecordingError):
            recording.cut([99])

    def test_an_answer_is_edited_and_the_first_stays_as_it_was(self) -> None:
        recording = parsed()
        number = recording.calls[0].number
        edited = recording.edited(number, {"error": {"code": -32000, "message": "closed"}})
        error = edited.calls[0].error
        self.assertEqual((error or {})["message"], "closed")
        self.assertIsNone(recording.calls[0].error)
        for bad in ({}, {"result": 1}, {"error": {"code": "x", "message": "y"}}, {"what": {}}):
            with self.assertRaises(RecordingError):
                recording.edited(number, bad)

    def test_merge_puts_the_other_s_sessions_after(self) -> None:
        both = parsed().merged(parsed())
        self.assertEqual({x.session for x in both.lines}, {1, 2})
        self.assertEqual(len(both.calls), 6)
        self.assertEqual(sorted(x.t for x in both.lines), [x.t for x in both.lines])
        with self.assertRaises(RecordingError):
            parsed().merged(parsed(header={**HEADER, "server": "harbour"}))


class Masking(unittest.TestCase):
    def test_names_that_say_so(self) -> None:
        for name in ("password", "apiKey", "api-key", "access_token", "Authorization", "token",
                     "client_secret", "sessionToken", "X-Api-Key"):  # fmt: skip
            self.assertTrue(says_secret(name), name)
        for name in ("progressToken", "nextCursor", "tokens", "key", "secretary", "page_token"):
            self.assertFalse(says_secret(name), name)

    def test_values_wherever_they_stand(self) -> None:
        masker = Masker(["hunter-2-hunter", "ab"])
        masked = masker.mask(
            {
                "password": "x",
                "note": "use hunter-2-hunter today",
                "inner": [{"apiKey": 5, "password": {"type": "string"}}],
                "text": '{"token": "abc", "depth": 7.4}',
                "about": "ab stays",
            }
        )
        self.assertEqual(masked["password"], MASK)
        self.assertEqual(masked["note"], f"use {MASK} today")
        self.assertEqual(masked["inner"], [{"apiKey": MASK, "password": {"type": "string"}}])
        self.assertEqual(json.loads(masked["text"]), {"token": MASK, "depth": 7.4})
        self.assertEqual(masked["about"], "ab stays")

    @given(JSON)
    def test_a_known_secret_never_comes_through(self, value: Any) -> None:
        secret = "kelp-and-barnacle"
        held = {"a": [value, f"x{secret}y"], secret: value, "text": json.dumps({"b": secret})}
        self.assertNotIn(secret, json.dumps(Masker([secret]).mask(held)))

    def test_a_capture_is_masked_and_complete(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "calm.jsonl"
            capture = Capture(path, "tides", "http", Masker(["kelp-and-barnacle"]))
            for line in LINES:
                capture.note_message(1, line["dir"], line["msg"])
            params = {"name": "x", "arguments": {"key": "kelp-and-barnacle"}}
            asked = {"jsonrpc": "2.0", "id": 9, "method": "tools/call", "params": params}
            capture.note_message(1, "to_server", asked)
            on_disk = path.read_text()
            recording = capture.close()
        self.assertNotIn("kelp", on_disk)
        assert recording is not None
        self.assertEqual(len(recording.lines), len(LINES) + 1)
        self.assertEqual(recording.header.protocol, "2025-11-25")

    def test_nothing_passed_leaves_no_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "calm.jsonl"
            self.assertIsNone(Capture(path, "tides", "http", Masker()).close())
            self.assertFalse(path.exists())


class Replaying(unittest.TestCase):
    def answer(self, server: RecordedServer, args: Any, tool: str = "high_water") -> ToolOutput:
        return asyncio.run(server.call(tool, args, SilentCaller()))

    def test_the_same_call_again_gets_its_next_answer_and_the_last_stays(self) -> None:
        server = RecordedServer("tides", parsed())
        args = {"n": 1.0, "day": "monday"}  # canonical: another order, 1.0 is 1
        found = [self.answer(server, args).value for _ in range(3)]
        self.assertEqual(found, ["14:31", "14:32", "14:32"])

    def test_a_look_up_takes_no_turn(self) -> None:
        server = RecordedServer("tides", parsed())
        args = {"day": "monday", "n": 1}
        asyncio.run(server.look_up("high_water", args))
        self.assertEqual(self.answer(server, args).value, "14:31")

    def test_what_was_not_recorded_is_refused_and_the_difference_named(self) -> None:
        server = RecordedServer("tides", parsed())
        with self.assertRaises(ProtocolRefusal) as caught:
            self.answer(server, {"day": "sunday", "n": 1})
        self.assertIn("differs in day", str(caught.exception))
        with self.assertRaises(ProtocolRefusal) as caught:
            self.answer(server, {}, "low_water")
        self.assertIn("never called", str(caught.exception))
        with self.assertRaises(UnknownTool):
            self.answer(server, {}, "depth_at")

    def test_ignored_arguments_do_not_count(self) -> None:
        server = RecordedServer("tides", parsed(), Replay(ignore=["n"]))
        self.assertEqual(self.answer(server, {"day": "friday", "n": 5}).value, "17:05")
        self.assertEqual(self.answer(server, {"day": "friday"}).value, "17:05")

    def test_nearest_is_marked(self) -> None:
        server = RecordedServer("tides", parsed(), Replay(match="nearest"))
        near = self.answer(server, {"day": "friday", "n": 8})
        self.assertEqual((near.value, near.nearest), ("17:05", True))
        exact = self.answer(server, {"day": "friday", "n": 9})
        self.assertFalse(exact.nearest)

    def test_a_miss_may_go_to_the_mock(self) -> None:
        mock = Mock.model_validate({"tools": [{"name": "high_water", "answers": [{"give": "x"}]}]})
        fallback = MockServer("tides", mock, 1, MatchContext(Clock("2031-03-14T06:30:00Z")))
        server = RecordedServer("tides", parsed(), Replay(miss="mock"), fallback)
        self.assertEqual(self.answer(server, {"day": "sunday"}).value, "x")
        self.assertEqual(self.answer(server, {"day": "friday", "n": 9}).value, "17:05")

    @given(st.dictionaries(st.text(max_size=5), JSON, max_size=4))
    def test_likeness_is_one_for_the_same_and_between_nought_and_one(self, args: Any) -> None:
        self.assertEqual(argument_likeness(args, args), 1.0)
        other = {**args, "more": 1}
        self.assertGreaterEqual(argument_likeness(args, other), 0.0)
        self.assertLess(argument_likeness(args, other), 1.0)
        self.assertEqual(argument_likeness(args, other), argument_likeness(other, args))
