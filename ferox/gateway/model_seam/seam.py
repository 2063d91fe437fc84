"""The model seam: one trial's model, by the chat-completions and the responses interface."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Callable
from contextlib import AsyncExitStack
from dataclasses import dataclass
from typing import Any

from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse

from ferox.core.definitions import properties_of, required_of
from ferox.core.tokens import estimated
from ferox.formats.fault import Fault
from ferox.formats.trace import Event, Proposal
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.model_seam.chat_interface import PATH as CHAT
from ferox.gateway.model_seam.chat_interface import ChatInterface, completion_of, instructions_of
from ferox.gateway.model_seam.embeddings import PATH as EMBEDDINGS
from ferox.gateway.model_seam.embeddings import embedded, texts_of
from ferox.gateway.model_seam.endpoint import AnswerSource, Endpoint, EndpointUnreachable
from ferox.gateway.model_seam.model_faults import ALTERING, altered
from ferox.gateway.model_seam.model_interface import (
    ModelInterface,
    ParsedRequest,
    Tools,
    UnreadableRequest,
)
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.recorded_model import RecordedModel
from ferox.gateway.model_seam.responses_interface import PATH as RESPONSES
from ferox.gateway.model_seam.responses_interface import ResponsesInterface
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder
from ferox.intake.json_text import read_json, read_json_noting
from ferox.recordings.model_recording import ModelCapture
from ferox.stand_in.code_writing import CodeWriting
from ferox.stand_in.conversation import text_of
from ferox.stand_in.model import ProposedCall, Spoken, StandIn

Source = Callable[[], StandIn] | Endpoint | RecordedModel
"""A stand-in is made anew for each voice, for each has a conversation of its own."""


def _refusal(status: int, message: str) -> JSONResponse:
    body = {"error": {"message": message, "type": "invalid_request_error", "code": None}}
    return JSONResponse(body, status_code=status)


class ModelSeam:
    """One of a trial's models: a stand-in (simulated), a recording, or an endpoint.

    `model` names it in the trace: `main`, or the name that the agent's file gives it.
    `capture` takes what passes to and from an endpoint.
    """

    def __init__(
        self,
        source: Source,
        name: str,
        seen: SeenByModel,
        recorder: Recorder,
        model: str = "main",
        faults: FaultPlan | None = None,
        capture: ModelCapture | None = None,
        own: OwnCalls | None = None,
        requests: ModelRequests | None = None,
    ) -> None:
        self._source = source
        self._name = name
        self._seen = seen
        self._recorder = recorder
        self._model = model
        self._faults = faults or FaultPlan([], 0)
        self._capture = capture
        self._own = own or OwnCalls(recorder, seen)
        self._requests = requests
        self._stand_ins: dict[str, StandIn] = {}
        self._forms: dict[str, ModelInterface] = {
            CHAT: ChatInterface(),
            RESPONSES: ResponsesInterface(),
        }

    def forget(self) -> None:
        """A new conversation begins: a stand-in's next request follows none before it."""
        for stand_in in self._stand_ins.values():
            stand_in.forget()

    async def handle(self, path: str, request: Request) -> Response:
        """Answer a request at a path under the seam's address."""
        if path == "models" and request.method == "GET":
            return self._list()
        kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
        if request.method == "POST" and kind != "application/json":
            return _refusal(415, "send application/json")
        if path in self._forms and request.method == "POST":
            return await self._complete(self._forms[path], request)
        if path == EMBEDDINGS and request.method == "POST":
            return await self._embed(request)
        told = f"only {CHAT}, {RESPONSES}, {EMBEDDINGS} and models are served here"
        return _refusal(404, told)

    def _read(self, text: bytes) -> Any:
        """The body of a request.

        Raises:
            IntakeError: it is no JSON, or more than a model could be shown.
        """
        body, mended = read_json_noting(text)
        self._recorder.mended += mended
        return body

    def _list(self) -> Response:
        """The models on offer: just this one."""
        owner = "ferox" if isinstance(self._source, AnswerSource) else "ferox (simulated)"
        entry = {"id": self._name, "object": "model", "created": 0, "owned_by": owner}
        return JSONResponse({"object": "list", "data": [entry]})

    async def _complete(self, form: ModelInterface, request: Request) -> Response:
        """Answer a request, and note what was offered and proposed."""
        try:
            text = await request.body()
            body = self._read(text)
            heard = form.heard(body)
        except UnreadableRequest as error:
            return _refusal(400, str(error))
        except (ValueError, TypeError) as error:
            return _refusal(400, f"the request is no JSON: {error}")
        self._seen.take(heard.tools)
        self._read_history(heard.messages)
        told = instructions_of(heard.messages)
        voice = self._seen.voices.of(self._model, told, heard.tools)
        struck = self._faults.next_request()
        event = self._recorder.begin(
            "model",
            "m",
            voice=voice,
            offered=[self._seen.address(n) for n in heard.tools],
            proposed=[],
            text=None,
            usage=None,
            error=None,
            fault=struck.fault.do if struck else None,
            **({"fault_n": struck.place} if struck else {}),
        )
        do = struck.fault.do if struck and struck.fault.do in ALTERING else None
        asked = _ModelRequest(form, body, heard, event, do)
        if struck and struck.fault.do == "model_status":
            self._keep_request(asked, None)
            return self._status(struck.fault, event)
        if struck and struck.fault.do == "model_slow":
            await asyncio.sleep((struck.fault.ms or 0) / 1000)
        if isinstance(self._source, AnswerSource):
            return await self._pass_on(self._source, asked)
        return await self._stand_in(self._source, asked, voice, len(text))

    async def _stand_in(
        self, source: Callable[[], StandIn], asked: _ModelRequest, voice: str, length: int
    ) -> Response:
        stand_in = self._stand_ins.setdefault(voice, source())
        spoken = _spoken(stand_in, asked.heard)
        if spoken.wait_s:
            await asyncio.sleep(spoken.wait_s)
        usage = _usage(length, spoken)
        completion = self._completion(asked.event["id"], spoken, usage)
        if asked.do:
            completion = altered(completion, asked.do)
        self._note(asked, completion["choices"][0]["message"], usage)
        if asked.heard.required and not asked.do:
            spoken = self._by_tool(spoken, asked.event["id"], asked.heard.tools)
            completion = self._completion(asked.event["id"], spoken, usage)
        return _told(asked, completion)

    def _completion(self, id: str, spoken: Spoken, usage: dict[str, int]) -> dict[str, Any]:
        calls = [
            {"id": c.id, "name": c.name, "arguments": json.dumps(c.args)} for c in spoken.calls
        ]
        return completion_of(self._name, id, spoken.text, calls, usage)

    def _status(self, fault: Fault, event: Event) -> Response:
        """An HTTP error in the model's place."""
        told = f"HTTP {fault.status}"
        self._recorder.finish(event, error={"kind": "status", "message": told})
        response = _refusal(fault.status or 500, f"the model answered {told}")
        if fault.retry_after_s is not None:
            response.headers["Retry-After"] = str(fault.retry_after_s)
        return response

    async def _pass_on(self, source: AnswerSource, asked: _ModelRequest) -> Response:
        """Pass a request on, and the answer back as it comes, or as a fault leaves it."""
        body, event = asked.body, asked.event
        if asked.do:  # an answer is altered whole
            body = {k: v for k, v in body.items() if k not in ("stream", "stream_options")}
        stack = AsyncExitStack()
        try:
            answer = await stack.enter_async_context(source.ask(asked.form.path, body))
        except EndpointUnreachable as error:
            self._keep_request(asked, None)
            return self._lost(event, "out_of_reach", error)
        if answer.waited_s:
            self._recorder.update(event, waited_s=round(answer.waited_s, 3))
        if body.get("stream") and answer.status < 400:
            lines = self._passing(stack, answer.lines(), asked, answer.status)
            return StreamingResponse(lines, answer.status, answer.headers)
        async with stack:
            try:
                came = await answer.whole()
            except EndpointUnreachable as error:
                self._keep_request(asked, None)
                return self._lost(event, "dropped", error)
        self._keep(asked, answer.status, came.decode(errors="replace"))
        if answer.status >= 400:
            told = came[:300].decode(errors="replace")
            fault = {"kind": "status", "message": f"HTTP {answer.status}: {told}"}
            self._recorder.finish(event, error=fault)
            self._keep_request(asked, None)
            return Response(came, answer.status, answer.headers)
        told_all = _object(came)
        message, usage = asked.form.said(told_all)
        asked.form.keep(body, told_all)
        if asked.do:
            completion = altered(_as_completion(self._name, event["id"], message, usage), asked.do)
            self._note(asked, completion["choices"][0]["message"], usage)
            return _told(asked, completion)
        self._note(asked, message, usage)
        return Response(came, answer.status, answer.headers)

    def _lost(self, event: Event, kind: str, error: EndpointUnreachable) -> Response:
        """No answer, or half of one: that is nobody's fault in the trial."""
        self._recorder.out_of_reach = str(error)
        self._recorder.finish(event, error={"kind": kind, "message": str(error)})
        return _refusal(502, str(error))

    async def _passing(
        self, stack: AsyncExitStack, lines: AsyncIterator[str], asked: _ModelRequest, status: int
    ) -> AsyncIterator[bytes]:
        """An event stream, line by line, while it is put together for the trace."""
        gathered = asked.form.gathered()
        event, came = asked.event, []
        first: float | None = None
        async with stack:
            async for line in lines:
                if first is None and line.startswith("data:"):
                    first = round(self._recorder.now() - event["t"], 6)
                    self._recorder.update(event, first_s=first)
                gathered.take(line)
                came.append(line)
                yield line.encode() + b"\n"
        error = None
        if gathered.finish is None:
            error = {"kind": "dropped", "message": "the model's stream broke off"}
        else:
            self._keep(asked, status, "\n".join(came), first)
            if isinstance(response := getattr(gathered, "response", None), dict):
                asked.form.keep(asked.body, response)
        self._note(asked, gathered.message, gathered.usage, error)

    def _keep(
        self, asked: _ModelRequest, status: int, answer: str, first_s: float | None = None
    ) -> None:
        """Record what passed, if it is to be recorded."""
        if self._capture and status < 400:
            seconds = round(self._recorder.now() - asked.event["t"], 6)
            self._capture.note(asked.form.path, asked.body, status, answer, seconds, first_s)

    def _by_tool(self, spoken: Spoken, id: str, tools: Tools) -> Spoken:
        """A reply as a call, for frameworks in which even the reply is one.

        The tool for it is the agent's own one that takes a single text. It is no call of
        the agent's choosing, so no event is made of it.
        """
        if spoken.calls or spoken.text is None:
            return spoken
        for name, (_, schema) in tools.items():
            needed = required_of(schema) or list(properties_of(schema))
            if self._seen.names.address(name) is None and len(needed) == 1:
                call = ProposedCall(f"reply-{id}", name, {needed[0]: spoken.text})
                self._own.may_reply_by(name, spoken.text)
                return Spoken(None, (call,), spoken.wait_s)
        return spoken

    def _note(
        self,
        asked: _ModelRequest,
        message: dict[str, Any],
        usage: dict[str, int] | None,
        error: dict[str, str] | None = None,
    ) -> None:
        """End the request's event with what was said and proposed."""
        proposed: list[Proposal] = []
        for call in message.get("tool_calls") or []:
            function = call.get("function") if isinstance(call, dict) else None
            if not isinstance(function, dict):
                continue
            name = str(function.get("name"))
            tool = self._seen.address(name) if name in asked.heard.tools else name
            args = _arguments(function.get("arguments"))
            proposed.append({"id": str(call.get("id")), "tool": tool, "args": args})
        text = message.get("content")
        self._recorder.finish(asked.event, proposed=proposed, text=text, usage=usage, error=error)
        for proposal in proposed:
            self._recorder.proposed(proposal["id"], proposal["tool"], proposal["args"])
        self._own.proposed(proposed, asked.event.get("voice"))
        self._keep_request(asked, message)

    def _keep_request(self, asked: _ModelRequest, answer: dict[str, Any] | None) -> None:
        """Keep what the model was shown, and what it answered."""
        if self._requests is not None:
            self._requests.keep(asked.event["id"], asked.form.path, asked.body, asked.heard, answer)

    def _read_history(self, messages: list[dict[str, Any]]) -> None:
        """Results of tools inside the agent never cross the wire; they come back in the history."""
        for message in messages:
            if message.get("role") == "tool" and message.get("tool_call_id"):
                self._own.came_back(str(message["tool_call_id"]), text_of(message.get("content")))

    async def _embed(self, request: Request) -> Response:
        """Answer a request for embeddings: seeded vectors, or passed on."""
        try:
            body = self._read(await request.body())
            texts = texts_of(body)
        except (ValueError, KeyError, TypeError) as error:
            return _refusal(400, f"the request is none for embeddings: {error!r}")
        event = self._recorder.add(
            "embed", voice=self._model, texts=len(texts), s=None, usage=None, error=None
        )
        if not isinstance(self._source, AnswerSource):
            answer = embedded(self._name, texts, body)
            self._recorder.finish(event, usage={"input": answer["usage"]["prompt_tokens"]})
            return JSONResponse(answer)
        try:
            async with self._source.ask(EMBEDDINGS, body) as asked:
                came = await asked.whole()
        except EndpointUnreachable as error:
            return self._lost(event, "out_of_reach", error)
        self._recorder.finish(event)
        if self._capture and asked.status < 400:
            seconds = round(self._recorder.now() - event["t"], 6)
            told = came.decode(errors="replace")
            self._capture.note(EMBEDDINGS, body, asked.status, told, seconds, None)
        return Response(came, asked.status, asked.headers)


