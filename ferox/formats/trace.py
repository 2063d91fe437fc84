"""The open form of a trace: everything that happened in a trial, with times.

Traces stay plain dictionaries: they are read far more often than they are
checked, and a reader ignores what it does not know.
"""

from __future__ import annotations

from typing import Any, Literal, NotRequired

from pydantic import ConfigDict, TypeAdapter, with_config
from typing_extensions import TypedDict

Json = Any

EndReason = Literal[
    "done", "no_reply", "crash", "did_not_start", "limit", "stopped", "could_not_run"
]


class CallError(TypedDict):
    """Why a call did not end well."""

    kind: str
    message: str


class Proposal(TypedDict):
    """A tool call that the model proposed."""

    id: str
    tool: str
    args: Json


class Usage(TypedDict):
    """Tokens, as the endpoint reported them."""

    input: int
    output: int


@with_config(ConfigDict(extra="allow"))
class Event(TypedDict):
    """One thing that happened; `kind` says which of the optional fields it has."""

    t: float
    kind: Literal[
        "turn", "model", "call", "ask", "hold", "reply", "partial", "embed", "question", "end"
    ]
    id: NotRequired[str]
    s: NotRequired[float | None]
    part: NotRequired[int]
    text: NotRequired[str | None]
    rule: NotRequired[int | None]
    voice: NotRequired[str]
    offered: NotRequired[list[str]]
    proposed: NotRequired[list[Proposal]]
    usage: NotRequired[Usage | None]
    seam: NotRequired[Literal["tool", "local", "model"]]
    tool: NotRequired[str]
    args: NotRequired[Json]
    result: NotRequired[Json]
    error: NotRequired[CallError | None]
    fault: NotRequired[str | None]
    fault_n: NotRequired[int | None]
    nearest: NotRequired[bool]
    content: NotRequired[list[dict[str, Json]]]
    first_s: NotRequired[float]
    waited_s: NotRequired[float]
    sent: NotRequired[Json]
    by: NotRequired[str]
    hides: NotRequired[str]
    call: NotRequired[str | None]
    did: NotRequired[str]
    by_hand: NotRequired[str]
    texts: NotRequired[int]
    proposal: NotRequired[str | None]
    decision: NotRequired[Literal["approve", "deny"]]
    edited: NotRequired[Json]
    data: NotRequired[Json]
    of: NotRequired[str]
    why: NotRequired[EndReason]
    reason: NotRequired[str | None]


class OfferedTool(TypedDict):
    """A tool as the agent was offered it; one of its own as its model was shown it."""

    input: NotRequired[Json]
    description: NotRequired[str | None]
    name: NotRequired[str]


class Voice(TypedDict):
    """A part of the agent that speaks to a model: the start of its instructions, and the names
    of its tools as the model saw them."""

    instructions: str
    tools: list[str]


class Traffic(TypedDict):
    """What passed at a tool seam besides calls: sessions (of the protocols that have them), how
    many of them the agent never closed, listings of the tools, the newest protocol version
    spoken, and the client's own name."""

    sessions: int
    left_open: NotRequired[int]
    lists: int
    protocol: str | None
    client: str | None


class LinkFacts(TypedDict):
    """How the link went: seconds to open, lines that were no messages, and whether the agent
    heeded `close`."""

    start_s: float
    rubbish: int
    closed: bool


class TruthValue(TypedDict):
    """What Ferox looked up."""

    result: Json
    error: NotRequired[CallError | None]


@with_config(ConfigDict(extra="allow"))
class Trace(TypedDict):
    """A trial, whole. Times are seconds from its start."""

    ferox_trace: Literal[1]
    agent: str
    suite: str
    task: str
    trial: int
    clock: str
    zone: str
    instructions: NotRequired[str]
    model_seam: bool
    tools: dict[str, OfferedTool]
    truth: NotRequired[dict[str, TruthValue]]
    events: list[Event]
    state: NotRequired[dict[str, Json]]
    modes: NotRequired[dict[str, str]]
    traffic: NotRequired[dict[str, Traffic]]
    link: NotRequired[LinkFacts]
    voices: NotRequired[dict[str, Voice]]
    seen_by_model: NotRequired[dict[str, OfferedTool]]
    mended: NotRequired[int]
    """Messages in which half characters (lone surrogates) were replaced, so that they could be
    kept."""
    reply_tools: NotRequired[list[str]]
    """Names of tools of the framework's own whose arguments are the reply: no calls."""
    own_seen: NotRequired[bool]
    """False: the agent's own tools neither pass the link nor show at the model seam."""


TRACE = TypeAdapter(Trace)
"""Validates a trace that comes from anywhere."""
