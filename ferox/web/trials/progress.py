"""A trial while it runs, as server-sent events: what is new in it, not everything again."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

from sse_starlette import ServerSentEvent

from ferox.formats.trace import Event
from ferox.runs.records import state_of
from ferox.runs.stored_snapshots import snapshot_of_trial
from ferox.store.database import Engine, read_session
from ferox.store.runs import GOING, get_run
from ferox.store.traces import read_events
from ferox.store.trials import find_trial
from ferox.web.trials import shapes
from ferox.web.trials.from_store import injected_at
from ferox.web.trials.shortened import room_for_each, shorten_value

EVERY_S = 0.3
MOST_EVENTS = 1000
"""Events by which the room of each is worked out: how many there will be is not known."""


class TrialProgress:
    """Reads the trials that somebody watches."""

    def __init__(self, engine: Engine, root: Path) -> None:
        self._engine, self._root = engine, root

    def is_there(self, trial: int) -> bool:
        """Whether there is such a trial."""
        with read_session(self._engine) as session:
            return find_trial(session, trial) is not None

    async def follow(self, trial: int) -> AsyncIterator[ServerSentEvent]:
        """What happens in a trial, until it is over."""
        place, last = 0, ""
        while True:
            is_over, found = await asyncio.to_thread(self._read_new, trial, place)
            text = found.model_dump_json()
            if found.events and text != last:
                yield ServerSentEvent(text, event="change")
                last = text
            if is_over:
                yield ServerSentEvent("null", event="over")
                return
            # From the first that may still change: a call that ends changes its event in place.
            place = found.place + _count_settled(found.events)
            await asyncio.sleep(EVERY_S)

    def _read_new(self, trial: int, place: int) -> tuple[bool, shapes.NewEvents]:
        """Whether a trial is over, and its events from a place on."""
        with read_session(self._engine) as session:
            record = find_trial(session, trial)
            if record is None:
                return True, shapes.NewEvents(place=place, events=[], long=[], injected={})
            run = get_run(session, record.run_id)
            goes_on = state_of(session, self._root, run) in GOING
            task = snapshot_of_trial(session, record).find_task(record.suite, record.task)
            events = read_events(session, trial, place)
        room = room_for_each(MOST_EVENTS)
        shortened = [shorten_value(event, room) for event in events]
        shown = shapes.NewEvents(
            place=place,
            events=[event for event, _ in shortened],
            long=[place + n for n, (_, is_cut) in enumerate(shortened) if is_cut],
            injected=injected_at(events, task),
        )
        return record.state not in GOING or not goes_on, shown


def _count_settled(events: list[dict[str, Any]] | list[Event]) -> int:
    """How many of the first events change no more: an answer may still come to the others."""
    return next((n for n, event in enumerate(events) if not _is_settled(event)), len(events))


def _is_settled(event: Any) -> bool:
    return event["kind"] != "partial" and event.get("s", 0) is not None
