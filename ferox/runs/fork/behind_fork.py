"""What stands behind the seams of a fork: until its point what was said, from there on what there
is."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager
from dataclasses import replace
from typing import Any

from starlette.responses import Response

from ferox.core.json_values import brief_json, equal_json
from ferox.core.masking import Masker
from ferox.core.replay_verdict import ShownRequest, compare_requests
from ferox.formats.fault import Fault
from ferox.formats.trace import CallEvent, EndReason, Event, ForkFacts, ModelEvent
from ferox.gateway.fault_plan import AppliedFault, FaultPlan
from ferox.gateway.model_seam.answering import (
    EmbedAnswer,
    EmbedRequest,
    ModelAnswering,
    ModelRequest,
    error_response,
)
from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.completions import as_response, message_of
from ferox.gateway.model_seam.model_requests import NOT_PARAMETERS
from ferox.gateway.model_seam.stand_in_model import StandInModel
from ferox.gateway.recorder import Recorder
from ferox.runs.fork.origin import ForkOrigin
from ferox.runs.replay.played_back import (
    IN_ITS_PLACE,
    IN_THE_ANSWER,
    PARTED,
    PlayedBack,
    PlayedBackServer,
    is_alike,
)
from ferox.runs.replay.stored_trial import (
    StoredTrial,
    assemble_stored,
    is_served,
    own_name,
    shown_request,
)
from ferox.runs.trial_order import TrialOrder
from ferox.runs.trial_seams import OpenModel, OpenSource
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.source import (
    Caller,
    ProtocolRefusal,
    Source,
    ToolOutput,
    failed_output,
    tool_output,
)
from ferox.workspace.modes import MOCK

ANSWERS_ITSELF = IN_ITS_PLACE | {"model_status"}
"""Faults that answer in place of a server or a model."""
FROM_THERE_ON = ("model", "without", "wording")
"""Changes that leave what stands at the point as it is."""
PARTED_BEFORE = "parted before its point"
"""How the reason of a fork begins that did not get there."""


class BehindFork(PlayedBack):
    """One fork's models and servers, as `ferox.runs.trial_seams.BehindSeams` has it.

    Until the point the agent is given what the parent was given, and has to do what it did; mocks
    and stand-ins are brought to the same state meanwhile. `seed` is of all chance from then on.
    """

    def __init__(self, stored: StoredTrial, origin: ForkOrigin, seed: int, masker: Masker) -> None:
        super().__init__(stored)
        self.origin, self.seed, self.masker = origin, seed, masker
        self.point: Any = origin.point
        self.live_at: float | None = None
        """When the trial went on by itself, in seconds; None: it has not yet."""
        self.unlike: list[str] = []
        self._altered = False
        self._not_repeated: set[str] = set()
        self._sources: list[Source] = []
        self._models: list[ModelAnswering] = []

    # As the seams have it.

    def open_source(self, name: str, mode: str, own: OpenSource) -> OpenSource:
        """A server that says what it said, and from the point on is itself."""

        @asynccontextmanager
        async def opened() -> AsyncIterator[Source]:
            async with own() as source:
                self._sources.append(source)
                if mode != MOCK and any(is_served(c, name) for c in self._stored.calls):
                    self._not_repeated.add(name)
                yield ForkedServer(source, self._stored, self)

        return opened

    def model(self, name: str, recorder: Recorder, own: OpenModel) -> ModelAnswering:
        """A model that says what it said, and from the point on is asked."""
        live = own(self.origin.change.model or name)
        self._models.append(live)
        return ForkedModel(name, live, self, recorder=recorder)

    def faults(self, faults: list[Fault], seed: int) -> FaultPlan:
        """The faults of the past, and from the point on those of today's chance."""
        return ForkedFaults(faults, seed, self)

    def alter_request(
        self, body: dict[str, Any], find_address: Callable[[str], str]
    ) -> dict[str, Any]:
        """A request from the point on, with the tools that the change has models shown."""
        change, there = self.origin.change, body.get("tools")
        begins = self.origin.kind == "model" and not self.unasked
        if not self.changes_tools or not isinstance(there, list) or not (self.is_live or begins):
            return body
        shown = change.alter_shown(there, find_address)
        self._altered = self._altered or shown != there
        if shown:
            return {**body, "tools": shown}
        return {k: v for k, v in body.items() if k not in ("tools", "tool_choice")}

    def explain_end(self, why: EndReason, reason: str | None) -> tuple[EndReason, str | None]:
        """A fork that never reached its point, or in which the change changed nothing, says nothing
        of the change."""
        if self.parted is not None:
            at = "" if self.parted.at == "end" else f" at {self.parted.at}"
            return "could_not_run", f"{PARTED_BEFORE}{at}: {self.parted.what}"
        if self.live_at is None and why != "could_not_run":
            return "could_not_run", f"{PARTED_BEFORE}: it ended before {self.origin.at}"
        if self.changes_tools and not self._altered and why != "could_not_run":
            return "could_not_run", (
                f"no model was shown these tools from {self.origin.at} on, so nothing was changed"
            )
        return why, reason

    def facts(self) -> Mapping[str, Any]:
        """Where it went on, and what its past was not brought about again for."""
        facts: ForkFacts = {
            "trial": self.origin.trial,
            "run": self.origin.run,
            "at": self.origin.at,
            "change": self.origin.change.words,
            "t": self.live_at,
            "unlike": self.unlike,
            "not_repeated": sorted(self._not_repeated),
        }
        # Which answer came from which model is not told apart, so nor is what they cost.
        no_prices: dict[str, Any] = {"prices": {}} if self.origin.change.model else {}
        return {"fork": facts, **no_prices}

    # How far it is.

    @property
    def changes_tools(self) -> bool:
        """Whether the change is in what models are shown of tools."""
        return self.origin.change.what in ("without", "wording")

    @property
    def played_events(self) -> list[Event]:
        """What is played back."""
        return self._stored.trace["events"]

    @property
    def played_calls(self) -> list[CallEvent]:
        """The calls that are played back."""
        return self._stored.calls

    @property
    def played_requests(self) -> int:
        """How many requests to models are played back."""
        return len(self._stored.answers)

    @property
    def is_live(self) -> bool:
        """Whether the point was reached."""
        return self.live_at is not None

    def go_live(self, at: float) -> None:
        """The point is reached: from now on chance is the fork's own."""
        if self.is_live:
            return
        self.live_at = at
        for source in self._sources:
            if isinstance(source, MockServer):
                source.seed = self.seed
        for model in self._models:
            if isinstance(model, StandInModel):
                model.change_seed(self.seed)

    def is_point(self, server: str, tool: str) -> bool:
        """Whether the next call of a tool may be the point."""
        return (
            not self.is_live
            and self.origin.kind == "call"
            and self.point["tool"] == f"{server}/{tool}"
        )

    def going_call(self, address: str, args: dict[str, Any] | None = None) -> CallEvent | None:
        """The event of a call that waits for its answer; of no matter which, the last. None: the
        trial is over, and it is not noted."""
        assert self._recorder is not None
        going = (
            event
            for event in reversed(self._recorder.events)
            if event["kind"] == "call"
            and event["tool"] == address
            and event.get("s") is None
            and (args is None or is_alike(event, args))
        )
        return next(going, None)

    def note_fault(
        self, event: CallEvent | ModelEvent | None, then: CallEvent | ModelEvent
    ) -> None:
        """A fault of the past is in the stored answer, and is noted as it was."""
        if event is not None and then.get("fault"):
            assert self._recorder is not None
            event["fault"], event["fault_n"] = then.get("fault"), then.get("fault_n")
            self._recorder.update_event(event)

    def now(self) -> float:
        """The trial's time, which begins with the first words."""
        assert self._recorder is not None
        return self._recorder.now() if self._recorder.events else 0.0

    def shown_at_point(self) -> ShownRequest | None:
        """What the model was shown in the request that is the point, if that was kept."""
        document = self.origin.stored
        body = document["requests"].get(self.point.get("id"))
        return None if body is None else shown_request(body, document["pieces"])


