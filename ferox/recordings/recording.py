"""A recording: read, browsed, cut, edited, merged and written."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any, TypeVar

from pydantic import ValidationError

from ferox.formats.recording import RecordedMessage, RecordingHeader
from ferox.intake.files import open_ordinary_file, write_whole
from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError

Index = TypeVar("Index")
Definition = dict[str, Any]
"""A tool as the protocol writes it."""
TO_SERVER, TO_CLIENT = "to_server", "to_client"
SERVER_INFO_META = "io.modelcontextprotocol/serverInfo"
CLIENT_INFO_META = "io.modelcontextprotocol/clientInfo"
PROTOCOL_META = "io.modelcontextprotocol/protocolVersion"
MERGE_GAP_S = 1.0


class RecordingError(ValueError):
    """A recording that cannot be read, or an edit that does not fit it."""


@dataclass(frozen=True)
class RecordedLine:
    """One message: seconds from the start, session, direction, and the message itself."""

    t: float
    session: int
    dir: str
    msg: dict[str, Any]

    def text(self) -> str:
        """The line as the file holds it."""
        body = {"t": self.t, "session": self.session, "dir": self.dir, "msg": self.msg}
        return json.dumps(body, ensure_ascii=False, separators=(",", ":"))


@dataclass(frozen=True)
class Exchange:
    """A client's request and the server's answer to it, by their places among the messages."""

    number: int
    session: int
    method: str
    params: dict[str, Any]
    t: float
    request_at: int
    answer_at: int | None = None
    s: float | None = None
    result: dict[str, Any] | None = None
    error: dict[str, Any] | None = None

    @property
    def tool(self) -> str | None:
        """The tool that a call calls."""
        return str(self.params.get("name")) if self.method == "tools/call" else None

    @property
    def args(self) -> dict[str, Any]:
        """A call's arguments."""
        return self.params.get("arguments") or {}


