"""The responses interface: the same conversation told as items, answered as items."""

from __future__ import annotations

import json
import time
from collections.abc import AsyncIterator, Iterator
from typing import Any

from ferox.formats.trace import Usage
from ferox.gateway.model_seam.chat_interface import parse_usage, parts_of, words_of
from ferox.gateway.model_seam.model_interface import ParsedRequest, Tools, UnreadableRequest
from ferox.intake.json_text import read_json
from ferox.stand_in.conversation import text_of

PATH = "responses"


class ResponsesInterface:
    """Requests and answers of the responses interface.

    A request may refer to an earlier answer (`previous_response_id`), so the items of each
    conversation are kept while the trial lasts.
    """

    path = PATH

    def __init__(self) -> None:
        self._items_by_id: dict[str, list[Any]] = {}

    def parse_request(self, body: dict[str, Any]) -> ParsedRequest:
        """What a request says, as messages of a chat.

        Raises:
            UnreadableRequest: it is not a request of this interface.
        """
        try:
            messages = [*_instructions_before(body), *_as_messages(self._conversation_items(body))]
            tools = _offered_tools(body)
        except (KeyError, TypeError, AttributeError) as error:
            raise UnreadableRequest(f"not a responses request: {error!r}") from None
        return ParsedRequest(messages, tools, body.get("tool_choice") == "required")

    def _conversation_items(self, body: dict[str, Any]) -> list[Any]:
        given = body["input"]
        items = [{"role": "user", "content": given}] if isinstance(given, str) else list(given)
        return [*self._items_by_id.get(str(body.get("previous_response_id")), []), *items]

    def remember_answer(self, body: dict[str, Any], answer: dict[str, Any]) -> None:
        """Remember an answer's items after those that it answered."""
        output = answer.get("output")
        if isinstance(answer.get("id"), str) and isinstance(output, list):
            self._items_by_id[answer["id"]] = [*self._conversation_items(body), *output]

    def write_answer(self, completion: dict[str, Any], body: dict[str, Any]) -> dict[str, Any]:
        """A chat completion as a response."""
        choice = completion["choices"][0]
        usage = completion.get("usage") or {}
        asked, said = usage.get("prompt_tokens", 0), usage.get("completion_tokens", 0)
        cut = choice.get("finish_reason") == "length"
        id = f"resp_{str(completion.get('id')).removeprefix('chatcmpl-')}"
        return {
            "id": id,
            "object": "response",
            "created_at": completion.get("created") or int(time.time()),
            "status": "incomplete" if cut else "completed",
            "incomplete_details": {"reason": "max_output_tokens"} if cut else None,
            "error": None,
            "instructions": body.get("instructions"),
            "metadata": {},
            "model": completion.get("model"),
            "output": list(_output_items(choice["message"], id)),
            "parallel_tool_calls": True,
            "previous_response_id": body.get("previous_response_id"),
            "temperature": body.get("temperature"),
            "tool_choice": body.get("tool_choice") or "auto",
            "tools": body.get("tools") or [],
            "top_p": body.get("top_p"),
            "usage": {
                "input_tokens": asked,
                "input_tokens_details": {"cached_tokens": 0},
                "output_tokens": said,
                "output_tokens_details": {"reasoning_tokens": 0},
                "total_tokens": asked + said,
            },
        }

    def stream_answer(
        self, completion: dict[str, Any], body: dict[str, Any]
    ) -> AsyncIterator[bytes]:
        """A chat completion as a response's stream of events."""
        return _response_pieces(self.write_answer(completion, body))

    def parse_answer(self, answer: dict[str, Any]) -> tuple[dict[str, Any], Usage | None]:
        """The message of an endpoint's response, as a chat completion holds it, and its usage."""
        return _message_of(answer), parse_usage(
            answer.get("usage"), "input_tokens", "output_tokens"
        )

    def assemble_stream(self) -> AssembledResponse:
        """What puts a streamed response together again."""
        return AssembledResponse()


def _instructions_before(body: dict[str, Any]) -> list[dict[str, Any]]:
    instructions = body.get("instructions")
    return [{"role": "system", "content": instructions}] if instructions else []


def _offered_tools(body: dict[str, Any]) -> Tools:
    functions = [t for t in body.get("tools") or () if t.get("type") == "function"]
    return {f["name"]: (f.get("description") or "", f.get("parameters") or {}) for f in functions}