def open_fork(origin: ForkOrigin, order: TrialOrder, seed: int, masker: Masker) -> BehindFork:
    """What stands behind the seams of one fork of a run; `seed`: its own."""
    stored = assemble_stored(order, origin.stored)
    return BehindFork(stored, origin, seed=seed, masker=masker)


class ForkedFaults(FaultPlan):
    """Plays the faults of the past, then a plan of its own chance.

    What strikes in the past is counted in both, so that the n-th call stays the n-th.
    """

    def __init__(self, faults: list[Fault], seed: int, fork: BehindFork) -> None:
        super().__init__(faults, seed)
        self._live = FaultPlan(faults, fork.seed)
        self._fork = fork
        self._calls = Counter(call["tool"] for call in fork.played_calls)
        self._requests = fork.played_requests

    def next_fault(self, server: str, tool: str) -> AppliedFault | None:
        """The fault that strikes this call."""
        then, now = super().next_fault(server, tool), self._live.next_fault(server, tool)
        address = f"{server}/{tool}"
        if self._calls[address]:
            self._calls[address] -= 1
            return None if then is not None and then.fault.do in IN_THE_ANSWER else then
        if not self._fork.is_point(server, tool):
            return now
        event = self._fork.going_call(address)
        if event is None or not is_alike(self._fork.point, event.get("args") or {}):
            return None  # it is over, or parts
        return self._at_point(now, event["t"])

    def next_request(self) -> AppliedFault | None:
        """The fault that strikes this request to the model."""
        super().next_request()
        now = self._live.next_request()
        if self._requests:
            self._requests -= 1
            return None  # what a fault made of a model's answer is stored
        if self._fork.is_live or self._fork.origin.kind != "model":
            return now
        return self._at_point(now, self._fork.now())

    def _at_point(self, now: AppliedFault | None, at: float) -> AppliedFault | None:
        """At the point nothing strikes but what the change says, unless it leaves it to itself.
        What strikes may answer in place of the server or model, which then hears of nothing."""
        change = self._fork.origin.change
        if change.what == "fault":
            now = AppliedFault(len(self.faults) - 1, self.faults[-1])
        elif change.what not in (None, *FROM_THERE_ON):
            now = None
        if now is not None and now.fault.do in ANSWERS_ITSELF:
            self._fork.go_live(at)
        return now


