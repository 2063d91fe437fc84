"""Traces: the events of a trial, what stands beside them, and what passed on the wire.

While a trial goes on, these are rows of their own. When it is over they are packed together, and
the rows are removed.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple, cast

from sqlalchemy import bindparam, delete, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, aliased

from ferox.core.json_values import compact_json
from ferox.formats.trace import Event, Trace
from ferox.store.packing import pack_text, unpack_text
from ferox.store.pieces import bring_back, put_away, read_pieces
from ferox.store.tables import EventRow, ModelRequest, PackedTrace, Trial, WireMessages

SHARED = ("tools", "voices", "seen_by_model", "instructions")
"""Parts of a trace that are alike in many trials."""
GOES_ON = (EventRow, WireMessages, ModelRequest)
"""The tables of what is kept of a trial while it goes on."""


# Made once: to make a statement takes far longer than to carry it out.
_OTHER = aliased(Trial)
_BASE = (
    select(_OTHER.id, PackedTrace.body)
    .join(
        Trial,
        (Trial.run_id == _OTHER.run_id)
        & (Trial.suite == _OTHER.suite)
        & (Trial.task == _OTHER.task)
        & (Trial.agent == _OTHER.agent),
    )
    .join(PackedTrace, PackedTrace.trial_id == _OTHER.id)
    # One that was stopped will be removed when its run goes on.
    .where(Trial.id == bindparam("trial"), _OTHER.id != Trial.id, _OTHER.state == "done")
    .where(PackedTrace.like.is_(None))
    .limit(1)
)
"""The trial of the same cell that is packed by itself."""
_INSERT = insert(PackedTrace)
_KEEP = _INSERT.on_conflict_do_update(
    index_elements=["trial_id"],
    set_={"like": _INSERT.excluded.like, "body": _INSERT.excluded.body},
)


class RawMessages(NamedTuple):
    """What was asked in a call, and what was answered, as it passed."""

    request: str
    answer: str


@dataclass
class BesideTrace:
    """What is kept of a trial beside its trace: the raw messages of its calls, and the requests
    to its models by their events."""

    wire: dict[str, RawMessages] = field(default_factory=dict)
    requests: dict[str, Any] = field(default_factory=dict)


def keep_trace(
    session: Session, trial: int, trace: Trace, beside: BesideTrace | None = None
) -> int | None:
    """Keep the trace of a trial that is over; the trial that it is packed against.

    `beside`: all there is of it; None: as the rows have it that were kept while it went on.
    """
    if beside is None:
        beside = gather_rows(session, trial)
    head = {key: value for key, value in trace.items() if key != "events"}
    text = compact_json(
        {
            "head": put_away(session, head, whole=SHARED),
            "requests": beside.requests,
            "wire": beside.wire,
            "events": trace["events"],
        }
    )
    base = session.execute(_BASE, {"trial": trial}).first()
    packed = pack_text(text, unpack_text(base.body) if base else None)
    row = {"trial_id": trial, "like": base.id if base else None, "body": packed}
    session.execute(_KEEP, row)
    return base.id if base else None


def gather_rows(session: Session, trial: int) -> BesideTrace:
    """What was kept beside a trial's events while it went on; the rows are removed."""
    found = BesideTrace()
    for row in session.scalars(select(WireMessages).where(WireMessages.trial_id == trial)):
        found.wire[row.call] = RawMessages(row.request, row.answer)
    for shown in session.scalars(select(ModelRequest).where(ModelRequest.trial_id == trial)):
        found.requests[shown.event] = shown.body
    forget_rows(session, [trial])
    return found


def forget_rows(session: Session, trials: Sequence[int]) -> None:
    """Remove what was kept of trials while they went on."""
    for table in GOES_ON:
        session.execute(delete(table).where(table.trial_id.in_(trials)))


