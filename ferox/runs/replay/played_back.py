"""What stands behind the seams while a trial is played back: a model and servers that say what
they said."""

from __future__ import annotations

import asyncio
from asyncio import sleep
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from typing import Any

from starlette.responses import Response

from ferox.core.json_values import canonical_json
from ferox.core.replay_verdict import Difference, call_text
from ferox.formats.fault import Fault
from ferox.formats.trace import CallError, CallEvent, EndReason, ModelEvent, Usage
from ferox.gateway.fault_plan import AppliedFault, FaultPlan
from ferox.gateway.model_seam.answering import (
    EmbedAnswer,
    EmbedRequest,
    ModelAnswering,
    ModelRequest,
    RequestNotes,
    error_response,
)
from ferox.gateway.model_seam.endpoint import EndpointUnreachable, ModelAnswer
from ferox.gateway.model_seam.passed_on import PassedOnModel
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.wire_faults import WIRE_FAULTS
from ferox.runs.replay.stored_trial import (
    StoredAnswer,
    StoredTrial,
    is_served,
    own_name,
    result_on_wire,
)
from ferox.runs.trial_seams import OpenModel, OpenSource
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    Source,
    ToolOutput,
    failed_output,
    output_of_result,
    tool_output,
)
from ferox.workspace.modes import MOCK, RECORDED

IN_ITS_PLACE = WIRE_FAULTS | {"missing_tool", "protocol_error", "tool_error"}
"""Faults that answer a call before it reaches its server: they strike again by themselves."""
IN_THE_ANSWER = frozenset({"planted_text", "slow"})
"""Faults that the stored answer holds."""
PARTED = "parted from the stored trial"
NOT_STORED = -32004
"""The JSON-RPC code of a call for which nothing is stored."""


class PlayedBack:
    """One trial's model and servers, as `ferox.runs.trial_seams.BehindSeams` has it. `in_time`:
    answers take as long as they took; else they come at once."""

    def __init__(self, stored: StoredTrial, *, in_time: bool = False) -> None:
        self._stored, self._in_time = stored, in_time
        self.parted: Difference | None = None
        """Where the agent did what nothing is stored for."""
        self.asked: dict[str, StoredAnswer] = {}
        """By its requests of now, the stored answers that they got."""
        self._answers = list(stored.answers)
        self._recorder: Recorder | None = None

    def open_source(self, name: str, mode: str, own: OpenSource) -> OpenSource:
        """A server that says what it said. What a live one offers is what it offered then."""
        stored = self._stored

        @asynccontextmanager
        async def opened() -> AsyncIterator[Source]:
            if mode in (MOCK, RECORDED):
                async with own() as source:
                    yield PlayedBackServer(source, stored, self)
            else:
                yield PlayedBackServer(OfferedThen(name, stored), stored, self)

        return opened

    def model(self, name: str, recorder: Recorder, own: OpenModel) -> ModelAnswering:
        """A model that says what it said."""
        return PlayedBackModel(name, self, recorder)

    def faults(self, faults: list[Fault], seed: int) -> FaultPlan:
        """The faults that strike calls before they reach their server."""
        return _FaultsInPlace(faults, seed)

    def use_recorder(self, recorder: Recorder) -> None:
        """The recorder of the trial, which ends it where it parts."""
        self._recorder = recorder

    def alter_request(
        self, body: dict[str, Any], find_address: Callable[[str], str]
    ) -> dict[str, Any]:
        """As it is."""
        return body

    def explain_end(self, why: EndReason, reason: str | None) -> tuple[EndReason, str | None]:
        """As it is: a replay's verdict says where it parted."""
        return why, reason

    def facts(self) -> Mapping[str, Any]:
        """Nothing: the trace of a replay is not kept."""
        return {}

    def part(self, at: str, what: str, *lines: str) -> None:
        """End the trial here."""
        if self.parted is None:
            self.parted = Difference(at, what, lines)
            if self._recorder is not None and not self._recorder.over.done():
                self._recorder.over.set_result(PARTED)

    def next_answer(self, voice: str) -> StoredAnswer | None:
        """The next answer to a voice; where it has none, the next to any: its name may have
        changed with its instructions."""
        voices = {answer.event.get("voice") for answer in self._stored.answers}
        for place, answer in enumerate(self._answers):
            if answer.event.get("voice") == voice or voice not in voices:
                return self._answers.pop(place)
        return None

    async def pass_time(self, event: CallEvent | ModelEvent) -> None:
        """Wait as long as an answer took, if times are played back too."""
        if self._in_time:
            await sleep(event.get("s") or 0)

    async def give_stored(
        self, name: str, stored: StoredAnswer, request: ModelRequest, recorder: Recorder
    ) -> Response:
        """A stored answer, as it was sent."""
        await self.pass_time(stored.event)
        request.notes = NotedAsStored(request.notes, stored, self._stored)
        return await PassedOnModel(name, SentOnce(stored.sent), recorder).answer(request)

    @property
    def unasked(self) -> list[StoredAnswer]:
        """Stored answers that nobody asked for."""
        return self._answers