@dataclass
class Recording:
    """A recording in memory."""

    header: RecordingHeader
    lines: list[RecordedLine] = field(default_factory=list)
    _indexes: dict[tuple[str, ...], Any] = field(default_factory=dict, repr=False, compare=False)

    def index_once(self, by: tuple[str, ...], make: Callable[[], Index]) -> Index:
        """What `make` gives, made once for all who play the recording with `by` left out."""
        if by not in self._indexes:
            self._indexes[by] = make()
        made: Index = self._indexes[by]
        return made

    @classmethod
    def read(cls, path: Path) -> Recording:
        """A recording from its file.

        Raises:
            RecordingError: with the line that is wrong.
        """
        try:
            with open_ordinary_file(path) as file:
                return cls._read_texts(path.name, file)
        except OSError as error:
            raise RecordingError(f"{path.name}: {error.strerror}") from None
        except IntakeError as error:
            raise RecordingError(f"{path.name}: {error}") from None

    @classmethod
    def parse(cls, name: str, text: str) -> Recording:
        """A recording from its text.

        Raises:
            RecordingError: with the line that is wrong.
        """
        return cls._read_texts(name, (line.encode() for line in text.split("\n")))

    @classmethod
    def _read_texts(cls, name: str, texts: Iterable[bytes]) -> Recording:
        numbered = enumerate(texts, 1)
        _, first = next(numbered, (1, b""))
        try:
            header = RecordingHeader.model_validate_json(first)
        except ValidationError as error:
            fault = error.errors()[0]
            where = ".".join(map(str, fault["loc"])) or "the header"
            raise RecordingError(f"{name}:1: {where}: {fault['msg']}") from None
        lines = [_read_line(name, number, text) for number, text in numbered if text.strip()]
        return cls(header, lines)

    def text(self) -> str:
        """The whole file."""
        lines = [header_text(self.header), *(line.text() for line in self.lines)]
        return "\n".join(lines) + "\n"

    def write(self, path: Path) -> None:
        """Write the whole file, or none of it.

        Raises:
            RecordingError: it cannot be written.
        """
        try:
            write_whole(path, lambda file: file.write(self.text()))
        except OSError as error:
            raise RecordingError(f"{path.name}: cannot be written: {error.strerror}") from None

    @cached_property
    def exchanges(self) -> list[Exchange]:
        """Every request of a client, in order, with its answer."""
        found: list[Exchange] = []
        waiting: dict[tuple[int, str], int] = {}
        for place, line in enumerate(self.lines):
            msg = line.msg
            if line.dir == TO_SERVER and "method" in msg and "id" in msg:
                waiting[line.session, repr(msg["id"])] = len(found)
                params = msg.get("params") or {}
                number = len(found)
                found.append(
                    Exchange(
                        number,
                        line.session,
                        str(msg["method"]),
                        params=params,
                        t=line.t,
                        request_at=place,
                    )
                )
            elif line.dir == TO_CLIENT and "method" not in msg and "id" in msg:
                number = waiting.pop((line.session, repr(msg["id"])), -1)
                if number >= 0:
                    asked = found[number]
                    found[number] = replace(
                        asked,
                        answer_at=place,
                        s=round(line.t - asked.t, 6),
                        result=msg.get("result"),
                        error=msg.get("error"),
                    )
        return found

    @cached_property
    def calls(self) -> list[Exchange]:
        """The tool calls among the exchanges; one that was asked back counts once, as answered."""
        return [
            e
            for e in self.exchanges
            if e.tool is not None and (e.result or {}).get("resultType") != "input_required"
        ]

    def answers_to(self, method: str) -> list[dict[str, Any]]:
        """The results of every answered request of a method, in order."""
        return [e.result for e in self.exchanges if e.method == method and e.result is not None]

    def listed_items(self, method: str, key: str) -> list[dict[str, Any]]:
        """A list as the server last gave it, all its pages together."""
        items: list[dict[str, Any]] = []
        for exchange in self.exchanges:
            if exchange.method == method and exchange.result is not None:
                page = exchange.result.get(key) or []
                items = [*items, *page] if exchange.params.get("cursor") else list(page)
        return items

    @property
    def tools(self) -> list[Definition]:
        """The tools as the server last listed them."""
        return self.listed_items("tools/list", "tools")

    def left_open(self) -> list[int]:
        """Sessions with a request that nobody ever answered."""
        return sorted({e.session for e in self.exchanges if e.answer_at is None})

    def cut(self, keep: Iterable[int]) -> Recording:
        """The recording with only these exchanges, by number, and the sessions' beginnings.

        Notifications stay where their session has an exchange left.

        Raises:
            RecordingError: a number that is none of an exchange.
        """
        wanted = set(keep)
        unknown = wanted - {e.number for e in self.exchanges}
        if unknown:
            raise RecordingError(f"there is no exchange {min(unknown)}")
        dropped: set[int] = set()
        kept_sessions: set[int] = set()
        for exchange in self.exchanges:
            opening = exchange.method in ("initialize", "server/discover")
            if exchange.number in wanted:
                kept_sessions.add(exchange.session)
            elif not opening:
                dropped |= {exchange.request_at, exchange.answer_at or exchange.request_at}
        lines = [
            line
            for place, line in enumerate(self.lines)
            if place not in dropped and line.session in kept_sessions
        ]
        return Recording(self.header, lines)

    def edited(self, number: int, answer: dict[str, Any]) -> Recording:
        """The recording with another answer to one exchange: `{"result": …}` or `{"error": …}`.

        Raises:
            RecordingError: no such exchange, or nothing that is an answer.
        """
        exchange = next((e for e in self.exchanges if e.number == number), None)
        if exchange is None or exchange.answer_at is None:
            raise RecordingError(f"exchange {number} has no answer to edit")
        if answer.keys() not in ({"result"}, {"error"}) or not isinstance(
            next(iter(answer.values())), dict
        ):
            raise RecordingError("an answer is {result: …} or {error: {code, message}}")
        error = answer.get("error")
        if error is not None and not (
            isinstance(error.get("code"), int) and isinstance(error.get("message"), str)
        ):
            raise RecordingError("an error has a `code`, a whole number, and a `message`")
        lines = list(self.lines)
        old = lines[exchange.answer_at]
        msg = {"jsonrpc": "2.0", "id": old.msg["id"], **copy.deepcopy(answer)}
        lines[exchange.answer_at] = replace(old, msg=msg)
        return Recording(self.header, lines)

    def merged(self, other: Recording) -> Recording:
        """Both, the other's sessions after this one's.

        Raises:
            RecordingError: they are of different servers.
        """
        if other.header.server != self.header.server:
            message = f"one is of {self.header.server}, the other of {other.header.server}"
            raise RecordingError(f"two recordings of one server can be merged; {message}")
        after = max((line.session for line in self.lines), default=0)
        start = max((line.t for line in self.lines), default=-MERGE_GAP_S) + MERGE_GAP_S
        moved = [
            replace(line, t=round(line.t + start, 6), session=line.session + after)
            for line in other.lines
        ]
        return Recording(self.header, [*self.lines, *moved])


