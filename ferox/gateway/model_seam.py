"""The model seam: a chat-completions interface in front of one trial's model."""

from __future__ import annotations

import asyncio
import json
import re
import time
from collections.abc import AsyncIterator, Mapping, Sequence
from contextlib import AsyncExitStack
from typing import Any

from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse

from ferox.core.tokens import estimated
from ferox.formats.agent import OWN
from ferox.formats.fault import Fault
from ferox.formats.trace import Event, Proposal
from ferox.gateway.broken_model import ALTERING, altered
from ferox.gateway.endpoint import Asked, Endpoint, Gathered, OutOfReach
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_names import ToolNames
from ferox.servers.faults import FaultPlan
from ferox.stand_in.conversation import text_of
from ferox.stand_in.model import ProposedCall, Spoken, StandIn


def _refusal(status: int, message: str) -> JSONResponse:
    body = {"error": {"message": message, "type": "invalid_request_error", "code": None}}
    return JSONResponse(body, status_code=status)


class ModelSeam:
    """One trial's model: a stand-in (simulated), or an endpoint that is passed on to.

    `voice` names it in the trace: `main`, or the name that the agent's file gives it.
    """

    def __init__(
        self,
        source: StandIn | Endpoint,
        name: str,
        names: ToolNames,
        recorder: Recorder,
        voice: str = "main",
        faults: FaultPlan | None = None,
    ) -> None:
        self._source = source
        self._name = name
        self._names = names
        self._recorder = recorder
        self._voice = voice
        self._faults = faults or FaultPlan([], 0)
        self._local: dict[str, Event] = {}

    async def list_models(self, request: Request) -> Response:
        """The models on offer: just this one."""
        owner = "ferox (simulated)" if isinstance(self._source, StandIn) else "ferox"
        entry = {"id": self._name, "object": "model", "created": 0, "owned_by": owner}
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
        self._finish_local(messages)
        struck = self._faults.next_request()
        event = self._recorder.begin(
            "model",
            "m",
            voice=self._voice,
            offered=[self._address(n) for n in tools],
            proposed=[],
            text=None,
            usage=None,
            error=None,
            fault=struck.fault.do if struck else None,
            **({"fault_n": struck.place} if struck else {}),
        )
        if struck and struck.fault.do == "model_status":
            return self._status(struck.fault, event)
        if struck and struck.fault.do == "model_slow":
            await asyncio.sleep((struck.fault.ms or 0) / 1000)
        do = struck.fault.do if struck and struck.fault.do in ALTERING else None
        if isinstance(self._source, Endpoint):
            if do is None:
                return await self._pass_on(self._source, body, event, tools)
            return await self._pass_altered(self._source, body, event, tools, do)
        spoken = self._source.answer(messages, tools)
        if spoken.wait_s:
            await asyncio.sleep(spoken.wait_s)
        usage = _usage(len(text), spoken)
        completion = _completion(self._name, event["id"], spoken, usage)
        if do:
            completion = altered(completion, do)
        self._note_message(event, completion["choices"][0]["message"], usage, tools)
        if body.get("tool_choice") == "required" and not do:
            spoken = self._by_tool(spoken, event["id"], tools)
            completion = _completion(self._name, event["id"], spoken, usage)
        return _told(completion, body)

    def _status(self, fault: Fault, event: Event) -> Response:
        """An HTTP error in the model's place."""
        told = f"HTTP {fault.status}"
        self._recorder.finish(event, error={"kind": "status", "message": told})
        response = _refusal(fault.status or 500, f"the model answered {told}")
        if fault.retry_after_s is not None:
            response.headers["Retry-After"] = str(fault.retry_after_s)
        return response

    async def _pass_altered(
        self,
        endpoint: Endpoint,
        body: dict[str, Any],
        event: Event,
        tools: Mapping[str, Any],
        do: str,
    ) -> Response:
        """Pass a request on, and its answer back as a fault leaves it."""
        plain = {k: v for k, v in body.items() if k not in ("stream", "stream_options")}
        answer = await self._pass_on(endpoint, plain, event, tools, do)
        if answer.status_code >= 400 or not body.get("stream"):
            return answer
        return _told(json.loads(bytes(answer.body)), body)

    async def _pass_on(
        self,
        endpoint: Endpoint,
        body: dict[str, Any],
        event: Event,
        tools: Mapping[str, Any],
        do: str | None = None,
    ) -> Response:
        """Pass a request on, and the answer back as it comes, or as the fault `do` leaves it."""
        stack = AsyncExitStack()
        try:
            asked = await stack.enter_async_context(endpoint.ask("chat/completions", body))
        except OutOfReach as error:
            self._recorder.out_of_reach = str(error)
            self._recorder.finish(event, error={"kind": "out_of_reach", "message": str(error)})
            return _refusal(502, str(error))
        if asked.waited_s:
            self._recorder.update(event, waited_s=round(asked.waited_s, 3))
        if body.get("stream") and asked.status < 400:
            lines = self._passing(stack, asked, event, tools)
            return StreamingResponse(lines, asked.status, asked.headers)
        async with stack:
            try:
                came = await asked.whole()
            except OutOfReach as error:
                self._recorder.out_of_reach = str(error)
                self._recorder.finish(event, error={"kind": "dropped", "message": str(error)})
                return _refusal(502, str(error))
        if asked.status >= 400:
            told = came[:300].decode(errors="replace")
            fault = {"kind": "status", "message": f"HTTP {asked.status}: {told}"}
            self._recorder.finish(event, error=fault)
        else:
            if do:
                came = _altered(came, do)
            message, usage = _read(came)
            self._note_message(event, message, usage, tools)
        return Response(came, asked.status, asked.headers)

    async def _passing(
        self, stack: AsyncExitStack, asked: Asked, event: Event, tools: Mapping[str, Any]
    ) -> AsyncIterator[bytes]:
        """An event stream, line by line, while it is put together for the trace."""
        gathered = Gathered()
        first = True
        async with stack:
            async for line in asked.lines():
                if first and line.startswith("data:"):
                    first = False
                    self._recorder.update(
                        event, first_s=round(self._recorder.now() - event["t"], 6)
                    )
                gathered.take(line)
                yield line.encode() + b"\n"
        error = None
        if gathered.finish is None:
            error = {"kind": "dropped", "message": "the model's stream broke off"}
        self._note_message(event, gathered.message, _tokens(gathered.usage), tools, error)

    def _note_message(
        self,
        event: Event,
        message: dict[str, Any],
        usage: dict[str, int] | None,
        tools: Mapping[str, Any],
        error: dict[str, str] | None = None,
    ) -> None:
        calls = [
            ProposedCall(str(c.get("id")), str(c["function"].get("name")), _arguments(c))
            for c in message.get("tool_calls") or []
            if isinstance(c.get("function"), dict)
        ]
        self._note(event, message.get("content"), calls, usage, tools, error)

    def _by_tool(self, spoken: Spoken, id: str, tools: Mapping[str, tuple[str, Any]]) -> Spoken:
        """A reply as a call, for frameworks in which even the reply is one.

        The tool for it is the agent's own one that takes a single text. It is no call of
        the agent's choosing, so no event is made of it.
        """
        if spoken.calls or spoken.text is None:
            return spoken
        for name, (_, schema) in tools.items():
            needed = schema.get("required") or list(schema.get("properties") or ())
            if self._names.address(name) is None and len(needed) == 1:
                call = ProposedCall(f"reply-{id}", name, {needed[0]: spoken.text})
                return Spoken(None, (call,), spoken.wait_s)
        return spoken

    def _address(self, name: str) -> str:
        """A name that was offered: a server's tool, or one of the agent's own."""
        return self._names.address(name) or f"{OWN}/{name}"

    def _note(
        self,
        event: Event,
        text: str | None,
        calls: Sequence[ProposedCall],
        usage: dict[str, int] | None,
        tools: Mapping[str, Any],
        error: dict[str, str] | None = None,
    ) -> None:
        """End the request's event with what was said and proposed."""
        proposed: list[Proposal] = []
        for call in calls:
            known = call.name in tools
            tool = self._address(call.name) if known else call.name
            proposed.append({"id": call.id, "tool": tool, "args": call.args})
        self._recorder.finish(event, proposed=proposed, text=text, usage=usage, error=error)
        for proposal in proposed:
            self._recorder.proposed(proposal["id"], proposal["tool"], proposal["args"])
            if proposal["tool"].startswith(f"{OWN}/"):
                self._local[proposal["id"]] = self._recorder.begin(
                    "call", "c", seam="local", tool=proposal["tool"], args=proposal["args"],
                    result=None, error=None, fault=None, proposal=proposal["id"],
                )  # fmt: skip

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


