"""What earlier trials of the same tasks and agents took."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from ferox.store.runs import Cell
from ferox.store.tables import Run, Trial

_OF_FORKS = select(Run.id).where(Run.fork_of.is_not(None))
"""Runs whose trials say nothing of what whole ones take."""


class PastCell(NamedTuple):
    """The means of a cell's trials in its last run. Tokens are None where none of them told any."""

    ms: float
    tokens_in: float | None
    tokens_out: float | None


def read_past_cells(
    session: Session, suites: Iterable[str], agents: Iterable[str]
) -> dict[Cell, PastCell]:
    """Each cell's trials with a reply, of the last run that had any."""
    ended = (
        Trial.suite.in_(list(suites)),
        Trial.agent.in_(list(agents)),
        Trial.verdict.is_not(None),
        Trial.turn_ms.is_not(None),
        Trial.run_id.not_in(_OF_FORKS),
    )
    cell = (Trial.suite, Trial.task, Trial.agent)
    last = select(*cell, func.max(Trial.run_id).label("run")).where(*ended).group_by(*cell)
    of_last = last.subquery()
    measured = (Trial.turn_ms, Trial.tokens_in, Trial.tokens_out)
    query = (
        select(*cell, *map(func.avg, measured))
        .join(
            of_last,
            (of_last.c.suite == Trial.suite)
            & (of_last.c.task == Trial.task)
            & (of_last.c.agent == Trial.agent)
            & (of_last.c.run == Trial.run_id),
        )
        .where(*ended)
        .group_by(*cell)
    )
    return {(row[0], row[1], row[2]): PastCell(*row[3:]) for row in session.execute(query)}


def read_past_rates(
    session: Session, suites: Iterable[str], agents: Iterable[str]
) -> dict[Cell, float]:
    """Each cell's pass rate over its judged trials, in the last run that had any."""
    judged = (
        Trial.suite.in_(list(suites)),
        Trial.agent.in_(list(agents)),
        Trial.verdict.in_(("pass", "fail")),
        Trial.run_id.not_in(_OF_FORKS),
    )
    passed = func.avg(case((Trial.verdict == "pass", 1.0), else_=0.0))
    query = (
        select(Trial.suite, Trial.task, Trial.agent, passed)
        .where(*judged)
        .group_by(Trial.suite, Trial.task, Trial.agent, Trial.run_id)
        .order_by(Trial.run_id)
    )
    return {(row[0], row[1], row[2]): float(row[3]) for row in session.execute(query)}
