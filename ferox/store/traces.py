"""Traces: the events of a trial, what stands beside them, and what passed on the wire."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, cast

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from ferox.formats.trace import Event, Trace
from ferox.store.pieces import bring_back, put_away, read_pieces
from ferox.store.tables import EventRow, ModelRequest, TraceHead, WireMessages

SHARED = ("tools", "voices", "seen_by_model", "instructions")
"""Parts of a trace that are alike in many trials."""


def keep_head(session: Session, trial: int, trace: Trace) -> None:
    """Keep a trace but for its events, which are there."""
    head = {key: value for key, value in trace.items() if key != "events"}
    session.merge(TraceHead(trial_id=trial, body=put_away(session, head, whole=SHARED)))


def keep_events(session: Session, trial: int, events: Sequence[Event]) -> None:
    """Keep the events of a trial that was carried out elsewhere."""
    rows = [{"trial_id": trial, "n": n, "body": event} for n, event in enumerate(events)]
    if rows:
        session.execute(insert(EventRow), rows)


def read_events(session: Session, trial: int, place: int = 0) -> list[Event]:
    """A trial's events so far from a place on, in order."""
    query = select(EventRow.body).where(EventRow.trial_id == trial, EventRow.n >= place)
    return list(session.scalars(query.order_by(EventRow.n)))


class LongPiece(NamedTuple):
    """A piece of an event's text, and the characters in all."""

    text: str
    total: int


def read_piece(
    session: Session, trial: int, place: int, field: str | None, start: int, size: int
) -> LongPiece | None:
    """A piece of an event or of one of its fields, of which no more is read than that.

    Words come as they are, all else as JSON. None if there is no such event or field.
    """
    body = EventRow.body
    whole = func.json_extract(body, f"$.{field}") if field else body
    query = select(func.substr(whole, start + 1, size), func.length(whole)).where(
        EventRow.trial_id == trial, EventRow.n == place
    )
    row = session.execute(query).first()
    if row is None or row[1] is None:
        return None
    return LongPiece(str(row[0]), int(row[1]))


def read_traces(session: Session, trials: Sequence[int]) -> dict[int, Trace]:
    """The traces of finished trials, by trial; as few queries as there can be."""
    rows = session.scalars(select(TraceHead).where(TraceHead.trial_id.in_(trials))).all()
    heads = bring_back(session, [row.body for row in rows])
    found = {row.trial_id: {**head, "events": []} for row, head in zip(rows, heads, strict=True)}
    events = (
        select(EventRow.trial_id, EventRow.body)
        .where(EventRow.trial_id.in_(found))
        .order_by(EventRow.trial_id, EventRow.n)
    )
    for trial, body in session.execute(events):
        found[trial]["events"].append(body)
    return cast(dict[int, Trace], found)


def read_trace(session: Session, trial: int) -> Trace | None:
    """A finished trial's trace; None while there is only a part of it."""
    head = session.get(TraceHead, trial)
    if head is None:
        return None
    (whole,) = bring_back(session, [head.body])
    return cast(Trace, {**whole, "events": read_events(session, trial)})


def read_wire(session: Session, trial: int, call: str) -> WireMessages | None:
    """The raw messages of a call."""
    return session.get(WireMessages, (trial, call))


def read_model_request(session: Session, trial: int, event: str) -> dict[str, Any] | None:
    """What a model was shown in one request, by its pieces; its tools are those themselves."""
    row = session.get(ModelRequest, (trial, event))
    if row is None:
        return None
    listed = row.body["tools"]
    return {**row.body, "tools": read_pieces(session, [listed]).get(listed) or []}