def _told(completion: dict[str, Any], body: dict[str, Any]) -> Response:
    """An answer as the request wants it: whole, or in pieces."""
    if not body.get("stream"):
        return JSONResponse(completion)
    options = body.get("stream_options") or {}
    return _streamed(completion, bool(options.get("include_usage")))


def _altered(body: bytes, do: str) -> bytes:
    """An endpoint's answer as a fault leaves it; what is none of the format stays."""
    try:
        return json.dumps(altered(json.loads(body), do)).encode()
    except (ValueError, AttributeError, TypeError):
        return body


def _streamed(completion: dict[str, Any], with_usage: bool) -> Response:
    """A stand-in's answer in pieces, as the interface streams them."""
    head = {k: completion.get(k) for k in ("id", "created", "model")}
    head["object"] = "chat.completion.chunk"
    choice = completion["choices"][0]
    message = choice["message"]
    deltas: list[dict[str, Any]] = [{"role": "assistant", "content": ""}]
    deltas += [{"content": piece} for piece in re.findall(r"\S+\s*", message.get("content") or "")]
    for index, call in enumerate(message.get("tool_calls") or []):
        function = {"name": call["function"]["name"], "arguments": ""}
        begun = {"index": index, "id": call["id"], "type": "function", "function": function}
        deltas.append({"tool_calls": [begun]})
        words = call["function"]["arguments"]
        for start in range(0, len(words), 40):
            piece = {"index": index, "function": {"arguments": words[start : start + 40]}}
            deltas.append({"tool_calls": [piece]})

    async def events() -> AsyncIterator[bytes]:
        for delta in deltas:
            one = {"index": 0, "delta": delta, "finish_reason": None}
            yield _chunk({**head, "choices": [one]})
        last = {"index": 0, "delta": {}, "finish_reason": choice["finish_reason"]}
        yield _chunk({**head, "choices": [last]})
        if with_usage:
            yield _chunk({**head, "choices": [], "usage": completion.get("usage")})
        yield b"data: [DONE]\n\n"

    return StreamingResponse(events(), media_type="text/event-stream")


def _chunk(chunk: dict[str, Any]) -> bytes:
    return f"data: {json.dumps(chunk)}\n\n".encode()


def _read(body: bytes) -> tuple[dict[str, Any], dict[str, int] | None]:
    """The message of an endpoint's answer, empty if it is none of the format, and its usage."""
    try:
        told = json.loads(body)
    except ValueError:
        return {}, None
    if not isinstance(told, dict):
        return {}, None
    try:
        message = told["choices"][0]["message"]
    except (KeyError, IndexError, TypeError):
        message = {}
    return message if isinstance(message, dict) else {}, _tokens(told.get("usage"))


def _tokens(usage: Any) -> dict[str, int] | None:
    """What the endpoint counted; None if it told nothing."""
    if not isinstance(usage, dict):
        return None
    asked, said = usage.get("prompt_tokens"), usage.get("completion_tokens")
    if not (isinstance(asked, int) and isinstance(said, int)):
        return None
    return {"input": asked, "output": said}


def _arguments(call: dict[str, Any]) -> Any:
    """A proposal's arguments; words that are no JSON stay words."""
    words = call["function"].get("arguments") or "{}"
    try:
        return json.loads(words)
    except (ValueError, TypeError):
        return words
