"""The model seam: a chat-completions interface in front of one trial's model."""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import Mapping
from typing import Any

from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from ferox.core.tokens import estimated
from ferox.formats.agent import OWN
from ferox.formats.trace import Event, Proposal
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_names import ToolNames
from ferox.stand_in.conversation import text_of
from ferox.stand_in.model import Spoken, StandIn


def _refusal(status: int, message: str) -> JSONResponse:
    body = {"error": {"message": message, "type": "invalid_request_error", "code": None}}
    return JSONResponse(body, status_code=status)


class ModelSeam:
    """One trial's model, answered by a stand-in (simulated)."""

    def __init__(self, stand_in: StandIn, name: str, names: ToolNames, recorder: Recorder) -> None:
        self._stand_in = stand_in
        self._name = name
        self._names = names
        self._recorder = recorder
        self._local: dict[str, Event] = {}

    async def list_models(self, request: Request) -> Response:
        """The models on offer: just this one."""
        entry = {"id": self._name, "object": "model", "created": 0, "owned_by": "ferox (simulated)"}
        return JSONResponse({"object": "list", "data": [entry]})

    async def complete(self, request: Request) -> Response:
        """Answer a chat-completions request, and note what was offered and proposed."""
        try:
            text = await request.body()
            body = json.loads(text)
            messages = body["messages"]
            tools = _offered(body)
            assert isinstance(messages, list)
        except (ValueError, KeyError, TypeError, AttributeError, AssertionError) as error:
            return _refusal(400, f"the request is no chat completion: {error!r}")
        if body.get("stream"):
            return _refusal(400, "streaming comes with a later version of Ferox; ask without it")
        self._finish_local(messages)
        event = self._recorder.begin(
            "model",
            "m",
            voice="main",
            offered=[self._address(n) for n in tools],
            proposed=[],
            text=None,
            usage=None,
            error=None,
            fault=None,
        )
        spoken = self._stand_in.answer(messages, tools)
        if spoken.wait_s:
            await asyncio.sleep(spoken.wait_s)
        return self._answer(event, spoken, len(text), tools)

    def _address(self, name: str) -> str:
        """A name that was offered: a server's tool, or one of the agent's own."""
        return self._names.address(name) or f"{OWN}/{name}"

    def _answer(
        self, event: Event, spoken: Spoken, asked: int, tools: Mapping[str, Any]
    ) -> Response:
        usage = _usage(asked, spoken)
        proposed: list[Proposal] = []
        for call in spoken.calls:
            known = call.name in tools
            tool = self._address(call.name) if known else call.name
            proposed.append({"id": call.id, "tool": tool, "args": call.args})
        self._recorder.finish(event, proposed=proposed, text=spoken.text, usage=usage)
        for proposal in proposed:
            self._recorder.proposed(proposal["id"], proposal["tool"], proposal["args"])
            if proposal["tool"].startswith(f"{OWN}/"):
                self._local[proposal["id"]] = self._recorder.begin(
                    "call", "c", seam="local", tool=proposal["tool"], args=proposal["args"],
                    result=None, error=None, fault=None, proposal=proposal["id"],
                )  # fmt: skip
        return JSONResponse(_completion(self._name, event["id"], spoken, usage))

    def _finish_local(self, messages: list[dict[str, Any]]) -> None:
        """A tool inside the agent never crosses the wire; its result comes back in the history."""
        for message in messages:
            id = str(message.get("tool_call_id")) if isinstance(message, dict) else ""
            event = self._local.pop(id, None)
            if event:
                self._recorder.finish(event, result=text_of(message.get("content")))


def _offered(body: dict[str, Any]) -> dict[str, tuple[str, Any]]:
    functions = [t["function"] for t in body.get("tools") or () if t.get("type") == "function"]
    return {f["name"]: (f.get("description") or "", f.get("parameters") or {}) for f in functions}


def _usage(asked: int, spoken: Spoken) -> dict[str, int]:
    said = (spoken.text or "") + "".join(json.dumps(c.args) + c.name for c in spoken.calls)
    return {
        "input": estimated(asked),
        "output": max(1, estimated(len(said))),
    }


def _completion(model: str, id: str, spoken: Spoken, usage: dict[str, int]) -> dict[str, Any]:
    message: dict[str, Any] = {"role": "assistant", "content": spoken.text}
    if spoken.calls:
        message["tool_calls"] = [
            {
                "id": call.id,
                "type": "function",
                "function": {"name": call.name, "arguments": json.dumps(call.args)},
            }
            for call in spoken.calls
        ]
    reason = "tool_calls" if spoken.calls else "stop"
    return {
        "id": f"chatcmpl-{id}",
        "object": "chat.completion",
        "created": int(time.time()),
        "model": model,
        "choices": [{"index": 0, "message": message, "finish_reason": reason}],
        "usage": {
            "prompt_tokens": usage["input"],
            "completion_tokens": usage["output"],
            "total_tokens": usage["input"] + usage["output"],
        },
    }
