"""A stored trial as it is played back: what the model answered, what the tools gave."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ferox.core.replay_verdict import ShownRequest
from ferox.core.story import OWN, Story, read_story
from ferox.formats.trace import CallEvent, ModelEvent, Trace
from ferox.runs.trial_order import TrialOrder
from ferox.store.database import Session
from ferox.store.pieces import read_pieces
from ferox.store.tables import Trial
from ferox.store.traces import RawMessages, gather_beside, read_trace

NOT_KEPT = "was not kept (`keep` in ferox.yaml; an earlier Ferox kept less)"


PlayedDocument = dict[str, Any]
"""`trace`, and beside it `requests` by their events, their `pieces`, and `wire` by calls."""


class NotReplayable(Exception):
    """A trial that cannot be played back; the message says why."""


@dataclass(frozen=True)
class StoredAnswer:
    """What a model answered to one request: the event, what it was shown, and what was sent."""

    event: ModelEvent
    shown: ShownRequest
    sent: dict[str, Any]


@dataclass(frozen=True)
class StoredTrial:
    """What is played back of a trial."""

    order: TrialOrder
    trace: Trace
    story: Story
    answers: list[StoredAnswer]
    """In the order in which they were asked for."""
    calls: list[CallEvent]
    """At the tool seam, in order."""
    wire: dict[str, RawMessages]


def read_stored(session: Session, trial: Trial) -> StoredTrial:
    """A finished trial, with all that is needed to play it back.

    Raises:
        NotReplayable: something of it was not kept, or was done by hand.
    """
    return assemble_stored(
        TrialOrder.of_trial(trial), read_played(session, trial, finished_trace(session, trial))
    )


def finished_trace(session: Session, trial: Trial) -> Trace:
    """The trace of a trial that has ended.

    Raises:
        NotReplayable: it has not.
    """
    trace = read_trace(session, trial.id)
    if trace is None or trial.state != "done":
        raise NotReplayable("it is not finished")
    return trace


def read_played(
    session: Session, trial: Trial, whole: Trace, until: int | None = None
) -> PlayedDocument:
    """What is played back of a trial, as a JSON value. `whole` is its trace; `until`: only of the
    events before this place, and what the model was shown there.

    Raises:
        NotReplayable: something was done by hand, or is not known.
    """
    most = len(whole["events"]) if until is None else until
    ids = {event.get("id") for event in whole["events"][: most + 1]}
    trace: Trace = {**whole, "events": whole["events"][:most]}
    _check(trace, read_story(trace))
    beside = gather_beside(session, trial.id)
    requests = {id: body for id, body in beside.requests.items() if id in ids}
    return {
        "trace": trace,
        "requests": requests,
        "wire": {id: raw._asdict() for id, raw in beside.wire.items() if id in ids},
        "pieces": _pieces_of(session, requests.values()),
    }


def assemble_stored(order: TrialOrder, played: PlayedDocument) -> StoredTrial:
    """A trial that can be played back.

    Raises:
        NotReplayable: something of it was not kept.
    """
    trace, requests, pieces = played["trace"], played["requests"], played["pieces"]
    wire = {id: RawMessages(**raw) for id, raw in played["wire"].items()}
    calls = [e for e in trace["events"] if e["kind"] == "call" and went_out(e)]
    _check_wire(calls, wire)
    asked = [e for e in trace["events"] if e["kind"] == "model"]
    return StoredTrial(
        order=order,
        trace=trace,
        story=read_story(trace),
        answers=[_answer(event, requests.get(event["id"]), pieces) for event in asked],
        calls=calls,
        wire=wire,
    )


def _check(trace: Trace, story: Story) -> None:
    if story.unseen:
        raise NotReplayable("it was brought in: what was sent to its agent is not known")
    if story.why in ("could_not_run", "stopped"):
        raise NotReplayable("it did not come to its end")
    if story.holds:
        raise NotReplayable("its calls were held by hand")
    if any(event["kind"] == "embed" for event in trace["events"]):
        raise NotReplayable("it asked for embeddings, which are not kept")


def went_out(call: CallEvent) -> bool:
    """Whether a call reached the tool seam: one that was denied did not."""
    error = call.get("error")
    return call.get("seam") == "tool" and (error is None or error["kind"] != "denied")


def _check_wire(calls: list[CallEvent], wire: Mapping[str, RawMessages]) -> None:
    for call in calls:
        ended = call.get("s") is not None and not call.get("fault")
        if ended and call["id"] not in wire:
            raise NotReplayable(f"what its calls were given {NOT_KEPT}")


def _answer(event: ModelEvent, body: dict[str, Any] | None, pieces: dict[str, Any]) -> StoredAnswer:
    sent = None if body is None else body.get("sent")
    if body is None or sent is None:
        if event.get("s") is None and not event.get("error"):  # the trial ended before
            return StoredAnswer(event, ShownRequest([]), {})
        raise NotReplayable(f"what its model was sent {NOT_KEPT}")
    if "body" not in sent:
        raise NotReplayable(f"an answer of its model was too long to keep ({sent['left_out']:,})")
    return StoredAnswer(event, shown_request(body, pieces), sent)


def _pieces_of(session: Session, bodies: Any) -> dict[str, Any]:
    bodies = list(bodies)
    named = {body[key] for body in bodies for key in ("tools", "parameters")}
    named |= {hashed for body in bodies for hashed in body["messages"]}
    found = read_pieces(session, sorted(named))
    tools = {hashed for body in bodies for hashed in found.get(body["tools"]) or ()}
    return {**found, **read_pieces(session, sorted(tools))}


def shown_request(body: dict[str, Any], pieces: dict[str, Any]) -> ShownRequest:
    """What a model was shown, put together from its pieces; of one that was not kept its mark."""
    tools = {}
    for hashed in pieces.get(body["tools"]) or ():
        tool = pieces.get(hashed, {"name": hashed})
        tools[tool["name"]] = {k: v for k, v in tool.items() if k != "name"}
    return ShownRequest(
        [pieces.get(hashed, hashed) for hashed in body["messages"]],
        tools,
        pieces.get(body["parameters"]) or {},
    )


def own_name(call: CallEvent) -> str:
    """A tool by its server's own name."""
    return call["tool"].split("/", 1)[1]


def is_served(call: CallEvent, server: str) -> bool:
    """Whether a call went to a server."""
    return not call["tool"].startswith(OWN) and call["tool"].split("/", 1)[0] == server


def result_on_wire(raw: RawMessages | None) -> dict[str, Any] | None:
    """The JSON-RPC answer of a call as it passed: the last message with a result or an error."""
    found = None
    for line in (raw.answer if raw else "").splitlines():
        try:
            message = json.loads(line.removeprefix("data:"))
        except ValueError:
            continue
        if isinstance(message, dict) and ("result" in message or "error" in message):
            found = message
    return found
