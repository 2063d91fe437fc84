"""The calls of a conversation: as their spans tell them, or as models were shown their results."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, cast

from ferox.bringing.conversations import Conversation
from ferox.bringing.messages import (
    Message,
    ToolCall,
    exception_message,
    input_messages,
    output_messages,
    tool_result,
)
from ferox.bringing.spans import Span
from ferox.core.json_values import equal_json
from ferox.formats.trace import CallError, Event, Unseen
from ferox.intake.json_text import parsed_json

TELL_FAILURES = ("pydantic-ai", "fastmcp", "ferox")
"""Instrumentations that mark a call whose result is an error. Others mark only what broke on the
way, so that of a call without a mark nobody can say whether it failed."""
NEVER = "never_answered"
"""The type of error by which Ferox's own spans tell a call that got no answer."""
FindTool = Callable[[str], str]
"""The address of a tool by the name that the spans have for it."""


def seconds_since(start: int, nanoseconds: int) -> float:
    """Seconds between two times in nanoseconds."""
    return round((nanoseconds - start) / 1e9, 6)


@dataclass
class ModelRequest:
    """A request to a model, with its messages."""

    span: Span
    shown: list[Message] | None
    said: list[Message] | None
    proposals: list[tuple[str, ToolCall]]
    """Its proposals, each with an id that nothing else in the trace has."""

    @classmethod
    def read(cls, number: int, span: Span) -> ModelRequest:
        """The `number`th request of a conversation."""
        shown, said = input_messages(span), output_messages(span)
        calls = [call for message in said or () for call in message.calls]
        named = [(call.id or f"p{number}.{i}", call) for i, call in enumerate(calls, 1)]
        return cls(span, shown, said, named)

    @property
    def text(self) -> str | None:
        """What the model said; None if nothing, or if it is not told."""
        return "\n".join(m.text for m in self.said if m.text) or None if self.said else None


@dataclass(frozen=True)
class CallReading:
    """Reads the calls of a conversation that began at `start` (nanoseconds)."""

    conversation: Conversation
    requests: list[ModelRequest]
    find_tool: FindTool
    start: int

    def spanned_calls(self) -> list[Event]:
        left = [(id, call) for request in self.requests for id, call in request.proposals]
        responses = self._shown_responses()
        return [
            self._spanned_call(number, span, left, responses)
            for number, span in enumerate(self.conversation.tools, 1)
        ]

    def _spanned_call(
        self,
        number: int,
        span: Span,
        left: list[tuple[str, ToolCall]],
        responses: dict[str, Any],
    ) -> Event:
        """A call as its span, and the spans inside it, tell; `left` are proposals that no call
        has taken yet."""
        spans = [span, *self.conversation.inside(span)]
        name = next(filter(None, map(_tool_name, spans)), "unknown")
        id = span.text("gen_ai.tool.call.id")
        args = parsed_json(_first_value(spans, "gen_ai.tool.call.arguments"))
        proposal = _taken_proposal(left, id, name, args)
        if args is None and proposal is not None:
            args = proposal[1].args
        error = next(filter(None, (error_of(s, "tool_error") for s in spans)), None)
        result = _first_value(spans, "gen_ai.tool.call.result")
        if result is None and id is not None:
            result = responses.get(id)
        marked = any(s.scope in TELL_FAILURES for s in spans)
        answered = span.text("error.type") != NEVER
        hidden: list[Unseen] = []
        if not isinstance(args, dict):
            hidden.append("arguments")
        if error is None and result is None:
            hidden.append("results")
        if error is None and not marked:
            hidden.append("outcomes")
        return cast(
            Event,
            {
                "t": seconds_since(self.start, span.start),
                "kind": "call",
                "id": f"c{number}",
                "seam": "tool",
                "tool": span.text("ferox.tool") or self.find_tool(name),
                "args": args if isinstance(args, dict) else {},
                "s": round((span.end - span.start) / 1e9, 6) if answered else None,
                "result": None if error else tool_result(result),
                "error": error if answered else None,
                "fault": span.text("ferox.fault"),
                "proposal": span.text("ferox.proposal") or (proposal and proposal[0]),
                **({"not_seen": hidden} if hidden else {}),
            },
        )

    def shown_calls(self) -> Iterator[Event]:
        """Calls that have no spans: what a model proposed, and was shown a response to. They were
        made between two requests; when, is not seen, nor whether they failed."""
        number = 0
        for request, following in zip(self.requests, self.requests[1:], strict=False):
            responses = {r.id: r.result for m in following.shown or () for r in m.responses}
            for id, call in request.proposals:
                if id not in responses:
                    continue
                number += 1
                begins = seconds_since(self.start, request.span.end)
                ends = seconds_since(self.start, following.span.start)
                hidden: list[Unseen] = ["times", "outcomes"]
                if not isinstance(call.args, dict):
                    hidden.append("arguments")
                yield cast(
                    Event,
                    {
                        "t": begins,
                        "kind": "call",
                        "id": f"c{number}",
                        "seam": "tool",
                        "tool": self.find_tool(call.name),
                        "args": call.args if isinstance(call.args, dict) else {},
                        "s": round(max(0.0, ends - begins), 6),
                        "result": responses[id],
                        "error": None,
                        "fault": None,
                        "proposal": id,
                        "not_seen": hidden,
                    },
                )

    def _shown_responses(self) -> dict[str, Any]:
        """What models were shown of calls, by their ids."""
        return {
            response.id: response.result
            for request in self.requests
            for message in request.shown or ()
            for response in message.responses
        }


def error_of(span: Span, kind: str) -> CallError | None:
    """How a request or a call failed; None if its span does not say that it did."""
    type_of = span.text("error.type")
    if not span.failed and type_of is None:
        return None
    message = exception_message(span.events) or span.message or type_of or "it failed"
    return {"kind": kind, "message": message}


def _first_value(spans: list[Span], key: str) -> Any:
    return next((v for v in (span.get(key) for span in spans) if v is not None), None)


def _tool_name(span: Span) -> str | None:
    """A tool's name; of a client of MCP that gives none, the last word of its span's."""
    named = span.text("gen_ai.tool.name")
    if named is None and span.get("mcp.method.name"):
        return span.name.rpartition(" ")[2] or None
    return named


def _taken_proposal(
    left: list[tuple[str, ToolCall]], id: str | None, name: str, args: Any
) -> tuple[str, ToolCall] | None:
    """The proposal that a call answers, taken from those that are left: by its id, else the first
    of the same tool and arguments."""
    for place, (own, call) in enumerate(left):
        same = call.name == name and (args is None or equal_json(call.args, args))
        if own == id or (id is None and same):
            return left.pop(place)
    return None
