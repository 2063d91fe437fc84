"""Results: kept when a trial ends and when it is scored again. The newest of a trial counts."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from typing import Any, cast

from sqlalchemy import select, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from ferox.core.story import read_story
from ferox.formats.result import Result
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import Trace, end_of
from ferox.store.tables import ResultRow, StoredScript, Trial
from ferox.store.traces import keep_head

UNJUDGED = "unjudged"
"""The verdict of a trial of which nothing is demanded."""


def keep_result(session: Session, trial: int, trace: Trace, result: Result, script: str) -> None:
    """Keep a finished trial: the trace's head, its result, and the trial's own line."""
    keep_head(session, trial, trace)
    tokens = result["tokens"]
    turns = [t for t in result["latency"]["turn_ms"] if t is not None]
    keep_judgements(
        session,
        {trial: result},
        script,
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
    now = time.time()
    session.execute(
        insert(ResultRow),
        [
            {"trial_id": trial, "script": script, "scored_at": now, "body": result}
            for trial, result in results.items()
        ],
    )
    session.execute(
        update(Trial),
        [
            {
                "id": trial,
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
            for trial, result in results.items()
        ],
    )


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
    query = select(ResultRow.body).where(ResultRow.trial_id == trial)
    if result is not None:
        query = query.where(ResultRow.id == result)
    return cast(Result | None, session.scalar(query.order_by(ResultRow.id.desc()).limit(1)))


def read_results(session: Session, trials: Sequence[int]) -> dict[int, Result]:
    """The newest results of trials, by trial."""
    query = select(ResultRow.trial_id, ResultRow.body).where(ResultRow.trial_id.in_(trials))
    rows = session.execute(query.order_by(ResultRow.id))
    return {row.trial_id: row.body for row in rows}


def results_of(session: Session, trial: int) -> list[ResultRow]:
    """All results of a trial, the newest first."""
    query = select(ResultRow).where(ResultRow.trial_id == trial)
    return list(session.scalars(query.order_by(ResultRow.id.desc())))
