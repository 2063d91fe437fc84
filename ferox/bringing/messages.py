"""Messages between an agent and its model, as spans carry them: in attributes or in events."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ferox.bringing.spans import Span, SpanEvent
from ferox.intake.json_text import parsed_json

INPUT, OUTPUT = "gen_ai.input.messages", "gen_ai.output.messages"
INSTRUCTIONS = "gen_ai.system_instructions"
EARLIER_EVENTS = {
    "gen_ai.system.message": "system",
    "gen_ai.user.message": "user",
    "gen_ai.assistant.message": "assistant",
    "gen_ai.tool.message": "tool",
    "gen_ai.choice": "choice",
}
"""Events of earlier conventions, one for each message, and the role that they stand for."""


@dataclass(frozen=True)
class ToolCall:
    """A call that a model proposed."""

    id: str
    name: str
    args: Any


@dataclass(frozen=True)
class ToolResponse:
    """What came of a call, as the model was shown it."""

    id: str
    result: Any


@dataclass(frozen=True)
class Message:
    """One message: its role, its words, and the calls or responses in it."""

    role: str
    text: str
    calls: tuple[ToolCall, ...] = ()
    responses: tuple[ToolResponse, ...] = ()

    @property
    def likeness(self) -> tuple[object, ...]:
        """Equal for messages that say the same, however an instrumentation writes them."""
        calls = tuple((call.name, str(call.args)) for call in self.calls)
        return (self.role, self.text.strip(), calls, len(self.responses))


def input_messages(span: Span) -> list[Message] | None:
    """What a model was shown, or an agent was asked; None if that is not told."""
    found = _read_messages(span.get(INPUT))
    if found is not None:
        return found
    earlier = [m for role, m in _earlier_messages(span) if role != "choice"]
    return earlier or None


def output_messages(span: Span) -> list[Message] | None:
    """What a model, or an agent, answered; None if that is not told."""
    found = _read_messages(span.get(OUTPUT))
    if found is not None:
        return found
    earlier = [m for role, m in _earlier_messages(span) if role == "choice"]
    return earlier or None


def instructions_of(span: Span) -> str | None:
    """The instructions that a model was given; None if they are not told."""
    given = parsed_json(span.get(INSTRUCTIONS))
    if isinstance(given, str):
        return given
    if isinstance(given, list):
        return "\n".join(filter(None, map(_text_of_part, given))) or None
    system = [m.text for m in input_messages(span) or () if m.role in ("system", "developer")]
    return "\n".join(system) or None


def _read_messages(value: Any) -> list[Message] | None:
    listed = parsed_json(value)
    if not isinstance(listed, list):
        return None
    return [_read_message(one) for one in listed if isinstance(one, dict)]


def _read_message(body: Mapping[str, Any]) -> Message:
    """A message with parts, or in the older way with `content` and `tool_calls`."""
    parts = body.get("parts")
    role = str(body.get("role") or "")
    if isinstance(parts, list):
        named = [part for part in parts if isinstance(part, dict)]
        calls = tuple(_tool_call(part) for part in named if part.get("type") == "tool_call")
        responses = tuple(
            ToolResponse(
                str(part.get("id") or ""), tool_result(_first_given(part, "response", "result"))
            )
            for part in named
            if part.get("type") == "tool_call_response"
        )
        text = "\n".join(filter(None, map(_text_of_part, named)))
        return Message(role, text, calls, responses)
    text = _text_of(body.get("content"))
    proposed = body.get("tool_calls")
    calls = tuple(_tool_call(c) for c in proposed or () if isinstance(c, dict)) if proposed else ()
    if role == "tool":
        id = str(body.get("tool_call_id") or body.get("id") or "")
        return Message(role, "", (), (ToolResponse(id, tool_result(body.get("content"))),))
    return Message(role, text, calls)


def _earlier_messages(span: Span) -> Iterator[tuple[str, Message]]:
    for event in span.events:
        role = EARLIER_EVENTS.get(event.name)
        if role == "choice":
            inner = parsed_json(event.attributes.get("message"))
            body = inner if isinstance(inner, dict) else event.attributes
            yield role, _read_message({"role": "assistant", **_with_parsed_calls(body)})
        elif role is not None:
            yield role, _read_message({"role": role, **_with_parsed_calls(event.attributes)})


def _with_parsed_calls(body: Mapping[str, Any]) -> dict[str, Any]:
    """An event's fields, those that are written as JSON read."""
    return {**body, "tool_calls": parsed_json(body.get("tool_calls"))}


def _tool_call(body: Mapping[str, Any]) -> ToolCall:
    function = body.get("function")
    held = function if isinstance(function, dict) else body
    args = parsed_json(_first_given(held, "arguments", "args"))
    return ToolCall(str(body.get("id") or ""), str(held.get("name") or ""), args)


def _first_given(body: Mapping[str, Any], *keys: str) -> Any:
    return next((body[key] for key in keys if body.get(key) is not None), None)


def _text_of_part(part: Any) -> str:
    if isinstance(part, str):
        return part
    if isinstance(part, dict) and part.get("type", "text") == "text":
        return _text_of(_first_given(part, "content", "text"))
    return ""


def _text_of(content: Any) -> str:
    if isinstance(content, str):
        return content
    if isinstance(content, list):
        return "\n".join(filter(None, map(_text_of_part, content)))
    return ""


def tool_result(value: Any) -> Any:
    """A tool's result as traces have it: what is structured, else its text read as JSON, else
    its text."""
    read = parsed_json(value)
    if isinstance(read, dict) and read.get("type") == "text" and isinstance(read.get("text"), str):
        return parsed_json(read["text"])
    if isinstance(read, dict) and "structuredContent" in read and read["structuredContent"]:
        return read["structuredContent"]
    content = read.get("content") if isinstance(read, dict) and "isError" in read else read
    if isinstance(content, list) and content and all(map(_is_content, content)):
        texts = [part.get("text") for part in content if part.get("type") == "text"]
        if len(texts) == len(content) and all(isinstance(text, str) for text in texts):
            return parsed_json("\n".join(map(str, texts)))
    return content


def _is_content(part: Any) -> bool:
    return isinstance(part, dict) and "type" in part


def exception_message(events: list[SpanEvent]) -> str | None:
    """What an exception that was noted in a span said."""
    for event in events:
        if event.name == "exception":
            return str(event.attributes.get("exception.message") or "") or None
    return None
