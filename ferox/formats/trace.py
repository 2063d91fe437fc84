"""The open form of a trace: everything that happened in a trial, with times.

Traces stay plain dictionaries: they are read far more often than they are
checked, and a reader ignores what it does not know.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, Literal, NotRequired

from pydantic import ConfigDict, Field, TypeAdapter, with_config
from typing_extensions import TypedDict

Json = Any

EndReason = Literal[
    "done", "no_reply", "crash", "did_not_start", "limit", "stopped", "could_not_run"
]
Seam = Literal["tool", "local", "model"]
Unseen = Literal[
    "calls", "proposals", "offers", "arguments", "results", "outcomes", "times", "turns", "words",
    "reply", "data", "instructions", "approvals", "rules", "truth", "usage",
]  # fmt: skip
"""What a trace from elsewhere may not tell; what depends on it is not tested."""
OPEN = ConfigDict(extra="allow")
"""Traces come from elsewhere too: further fields are kept."""


class CallError(TypedDict):
    """Why a call, or a request to a model, did not end well.

    `code` is a protocol error's, `status` an HTTP answer's.
    """

    kind: str
    message: str
    code: NotRequired[int]
    status: NotRequired[int | None]


class Proposal(TypedDict):
    """A tool call that the model proposed."""

    id: str
    tool: str
    args: Json


class Usage(TypedDict):
    """Tokens, as the endpoint reported them; a request for embeddings has no output."""

    input: int
    output: NotRequired[int]
    cached: NotRequired[int]
    """Of the input, what the endpoint had kept from before."""


@with_config(OPEN)
class TurnEvent(TypedDict):
    """The user said something; `rule` is the place of the rule that gave the words."""

    t: float
    kind: Literal["turn"]
    text: NotRequired[str | None]
    part: NotRequired[int]
    rule: NotRequired[int | None]


@with_config(OPEN)
class ModelEvent(TypedDict):
    """A request to a model, and what it answered.

    `first_s` is the time to the first piece of a stream, `waited_s` what a rate limit cost.
    """

    t: float
    kind: Literal["model"]
    id: str
    s: NotRequired[float | None]
    voice: NotRequired[str]
    offered: NotRequired[list[str]]
    proposed: NotRequired[list[Proposal]]
    text: NotRequired[str | None]
    usage: NotRequired[Usage | None]
    error: NotRequired[CallError | None]
    fault: NotRequired[str | None]
    fault_n: NotRequired[int | None]
    first_s: NotRequired[float]
    waited_s: NotRequired[float]
    model: NotRequired[str]
    """Which of the agent's models: `main`, or the name that its file gives it."""


@with_config(OPEN)
class CallEvent(TypedDict):
    """A call of a tool; `s` is null if no answer ever came.

    `sent` are the arguments as the agent wrote them, where they are not those that went out;
    `by_hand` what a person did to a held call; `hides` the served tool in whose place the agent
    answered; `by` who inside the agent called; `content` what is beyond text in the answer.
    """

    t: float
    kind: Literal["call"]
    id: str
    tool: str
    s: NotRequired[float | None]
    seam: NotRequired[Seam]
    args: NotRequired[Json]
    result: NotRequired[Json]
    error: NotRequired[CallError | None]
    fault: NotRequired[str | None]
    fault_n: NotRequired[int | None]
    proposal: NotRequired[str | None]
    content: NotRequired[list[dict[str, Json]]]
    nearest: NotRequired[bool]
    sent: NotRequired[Json]
    by_hand: NotRequired[str]
    by: NotRequired[str | None]
    hides: NotRequired[str]
    not_seen: NotRequired[list[Unseen]]
    """Of a call from elsewhere: `arguments`, `results`, `outcomes` or `times`, where they are not
    known."""


@with_config(OPEN)
class AskEvent(TypedDict):
    """The agent asked for an approval; `edited` are all arguments as edited."""

    t: float
    kind: Literal["ask"]
    tool: str
    id: NotRequired[str]
    s: NotRequired[float | None]
    args: NotRequired[Json]
    decision: NotRequired[Literal["approve", "deny"]]
    edited: NotRequired[Json]


@with_config(OPEN)
class HoldEvent(TypedDict):
    """A call was held until a person let it go; `call` is the call that came of it."""

    t: float
    kind: Literal["hold"]
    s: NotRequired[float | None]
    call: NotRequired[str | None]
    tool: NotRequired[str]
    args: NotRequired[Json]
    did: NotRequired[str]


@with_config(OPEN)
class QuestionEvent(TypedDict):
    """A server's question in the middle of a call, and how it was answered.

    `by`: the agent's own client, a person, or the script; `rule` is the place of the script's
    entry that answered, and `name` its name; null where none did. `url` is where the question
    sends the user.
    """

    t: float
    kind: Literal["question"]
    s: NotRequired[float | None]
    text: NotRequired[str]
    did: NotRequired[str]
    data: NotRequired[Json]
    server: NotRequired[str]
    call: NotRequired[str | None]
    url: NotRequired[str | None]
    by: NotRequired[Literal["client", "person", "script"]]
    rule: NotRequired[int | None]
    name: NotRequired[str | None]


