"""A tool server's file: the live server, its recording, and its mock."""

from __future__ import annotations

from typing import Any, Literal, Self

from pydantic import Field, model_validator

from ferox.formats.base import Document, Json, Name, Secret, Strict
from ferox.formats.preparing import StateLookup, Step


class Reach(Strict):
    """How a live server is reached: a command over stdio, or an address.

    With `openapi` the address is that of an HTTP interface, whose operations are served as tools.
    """

    command: list[str | Secret] | None = None
    url: str | None = None
    openapi: str | None = None
    """An OpenAPI 3 document that describes what is at `url`: a file of the workspace, or an
    address."""
    query: dict[str, str | Secret] = {}
    """Parameters that are added to the address: what stands in `url` itself is not a secret."""
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


class MockElicitation(Strict):
    """A question to the client before the answer (elicitation)."""

    message: str
    schema_: dict[str, Json] = Field({}, alias="schema")
    url: str | None = Field(None, description="An address to go to, in place of a form.")


class Sample(Strict):
    """Words for the client's model before the answer (sampling); what it says is `sampled`."""

    say: str
    max_tokens: int = Field(100, ge=1)


class MockNotification(Strict):
    """Something that the client hears before the answer: progress, or a line of the log."""

    progress: float | None = None
    total: float | None = None
    log: Literal["debug", "info", "notice", "warning", "error", "critical"] | None = None
    text: str | None = None
    after_ms: float = Field(0, ge=0)


class MockAnswer(Strict):
    """One rule of a mocked tool. The first that fits answers."""

    if_: str | None = Field(None, alias="if", description="An expression that must be true.")
    when: dict[str, Json] | None = Field(None, description="Matchers by argument.")
    give: Json = None
    give_in_turn: list[Json] | None = None
    content: list[dict[str, Json]] | None = None
    error: str | None = None
    ask: MockElicitation | None = None
    sample: Sample | None = None
    tell: list[MockNotification] = []
    change: list[Change] = []
    latency: Latency | None = None


NOT_RECORDED = "not recorded"
"""How the error begins that a tool gives whose calls a mock's recording did not hold."""


class MockTool(Strict):
    """A tool that a mock offers."""

    name: str
    title: str | None = None
    description: str = ""
    input: dict[str, Json] = Field({"type": "object"}, description="JSON Schema 2020-12.")
    output: dict[str, Json] | None = None
    annotations: dict[str, Json] | None = None
    latency: Latency | None = None
    answers: list[MockAnswer] = []

    def definition(self) -> dict[str, Any]:
        """The tool as the protocol writes it."""
        definition = {
            "name": self.name,
            "title": self.title,
            "description": self.description or None,
            "inputSchema": {"type": "object", **self.input},
            "outputSchema": self.output,
            "annotations": self.annotations,
        }
        return {k: v for k, v in definition.items() if v is not None}


class MockResource(Strict):
    """A resource, or with `uriTemplate` a family of them; its words may hold expressions."""

    uri: str | None = None
    uriTemplate: str | None = Field(None, description="A template by RFC 6570: `tides://{day}`.")
    name: str
    title: str | None = None
    description: str | None = None
    mimeType: str | None = None
    text: str | None = None
    blob: str | None = Field(None, description="Base64.")

    @model_validator(mode="after")
    def _one_of_each(self) -> Self:
        if (self.uri is None) == (self.uriTemplate is None):
            raise ValueError("a resource has either `uri` or `uriTemplate`")
        if (self.text is None) == (self.blob is None):
            raise ValueError("a resource has either `text` or `blob`")
        return self


class PromptArgument(Strict):
    """An argument of a prompt; `values` are offered when the client asks for completions."""

    name: str
    title: str | None = None
    description: str | None = None
    required: bool = False
    values: list[str] = []


class PromptMessage(Strict):
    """One message of a prompt: words, or content as MCP has it; both may hold expressions."""

    role: Literal["user", "assistant"] = "user"
    content: str | dict[str, Json]


class MockPrompt(Strict):
    """A prompt that a mock offers; its arguments stand in expressions as `args`."""

    name: str
    title: str | None = None
    description: str | None = None
    arguments: list[PromptArgument] = []
    messages: list[PromptMessage]


class Mock(Strict):
    """A server made of rules. Its state is private to each trial."""

    instructions: str | None = None
    state: dict[str, Json] = {}
    tools: list[MockTool] = []
    resources: list[MockResource] = []
    prompts: list[MockPrompt] = []


class ArgumentWording(Strict):
    """What the agent reads of one argument instead of the server's own words."""

    name: str | None = None
    description: str | None = None


class ToolWording(Strict):
    """What the agent reads of one tool instead of the server's own words."""

    name: str | None = None
    title: str | None = None
    description: str | None = None
    input: dict[str, Json] | None = Field(None, description="The whole schema, in place of it.")
    arguments: dict[str, ArgumentWording] = {}


class ServerFile(Document):
    """One tool server."""

    server: Name
    title: str | None = None
    live: Reach | None = None
    variants: dict[Name, Reach] = {}
    recording: str | None = None
    replay: Replay = Replay()
    mock: Mock | None = None
    wording: dict[str, ToolWording] = {}
    prepare: list[Step] = Field([], description="Done before trials on the live server.")
    restore: list[Step] = Field([], description="Done after trials on the live server.")
    state: StateLookup | None = Field(
        None, description="How the live server's state is read, before and after each trial."
    )
    separate: bool = Field(
        False, description="true: trials do not meet each other's state, and may go on at once."
    )
