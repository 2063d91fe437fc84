"""The board: passes and family scores of tasks against agents."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import Session

from ferox.core.statistics import Interval, wilson_interval
from ferox.formats.result import FAMILIES
from ferox.store.tables import Trial

Key = tuple[str, str, str]


@dataclass(frozen=True)
class FamilyMean:
    """One family of a cell: the mean of the scores that are not null, and their number."""

    family: str
    score: float | None
    n: int


@dataclass(frozen=True)
class Cell:
    """One task against one agent. `n` leaves out the trials that ended in `error`, and those of
    which nothing is demanded."""

    suite: str
    task: str
    agent: str
    passes: int
    n: int
    errors: int
    unjudged: int
    waiting: int
    running: int
    interval: Interval | None
    comb: tuple[FamilyMean, ...]

    @property
    def key(self) -> Key:
        """Suite, task and agent."""
        return (self.suite, self.task, self.agent)


def _count_where(condition: ColumnElement[bool]) -> ColumnElement[Any]:
    return func.sum(case((condition, 1), else_=0))


def read_cells(session: Session, run: int, changed_since: float = 0.0) -> list[Cell]:
    """The cells of a run; with `changed_since`, only those with a trial that changed after it."""
    scores = [getattr(Trial, f"score_{family}") for family in FAMILIES]
    judged = Trial.verdict.in_(("pass", "fail"))
    query = (
        select(
            Trial.suite,
            Trial.task,
            Trial.agent,
            _count_where(Trial.verdict == "pass"),
            _count_where(judged),
            _count_where(Trial.verdict == "error"),
            _count_where(Trial.verdict == "unjudged"),
            _count_where(Trial.state == "waiting"),
            _count_where(Trial.state == "running"),
            *(func.avg(s) for s in scores),
            *(func.count(s) for s in scores),
        )
        .where(Trial.run_id == run)
        .group_by(Trial.suite, Trial.task, Trial.agent)
    )
    if changed_since:
        query = query.having(func.max(Trial.changed_at) > changed_since)
    cells = []
    for row in session.execute(query).all():
        suite, task, agent, passes, n, errors, unjudged, waiting, running = row[:9]
        means, counts = row[9:15], row[15:21]
        comb = tuple(
            FamilyMean(family, None if mean is None else round(mean, 6), count)
            for family, mean, count in zip(FAMILIES, means, counts, strict=True)
        )
        cells.append(
            Cell(
                suite=suite,
                task=task,
                agent=agent,
                passes=passes,
                n=n,
                errors=errors,
                unjudged=unjudged,
                waiting=waiting,
                running=running,
                interval=wilson_interval(passes, n) if n else None,
                comb=comb,
            )
        )
    return cells


def read_judged_values(session: Session, run: int, metric: str) -> list[tuple[Key, float]]:
    """A family's score, or 1 or 0 for `pass`, of each judged trial that has one, by its cell."""
    value = Trial.verdict if metric == "pass" else getattr(Trial, f"score_{metric}")
    query = select(Trial.suite, Trial.task, Trial.agent, value).where(
        Trial.run_id == run, Trial.verdict.in_(("pass", "fail")), value.is_not(None)
    )
    return [
        ((suite, task, agent), float(found == "pass" if metric == "pass" else found))
        for suite, task, agent, found in session.execute(query)
    ]
