"""The chat-completions interface: what a request offers, what an answer says, and its pieces."""

from __future__ import annotations

import json
import re
import time
from collections.abc import AsyncIterator, Mapping, Sequence
from typing import Any

from ferox.formats.trace import Usage
from ferox.gateway.model_seam.model_interface import ParsedRequest, Tools, UnreadableRequest
from ferox.intake.json_text import read_json
from ferox.stand_in.conversation import text_of

PATH = "chat/completions"


class ChatInterface:
    """Requests and answers of chat completions; they are also Ferox's own inner form."""

    path = PATH

    def parse_request(self, body: dict[str, Any]) -> ParsedRequest:
        """What a request says.

        Raises:
            UnreadableRequest: it is not a chat completion.
        """
        try:
            messages = body["messages"]
            tools = _offered_tools(body)
            if not isinstance(messages, list) or not all(isinstance(m, dict) for m in messages):
                raise TypeError("`messages` must be a list of messages")
        except (KeyError, TypeError, AttributeError) as error:
            raise UnreadableRequest(f"not a chat completion request: {error!r}") from None
        return ParsedRequest(messages, tools, body.get("tool_choice") == "required")

    def remember_answer(self, body: dict[str, Any], answer: dict[str, Any]) -> None:
        """Nothing is kept between requests: each tells the whole conversation."""

    def write_answer(self, completion: dict[str, Any], body: dict[str, Any]) -> dict[str, Any]:
        """An answer as this interface gives it."""
        return completion

    def stream_answer(
        self, completion: dict[str, Any], body: dict[str, Any]
    ) -> AsyncIterator[bytes]:
        """An answer as a stream of events."""
        options = body.get("stream_options") or {}
        return _completion_pieces(completion, bool(options.get("include_usage")))

    def parse_answer(self, answer: dict[str, Any]) -> tuple[dict[str, Any], Usage | None]:
        """The message of an endpoint's answer, empty if it is none of the format, and its usage."""
        try:
            message = answer["choices"][0]["message"]
        except (KeyError, IndexError, TypeError):
            message = {}
        usage = parse_usage(answer.get("usage"), "prompt_tokens", "completion_tokens")
        return message if isinstance(message, dict) else {}, usage

    def assemble_stream(self) -> AssembledChat:
        """What puts a streamed answer together again."""
        return AssembledChat()


def _offered_tools(body: dict[str, Any]) -> Tools:
    functions = [t["function"] for t in body.get("tools") or () if t.get("type") == "function"]
    return {f["name"]: (f.get("description") or "", f.get("parameters") or {}) for f in functions}


def completion_of(
    model: str, id: str, text: str | None, calls: Sequence[Mapping[str, Any]], usage: Usage
) -> dict[str, Any]:
    """A chat completion. `calls`: id, name and arguments (a text) of each."""
    message: dict[str, Any] = {"role": "assistant", "content": text}
    if calls:
        message["tool_calls"] = [
            {
                "id": call["id"],
                "type": "function",
                "function": {"name": call["name"], "arguments": call["arguments"]},
            }
            for call in calls
        ]
    return {
        "id": f"chatcmpl-{id}",
        "object": "chat.completion",
        "created": int(time.time()),
        "model": model,
        "choices": [
            {"index": 0, "message": message, "finish_reason": "tool_calls" if calls else "stop"}
        ],
        "usage": {
            "prompt_tokens": usage["input"],
            "completion_tokens": usage["output"],
            "total_tokens": usage["input"] + usage["output"],
        },
    }


