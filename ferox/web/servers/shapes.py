"""What the interface of the Servers place takes and gives."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from ferox.web.secrets.shapes import AgreeRequest
from ferox.web.shapes import FromRecord, ProblemShape, RecordId


class ServerLine(BaseModel):
    """A tool server as lists show it. A file that does not load has problems and no modes."""

    server: str
    title: str | None
    modes: list[str]
    file: str
    problems: list[ProblemShape] = []


class ServerList(BaseModel):
    """The workspace's tool servers."""

    servers: list[ServerLine]


class VariableShape(FromRecord):
    """A variable that a server gets; secrets are masked."""

    name: str
    shown: str
    origin: str


class DiagnosisShape(BaseModel):
    """Why a server cannot be reached, and what to try next."""

    kind: str
    problem: str
    advice: str
    agree: AgreeRequest | None = None
    """What the user may agree to, so that it works."""


class RemarkShape(FromRecord):
    """Something in a definition that makes agents fail."""

    tool: str
    message: str


class PairShape(FromRecord):
    """Two tools that look alike."""

    one: str
    other: str
    likeness: float
    only_one: list[str]
    only_other: list[str]


class DifferenceShape(FromRecord):
    """One place where two values differ, by JSON Pointer."""

    where: str
    before: Any
    after: Any


class ListChangeShape(FromRecord):
    """A tool that came, went or changed."""

    tool: str
    kind: str
    what: list[DifferenceShape]


class BesideRequest(BaseModel):
    """Two ways to one server."""

    mode: str
    other: str


class BesideShape(BaseModel):
    """How the lists of two ways differ: first that of `mode`, then that of `other`."""

    same: list[str]
    only_one: list[str]
    only_other: list[str]
    differing: list[ListChangeShape]
    protocols: tuple[str | None, str | None]
    instructions: tuple[str | None, str | None]


class ReadAs(BaseModel):
    """What agents read of a tool in place of the server's own words."""

    name: str
    description: str


class ToolLine(BaseModel):
    """A tool as lists show it, its description cut short. `cost` is in tokens, estimated."""

    name: str
    description: str
    required: list[str]
    optional: list[str]
    cost: int
    remarked: bool
    reads: ReadAs | None


class ToolPage(BaseModel):
    """Some of a server's tools: those from `start` of the `total` that fit the search."""

    total: int
    start: int
    tools: list[ToolLine]


class ServerShape(BaseModel):
    """What a server offers, or why it cannot be reached.

    `tools` is the first page; resources and prompts are as the protocol writes them, and
    `more_resources` are left out. `tokens` is what all tools take of the context, estimated.
    `changes` are since the list was last seen, `seen_before` in seconds since the epoch.
    """

    server: str
    title: str | None
    file: str
    mode: str
    modes: list[str]
    reached: str | None
    started: bool
    """Whether Ferox starts it by a command."""
    variables: list[VariableShape]
    recording: str | None
    diagnosis: DiagnosisShape | None
    protocol: str | None
    server_info: dict[str, Any] | None
    instructions: str | None
    tools: ToolPage
    tokens: int
    remarks: int
    resources: list[dict[str, Any]]
    prompts: list[dict[str, Any]]
    more_resources: int
    seen_before: float | None
    changes: list[ListChangeShape]


class ToolShape(BaseModel):
    """A tool's definition as the server gives it, and as agents read it if that differs.

    `arguments` is the schema that a form can be made of: what is broken in it is left out.
    """

    definition: dict[str, Any]
    reads: dict[str, Any] | None
    arguments: dict[str, Any]


class WordingShape(BaseModel):
    """How a server's definitions read: remarks, and which tools are like each other.

    `order` and `matrix` hold the most alike of all `tools`; `alike` counts all pairs.
    """

    remarks: list[RemarkShape]
    more_remarks: int
    order: list[str]
    matrix: list[list[float]]
    pairs: list[PairShape]
    tools: int
    alike: int


class ServerPath(BaseModel):
    """A server's name in an address."""

    server: str


class ModeQuery(BaseModel):
    """The way to a server; left out: the first it has."""

    mode: str | None = None


