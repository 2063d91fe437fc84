"""The recorder: what happens in one trial, as events, while it happens."""

from __future__ import annotations

import asyncio
import time
from collections import Counter
from collections.abc import Callable
from typing import Any, Literal

from ferox.core.json_values import canonical_json
from ferox.formats.trace import (
    AskEvent,
    CallError,
    CallEvent,
    EmbedEvent,
    EndEvent,
    EndReason,
    Event,
    HoldEvent,
    Json,
    ModelEvent,
    PartialEvent,
    Proposal,
    QuestionEvent,
    ReplyEvent,
    Seam,
    TurnEvent,
    Usage,
)
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.fault_plan import AppliedFault
from ferox.intake.limits import storable_json

Listener = Callable[[int, Event], None]
LastingEvent = CallEvent | ModelEvent | EmbedEvent | HoldEvent | QuestionEvent


class Recorder:
    """One trial's events, in order of their start; times in seconds from it.

    An event that lasts is added when it begins and finished later; `listener` hears
    of both, with the event's place. `over` is set, with a reason, when a limit of the
    trial is reached.
    """

    def __init__(self, listener: Listener, most_calls: int, most_model_calls: int) -> None:
        self.events: list[Event] = []
        self.over: asyncio.Future[str] = asyncio.get_running_loop().create_future()
        self._listener = listener
        self._start = time.perf_counter()
        self._limits = {"call": most_calls, "model": most_model_calls}
        self._counts: Counter[str] = Counter()
        self._open_proposals: list[tuple[str, str, str]] = []
        # Events are told apart by identity: two calls may be equal in all that they hold.
        self._places: dict[int, int] = {}
        self.closed = False
        self.repaired_texts = 0
        """Messages in which half characters (lone surrogates) were replaced."""
        self.out_of_reach: str | None = None
        """Why a model gave no answer at all, if one did not: that is not the agent's fault."""

    def now(self) -> float:
        """Seconds since the trial's start, to the microsecond."""
        return round(time.perf_counter() - self._start, 6)

    def start_clock(self) -> None:
        """Begin the trial's time here, unless something was noted already."""
        if not self.events:
            self._start = time.perf_counter()

    # What happens at once.

    def turn(self, text: str, *, part: int, rule: int | None) -> TurnEvent:
        """The user said something."""
        event: TurnEvent = {
            "t": self.now(), "kind": "turn", "part": part, "text": text, "rule": rule,
        }  # fmt: skip
        self._add_event(event)
        return event

    def reply(self, text: str, data: Json, *, of: str | None = None) -> None:
        """The agent replied."""
        event: ReplyEvent = {"t": self.now(), "kind": "reply", "text": text, "data": data}
        if of:
            event["of"] = of
        self._add_event(event)

    def partial(self, text: str) -> PartialEvent:
        """The agent said the beginning of its reply."""
        event: PartialEvent = {"t": self.now(), "kind": "partial", "text": text}
        self._add_event(event)
        return event

    def extend_partial(self, event: PartialEvent, text: str) -> None:
        """The agent said more of its reply: `text` is all of it so far."""
        if not self.closed:
            event["text"] = text
            self._tell_listeners(event)

    def approval(
        self, id: str, tool: str, args: Json, *, decision: Literal["approve", "deny"], edited: Json
    ) -> None:
        """The agent asked for an approval, and got an answer."""
        event: AskEvent = {
            "t": self.now(), "kind": "ask", "id": id, "tool": tool, "args": args,
            "decision": decision, "edited": edited, "s": 0.0,
        }  # fmt: skip
        self._add_event(event)

    def stop_noting(self) -> None:
        """Note nothing more but the end: what an agent does while it is being closed is none of
        its own choosing."""
        self.closed = True

    def end(self, why: EndReason, reason: str | None) -> None:
        """The trial ended. Nothing is noted after it."""
        event: EndEvent = {"t": self.now(), "kind": "end", "why": why, "reason": reason}
        # The end itself is noted, though the trial was closed to everything else.
        self.closed = False
        self._add_event(event)
        self.closed = True

    # Calls of tools.

    def call(
        self,
        tool: str,
        args: Json,
        *,
        seam: Seam = "tool",
        proposal: str | None = None,
        began: float | None = None,
        sent: Json = None,
        by_hand: str | None = None,
        by: str | None = None,
        hides: str | None = None,
    ) -> CallEvent:
        """A call began, now or at `began`. The further fields are as in `CallEvent`."""
        event: CallEvent = {
            "t": self.now() if began is None else began, "kind": "call",
            "id": self._next_id("call"), "s": None, "seam": seam, "tool": tool, "args": args,
            "result": None, "error": None,
            "fault": None, "proposal": proposal,
        }  # fmt: skip
        if sent is not None:
            event["sent"] = sent
        if by_hand is not None:
            event["by_hand"] = by_hand
        if by is not None:
            event["by"] = by
        if hides is not None:
            event["hides"] = hides
        self._begin_event(event)
        return event

    def finish_call(
        self,
        event: CallEvent,
        *,
        result: Json = None,
        error: CallError | None = None,
        content: list[dict[str, Json]] | None = None,
        nearest: bool = False,
    ) -> None:
        """A call was answered."""
        if self._is_open(event):
            event["result"], event["error"] = result, error
            if content is not None:
                event["content"] = content
            if nearest:
                event["nearest"] = True
            self._finish_event(event)

    def reject_call(self, event: CallEvent, message: str) -> None:
        """A call that was taken to be made inside the agent was refused by its framework."""
        if self._is_open(event):
            event["seam"] = "model"
            self.finish_call(event, error={"kind": "rejected", "message": message})

    def deny_known(self, event: CallEvent) -> None:
        """A call that was taken to go on did not, for its approval was denied."""
        self.finish_call(event, error={"kind": "denied", "message": "the approval was denied"})
        event["s"] = 0

    def was_denied(self, tool: str, since: float) -> bool:
        """Whether a call of a tool was denied since a moment."""
        return any(
            event["kind"] == "call"
            and event["tool"] == tool
            and (error := event.get("error")) is not None
            and error["kind"] == "denied"
            and event["t"] >= since
            for event in self.events
        )

    def deny_call(self, tool: str, args: Json) -> None:
        """A call did not go out, for its approval was denied."""
        event = self.call(tool, args, proposal=self.take_proposal(tool, args))
        self.deny_known(event)

    # Requests to models.

    def model(self, *, voice: str, offered: list[str], model: str = "main") -> ModelEvent:
        """A request to one of the agent's models began."""
        event: ModelEvent = {
            "t": self.now(), "kind": "model", "id": self._next_id("model"), "s": None,
            "voice": voice, "offered": offered, "proposed": [], "text": None, "usage": None,
            "error": None,
            "fault": None,
        }  # fmt: skip
        if model != "main":
            event["model"] = model
        self._begin_event(event)
        return event

    def finish_model(
        self,
        event: ModelEvent,
        *,
        proposed: list[Proposal] | None = None,
        text: str | None = None,
        usage: Usage | None = None,
        error: CallError | None = None,
    ) -> None:
        """A model answered. What it proposed waits for calls that carry it out."""
        proposed = proposed or []
        if self._is_open(event):
            event["proposed"], event["text"] = proposed, text
            event["usage"], event["error"] = usage, error
            self._finish_event(event)
        for each in proposed:
            self.remember_proposal(each["id"], each["tool"], each["args"])

    def embed(self, *, voice: str, texts: int) -> EmbedEvent:
        """A request for embeddings began."""
        event: EmbedEvent = {
            "t": self.now(), "kind": "embed", "voice": voice, "texts": texts, "s": None,
            "usage": None, "error": None,
        }  # fmt: skip
        self._add_event(event)
        return event

    def finish_embed(
        self, event: EmbedEvent, *, usage: Usage | None = None, error: CallError | None = None
    ) -> None:
        """A request for embeddings was answered."""
        if self._is_open(event):
            event["usage"], event["error"] = usage, error
            self._finish_event(event)

    def apply_fault(self, event: CallEvent | ModelEvent, fault: AppliedFault) -> None:
        """A fault takes effect on a call or a request that goes on."""
        if self._is_open(event):
            event["fault"], event["fault_n"] = fault.fault.do, fault.place
            self._tell_listeners(event)

    # People beside the trial.

    def hold(self, tool: str, args: Json) -> HoldEvent:
        """A call is held for a person."""
        event: HoldEvent = {
            "t": self.now(), "kind": "hold", "call": None, "s": None, "tool": tool, "args": args,
        }  # fmt: skip
        self._add_event(event)
        return event

    def finish_hold(self, event: HoldEvent, did: str) -> None:
        """A person decided of a held call."""
        if self._is_open(event):
            event["did"] = did
            self._finish_event(event)

    def question(
        self, text: str, *, server: str, call: str | None, url: str | None
    ) -> QuestionEvent:
        """A server asks the user something, in the middle of a call."""
        event: QuestionEvent = {
            "t": self.now(), "kind": "question", "text": text, "server": server, "call": call,
            "s": None,
        }  # fmt: skip
        if url is not None:
            event["url"] = url
        self._add_event(event)
        return event

    def finish_question(self, event: QuestionEvent, answered: AnsweredQuestion) -> None:
        """A server's question was answered."""
        if self._is_open(event):
            event["did"], event["data"] = answered.answer.action, answered.answer.content
            event["by"] = answered.by
            if answered.by == "script":
                event["rule"], event["name"] = answered.rule, answered.name
            self._finish_event(event)

    # How events are kept.

    def update_event(self, event: LastingEvent) -> None:
        """Tell of what was added to an event that goes on."""
        if self._is_open(event):
            self._tell_listeners(event)

    def _next_id(self, kind: Literal["call", "model"]) -> str:
        prefix = "c" if kind == "call" else "m"
        # What comes after the limit is not counted, so it has no number of its own.
        return f"{prefix}-" if self.over.done() else f"{prefix}{self._counts[kind] + 1}"

    def _begin_event(self, event: CallEvent | ModelEvent) -> None:
        """Add a call or a request to a model, and count it.

        What comes after the limit is not noted: how much that is depends on how soon it ends.
        """
        if self.over.done():
            return
        kind = event["kind"]
        self._counts[kind] += 1
        self._add_event(event)
        if self._counts[kind] > self._limits[kind]:
            what = "calls" if kind == "call" else "requests to the model"
            self.over.set_result(f"more than {self._limits[kind]} {what}")

    def _add_event(self, event: Event) -> None:
        if not self.closed:
            self._places[id(event)] = len(self.events)
            self.events.append(event)
            self._tell_listeners(event)

    def _is_open(self, event: LastingEvent) -> bool:
        """Whether an event may still change: it was noted, and the trial is not over."""
        return not self.closed and id(event) in self._places

    def _finish_event(self, event: LastingEvent) -> None:
        event["s"] = round(self.now() - event["t"], 6)
        self._tell_listeners(event)

    def _tell_listeners(self, event: Event) -> None:
        # Whichever way it came in, what is kept can be stored.
        kept: Any = storable_json(event)
        if kept is not event:
            self.repaired_texts += 1
            event.update(kept)
        self._listener(self._places[id(event)], event)

    # Which call carries out which proposal.

    def remember_proposal(self, id: str, tool: str, args: Json) -> None:
        """Remember a proposal until a call takes it up."""
        self._open_proposals.append((id, tool, canonical_json(args)))

    def is_open(self, proposal: str) -> bool:
        """Whether no call has taken a proposal up yet."""
        return any(id == proposal for id, _, _ in self._open_proposals)

    def take_proposal(self, tool: str, args: Json) -> str | None:
        """The proposal that a call carries out: same tool and arguments, else same tool."""
        wanted = canonical_json(args)
        # Frameworks may fill in defaults or coerce types on the way, so the arguments that go out
        # need not be those proposed; then the oldest open proposal of the tool is taken.
        there = [p for p in self._open_proposals if p[1] == tool]
        taken = next((p for p in there if p[2] == wanted), there[0] if there else None)
        if taken is None:
            return None
        self._open_proposals.remove(taken)
        return taken[0]
