"""The tools that agents were offered, and whether their models were shown what was expected."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ferox.store.pieces import bring_back
from ferox.store.tables import ResultRow, TraceHead, Trial


def read_offers(session: Session, run: int) -> dict[tuple[str, str], dict[str, Any]]:
    """The tools that each agent was offered in each suite, by agent and suite: definitions by
    address, as the first trial had them."""
    first = (
        select(func.min(Trial.id))
        .join(TraceHead, TraceHead.trial_id == Trial.id)
        .where(Trial.run_id == run)
        .group_by(Trial.agent, Trial.suite)
    )
    query = (
        select(Trial.agent, Trial.suite, TraceHead.body)
        .join(TraceHead, TraceHead.trial_id == Trial.id)
        .where(Trial.id.in_(first))
    )
    rows = session.execute(query).all()
    heads = bring_back(session, [{"tools": body.get("tools") or {}} for *_, body in rows])
    return {
        (agent, suite): head["tools"] for (agent, suite, _), head in zip(rows, heads, strict=True)
    }


class ShownCounts(NamedTuple):
    """Of an agent's expected calls: how many its model was shown the tool of, and how many of
    those it called. What could not be seen is left out of `expected`."""

    expected: int
    shown: int
    called: int


def count_shown(session: Session, run: int) -> dict[str, ShownCounts]:
    """By agent, how far what was expected was shown to its model, over all judged trials."""
    newest = (
        select(func.max(ResultRow.id))
        .join(Trial, Trial.id == ResultRow.trial_id)
        .where(Trial.run_id == run, Trial.verdict.in_(("pass", "fail")))
        .group_by(ResultRow.trial_id)
    )
    query = (
        select(
            Trial.agent,
            func.json_extract(ResultRow.body, "$.matched"),
            func.json_extract(ResultRow.body, "$.missing"),
        )
        .join(ResultRow, ResultRow.trial_id == Trial.id)
        .where(ResultRow.id.in_(newest))
    )
    found: dict[str, ShownCounts] = {}
    for agent, matched, missing in session.execute(query):
        called = sum(len(calls) for calls in json.loads(matched or "{}").values())
        why = [entry["why"] for entry in json.loads(missing or "[]")]
        hidden = why.count("not_offered")
        known = called + len(why) - why.count("not_seen")
        before = found.get(agent, ShownCounts(0, 0, 0))
        found[agent] = ShownCounts(
            before.expected + known, before.shown + known - hidden, before.called + called
        )
    return found
