"""Results: kept when a trial ends and when it is scored again. The newest of a trial counts."""

from __future__ import annotations

import json
import time
from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from typing import Any, NamedTuple, cast

from sqlalchemy import Update, bindparam, func, select, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from ferox.core.json_values import compact_json
from ferox.core.story import read_story
from ferox.formats.result import Result
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import Trace, end_of
from ferox.store.packing import pack_text, unpack_text
from ferox.store.tables import PackedTrace, ResultRow, StoredScript, Trial
from ferox.store.traces import BesideTrace, keep_trace

UNJUDGED = "unjudged"
"""The verdict of a trial of which nothing is demanded."""


def keep_result(
    session: Session,
    trial: int,
    trace: Trace,
    result: Result,
    script: str,
    *,
    beside: BesideTrace | None = None,
) -> None:
    """Keep a finished trial: its trace, its result, and the trial's own line.

    `beside`: what is kept beside the trace; None: what was kept while the trial went on.
    """
    base = keep_trace(session, trial, trace, beside)
    tokens = result["tokens"]
    turns = [t for t in result["latency"]["turn_ms"] if t is not None]
    _keep(
        session,
        {trial: result},
        script,
        bases=_first_results(session, {trial: base} if base else {}),
        state="stopped" if end_of(trace).get("why") == "stopped" else "done",
        calls=len(read_story(trace).calls),
        turn_ms=sum(turns) if turns else None,
        model_ms=result["latency"]["model_ms"],
        tool_ms=result["latency"]["tool_ms"],
        agent_ms=result["latency"]["agent_ms"],
        model_calls=_model_calls(trace),
        tokens_in=tokens["input"] if tokens else None,
        tokens_out=tokens["output"] if tokens else None,
        tokens_cached=tokens.get("cached") if tokens else None,
        first_words_ms=_first_words_ms(trace),
    )


def _model_calls(trace: Trace) -> int | None:
    """Requests to the agent's models; None if they were not seen."""
    if not trace["model_seam"]:
        return None
    return sum(event["kind"] == "model" for event in trace["events"])


def _first_words_ms(trace: Trace) -> float | None:
    """From the user's first words until the first of a reply reached the user."""
    spoken = next((e["t"] for e in trace["events"] if e["kind"] == "turn"), None)
    heard = next((e["t"] for e in trace["events"] if e["kind"] in ("partial", "reply")), None)
    return None if spoken is None or heard is None else round((heard - spoken) * 1000, 3)


def sentence_of(result: Result) -> str | None:
    """What went wrong first, in a sentence; None if nothing did, or if the result is older than
    such sentences."""
    wrong = result.get("went_wrong")
    return wrong["message"] if wrong else None


def verdict_of(result: Result) -> str:
    """A result's verdict as it is kept and shown: one that no check decided is `unjudged`."""
    if result["verdict"] == "pass" and not result.get("judged", True):
        return UNJUDGED
    return result["verdict"]


def keep_judgements(
    session: Session, results: Mapping[int, Result], script: str, **values: Any
) -> None:
    """Keep results of trials under the script that gave them; they are the ones that count.
    `values` are further fields of the trials."""
    _keep(session, results, script, bases=_find_bases(session, results), **values)


def _keep(
    session: Session,
    results: Mapping[int, Result],
    script: str,
    *,
    bases: Mapping[int, _Base],
    **values: Any,
) -> None:
    now = time.time()
    rows = []
    for trial, result in results.items():
        base = bases.get(trial)
        packed = pack_text(compact_json(result), base.text if base else None)
        like = base.result if base else None
        rows.append(
            {"trial_id": trial, "script": script, "scored_at": now, "like": like, "body": packed}
        )
    lines = [
        {
            "script": script,
            "changed_at": now,
            "verdict": verdict_of(result),
            "reason": result["reason"],
            "went_wrong": sentence_of(result),
            "choices": result.get("choices"),
            "failed": [c["id"] for c in result["checks"] if c["passed"] is False],
            **{f"score_{family}": value for family, value in result["scores"].items()},
            **values,
        }
        for result in results.values()
    ]
    connection = session.connection()
    connection.execute(_INSERT, rows)
    connection.execute(
        _update_of(tuple(lines[0])),
        [{"the_trial": trial, **line} for trial, line in zip(results, lines, strict=True)],
    )


