"""What stands behind the seams of a fork: until its point what was said, from there on what there
is."""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager
from typing import Any

from ferox.core.masking import Masker
from ferox.core.replay_verdict import ShownRequest
from ferox.formats.fault import Fault
from ferox.formats.trace import CallEvent, EndReason, Event, ForkFacts, ModelEvent
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.model_seam.answering import ModelAnswering
from ferox.gateway.model_seam.stand_in_model import StandInModel
from ferox.gateway.recorder import Recorder
from ferox.runs.fork.forked_faults import ForkedFaults
from ferox.runs.fork.forked_model import ForkedModel
from ferox.runs.fork.forked_server import ForkedServer
from ferox.runs.fork.origin import ForkOrigin
from ferox.runs.replay.played_back import PlayedBack, is_alike
from ferox.runs.replay.stored_trial import StoredTrial, assemble_stored, is_served, shown_request
from ferox.runs.trial_order import TrialOrder
from ferox.runs.trial_seams import OpenModel, OpenSource
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.source import Source
from ferox.workspace.modes import MOCK

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
