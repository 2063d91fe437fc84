"""What the interface of the Agents place takes and gives."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ferox.formats.base import Name
from ferox.formats.trace import Event
from ferox.web.servers.shapes import VariableShape
from ferox.web.shapes import HoldShape, OverridesShape, ProblemShape, SchemaOf, TrialRemark


class AgentPath(BaseModel):
    """An agent's name in an address."""

    agent: str


class AgentLine(BaseModel):
    """An agent as the list shows it; one whose file does not load has only its problems."""

    agent: str
    title: str | None
    link: str | None
    model: str | None
    simulated: bool
    file: str
    problems: list[ProblemShape]


class AgentList(BaseModel):
    """Every agent of the workspace, by file."""

    agents: list[AgentLine]


class ModelShape(BaseModel):
    """One of an agent's models: by which name the agent has it, and what stands behind."""

    called: str
    model: str
    behind: str
    simulated: bool


class OfferedShape(BaseModel):
    """A server that an agent may use: in which ways, and which of its tools it is offered."""

    server: str
    modes: list[str]
    mode: str
    tools: list[str]
    left_out: list[str]
    unknown: bool


class AddressShape(BaseModel):
    """A standing address of a running service."""

    name: str
    url: str


class ClockShape(BaseModel):
    """Which day it is for an agent in a conversation by hand: `now` by RFC 3339, and the suite
    that says so; without one it is the real time, and `now` is null until it begins."""

    now: str | None
    zone: str
    suite: str | None


class AgentDetail(BaseModel):
    """Everything about an agent that its file tells."""

    line: AgentLine
    reached: str
    instructions: str
    models: list[ModelShape]
    servers: list[OfferedShape]
    own_tools: list[str]
    params: dict[str, Any]
    limits: dict[str, float]
    processes: int
    variables: list[VariableShape]
    unset: str | None
    standing: list[AddressShape]
    standing_command: bool
    all_models: list[str]
    fault_sets: list[str]
    clock: ClockShape


class FileText(BaseModel):
    """A file that connects an agent."""

    name: str
    text: str


class ConnectionTemplate(BaseModel):
    """One way of building an agent: its files, and what is worth knowing of it."""

    name: str
    title: str
    link: str
    needs: str
    particular: str
    files: list[FileText]
    standing: list[AddressShape]


class ConnectionList(BaseModel):
    """Every way that Ferox knows."""

    connections: list[ConnectionTemplate]


class ConnectionQuery(BaseModel):
    """For which agent and model the files are made; no model: the agent thinks elsewhere."""

    agent: Name = "my-desk"
    model: Name | Literal[""] = "steady"


class NewAgentRequest(BaseModel):
    """Files to write for a new agent."""

    files: list[FileText] = Field(min_length=1, max_length=4)


Offer = dict[str, Literal["all"] | list[str]]
"""Tools by server, as in an agent's file."""


class OfferRequest(BaseModel):
    """What an agent's file is to offer; null: all of every server."""

    offer: Offer | None


class ProbeRequest(BaseModel):
    """How an agent is probed; `offer` stands in place of what its file offers it."""

    overrides: OverridesShape = OverridesShape()
    offer: Offer | None = None


class StepShape(BaseModel):
    """One thing that was looked at; `ok` null is a doubt."""

    about: str
    ok: bool | None
    message: str
    advice: str


class SeenToolShape(BaseModel):
    """A tool that was offered, and by which name the model saw it, if it did."""

    address: str
    as_name: str | None
    rewritten: bool


class ProbeShape(BaseModel):
    """A probe so far; `doing` is null when it is over."""

    id: str
    version: int
    doing: str | None
    steps: list[StepShape]
    tools: list[SeenToolShape]
    own_tools: list[str]
    remarks: list[TrialRemark]
    reply: str | None
    log: list[str]


class NumberPath(BaseModel):
    """The number of a probe or a conversation."""

    number: str


class ConversationRequest(BaseModel):
    """How a conversation by hand is held."""

    overrides: OverridesShape = OverridesShape()
    offer: Offer | None = None
    """What it is offered, in place of what its file says; null: as its file says."""
    hold: HoldShape | None = None


class PendingInputShape(BaseModel):
    """What a conversation waits for."""

    kind: Literal["words", "approval", "question", "held"]
    tool: str | None
    args: dict[str, Any] | None
    message: str | None
    wants: dict[str, Any] | None
    url: str | None


class ConversationShape(BaseModel):
    """A conversation by hand so far."""

    id: str
    agent: str
    trial: int
    version: int
    over: bool
    waits: PendingInputShape | None
    hold: HoldShape | None
    servers: dict[str, str]
    clock: ClockShape
    without: dict[str, str]
    """Servers that could not be opened, and why: it goes on without them."""
    events: list[Annotated[dict[str, Any], SchemaOf(Event)]]


class ConversationList(BaseModel):
    """The conversations that go on."""

    conversations: list[ConversationShape]


class SayRequest(BaseModel):
    """The user's next words."""

    text: str = Field(min_length=1, max_length=100_000)


class DecideRequest(BaseModel):
    """A decision about an approval; `args` are all arguments as edited."""

    approved: bool
    args: dict[str, Any] | None = None


class QuestionAnswerRequest(BaseModel):
    """An answer to a server's question."""

    action: Literal["accept", "decline", "cancel"]
    content: dict[str, Any] = {}
