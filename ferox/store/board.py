"""The board: passes and family scores of tasks against agents, and what changed."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import Session

from ferox.core.statistics import Interval, wilson
from ferox.formats.result import FAMILIES
from ferox.store.tables import Run, Trial
from ferox.store.traces import read_result

LOOKED_AT = 5
"""Failed trials of a cell whose checks are read to tell which one tipped."""

Key = tuple[str, str, str]


@dataclass(frozen=True)
class Tooth:
    """One family of a cell: the mean of the scores that are not null, and their number."""

    family: str
    score: float | None
    n: int


@dataclass(frozen=True)
class Cell:
    """One task against one agent. `n` leaves out the trials that ended in `error`."""

    suite: str
    task: str
    agent: str
    passes: int
    n: int
    errors: int
    waiting: int
    running: int
    interval: Interval | None
    comb: tuple[Tooth, ...]

    @property
    def key(self) -> Key:
        """Suite, task and agent."""
        return (self.suite, self.task, self.agent)


def _count(condition: ColumnElement[bool]) -> ColumnElement[Any]:
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
            _count(Trial.verdict == "pass"),
            _count(judged),
            _count(Trial.verdict == "error"),
            _count(Trial.state == "waiting"),
            _count(Trial.state == "running"),
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
        suite, task, agent, passes, n, errors, waiting, running = row[:8]
        means, counts = row[8:14], row[14:20]
        comb = tuple(
            Tooth(family, None if mean is None else round(mean, 6), count)
            for family, mean, count in zip(FAMILIES, means, counts, strict=True)
        )
        interval = wilson(passes, n) if n else None
        cells.append(Cell(suite, task, agent, passes, n, errors, waiting, running, interval, comb))
    return cells


@dataclass(frozen=True)
class LedgerEntry:
    """One change since the previous run on the same scripts, or a wavering cell.

    `tipped` is the check that failed most often among the trials that failed (in the
    earlier run, for what was mended); `trials` are those to look at.
    """

    kind: str
    suite: str
    task: str
    agent: str
    before: tuple[int, int] | None
    now: tuple[int, int]
    tipped: str | None
    message: str | None
    trials: tuple[int, ...]


def previous_run(session: Session, run: int) -> int | None:
    """The newest earlier run that shares a task under the same script and an agent."""
    mine = _scripts(session, run)
    earlier = select(Run.id).where(Run.id < run, Run.state.in_(("done", "stopped")))
    for other in session.scalars(earlier.order_by(Run.id.desc()).limit(20)):
        if mine & _scripts(session, other):
            return other
    return None


def _scripts(session: Session, run: int) -> set[tuple[str, str, str, str]]:
    columns = (Trial.suite, Trial.task, Trial.agent, Trial.script)
    query = select(*columns).where(Trial.run_id == run, Trial.script.is_not(None)).distinct()
    return {(s, t, a, str(h)) for s, t, a, h in session.execute(query)}


def _failures(session: Session, run: int, key: Key) -> tuple[str | None, str | None, list[int]]:
    """The check that failed most often in a cell's failed trials, its message, the trials."""
    suite, task, agent = key
    failed = session.scalars(
        select(Trial.id)
        .where(
            Trial.run_id == run, Trial.suite == suite, Trial.task == task,
            Trial.agent == agent, Trial.verdict == "fail",
        )
        .order_by(Trial.number)
    ).all()  # fmt: skip
    counts: Counter[str] = Counter()
    messages: dict[str, str] = {}
    for trial in failed[:LOOKED_AT]:
        result = read_result(session, trial)
        for check in result["checks"] if result else ():
            if check["passed"] is False:
                counts[check["id"]] += 1
                messages.setdefault(check["id"], check["message"])
    if not counts:
        return None, None, list(failed)
    id = counts.most_common(1)[0][0]
    return id, messages[id], list(failed)


def read_ledger(session: Session, run: int) -> tuple[int | None, list[LedgerEntry]]:
    """The previous comparable run, and what broke, was mended, or wavers."""
    before = previous_run(session, run)
    shared = {k[:3] for k in _scripts(session, run) & _scripts(session, before)} if before else ()
    old = {c.key: c for c in read_cells(session, before)} if before else {}
    entries = []
    for cell in read_cells(session, run):
        if not cell.n:
            continue
        was = old.get(cell.key) if cell.key in shared else None
        kind = _kind(was, cell)
        if kind is None:
            continue
        source = before if kind == "mended" and before else run
        tipped, message, trials = _failures(session, source, cell.key)
        entries.append(
            LedgerEntry(
                kind, *cell.key, (was.passes, was.n) if was and was.n else None,
                (cell.passes, cell.n), tipped, message, tuple(trials[:5]),
            )
        )  # fmt: skip
    order = {"broke": 0, "mended": 1, "wavers": 2}
    return before, sorted(entries, key=lambda e: (order[e.kind], e.suite, e.task, e.agent))


def _kind(was: Cell | None, now: Cell) -> str | None:
    if was and was.n:
        before, after = was.passes / was.n, now.passes / now.n
        if after < before:
            return "broke"
        if after > before:
            return "mended"
    return "wavers" if 0 < now.passes < now.n else None