class _FaultsInPlace(FaultPlan):
    def next_fault(self, server: str, tool: str) -> AppliedFault | None:
        struck = super().next_fault(server, tool)
        return None if struck is not None and struck.fault.do in IN_THE_ANSWER else struck

    def next_request(self) -> AppliedFault | None:
        return None  # what a fault made of a model's answer is stored


class PlayedBackModel:
    """A model that gives each voice its stored answers, in order."""

    simulated = False

    def __init__(self, name: str, back: PlayedBack, recorder: Recorder) -> None:
        self._name, self._back, self._recorder = name, back, recorder

    async def answer(self, request: ModelRequest) -> Response:
        """The next stored answer, as it was sent; past the last, the trial is over."""
        stored = self._back.next_answer(request.voice)
        if stored is None:
            last = request.parsed.messages[-1:] or [{}]
            words = canonical_json(last[0])[:400]
            self._back.part("end", "asks the model once more", f"+ {words}")
            return error_response(410, PARTED)
        self._back.asked[request.event_id] = stored
        if not stored.sent:  # the trial ended while it waited
            await asyncio.Event().wait()
        streamed = stored.sent["type"] == "text/event-stream"
        if stored.sent["status"] < 400 and streamed != request.is_streamed:
            what = f"asks for {'a stream' if request.is_streamed else 'a whole answer'}"
            self._back.part(stored.event["id"], what)
            return error_response(410, PARTED)
        return await self._back.give_stored(self._name, stored, request, self._recorder)

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """None are stored."""
        self._back.part("end", "asks for embeddings")
        raise EndpointUnreachable(PARTED)

    def forget_conversation(self) -> None:
        """What is stored is in order."""


class NotedAsStored:
    """Notes a stored answer as it was noted: where a stand-in was made to reply by a call, what was
    sent holds one that it did not choose."""

    def __init__(self, notes: RequestNotes, answer: StoredAnswer, trial: StoredTrial) -> None:
        self._notes, self._event = notes, answer.event
        self._reply_tools = trial.trace.get("reply_tools") or []

    def note_answer(
        self,
        request: ModelRequest,
        message: dict[str, Any],
        usage: Usage | None,
        error: CallError | None = None,
    ) -> None:
        """The model said this."""
        text, calls = self._event.get("text"), message.get("tool_calls") or []
        if text is not None and not self._event.get("proposed") and len(calls) == 1:
            name = str(calls[0]["function"].get("name"))
            if name in self._reply_tools:
                self._notes.note_reply_tool(name, text)
                message = {"role": "assistant", "content": text}
        self._notes.note_answer(request, message, usage, error)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._notes, name)  # all else is noted as ever


class SentOnce:
    """One stored answer, from beyond the seam once more."""

    def __init__(self, sent: dict[str, Any]) -> None:
        self.status: int = sent["status"]
        self.waited_s = 0.0
        self.headers = {"content-type": sent["type"]}
        if "retry_after" in sent:
            self.headers["Retry-After"] = sent["retry_after"]
        self._body: str = sent["body"]

    @asynccontextmanager
    async def _open(self) -> AsyncIterator[ModelAnswer]:
        yield self

    def ask_model(
        self, path: str, body: dict[str, Any]
    ) -> AbstractAsyncContextManager[ModelAnswer]:
        """The answer."""
        return self._open()

    async def read_whole(self) -> bytes:
        """The body."""
        return self._body.encode()

    async def stream_lines(self) -> AsyncIterator[str]:
        """The lines of a stream."""
        for line in self._body.removesuffix("\n").split("\n"):
            yield line


