"""What stands behind a tool server's seam: a mock, a recording or the live server."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, NamedTuple, Protocol

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.intake.json_text import parsed_json
from ferox.intake.limits import GivenUp

Definition = dict[str, Any]
"""A tool as the protocol writes it: name, description, inputSchema and so on."""


class UnknownTool(LookupError):
    """A call of a tool that the server does not offer."""


class ProtocolRefusal(Exception):
    """A protocol error of the server: the request gets no result."""

    def __init__(self, code: int, message: str) -> None:
        self.code, self.message = code, message
        super().__init__(message)


@dataclass(frozen=True)
class ToolOutput:
    """What a tool gives: content blocks as MCP has them, and perhaps structure.

    `wait_s` is how long the answer is to take, in seconds; `nearest` marks an answer that
    was recorded for other arguments; `raw` is the result as it came, if it came from somewhere.
    """

    content: list[dict[str, Any]]
    structured: Any = None
    is_error: bool = False
    wait_s: float = 0.0
    nearest: bool = False
    raw: dict[str, Any] | None = None

    @property
    def error(self) -> str | None:
        """What it says went wrong; None if nothing did."""
        if not self.is_error:
            return None
        return "\n".join(str(c.get("text", "")) for c in self.content if c.get("type") == "text")

    @property
    def value(self) -> Any:
        """The result as a trace holds it: structure, else text parsed as JSON, else text."""
        return plain_value(self.content, self.structured)

    @property
    def result(self) -> dict[str, Any]:
        """The protocol's `CallToolResult`."""
        if self.raw is not None:
            return self.raw
        result: dict[str, Any] = {"content": self.content, "isError": self.is_error}
        if self.structured is not None:
            result["structuredContent"] = self.structured
        return result


def plain_value(content: list[dict[str, Any]], structured: Any) -> Any:
    """A result's value: structured content, else its text parsed as JSON, else its text."""
    if structured is not None:
        return structured
    text = "\n".join(c["text"] for c in content if c.get("type") == "text")
    return parsed_json(text)


def output_of_result(result: dict[str, Any]) -> ToolOutput:
    """A protocol's `CallToolResult` as an answer."""
    return ToolOutput(
        content=list(result.get("content") or []),
        structured=result.get("structuredContent"),
        is_error=bool(result.get("isError")),
        raw=result,
    )


def breaks_schema(schema: Any, value: Any) -> str | None:
    """What is wrong with a structured result by its tool's own output schema; None if nothing."""
    if not isinstance(schema, dict):
        return None
    try:
        fault = schema_of(schema).find_fault(value)
    except (UnusableSchema, GivenUp) as error:
        return f"its output schema was not tested: {error}"
    return f"{fault.path}: {fault.message}" if fault else None


def breaks_own_schema(tool: Definition, given: ToolOutput) -> str | None:
    """What is wrong with an answer by its tool's output schema; None if nothing."""
    schema = tool.get("outputSchema")
    if schema is None or given.is_error:
        return None
    if given.structured is None:
        return "it has no structured content, and its tool promises some"
    return breaks_schema(schema, given.structured)


def failed_output(text: str, wait_s: float = 0.0) -> ToolOutput:
    """An answer that says what went wrong."""
    return ToolOutput([{"type": "text", "text": text}], is_error=True, wait_s=wait_s)


def tool_output(value: Any, tool: Definition) -> ToolOutput:
    """A value as a tool's answer: as text, and as structure if the tool promises some."""
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    structured = value if isinstance(value, dict) and tool.get("outputSchema") else None
    return ToolOutput([{"type": "text", "text": text}], structured)


class QuestionAnswer(NamedTuple):
    """How a question to the client was answered: `accept`, `decline`, `cancel` or `not_asked`."""

    action: str
    content: dict[str, Any]


class ServerQuestion(NamedTuple):
    """What a server asks the user of its client: to fill in a form by a schema, or to go to an
    address and come back."""

    message: str
    schema: dict[str, Any]
    url: str | None = None


@dataclass(frozen=True)
class ClientQuestion:
    """A question that must be put to the client, or to its model, before there is an answer.

    One with `max_tokens` is for the model; the words it says come back as `text`.
    """

    message: str
    schema: dict[str, Any]
    go_on: Callable[[QuestionAnswer], ToolOutput]
    url: str | None = None
    max_tokens: int | None = None


class Caller(Protocol):
    """The client that made a call, as the source that answers it sees it."""

    async def ask_question(self, question: ServerQuestion) -> QuestionAnswer:
        """Put a question to the client (elicitation), if it takes such."""

    async def progress(self, progress: float, total: float | None, message: str | None) -> None:
        """Report progress, if the client wants to hear of it."""

    async def log(self, level: str, data: Any, logger: str | None = None) -> None:
        """Send a line of the log."""

    async def sample(self, params: dict[str, Any]) -> dict[str, Any]:
        """Have the client's model complete something (sampling).

        Raises:
            ProtocolRefusal: the client takes no such request.
        """


class SilentCaller:
    """A caller that hears nothing and is asked nothing: Ferox itself, looking something up."""

    async def ask_question(self, question: ServerQuestion) -> QuestionAnswer:
        """Nobody is there to be asked."""
        return QuestionAnswer("not_asked", {})

    async def progress(self, progress: float, total: float | None, message: str | None) -> None:
        """Nobody listens."""

    async def log(self, level: str, data: Any, logger: str | None = None) -> None:
        """Nobody listens."""

    async def sample(self, params: dict[str, Any]) -> dict[str, Any]:
        """Nobody is there to be asked."""
        raise ProtocolRefusal(-32601, "this client does no sampling")


class Source(Protocol):
    """What answers in a tool server's place."""

    @property
    def name(self) -> str:
        """The server's name in the workspace."""

    @property
    def info(self) -> dict[str, Any]:
        """`serverInfo` as the protocol writes it, or what stands for it."""

    @property
    def instructions(self) -> str | None:
        """What the server tells every client, if it does."""

    @property
    def state(self) -> dict[str, Any] | None:
        """The state of a mock; None for what has none that can be seen."""

    @property
    def tools(self) -> dict[str, Definition]:
        """Name → tool, in the server's order."""

    @property
    def methods(self) -> frozenset[str]:
        """Further methods of the protocol that are answered, such as `resources/list`."""

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """Answer a call.

        Raises:
            UnknownTool: there is no such tool.
            ProtocolRefusal: the server answers with a protocol error.
        """

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """Answer a call of Ferox's own, leaving no trace of it where that can be helped.

        Raises:
            UnknownTool: there is no such tool.
            ProtocolRefusal: the server answers with a protocol error.
        """

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """Answer a further method.

        Raises:
            ProtocolRefusal: the server answers with a protocol error.
        """
