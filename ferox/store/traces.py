"""Reading one trial back: its trace, its newest result, and those beside it."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import lru_cache
from typing import Any, NamedTuple, cast

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.store import tables


def read_events(session: Session, trial: int) -> list[Event]:
    """A trial's events so far, in order."""
    query = select(tables.EventRow.body).where(tables.EventRow.trial_id == trial)
    return [json.loads(body) for body in session.scalars(query.order_by(tables.EventRow.n))]


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
    body = tables.EventRow.body
    whole = func.json_extract(body, f"$.{field}") if field else body
    query = select(func.substr(whole, start + 1, size), func.length(whole)).where(
        tables.EventRow.trial_id == trial, tables.EventRow.n == place
    )
    row = session.execute(query).first()
    if row is None or row[1] is None:
        return None
    return LongPiece(str(row[0]), int(row[1]))


def read_traces(session: Session, trials: Sequence[int]) -> dict[int, Trace]:
    """The traces of finished trials, by trial; as few queries as there can be."""
    heads = select(tables.TraceHead).where(tables.TraceHead.trial_id.in_(trials))
    found = {h.trial_id: {**json.loads(h.body), "events": []} for h in session.scalars(heads)}
    events = (
        select(tables.EventRow.trial_id, tables.EventRow.body)
        .where(tables.EventRow.trial_id.in_(found))
        .order_by(tables.EventRow.trial_id, tables.EventRow.n)
    )
    for trial, body in session.execute(events):
        found[trial]["events"].append(json.loads(body))
    return cast(dict[int, Trace], found)


def read_results(session: Session, trials: Sequence[int]) -> dict[int, Result]:
    """The newest results of trials, by trial."""
    query = (
        select(tables.ResultRow.trial_id, tables.ResultRow.body)
        .where(tables.ResultRow.trial_id.in_(trials))
        .order_by(tables.ResultRow.id)
    )
    return {trial: json.loads(body) for trial, body in session.execute(query)}


def read_trace(session: Session, trial: int) -> Trace | None:
    """A finished trial's trace; None while there is only a part of it."""
    head = session.get(tables.TraceHead, trial)
    if head is None:
        return None
    return cast(Trace, {**json.loads(head.body), "events": read_events(session, trial)})


def read_snapshot(session: Session, run: int) -> Any:
    """What a run used, as it is kept; it is parsed once for all trials that ask."""
    return _parsed(session.get_one(tables.StoredSnapshot, run).body)


@lru_cache(maxsize=4)
def _parsed(body: str) -> Any:
    return json.loads(body)


def read_result(session: Session, trial: int, result: int | None = None) -> Result | None:
    """A trial's newest result, or an earlier one by its number."""
    query = select(tables.ResultRow.body).where(tables.ResultRow.trial_id == trial)
    if result is not None:
        query = query.where(tables.ResultRow.id == result)
    body = session.scalar(query.order_by(tables.ResultRow.id.desc()).limit(1))
    return cast(Result, json.loads(body)) if body else None


def results_of(session: Session, trial: int) -> list[tables.ResultRow]:
    """All results of a trial, the newest first."""
    query = select(tables.ResultRow).where(tables.ResultRow.trial_id == trial)
    return list(session.scalars(query.order_by(tables.ResultRow.id.desc())))


def neighbours(session: Session, trial: tables.Trial) -> dict[str, int | None]:
    """The previous and next trial of the run, and the previous and next failure.

    In the order of the board: by suite, task, agent and number.
    """
    columns = (tables.Trial.id, tables.Trial.verdict)
    order = (tables.Trial.suite, tables.Trial.task, tables.Trial.agent, tables.Trial.number)
    rows = session.execute(
        select(*columns)
        .where(tables.Trial.run_id == trial.run_id, tables.Trial.state != "waiting")
        .order_by(*order)
    ).all()
    place = next(i for i, row in enumerate(rows) if row.id == trial.id)

    def near(step: int, failures: bool) -> int | None:
        there: Any = rows[place + 1 :] if step > 0 else reversed(rows[:place])
        return next((r.id for r in there if not failures or r.verdict == "fail"), None)

    return {
        "previous": near(-1, False),
        "next": near(1, False),
        "previous_failure": near(-1, True),
        "next_failure": near(1, True),
    }
