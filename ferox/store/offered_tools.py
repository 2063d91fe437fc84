"""The tools that agents were offered."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ferox.formats.trace import OfferedTool
from ferox.store.tables import PackedTrace, Trial
from ferox.store.traces import read_traces


def read_offers(
    session: Session, run: int, agent: str | None = None
) -> dict[tuple[str, str], dict[str, OfferedTool]]:
    """The tools that each agent of a run, or one of them, was offered in each suite, by agent and
    suite: definitions by address, as the first trial had them."""
    chosen = [Trial.run_id == run]
    if agent is not None:
        chosen.append(Trial.agent == agent)
    first = (
        select(func.min(Trial.id))
        .join(PackedTrace, PackedTrace.trial_id == Trial.id)
        .where(*chosen)
        .group_by(Trial.agent, Trial.suite)
    )
    query = select(Trial.id, Trial.agent, Trial.suite).where(Trial.id.in_(first))
    rows = session.execute(query).all()
    traces = read_traces(session, [trial for trial, *_ in rows])
    return {(name, suite): traces[trial]["tools"] for trial, name, suite in rows}
