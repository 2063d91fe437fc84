"""Chat completions as answers: whole, or in pieces, as the request wants them."""

from __future__ import annotations

from typing import Any

from starlette.responses import JSONResponse, Response, StreamingResponse

from ferox.formats.trace import Usage
from ferox.gateway.model_seam.answering import ModelRequest
from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.model_faults import alter_completion


def message_of(completion: dict[str, Any]) -> dict[str, Any]:
    """The message of a chat completion."""
    message: dict[str, Any] = completion["choices"][0]["message"]
    return message


def altered_for(request: ModelRequest, completion: dict[str, Any]) -> dict[str, Any]:
    """A completion as the request's fault leaves it."""
    return alter_completion(completion, request.altering) if request.altering else completion


def as_response(request: ModelRequest, completion: dict[str, Any]) -> Response:
    """A completion by the request's interface, and remembered by it."""
    interface, body = request.interface, request.body
    if request.is_streamed:
        pieces = interface.stream_answer(completion, body)
        response: Response = StreamingResponse(pieces, media_type="text/event-stream")
    else:
        response = JSONResponse(interface.write_answer(completion, body))
    interface.remember_answer(body, interface.write_answer(completion, body))
    return response


def as_completion(
    model: str, id: str, message: dict[str, Any], usage: Usage | None
) -> dict[str, Any]:
    """An endpoint's message as a chat completion."""
    calls = [
        {
            "id": call.get("id"),
            "name": call["function"].get("name"),
            "arguments": call["function"].get("arguments") or "",
        }
        for call in message.get("tool_calls") or []
    ]
    counted: Any = usage or {"input": 0, "output": 0}
    return completion_of(model, id, message.get("content"), calls=calls, usage=counted)