def _as_messages(items: list[Any]) -> Iterator[dict[str, Any]]:
    for item in items:
        kind = item.get("type", "message")
        if kind == "message":
            yield {"role": item.get("role", "user"), "content": text_of(item.get("content"))}
        elif kind == "function_call":
            function = {"name": item["name"], "arguments": item.get("arguments") or "{}"}
            call = {"id": item["call_id"], "type": "function", "function": function}
            yield {"role": "assistant", "content": None, "tool_calls": [call]}
        elif kind == "function_call_output":
            text = text_of(item.get("output"))
            yield {"role": "tool", "tool_call_id": item["call_id"], "content": text}


def _output_items(message: dict[str, Any], id: str) -> Iterator[dict[str, Any]]:
    if message.get("content"):
        text = {"type": "output_text", "text": message["content"], "annotations": []}
        yield {
            "type": "message", "id": f"msg_{id}", "role": "assistant", "status": "completed",
            "content": [text],
        }  # fmt: skip
    for call in message.get("tool_calls") or []:
        yield {
            "type": "function_call",
            "id": f"fc_{call['id']}",
            "call_id": call["id"],
            "name": call["function"]["name"],
            "arguments": call["function"]["arguments"],
            "status": "completed",
        }


def _message_of(response: dict[str, Any]) -> dict[str, Any]:
    texts, calls = [], []
    for item in response.get("output") or []:
        if not isinstance(item, dict):
            continue
        if item.get("type") == "message":
            texts.append(text_of(item.get("content")))
        elif item.get("type") == "function_call":
            function = {"name": item.get("name"), "arguments": item.get("arguments") or ""}
            calls.append({"id": item.get("call_id"), "function": function})
    return {"content": "\n".join(texts) or None, "tool_calls": calls}


async def _response_pieces(response: dict[str, Any]) -> AsyncIterator[bytes]:
    count = 0

    def event(kind: str, **fields: Any) -> bytes:
        nonlocal count
        body = {"type": kind, "sequence_number": count, **fields}
        count += 1
        return f"event: {kind}\ndata: {json.dumps(body)}\n\n".encode()

    begun = {**response, "status": "in_progress", "output": [], "usage": None}
    yield event("response.created", response=begun)
    yield event("response.in_progress", response=begun)
    for index, item in enumerate(response["output"]):
        at = {"item_id": item["id"], "output_index": index}
        if item["type"] == "message":
            part = item["content"][0]
            empty = {**item, "status": "in_progress", "content": []}
            yield event("response.output_item.added", output_index=index, item=empty)
            blank = {**part, "text": ""}
            yield event("response.content_part.added", **at, content_index=0, part=blank)
            for piece in words_of(part["text"]):
                yield event(
                    "response.output_text.delta", **at, content_index=0, delta=piece, logprobs=[]
                )
            done = {"text": part["text"], "logprobs": []}
            yield event("response.output_text.done", **at, content_index=0, **done)
            yield event("response.content_part.done", **at, content_index=0, part=part)
        else:
            empty = {**item, "status": "in_progress", "arguments": ""}
            yield event("response.output_item.added", output_index=index, item=empty)
            for piece in parts_of(item["arguments"]):
                yield event("response.function_call_arguments.delta", **at, delta=piece)
            call = {"arguments": item["arguments"], "name": item["name"]}
            yield event("response.function_call_arguments.done", **at, **call)
        yield event("response.output_item.done", output_index=index, item=item)
    yield event(f"response.{response['status']}", response=response)


class AssembledResponse:
    """A streamed response put together again: its last event holds all of it.

    If it breaks off before that, the items that were done are what there is.
    """

    def __init__(self) -> None:
        self.finish: str | None = None
        self.usage: Usage | None = None
        self.response: dict[str, Any] = {"output": []}

    def take_line(self, line: str) -> None:
        """Take one line of the stream; what is none of the format is passed over."""
        if not line.startswith("data:"):
            return
        try:
            event = read_json(line[5:])
            kind = event.get("type")
        except (ValueError, AttributeError):
            return
        if kind == "response.output_item.done" and isinstance(event.get("item"), dict):
            self.response["output"].append(event["item"])
        elif kind in ("response.completed", "response.incomplete", "response.failed"):
            self.finish = str(kind).removeprefix("response.")
            if isinstance(event.get("response"), dict):
                self.response = event["response"]
                usage = self.response.get("usage")
                self.usage = parse_usage(usage, "input_tokens", "output_tokens")

    @property
    def message(self) -> dict[str, Any]:
        """The message as a chat completion holds it."""
        return _message_of(self.response)
