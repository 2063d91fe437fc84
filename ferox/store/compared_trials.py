"""The trials of one side of a comparison, a line each: small enough for tens of thousands."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from ferox.formats.result import FAMILIES
from ferox.store.tables import ModelRequest, ResultRow, TraceHead, Trial


class ComparedTrial(NamedTuple):
    """What a comparison needs of a trial. None is what was not seen, or not tested."""

    id: int
    suite: str
    task: str
    agent: str
    script: str | None
    verdict: str
    failed: list[str]
    scores: tuple[float | None, ...]
    """In the order of the families."""
    calls: int
    model_calls: int | None
    turn_ms: float | None
    tool_ms: float | None
    agent_ms: float | None
    tokens_in: int | None
    tokens_out: int | None
    confusions: list[dict[str, Any]]


def read_compared_trials(session: Session, run: int, agent: str | None) -> list[ComparedTrial]:
    """The judged trials of a run, or of one agent in it, and those that could not run."""
    chosen = [Trial.run_id == run, Trial.verdict.in_(("pass", "fail", "error"))]
    if agent is not None:
        chosen.append(Trial.agent == agent)
    newest = (
        select(func.max(ResultRow.id).label("id"))
        .join(Trial, Trial.id == ResultRow.trial_id)
        .where(*chosen)
        .group_by(ResultRow.trial_id)
        .subquery()
    )
    requests = (
        select(func.count())
        .where(ModelRequest.trial_id == Trial.id)
        .correlate(Trial)
        .scalar_subquery()
    )
    seen = func.json_extract(TraceHead.body, "$.model_seam")
    query = (
        select(
            *(Trial.id, Trial.suite, Trial.task, Trial.agent, Trial.script, Trial.verdict),
            Trial.failed,
            *(getattr(Trial, f"score_{family}") for family in FAMILIES),
            Trial.calls,
            case((seen, requests)),
            Trial.turn_ms,
            *(
                func.json_extract(ResultRow.body, path)
                for path in (
                    "$.latency.tool_ms",
                    "$.latency.agent_ms",
                    "$.tokens.input",
                    "$.tokens.output",
                )
            ),
            func.json_extract(ResultRow.body, "$.confusions"),
        )
        .join(ResultRow, ResultRow.trial_id == Trial.id)
        .join(newest, newest.c.id == ResultRow.id)
        .join(TraceHead, TraceHead.trial_id == Trial.id, isouter=True)
        .where(*chosen)
        .order_by(Trial.suite, Trial.task, Trial.agent, Trial.number)
    )
    families = len(FAMILIES)
    found = []
    for row in session.execute(query):
        id, suite, task, agent, script, verdict, failed, *rest = row
        scores, (calls, model_calls, turn_ms, tool_ms, agent_ms, sent, answered, confusions) = (
            tuple(rest[:families]),
            rest[families:],
        )
        found.append(
            ComparedTrial(
                id=id,
                suite=suite,
                task=task,
                agent=agent,
                script=script,
                verdict=verdict,
                failed=failed or [],
                scores=scores,
                calls=calls,
                model_calls=model_calls,
                turn_ms=turn_ms,
                tool_ms=tool_ms,
                agent_ms=agent_ms,
                tokens_in=sent,
                tokens_out=answered,
                confusions=json.loads(confusions or "[]"),
            )
        )
    return found