class OfferedThen:
    """A live server as it was offered in a stored trial; nobody calls it."""

    state = None
    instructions: str | None = None
    methods: frozenset[str] = frozenset()

    def __init__(self, name: str, stored: StoredTrial) -> None:
        self.name = name
        self.info = {"name": name, "version": "played back"}
        self.tools: dict[str, Definition] = {
            address.split("/", 1)[1]: {
                "name": address.split("/", 1)[1],
                "description": tool.get("description") or "",
                "inputSchema": tool.get("input") or {"type": "object"},
            }
            for address, tool in stored.trace["tools"].items()
            if address.split("/", 1)[0] == name
        }

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """It is not there.

        Raises:
            ProtocolRefusal: always.
        """
        raise ProtocolRefusal(NOT_STORED, PARTED)

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """It is not there.

        Raises:
            ProtocolRefusal: always.
        """
        raise ProtocolRefusal(NOT_STORED, PARTED)

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """It is not there.

        Raises:
            ProtocolRefusal: always.
        """
        raise ProtocolRefusal(NOT_STORED, PARTED)


def is_alike(call: CallEvent, args: dict[str, Any]) -> bool:
    """Whether a stored call had these arguments."""
    return canonical_json(call.get("args") or {}) == canonical_json(args)


class PlayedBackServer:
    """A server whose calls get what they got; all else is `behind`'s."""

    def __init__(self, behind: Source, stored: StoredTrial, back: PlayedBack) -> None:
        self._behind, self._stored, self._back = behind, stored, back
        self.name, self.info = behind.name, behind.info
        self.instructions, self.methods = behind.instructions, behind.methods
        self._left = [
            call
            for call in stored.calls
            if is_served(call, behind.name) and call.get("fault") not in IN_ITS_PLACE
        ]

    @property
    def state(self) -> dict[str, Any] | None:
        """The state of what is behind."""
        return self._behind.state

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools of what is behind."""
        return self._behind.tools

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """What the same call got; one that was not made ends the trial.

        Raises:
            ProtocolRefusal: the server answered with a protocol error, or nothing is stored.
        """
        call = self._take_stored(tool, args)
        if call is None:
            raise self._part(tool, args)
        return await self._given(call, tool)

    def _take_stored(self, tool: str, args: dict[str, Any]) -> CallEvent | None:
        """The first stored call like this one that was not made again yet."""
        for place, call in enumerate(self._left):
            if own_name(call) == tool and is_alike(call, args):
                return self._left.pop(place)
        return None

    def _part(self, tool: str, args: dict[str, Any]) -> ProtocolRefusal:
        """End the trial at a call that was not made; what the agent is told."""
        address = f"{self.name}/{tool}"
        near = next((call for call in self._left if own_name(call) == tool), None)
        now = f"+ {call_text(address, args)}"
        if near is None:
            made = any(call["tool"] == address for call in self._stored.calls)
            what = "is called once more" if made else "is called, which it was not"
            self._back.part("end", f"{address} {what}", now)
        else:
            then = f"- {call_text(address, near.get('args'))}"
            self._back.part(near["id"], f"{address} is called with other arguments", then, now)
        return ProtocolRefusal(NOT_STORED, PARTED)

    async def _given(self, call: CallEvent, tool: str) -> ToolOutput:
        if call.get("s") is None and not call.get("error"):  # it never ended
            await asyncio.Event().wait()
        await self._back.pass_time(call)
        answer = result_on_wire(self._stored.wire.get(call["id"]))
        if answer is not None and isinstance(answer.get("result"), dict):
            return output_of_result(answer["result"])
        if answer is not None and isinstance(refused := answer.get("error"), dict):
            raise ProtocolRefusal(int(refused.get("code", 0)), str(refused.get("message")))
        error = call.get("error")
        if error is None:
            return tool_output(call.get("result"), self.tools.get(tool, {}))
        if error["kind"] == "tool_error":
            return failed_output(error["message"])
        raise ProtocolRefusal(NOT_STORED, error["message"])

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """A call of Ferox's own.

        Raises:
            UnknownTool, ProtocolRefusal: as what is behind says.
        """
        return await self._behind.look_up(tool, args)

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """A further method, answered by what is behind.

        Raises:
            ProtocolRefusal: as what is behind says.
        """
        return await self._behind.request(method, params)
