"""A tool server's file: the live server, its recording, and its mock."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ferox.formats.base import Document, Json, Name, Secret, Strict


class Reach(Strict):
    """How a live server is reached: a command over stdio, or an address."""

    command: list[str] | None = None
    url: str | None = None
    transport: Literal["http", "sse"] = "http"
    cwd: str | None = None
    env: dict[str, str | Secret] = {}
    headers: dict[str, str | Secret] = {}


class Replay(Strict):
    """How a recording answers."""

    match: Literal["exact", "nearest"] = "exact"
    ignore: list[str] = []
    miss: Literal["error", "mock", "live"] = "error"


class Latency(Strict):
    """How long a mocked answer takes: always the same, or a log-normal spread."""

    ms: float | None = Field(None, ge=0)
    median_ms: float | None = Field(None, gt=0)
    p95_ms: float | None = Field(None, gt=0)


class Change(Strict):
    """One operation of a JSON Patch (RFC 6902); strings may hold expressions."""

    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: str
    value: Json = None
    from_: str | None = Field(None, alias="from")


class Ask(Strict):
    """A question to the client before the answer (elicitation)."""

    message: str
    schema_: dict[str, Json] = Field({}, alias="schema")


class Answer(Strict):
    """One rule of a mocked tool. The first that fits answers."""

    if_: str | None = Field(None, alias="if", description="An expression that must be true.")
    when: dict[str, Json] | None = Field(None, description="Matchers by argument.")
    give: Json = None
    give_in_turn: list[Json] | None = None
    content: list[dict[str, Json]] | None = None
    error: str | None = None
    ask: Ask | None = None
    change: list[Change] = []
    latency: Latency | None = None


class MockTool(Strict):
    """A tool that a mock offers."""

    name: str
    title: str | None = None
    description: str = ""
    input: dict[str, Json] = Field({"type": "object"}, description="JSON Schema 2020-12.")
    output: dict[str, Json] | None = None
    annotations: dict[str, Json] | None = None
    latency: Latency | None = None
    answers: list[Answer] = []


class Mock(Strict):
    """A server made of rules. Its state is private to each trial."""

    state: dict[str, Json] = {}
    tools: list[MockTool] = []
    resources: list[dict[str, Json]] = []
    prompts: list[dict[str, Json]] = []


class ServerFile(Document):
    """One tool server."""

    server: Name
    title: str | None = None
    live: Reach | None = None
    variants: dict[Name, Reach] = {}
    recording: str | None = None
    replay: Replay = Replay()
    mock: Mock | None = None
    wording: dict[str, dict[str, Json]] = {}