@lru_cache(maxsize=16)
def _read_cached(path: Path, stamp: tuple[int, int]) -> Recording:
    return Recording.read(path)


def read_recording(path: Path) -> Recording:
    """A recording from its file, read again only when the file changed. It is shared: not to edit.

    Raises:
        RecordingError: with the line that is wrong.
    """
    try:
        stat = path.stat()
    except OSError as error:
        raise RecordingError(f"{path.name}: {error.strerror}") from None
    return _read_cached(path, (stat.st_mtime_ns, stat.st_size))


def header_text(header: RecordingHeader) -> str:
    """The first line of the file."""
    return json.dumps(header.model_dump(mode="json"), ensure_ascii=False, separators=(",", ":"))


def _read_line(name: str, number: int, text: bytes) -> RecordedLine:
    try:
        value = read_json(text)
        t, session, way, msg = value["t"], value["session"], value["dir"], value["msg"]
        if (
            type(t) in (int, float)
            and t >= 0
            and type(session) is int
            and way in (TO_SERVER, TO_CLIENT)
            and isinstance(msg, dict)
        ):
            return RecordedLine(t, session, way, msg)
    except (ValueError, KeyError, TypeError, RecursionError):
        pass
    raise RecordingError(_line_fault(name, number, text))


def _line_fault(name: str, number: int, text: bytes) -> str:
    """What is wrong with a line, told by the format's own model."""
    try:
        RecordedMessage.model_validate_json(text)
    except ValidationError as error:
        fault = error.errors()[0]
        where = ".".join(map(str, fault["loc"])) or "the line"
        return f"{name}:{number}: {where}: {fault['msg']}"
    return f"{name}:{number}: no line of a recording"


def protocol_of(lines: Iterable[RecordedLine]) -> Iterator[tuple[str, Any]]:
    """What the first messages tell for the header: protocol, server_info and client_info."""
    asked: dict[str, str] = {}
    for line in lines:
        msg = line.msg
        params, result = msg.get("params") or {}, msg.get("result") or {}
        if line.dir == TO_SERVER and "method" in msg:
            asked[repr(msg.get("id"))] = str(msg["method"])
            meta = params.get("_meta") or {}
            if msg["method"] == "initialize" and params.get("clientInfo"):
                yield "client_info", params["clientInfo"]
            elif CLIENT_INFO_META in meta:
                yield "client_info", meta[CLIENT_INFO_META]
                yield "protocol", meta.get(PROTOCOL_META)
        elif line.dir == TO_CLIENT and isinstance(result, dict) and "id" in msg:
            if asked.get(repr(msg["id"])) == "initialize":
                yield "protocol", result.get("protocolVersion")
                yield "server_info", result.get("serverInfo")
            elif SERVER_INFO_META in (result.get("_meta") or {}):
                yield "server_info", result["_meta"][SERVER_INFO_META]
