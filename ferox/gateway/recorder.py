"""The recorder: what happens in one trial, as events, while it happens."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable
from typing import Any, cast

from ferox.core.json_values import canonical
from ferox.formats.trace import Event
from ferox.intake.limits import storable

Listener = Callable[[int, Event], None]


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
        self._most = {"call": most_calls, "model": most_model_calls}
        self._ids = {"call": 0, "model": 0}
        self._open_proposals: list[tuple[str, str, str]] = []
        self._places: dict[int, int] = {}
        self.closed = False
        self.mended = 0
        """Messages in which half characters (lone surrogates) were replaced."""
        self.out_of_reach: str | None = None
        """Why a model gave no answer at all, if one did not: that is not the agent's fault."""

    def now(self) -> float:
        """Seconds since the trial's start, to the microsecond."""
        return round(time.perf_counter() - self._start, 6)

    def start(self) -> None:
        """Begin the trial's time here, unless something was noted already."""
        if not self.events:
            self._start = time.perf_counter()

    def add(self, kind: str, **fields: Any) -> Event:
        """Note that something happened, or began."""
        at = fields.pop("t", None)
        fields = self._storable(fields)
        event = cast(Event, {"t": self.now() if at is None else at, "kind": kind, **fields})
        if self.closed:
            return event
        self._places[id(event)] = len(self.events)
        self.events.append(event)
        self._listener(len(self.events) - 1, event)
        return event

    def begin(self, kind: str, prefix: str, **fields: Any) -> Event:
        """Begin a call or a request to the model; it gets the next id of its kind.

        What comes after the limit is not noted: how much that is depends on how soon it ends.
        """
        if self.over.done():
            return cast(
                Event, {"t": self.now(), "kind": kind, "id": f"{prefix}-", "s": None, **fields}
            )
        self._ids[kind] += 1
        event = self.add(kind, id=f"{prefix}{self._ids[kind]}", s=None, **fields)
        if self._ids[kind] > self._most[kind] and not self.over.done():
            what = "calls" if kind == "call" else "requests to the model"
            self.over.set_result(f"more than {self._most[kind]} {what}")
        return event

    def finish(self, event: Event, **fields: Any) -> None:
        """End an event that lasted, unless the trial is over already."""
        if self.closed or id(event) not in self._places:
            return
        event["s"] = round(self.now() - event["t"], 6)
        event.update(cast(Event, self._storable(fields)))
        self._listener(self._places[id(event)], event)

    def update(self, event: Event, **fields: Any) -> None:
        """Add to an event that goes on."""
        if not self.closed:
            event.update(cast(Event, self._storable(fields)))
            self._listener(self._places[id(event)], event)

    def _storable(self, fields: dict[str, Any]) -> dict[str, Any]:
        """Whatever door it came by, what is kept can be stored."""
        kept: dict[str, Any] = storable(fields)
        self.mended += kept is not fields
        return kept

    def proposed(self, id: str, tool: str, args: Any) -> None:
        """Remember a proposal until a call takes it up."""
        self._open_proposals.append((id, tool, canonical(args)))

    def is_open(self, proposal: str) -> bool:
        """Whether no call has taken a proposal up yet."""
        return any(id == proposal for id, _, _ in self._open_proposals)

    def take_proposal(self, tool: str, args: Any) -> str | None:
        """The proposal that a call carries out: same tool and arguments, else same tool."""
        wanted = canonical(args)
        there = [p for p in self._open_proposals if p[1] == tool]
        taken = next((p for p in there if p[2] == wanted), there[0] if there else None)
        if taken is None:
            return None
        self._open_proposals.remove(taken)
        return taken[0]