class ForkedServer(PlayedBackServer):
    """A server that says what it said, and from the point on is itself."""

    def __init__(self, behind: Source, stored: StoredTrial, fork: BehindFork) -> None:
        super().__init__(behind, stored, fork)
        self._fork = fork

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """What the same call got in the past; later, what the server says.

        Raises:
            ProtocolRefusal: the server answers with a protocol error, or it parted.
        """
        stored = self._take_stored(tool, args)
        if stored is not None:
            self._fork.note_fault(self._fork.going_call(stored["tool"], args), stored)
            await self._make_again(stored, args, caller)
            return await self._given(stored, tool)
        if self._fork.is_point(self.name, tool) and is_alike(self._fork.point, args):
            event = self._fork.going_call(f"{self.name}/{tool}", args)
            self._fork.go_live(self._fork.now() if event is None else event["t"])
            return await self._answer_point(tool, args, caller)
        if not self._fork.is_live:
            raise self._part(tool, args)
        return await self._behind.call(tool, args, caller)

    async def _answer_point(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        change = self._fork.origin.change
        if change.what == "error":
            return failed_output(change.error or "")
        if change.what == "answer":
            if isinstance(self._behind, MockServer):  # it was called; only its answer is another
                await self._behind.call(tool, args, caller)
            return tool_output(change.answer, self.tools.get(tool, {}))
        return await self._behind.call(tool, args, caller)

    async def _make_again(self, stored: CallEvent, args: dict[str, Any], caller: Caller) -> None:
        """Have a mock carry out a call of the past, so that its state is what it was."""
        if not isinstance(self._behind, MockServer):
            return
        tool = own_name(stored)
        try:
            given = await self._behind.call(tool, args, caller)
        except ProtocolRefusal as refused:
            given = failed_output(refused.message)
        if stored.get("fault") in IN_THE_ANSWER or stored.get("s") is None:
            return  # what it said then is not known as such
        error = stored.get("error")
        then = stored.get("result") if error is None else error["message"]
        now = given.value if given.error is None else given.error
        if (error is None) != (given.error is None) or not equal_json(then, now):
            self._fork.unlike.append(
                f"{stored['id']} {stored['tool']}: it says {brief_json(now, 200)}, and said "
                f"{brief_json(then, 200)}"
            )


def tools_of(request: ModelRequest) -> dict[str, Any]:
    """The tools of a request, as requests are compared."""
    return {
        name: {"description": description, "input": schema}
        for name, (description, schema) in request.parsed.tools.items()
    }


class ForkedModel:
    """A model that gives each voice its stored answers, in order; from the point on it is asked."""

    def __init__(
        self, name: str, live: ModelAnswering, fork: BehindFork, recorder: Recorder
    ) -> None:
        self.simulated = live.simulated
        self._name, self._live, self._fork, self._recorder = name, live, fork, recorder

    async def answer(self, request: ModelRequest) -> Response:
        """The next stored answer; past the last, the model's own."""
        fork = self._fork
        stored = fork.next_answer(request.voice)
        if stored is not None:
            if self._asks_otherwise(request, stored.event["id"], stored.shown):
                return error_response(410, PARTED)
            if isinstance(self._live, StandInModel) and stored.event.get("fault") != "model_status":
                self._live.follow(request)
            fork.note_fault(request.event, stored.event)
            return await fork.give_stored(self._name, stored, request, self._recorder)
        if fork.is_live:
            return await self._live.answer(request)
        if fork.origin.kind != "model":
            fork.part("end", "asks the model once more")
            return error_response(410, PARTED)
        shown = fork.shown_at_point()
        if shown is not None and fork.changes_tools:  # they are another already
            shown = replace(shown, tools=tools_of(request))
        if shown is not None and self._asks_otherwise(request, fork.origin.at, shown):
            return error_response(410, PARTED)
        fork.go_live(request.event["t"])
        return self._changed_answer(request) or await self._live.answer(request)

    def _asks_otherwise(self, request: ModelRequest, at: str, then: ShownRequest) -> bool:
        """Whether the agent asks something else than it did; if so, it parts."""
        mask = self._fork.masker.mask
        parameters = {k: v for k, v in request.body.items() if k not in NOT_PARAMETERS}
        now = ShownRequest(mask(request.parsed.messages), mask(tools_of(request)), mask(parameters))
        found = next(compare_requests(at, then, now), None)
        if found is not None:
            self._fork.part(*found[:2], *found.lines)
        return found is not None

    def _changed_answer(self, request: ModelRequest) -> Response | None:
        """What the change has the model say; None: it is asked."""
        change = self._fork.origin.change
        if change.what not in ("say", "call"):
            return None
        calls = []
        if change.call is not None:
            calls = [
                {
                    "id": f"call_{request.event_id}",
                    "name": self._own_name(request, change.call.tool),
                    "arguments": json.dumps(change.call.args),
                }
            ]
        usage: Any = {"input": 0, "output": 0}
        completion = completion_of(self._name, request.event_id, change.say, calls, usage)
        request.notes.note_answer(request, message_of(completion), None)
        return as_response(request, completion)

    def _own_name(self, request: ModelRequest, tool: str) -> str:
        """A tool's name as the model was shown it."""
        shown = zip(request.event.get("offered") or [], request.parsed.tools, strict=False)
        return next((name for address, name in shown if address == tool), tool.split("/", 1)[1])

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Asked: none are stored."""
        return await self._live.answer_embeddings(request)

    def forget_conversation(self) -> None:
        """A new conversation begins."""
        self._live.forget_conversation()