def _read_texts(session: Session, trials: Iterable[int]) -> dict[int, str]:
    """What is packed of trials, as text."""
    columns = PackedTrace.trial_id, PackedTrace.like, PackedTrace.body
    rows = session.execute(select(*columns).where(PackedTrace.trial_id.in_(trials))).all()
    found = {trial: unpack_text(body) for trial, like, body in rows if like is None}
    missing = {like for _, like, _ in rows if like is not None} - found.keys()
    bases = found | (_read_texts(session, missing) if missing else {})
    return found | {
        trial: unpack_text(body, bases[like]) for trial, like, body in rows if like is not None
    }


def _read_packed(session: Session, trials: Iterable[int]) -> dict[int, dict[str, Any]]:
    return {trial: json.loads(text) for trial, text in _read_texts(session, trials).items()}


def _find_packed(session: Session, trial: int) -> dict[str, Any] | None:
    """What is packed of a trial; None while it goes on."""
    return _read_packed(session, [trial]).get(trial)


def read_events(session: Session, trial: int, place: int = 0) -> list[Event]:
    """A trial's events so far from a place on, in order."""
    if (packed := _find_packed(session, trial)) is not None:
        events: list[Event] = packed["events"]
        return events[place:]
    query = select(EventRow.body).where(EventRow.trial_id == trial, EventRow.n >= place)
    return list(session.scalars(query.order_by(EventRow.n)))


class LongPiece(NamedTuple):
    """A piece of an event's text, and the characters in all."""

    text: str
    total: int


def read_piece(
    session: Session, trial: int, place: int, field: str | None, start: int, size: int
) -> LongPiece | None:
    """A piece of an event or of one of its fields.

    Words come as they are, all else as JSON. None if there is no such event or field.
    """
    event: Mapping[str, Any] | None = next(iter(read_events(session, trial, place)), None)
    if event is None or (field is not None and event.get(field) is None):
        return None
    whole = event if field is None else event[field]
    text = whole if isinstance(whole, str) else compact_json(whole)
    return LongPiece(text[start : start + size], len(text))


def read_traces(session: Session, trials: Sequence[int]) -> dict[int, Trace]:
    """The traces of finished trials, by trial; as few queries as there can be."""
    found = _read_packed(session, trials)
    heads = bring_back(session, [packed["head"] for packed in found.values()])
    return cast(
        dict[int, Trace],
        {
            trial: {**head, "events": packed["events"]}
            for (trial, packed), head in zip(found.items(), heads, strict=True)
        },
    )


def read_trace(session: Session, trial: int) -> Trace | None:
    """A finished trial's trace; None while there is only a part of it."""
    return read_traces(session, [trial]).get(trial)


def gather_beside(session: Session, trial: int) -> BesideTrace:
    """What is kept of a finished trial beside its trace; nothing of one that is not finished."""
    packed = _find_packed(session, trial)
    if packed is None:
        return BesideTrace()
    wire = {call: RawMessages(*raw) for call, raw in packed["wire"].items()}
    return BesideTrace(wire, packed["requests"])


def read_wire(session: Session, trial: int, call: str) -> RawMessages | None:
    """The raw messages of a call."""
    if (packed := _find_packed(session, trial)) is not None:
        return RawMessages(*packed["wire"][call]) if call in packed["wire"] else None
    row = session.get(WireMessages, (trial, call))
    return RawMessages(row.request, row.answer) if row else None


def read_model_request(session: Session, trial: int, event: str) -> dict[str, Any] | None:
    """What a model was shown in one request, by its pieces; its tools are those themselves."""
    body = _model_request_body(session, trial, event)
    if body is None:
        return None
    listed = body["tools"]
    return {**body, "tools": read_pieces(session, [listed]).get(listed) or []}


def _model_request_body(session: Session, trial: int, event: str) -> dict[str, Any] | None:
    if (packed := _find_packed(session, trial)) is not None:
        found: dict[str, Any] | None = packed["requests"].get(event)
        return found
    row = session.get(ModelRequest, (trial, event))
    return row.body if row else None
