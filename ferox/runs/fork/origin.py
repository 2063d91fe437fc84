"""Where forks begin: a point of a stored trial, and what is played back before it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from ferox.formats.trace import CallEvent, Event, ModelEvent, Trace, TurnEvent
from ferox.runs.fork.change import ForkChange, PointKind

PointEvent = CallEvent | ModelEvent | TurnEvent


class PointError(ValueError):
    """No fork can begin there; the message says why."""


class ForkOrigin(BaseModel):
    """What all forks of a run share.

    `seed` is the parent's own, with which its past is brought about again; `stored` holds what is
    played back: `trace`, `requests`, `wire` and `pieces`, up to the point; `point` is its event.
    """

    trial: int
    run: int
    number: int
    at: str
    seed: int
    change: ForkChange
    point: dict[str, Any]
    stored: dict[str, Any]

    @property
    def kind(self) -> PointKind:
        """What stands at the point."""
        kind: PointKind = self.point["kind"]
        return kind


def find_point(trace: Trace, at: str) -> int:
    """The place among a trace's events of a point: `c3` a call, `m2` a request to a model, `t1`
    the user's first words.

    Raises:
        PointError: there is none, or no fork can begin there.
    """
    events = trace["events"]
    turns = [n for n, event in enumerate(events) if event["kind"] == "turn"]
    if at.startswith("t") and at[1:].isdecimal():
        number = int(at[1:])
        if not 1 <= number <= len(turns):
            raise PointError(f"`{at}`: the trial has {len(turns)} turns")
        return turns[number - 1]
    for place, event in enumerate(events):
        if event["kind"] in ("call", "model") and event.get("id") == at:
            _check_point(event)
            return place
    raise PointError(
        f"`{at}`: no such place in the trial; write c3 for its third call, m2 for its second "
        "request to a model, t1 for the user's first words"
    )


def _check_point(event: Event) -> None:
    if event["kind"] != "call":
        return
    if event.get("seam") != "tool":
        raise PointError(
            f"{event['id']} did not pass a tool server: go on from the request to the model, or "
            "from the user's words, before it"
        )
    error = event.get("error")
    if error is not None and error["kind"] == "denied":
        raise PointError(f"{event['id']} never went out, for its approval was denied")