class _Base(NamedTuple):
    """A result that others are packed against."""

    result: int
    text: str


# Made once: to make a statement takes far longer than to carry it out.
_INSERT = insert(ResultRow)


@lru_cache(maxsize=8)
def _update_of(fields: tuple[str, ...]) -> Update:
    """What changes these fields of a trial's line."""
    columns = Trial.__table__.c
    return (
        update(Trial.__table__)  # type: ignore[arg-type]
        .where(columns.id == bindparam("the_trial"))
        .values({name: bindparam(name, type_=columns[name].type) for name in fields})
    )


_FIRST = (
    select(ResultRow.trial_id, ResultRow.id, ResultRow.body)
    .where(ResultRow.trial_id.in_(bindparam("trials", expanding=True)), ResultRow.like.is_(None))
)  # fmt: skip


def _find_bases(session: Session, trials: Iterable[int]) -> dict[int, _Base]:
    """What results of trials are packed against: the first of the trial that their traces are
    packed against; nothing for that one itself until it has one."""
    query = select(PackedTrace.trial_id, func.coalesce(PackedTrace.like, PackedTrace.trial_id))
    rows = session.execute(query.where(PackedTrace.trial_id.in_(trials)))
    return _first_results(session, dict(rows.tuples().all()))


def _first_results(session: Session, bases: Mapping[int, int]) -> dict[int, _Base]:
    """By trial, the first result of its base."""
    if not bases:
        return {}
    rows = session.execute(_FIRST, {"trials": sorted(set(bases.values()))}).all()
    found = {trial: _Base(id, unpack_text(body)) for trial, id, body in rows}
    return {trial: found[base] for trial, base in bases.items() if base in found}


def keep_script(session: Session, hashed: str, suite: Suite, task: Task) -> None:
    """Keep the script that trials are scored under after their run."""
    body = {
        "clock": suite.clock,
        "zone": suite.zone,
        "task": task.model_dump(mode="json", by_alias=True, exclude_unset=True),
    }
    row = {
        "hash": hashed,
        "suite": suite.suite,
        "task": task.task,
        "at": time.time(),
        "body": body,
    }
    session.execute(insert(StoredScript).on_conflict_do_nothing(), row)


def find_script(session: Session, hashed: str) -> dict[str, Any] | None:
    """A script that trials were scored under after their run: clock, zone and task."""
    row = session.get(StoredScript, hashed)
    return row.body if row else None


def read_result(session: Session, trial: int, result: int | None = None) -> Result | None:
    """A trial's newest result, or an earlier one by its number."""
    query = select(ResultRow).where(ResultRow.trial_id == trial)
    if result is not None:
        query = query.where(ResultRow.id == result)
    row = session.scalar(query.order_by(ResultRow.id.desc()).limit(1))
    return _unpack_results(session, [row])[0] if row else None


def read_results(session: Session, trials: Sequence[int]) -> dict[int, Result]:
    """The newest results of trials, by trial."""
    newest = select(func.max(ResultRow.id)).where(ResultRow.trial_id.in_(trials))
    query = select(ResultRow).where(ResultRow.id.in_(newest.group_by(ResultRow.trial_id)))
    rows = session.scalars(query).all()
    unpacked = _unpack_results(session, rows)
    return {row.trial_id: result for row, result in zip(rows, unpacked, strict=True)}


def _unpack_results(session: Session, rows: Sequence[ResultRow]) -> list[Result]:
    wanted = {row.like for row in rows if row.like is not None}
    query = select(ResultRow.id, ResultRow.body).where(ResultRow.id.in_(wanted))
    bases = {id: unpack_text(body) for id, body in session.execute(query)} if wanted else {}
    return [
        cast(Result, json.loads(unpack_text(row.body, bases[row.like] if row.like else None)))
        for row in rows
    ]


class KeptResult(NamedTuple):
    """One result of a trial, the hash of the script that judged it, and when."""

    id: int
    script: str
    scored_at: float
    result: Result


def results_of(session: Session, trial: int) -> list[KeptResult]:
    """All results of a trial, the newest first."""
    query = select(ResultRow).where(ResultRow.trial_id == trial)
    rows = session.scalars(query.order_by(ResultRow.id.desc())).all()
    return [
        KeptResult(row.id, row.script, row.scored_at, result)
        for row, result in zip(rows, _unpack_results(session, rows), strict=True)
    ]