def _spoken(stand_in: StandIn, heard: ParsedRequest) -> Spoken:
    """A stand-in's answer; as code for an agent that acts by it."""
    code = CodeWriting.asked_for(heard.messages) if not heard.tools else None
    if code is None:
        return stand_in.answer(heard.messages, heard.tools)
    spoken = stand_in.answer(code.history(heard.messages), code.tools)
    words = code.written(spoken.text, [(call.name, call.args) for call in spoken.calls])
    return Spoken(words, (), spoken.wait_s)


@dataclass(frozen=True)
class _ModelRequest:
    """A request while it is answered, and the fault that alters its answer, if one does."""

    form: ModelInterface
    body: dict[str, Any]
    heard: ParsedRequest
    event: Event
    do: str | None


def _usage(asked: int, spoken: Spoken) -> dict[str, int]:
    said = (spoken.text or "") + "".join(json.dumps(c.args) + c.name for c in spoken.calls)
    return {
        "input": estimated(asked),
        "output": max(1, estimated(len(said))),
    }


def _as_completion(
    model: str, id: str, message: dict[str, Any], usage: dict[str, int] | None
) -> dict[str, Any]:
    """An endpoint's message as a chat completion."""
    calls = [
        {"id": c.get("id"), "name": c["function"].get("name"),
         "arguments": c["function"].get("arguments") or ""}
        for c in message.get("tool_calls") or []
    ]  # fmt: skip
    counted = usage or {"input": 0, "output": 0}
    return completion_of(model, id, message.get("content"), calls, counted)


def _told(asked: _ModelRequest, completion: dict[str, Any]) -> Response:
    """An answer as the request wants it: whole, or in pieces."""
    if asked.body.get("stream"):
        pieces = asked.form.pieces(completion, asked.body)
        response: Response = StreamingResponse(pieces, media_type="text/event-stream")
    else:
        response = JSONResponse(asked.form.whole(completion, asked.body))
    asked.form.keep(asked.body, asked.form.whole(completion, asked.body))
    return response


def _object(body: bytes) -> dict[str, Any]:
    """An endpoint's answer; empty if it is none of the format."""
    try:
        told = read_json(body)
    except ValueError:
        return {}
    return told if isinstance(told, dict) else {}


def _arguments(words: Any) -> Any:
    """A proposal's arguments; words that are no JSON stay words."""
    try:
        return read_json(words or "{}")
    except (ValueError, TypeError):
        return words
