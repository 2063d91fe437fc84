"""What the interface takes and gives of recordings, relays and drift."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel

from ferox.web.servers.shapes import DifferenceShape, ListChangeShape
from ferox.web.shapes import RecordId


class RelayRequest(BaseModel):
    """A way to a server before which a relay is to stand."""

    mode: str


class SnippetShape(BaseModel):
    """Something to paste into a client's configuration."""

    title: str
    text: str


class CallLine(BaseModel):
    """A request that passed a relay, and how it was answered; `s` is None while it waits."""

    number: int
    session: int
    t: float
    method: str
    tool: str | None
    args: dict[str, Any]
    s: float | None
    error: str | None


class RelayShape(BaseModel):
    """A relay that stands: where clients find it, and the newest of what passed."""

    id: str
    server: str
    mode: str
    address: str
    snippets: list[SnippetShape]
    messages: int
    sessions: int
    calls: list[CallLine]
    remarks: list[str]
    state: Literal["standing", "stopped"]


class RelayList(BaseModel):
    """The relays of this process."""

    relays: list[RelayShape]


class RelayPath(BaseModel):
    """A relay's number in an address."""

    relay: str


class KeepRequest(BaseModel):
    """How a recording is to be kept; `use`: the server's file is to name it."""

    name: str
    use: bool = True


class RecordingLine(BaseModel):
    """A recording as lists show it; a captured one lies beside a run's results."""

    file: str
    server: str
    captured_at: str
    calls: int
    messages: int
    captured: bool
    used: bool
    problem: str | None = None


class RecordingList(BaseModel):
    """A server's recordings."""

    recordings: list[RecordingLine]


class RecordingQuery(BaseModel):
    """Which recording, and from which exchange on."""

    file: str
    start: RecordId = 0


class ExchangeShape(BaseModel):
    """One exchange of a recording: the request, and its answer as the protocol writes it."""

    number: int
    session: int
    t: float
    s: float | None
    method: str
    params: dict[str, Any]
    answer: dict[str, Any] | None


class RecordingShape(BaseModel):
    """A recording, a page of its exchanges at a time."""

    file: str
    header: dict[str, Any]
    messages: int
    sessions: int
    left_open: list[int]
    total: int
    start: int
    exchanges: list[ExchangeShape]


class CutRequest(BaseModel):
    """Which exchanges to keep, and the name of what comes of it."""

    file: str
    keep: list[RecordId]
    name: str


class EditRequest(BaseModel):
    """Another answer to one exchange: {result: …} or {error: …}."""

    file: str
    number: RecordId
    answer: dict[str, Any]


class MergeRequest(BaseModel):
    """Two recordings of one server, and the name of what comes of them."""

    file: str
    other: str
    name: str


class DriftRequest(BaseModel):
    """A recording to be held against a live way; `also`: tools asked though they may write."""

    file: str
    mode: str
    also: list[str] = []


class RepeatedCallShape(BaseModel):
    """A recorded call, asked again."""

    number: int
    tool: str
    args: dict[str, Any]
    kind: str
    what: list[DifferenceShape]
    reason: str | None


class DriftShape(BaseModel):
    """What changed since a recording, as far as it was looked at."""

    id: str
    state: Literal["running", "done", "stopped", "failed"]
    message: str | None
    total: int
    tools: list[ListChangeShape]
    calls: list[RepeatedCallShape]


class DriftPath(BaseModel):
    """A drift's number in an address."""

    drift: str