class ReachRequest(ModeQuery):
    """A server to be reached; `afresh` reconnects."""

    afresh: bool = Field(False, strict=True)


class ToolsQuery(ModeQuery):
    """Which of a server's tools: those with a text in name or description, from a place on."""

    search: str = ""
    start: RecordId = 0


class OneToolQuery(ModeQuery):
    """One of a server's tools."""

    tool: str


class CallRequest(BaseModel):
    """A call to try by hand."""

    mode: str
    tool: str
    args: dict[str, Any] = {}


class QuestionShape(FromRecord):
    """A question of the server's that waits for an answer; `wants` is the schema of it, `url` the
    address that it sends the user to, in place of a form."""

    message: str
    wants: dict[str, Any]
    url: str | None


class CallByHandShape(BaseModel):
    """A call by hand: what came, what was said meanwhile, the messages both ways.

    For a mock also its state before and after, and what changed (JSON Patch).
    """

    id: str
    tool: str
    args: dict[str, Any]
    state: Literal["running", "done", "failed", "cancelled"]
    version: int
    ms: float
    content: list[dict[str, Any]]
    structured: Any
    error: str | None
    remark: str | None
    changes: list[dict[str, Any]]
    before: dict[str, Any] | None
    after: dict[str, Any] | None
    events: list[dict[str, Any]]
    log: list[dict[str, Any]]
    question: QuestionShape | None


class CallByHandPath(BaseModel):
    """The number of a call by hand in an address."""

    number: str


class AnswerRequest(BaseModel):
    """An answer to a server's question."""

    action: Literal["accept", "decline", "cancel"]
    content: dict[str, Any] = {}


class ToolQuery(BaseModel):
    """Which tool."""

    tool: str


class EarlierCall(BaseModel):
    """A call tried before."""

    id: int
    mode: str
    at: float
    args: dict[str, Any]
    answer: dict[str, Any]


class EarlierCalls(BaseModel):
    """A tool's earlier calls by hand, the newest first."""

    calls: list[EarlierCall]


class ReadRequest(BaseModel):
    """A resource to be read."""

    mode: str
    uri: str


class PromptRequest(BaseModel):
    """A prompt to be filled in."""

    mode: str
    name: str
    args: dict[str, str] = {}


class ContentsShape(BaseModel):
    """A resource's contents or a prompt's messages, as the protocol writes them."""

    items: list[dict[str, Any]]


class ConnectionShape(BaseModel):
    """A server's connection as it is now: the newest messages, and what the server said."""

    connected: bool
    list_changed: bool
    lost: str | None
    messages: list[dict[str, Any]]


class PasteRequest(BaseModel):
    """Pasted words in which servers are looked for."""

    text: str


class PastedShape(BaseModel):
    """A server found in pasted words: its file, not yet written, and what to know of it."""

    name: str
    file: str
    text: str
    notes: list[str]


class PastedList(BaseModel):
    """The servers found."""

    servers: list[PastedShape]


class MockRequest(BaseModel):
    """A mock to be made for a server: from its live list, a recording, or an OpenAPI text.

    `recording` is a file of the workspace; `text` an OpenAPI document.
    """

    source: Literal["list", "recording", "openapi"]
    mode: str | None = None
    recording: str | None = None
    text: str | None = None


class MadeShape(BaseModel):
    """A server's file with the mock put in, not yet written, and what to know of it."""

    name: str
    text: str
    stamp: str | None
    notes: list[str]


class NewMockRequest(BaseModel):
    """A new mocked server from an OpenAPI document, or from a few words."""

    server: str
    openapi: str | None = None
    tool: str = ""
    description: str = ""
    arguments: str = ""
    answer: str = ""


class WordsRequest(BaseModel):
    """A tool in a few words, to be added to a server's mock."""

    tool: str
    description: str = ""
    arguments: str = ""
    answer: str = ""


class WordingRequest(BaseModel):
    """What the agent reads of a tool instead of the server's own words; None takes it back."""

    tool: str
    wording: dict[str, Any] | None