async def _completion_pieces(completion: dict[str, Any], with_usage: bool) -> AsyncIterator[bytes]:
    head = {k: completion.get(k) for k in ("id", "created", "model")}
    head["object"] = "chat.completion.chunk"
    choice = completion["choices"][0]
    message = choice["message"]
    deltas: list[dict[str, Any]] = [{"role": "assistant", "content": ""}]
    deltas += [{"content": piece} for piece in words_of(message.get("content"))]
    for index, call in enumerate(message.get("tool_calls") or []):
        function = {"name": call["function"]["name"], "arguments": ""}
        begun = {"index": index, "id": call["id"], "type": "function", "function": function}
        deltas.append({"tool_calls": [begun]})
        for part in parts_of(call["function"]["arguments"]):
            piece = {"index": index, "function": {"arguments": part}}
            deltas.append({"tool_calls": [piece]})
    for delta in deltas:
        one = {"index": 0, "delta": delta, "finish_reason": None}
        yield _completion_chunk({**head, "choices": [one]})
    last = {"index": 0, "delta": {}, "finish_reason": choice["finish_reason"]}
    yield _completion_chunk({**head, "choices": [last]})
    if with_usage:
        yield _completion_chunk({**head, "choices": [], "usage": completion.get("usage")})
    yield b"data: [DONE]\n\n"


def words_of(text: str | None) -> list[str]:
    """A text in the pieces in which a stand-in streams it."""
    return re.findall(r"\S+\s*", text or "")


def parts_of(arguments: str) -> list[str]:
    """Arguments in the pieces in which a stand-in streams them."""
    return [arguments[start : start + 40] for start in range(0, len(arguments), 40)]


def _completion_chunk(chunk: dict[str, Any]) -> bytes:
    return f"data: {json.dumps(chunk)}\n\n".encode()


def parse_usage(usage: Any, asked_as: str, said_as: str) -> Usage | None:
    """What an endpoint counted; None if it told nothing."""
    if not isinstance(usage, dict):
        return None
    asked, said = usage.get(asked_as), usage.get(said_as)
    if not (isinstance(asked, int) and isinstance(said, int)):
        return None
    counted: Usage = {"input": asked, "output": said}
    details = usage.get(f"{asked_as}_details")
    cached = details.get("cached_tokens") if isinstance(details, dict) else None
    if isinstance(cached, int) and 0 < cached <= asked:
        counted["cached"] = cached
    return counted


def instructions_of(messages: list[dict[str, Any]]) -> str:
    """What stands before the conversation: the leading system or developer messages."""
    texts = []
    for message in messages:
        if message.get("role") not in ("system", "developer"):
            break
        texts.append(text_of(message.get("content")))
    return "\n".join(texts)


class AssembledChat:
    """A streamed answer put together again from its pieces."""

    def __init__(self) -> None:
        self.text = ""
        self.usage: Usage | None = None
        self.finish: str | None = None
        self._calls: dict[int, dict[str, str]] = {}

    def take_line(self, line: str) -> None:
        """Take one line of the stream; what is none of the format is passed over."""
        if not line.startswith("data:") or line[5:].strip() == "[DONE]":
            return
        try:
            chunk = read_json(line[5:])
            choices = chunk.get("choices") or []
            counted = parse_usage(chunk.get("usage"), "prompt_tokens", "completion_tokens")
            self.usage = counted or self.usage
        except (ValueError, AttributeError):
            return
        for choice in choices:
            delta = choice.get("delta") or {}
            self.text += delta.get("content") or ""
            self.finish = choice.get("finish_reason") or self.finish
            for piece in delta.get("tool_calls") or []:
                call = self._calls.setdefault(
                    piece.get("index", 0), {"id": "", "name": "", "arguments": ""}
                )
                function = piece.get("function") or {}
                call["id"] = piece.get("id") or call["id"]
                call["name"] += function.get("name") or ""
                call["arguments"] += function.get("arguments") or ""

    @property
    def message(self) -> dict[str, Any]:
        """The message as an answer that was not streamed would hold it."""
        calls = [
            {"id": c["id"], "function": {"name": c["name"], "arguments": c["arguments"]}}
            for c in self._calls.values()
        ]
        return {"content": self.text or None, "tool_calls": calls}
