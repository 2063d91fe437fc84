"""The board: passes, family scores and causes of tasks against agents.

What a cell comes to is kept, so that a board reads as fast with many trials as with few. Triggers
of the database take it away from a cell whose trials change, whoever changes them; such cells are
counted when they are read, and kept by `keep_counts`.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Collection, Iterable, Sequence
from contextlib import suppress
from functools import lru_cache
from typing import Any, NamedTuple

from sqlalchemy import ColumnElement, Engine, bindparam, case, func, select, tuple_, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from ferox.core.json_values import compact_json
from ferox.core.statistics import Interval, wilson_interval
from ferox.formats.result import FAMILIES
from ferox.store.database import write_session
from ferox.store.tables import CountedCell, Trial

Key = tuple[str, str, str]
MOST_BY_NAME = 200
"""Cells that are counted one by one; of more, the whole run is."""
SHOWN_TRIALS = 5
_wilson = lru_cache(maxsize=4096)(wilson_interval)


class Cause(NamedTuple):
    """What went wrong in the failed trials of a cell: most often this, and in these trials."""

    message: str | None = None
    failed_check: str | None = None
    trials: tuple[int, ...] = ()


class FamilyMean(NamedTuple):
    """One family of a cell: the mean of the scores that are not null, and their number."""

    family: str
    score: float | None
    n: int


_mean = lru_cache(maxsize=4096)(FamilyMean)
"""Most cells of a board share their means with others."""


class Cell(NamedTuple):
    """One task against one agent. `n` leaves out the trials that ended in `error`, and those of
    which nothing is demanded. `scripts`: hashes of what its trials were judged by."""

    suite: str
    task: str
    agent: str
    total: int
    done: int
    passes: int
    n: int
    errors: int
    unjudged: int
    waiting: int
    running: int
    interval: Interval | None
    comb: tuple[FamilyMean, ...]
    cause: Cause | None
    scripts: tuple[str, ...]

    @property
    def key(self) -> Key:
        """Suite, task and agent."""
        return (self.suite, self.task, self.agent)


COUNTS = ("total", "done", "passes", "n", "errors", "unjudged", "waiting", "running")


def read_cells(session: Session, run: int, changed_since: float = 0.0) -> list[Cell]:
    """The cells of a run; with `changed_since`, only those with a trial that changed after it."""
    query = select(CountedCell).where(CountedCell.run_id == run)
    if changed_since:
        query = query.where(CountedCell.changed_at > changed_since)
    columns = CountedCell.__table__.c
    rows = session.execute(
        query.with_only_columns(columns.suite, columns.task, columns.agent, columns.body).order_by(
            columns.suite, columns.task, columns.agent
        )
    ).all()
    dirty = [(suite, task, agent) for suite, task, agent, body in rows if body is None]
    counted = _count_cells(session, run, dirty)
    # All at once: each by itself, half of the time would go to beginning to read.
    bodies = iter(json.loads(f"[{','.join(row[3] for row in rows if row[3] is not None)}]"))
    cells = (
        counted.get((suite, task, agent))
        if body is None
        else _cell_of(suite, task, agent, next(bodies))
        for suite, task, agent, body in rows
    )
    return [cell for cell in cells if cell is not None]


def count_totals(session: Session, run: int) -> dict[str, int]:
    """The sums of the counts of all cells of a run, by their names in `COUNTS`."""
    of_run = CountedCell.run_id == run
    sums = [
        func.coalesce(func.sum(func.json_extract(CountedCell.body, f"$[0][{n}]")), 0)
        for n in range(len(COUNTS))
    ]
    kept = session.execute(select(*sums).where(of_run)).one()
    columns = CountedCell.suite, CountedCell.task, CountedCell.agent
    rows = session.execute(select(*columns).where(of_run, CountedCell.body.is_(None)))
    dirty = [(suite, task, agent) for suite, task, agent in rows]
    cells = _count_cells(session, run, dirty)
    return {
        name: int(kept[n]) + sum(getattr(cells[key], name) for key in dirty if key in cells)
        for n, name in enumerate(COUNTS)
    }


def _cell_of(suite: str, task: str, agent: str, body: Any) -> Cell:
    """A cell as it is kept."""
    counts, comb, cause, scripts = body
    _, _, passes, n, *_ = counts
    interval = _wilson(passes, n) if n else None
    means = tuple([_mean(f, score, m) for f, (score, m) in zip(FAMILIES, comb, strict=True)])
    found = Cause(cause[0], cause[1], tuple(cause[2])) if cause else None
    return Cell._make((suite, task, agent, *counts, interval, means, found, tuple(scripts)))


def _body_of(cell: Cell) -> str:
    comb = [[mean.score, mean.n] for mean in cell.comb]
    return compact_json([[getattr(cell, c) for c in COUNTS], comb, cell.cause, cell.scripts])


def _count_where(condition: ColumnElement[bool]) -> ColumnElement[Any]:
    return func.sum(case((condition, 1), else_=0))


def _count_cells(session: Session, run: int, keys: Sequence[Key]) -> dict[Key, Cell]:
    """These cells of a run, counted from its trials."""
    if not keys:
        return {}
    wanted: list[ColumnElement[bool]] = [Trial.run_id == run]
    if len(keys) <= MOST_BY_NAME:
        wanted.append(tuple_(Trial.suite, Trial.task, Trial.agent).in_(keys))
    scores = [getattr(Trial, f"score_{family}") for family in FAMILIES]
    query = (
        select(
            Trial.suite,
            Trial.task,
            Trial.agent,
            func.count(),
            _count_where(Trial.state == "done"),
            _count_where(Trial.verdict == "pass"),
            _count_where(Trial.verdict.in_(("pass", "fail"))),
            _count_where(Trial.verdict == "error"),
            _count_where(Trial.verdict == "unjudged"),
            _count_where(Trial.state == "waiting"),
            _count_where(Trial.state == "running"),
            func.group_concat(Trial.script.distinct()),
            *(func.avg(s) for s in scores),
            *(func.count(s) for s in scores),
        )
        .where(*wanted)
        .group_by(Trial.suite, Trial.task, Trial.agent)
    )
    causes = _read_causes(session, wanted)
    found: dict[Key, Cell] = {}
    for row in session.execute(query):
        key: Key = (row[0], row[1], row[2])
        counts: dict[str, Any] = dict(zip(COUNTS, row[3:11], strict=True))
        means, numbers = row[12 : 12 + len(FAMILIES)], row[12 + len(FAMILIES) :]
        found[key] = Cell(
            *key,
            **counts,
            interval=_wilson(counts["passes"], counts["n"]) if counts["n"] else None,
            comb=tuple(
                FamilyMean(family, None if mean is None else round(mean, 6), number)
                for family, mean, number in zip(FAMILIES, means, numbers, strict=True)
            ),
            cause=causes.get(key),
            scripts=tuple(sorted(row[11].split(","))) if row[11] else (),
        )
    return found


def _read_causes(session: Session, wanted: Iterable[ColumnElement[bool]]) -> dict[Key, Cause]:
    """What went wrong in each cell with failed trials."""
    query = (
        select(Trial.suite, Trial.task, Trial.agent, Trial.id, Trial.went_wrong, Trial.failed)
        .where(*wanted, Trial.verdict == "fail")
        .order_by(Trial.number)
    )
    found: dict[Key, list[tuple[int, str | None, list[str]]]] = {}
    for suite, task, agent, id, message, failed in session.execute(query):
        found.setdefault((suite, task, agent), []).append((id, message, failed or []))
    return {key: _most_common_cause(trials) for key, trials in found.items()}


def _most_common_cause(trials: list[tuple[int, str | None, list[str]]]) -> Cause:
    messages = Counter(message for _, message, _ in trials if message)
    checks = Counter(id for _, _, failed in trials for id in dict.fromkeys(failed))
    message = messages.most_common(1)[0][0] if messages else None
    failed_check = checks.most_common(1)[0][0] if checks else None
    own = [id for id, one, _ in trials if one == message]
    rest = [id for id, one, _ in trials if one != message]
    return Cause(message, failed_check, tuple([*own, *rest][:SHOWN_TRIALS]))


def keep_counts(engine: Engine, runs: Collection[int]) -> None:
    """Count what is not counted of runs, and keep it; if the database does not take it, it will be
    counted another time."""
    dirty = select(CountedCell).where(CountedCell.run_id.in_(runs), CountedCell.body.is_(None))
    with Session(engine) as session:
        # Read before the trials are: a change that comes between has another version.
        versions = {
            (cell.run_id, (cell.suite, cell.task, cell.agent)): cell.version
            for cell in session.scalars(dirty)
        }
        rows = []
        for run in {run for run, _ in versions}:
            wanted = [key for one, key in versions if one == run]
            for key, cell in _count_cells(session, run, wanted).items():
                if (run, key) in versions:
                    rows.append(_kept_row(run, cell, versions[run, key]))
    if rows:
        with suppress(DatabaseError), write_session(engine) as session:
            session.connection().execute(_KEEP, rows)


def _kept_row(run: int, cell: Cell, version: int) -> dict[str, Any]:
    place = {"the_suite": cell.suite, "the_task": cell.task, "the_agent": cell.agent}
    return {"the_run": run, **place, "the_version": version, "counted": _body_of(cell)}


_KEEP = (
    update(CountedCell)
    .where(
        CountedCell.run_id == bindparam("the_run"),
        CountedCell.suite == bindparam("the_suite"),
        CountedCell.task == bindparam("the_task"),
        CountedCell.agent == bindparam("the_agent"),
        CountedCell.version == bindparam("the_version"),
    )
    .values(body=bindparam("counted"))
)


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