@with_config(OPEN)
class EmbedEvent(TypedDict):
    """A request for embeddings of so many texts."""

    t: float
    kind: Literal["embed"]
    s: NotRequired[float | None]
    voice: NotRequired[str]
    texts: NotRequired[int]
    usage: NotRequired[Usage | None]
    error: NotRequired[CallError | None]


@with_config(OPEN)
class PartialEvent(TypedDict):
    """What the agent had said of its reply so far."""

    t: float
    kind: Literal["partial"]
    text: NotRequired[str | None]


@with_config(OPEN)
class ReplyEvent(TypedDict):
    """The agent's reply; `of` is the type of what it returned, where that was not text."""

    t: float
    kind: Literal["reply"]
    text: NotRequired[str | None]
    data: NotRequired[Json]
    of: NotRequired[str]


@with_config(OPEN)
class EndEvent(TypedDict):
    """The trial's end."""

    t: float
    kind: Literal["end"]
    why: NotRequired[EndReason]
    reason: NotRequired[str | None]


Event = Annotated[
    TurnEvent
    | ModelEvent
    | CallEvent
    | AskEvent
    | HoldEvent
    | QuestionEvent
    | EmbedEvent
    | PartialEvent
    | ReplyEvent
    | EndEvent,
    Field(discriminator="kind"),
]
"""One thing that happened; `kind` says what."""


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
    """How the link went: seconds to open, lines that were not messages, and whether the agent
    heeded `close`."""

    start_s: float
    rubbish: int
    closed: bool


class TokenPrice(TypedDict):
    """What `per` tokens of a model cost: sent, sent and kept from before, and answered; `free`:
    nothing is paid."""

    free: NotRequired[bool]
    currency: NotRequired[str]
    per: NotRequired[int]
    sent: NotRequired[float]
    cached: NotRequired[float]
    answered: NotRequired[float]


class StepOutcome(TypedDict):
    """What came of preparing or restoring a server: a tool's address or a command, and its
    result or error."""

    what: str
    s: float
    result: Json
    error: CallError | None


class TruthValue(TypedDict):
    """What Ferox looked up."""

    result: Json
    error: NotRequired[CallError | None]


class ForkFacts(TypedDict):
    """Of which trial, and from which point of it, a trial goes on."""

    trial: int
    run: int
    at: str
    """The parent's event: `c3`, `m2`, or `t1` for the user's first words."""
    change: str
    """What is otherwise from there on, in words."""
    t: float | None
    """When it went on: what began before was played back. None: it never did."""
    unlike: list[str]
    """Calls of the past that a mock answered otherwise than it had, as it was brought to the same
    state."""
    not_repeated: list[str]
    """Servers whose past calls were not made again: live and recorded ones."""


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
    prepared: NotRequired[list[StepOutcome]]
    """What Ferox did to live servers before the trial, and after it in `restored`."""
    restored: NotRequired[list[StepOutcome]]
    state_before: NotRequired[dict[str, Json]]
    """The states before the conversation, where they are asked for."""
    truth_before: NotRequired[dict[str, TruthValue]]
    """Truths that are looked up both before and after: what they were before."""
    modes: NotRequired[dict[str, str]]
    traffic: NotRequired[dict[str, Traffic]]
    link: NotRequired[LinkFacts]
    voices: NotRequired[dict[str, Voice]]
    seen_by_model: NotRequired[dict[str, OfferedTool]]
    without: NotRequired[dict[str, str]]
    """Servers that could not be opened, and why: the trial went on without them."""
    mended: NotRequired[int]
    """Messages in which half characters (lone surrogates) were replaced, so that they could be
    kept."""
    prices: NotRequired[dict[str, TokenPrice]]
    """What the agent's models cost, by the names of `model`; one without a price is left out."""
    reply_tools: NotRequired[list[str]]
    """Names of tools of the framework's own whose arguments are the reply: no calls."""
    not_seen: NotRequired[list[Unseen]]
    """What a trace from elsewhere does not tell."""
    own_seen: NotRequired[bool]
    """False: the agent's own tools neither pass the link nor show at the model seam."""
    fork: NotRequired[ForkFacts]
    """Of a trial that goes on from a point of another; its times do not tell how long it took."""


@lru_cache(maxsize=1)
def trace_adapter() -> TypeAdapter[Trace]:
    """Validates a trace that comes from anywhere; few commands need it, and it takes a while to
    make."""
    return TypeAdapter(Trace)


def end_of(trace: Trace) -> EndEvent:
    """How a trial ended; a trace without an end was done."""
    ends = [event for event in trace["events"] if event["kind"] == "end"]
    return ends[-1] if ends else {"t": 0.0, "kind": "end", "why": "done", "reason": None}
