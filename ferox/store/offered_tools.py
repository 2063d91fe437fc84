"""The tools that agents were offered."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ferox.formats.trace import OfferedTool
from ferox.store.pieces import bring_back
from ferox.store.tables import TraceHead, Trial


def read_offers(session: Session, run: int) -> dict[tuple[str, str], dict[str, OfferedTool]]:
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
    heads = bring_back(session, [body for *_, body in rows])
    return {
        (agent, suite): head["tools"] for (agent, suite, _), head in zip(rows, heads, strict=True)
    }
