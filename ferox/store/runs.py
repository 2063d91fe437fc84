"""Runs and their trials: kept when they are planned, followed, stopped and taken up again."""

from __future__ import annotations

import time
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from ferox.formats.result import FAMILIES
from ferox.store.board import count_totals
from ferox.store.tables import (
    CellSetup,
    HeldCall,
    LostTry,
    PackedTrace,
    ResultRow,
    Run,
    Trial,
    TrialMark,
)
from ferox.store.traces import GOES_ON

BY_HAND = "by hand"
"""The title of runs that are conversations by hand; the board does not show them."""
GOING = ("waiting", "running")
MEASURED = (
    *("turn_ms", "model_ms", "tool_ms", "agent_ms", "model_calls"),
    *("tokens_in", "tokens_out", "tokens_cached", "first_words_ms"),
)
"""What is measured in a trial, as its line has it."""
Cell = tuple[str, str, str]
"""Suite, task and agent."""


def add_run(session: Session, **fields: Any) -> Run:
    """Keep a new run; it has its number from here on."""
    run = Run(**fields)
    session.add(run)
    session.flush()
    return run


def add_trials(session: Session, run: int, cells: Iterable[tuple[str, str, str, int]]) -> None:
    """Keep trials of a run, all waiting, after those that it has, in the order in which they are
    to be carried out: suite, task, agent and number of each."""
    now = time.time()
    last = session.scalar(select(func.max(Trial.place)).where(Trial.run_id == run))
    first = 0 if last is None else last + 1
    session.add_all(
        Trial(
            run_id=run,
            suite=suite,
            task=task,
            agent=agent,
            number=number,
            place=place,
            state="waiting",
            changed_at=now,
        )
        for place, (suite, task, agent, number) in enumerate(cells, first)
    )
    session.flush()


def add_cell_setup(
    session: Session, run: int, suite: str, agent: str, *, key: str, setup: dict[str, str]
) -> None:
    """Keep under what an agent's trials of a suite run."""
    session.add(CellSetup(run_id=run, suite=suite, agent=agent, key=key, body=setup))


def find_run(session: Session, run: int) -> Run | None:
    """A run by its number."""
    return session.get(Run, run)


def get_run(session: Session, run: int) -> Run:
    """A run that is there."""
    return session.get_one(Run, run)


def newest_runs(
    session: Session, *, states: Sequence[str] | None = None, most: int | None = None
) -> list[Run]:
    """Runs, the newest first; conversations by hand are left out, and forks unless `states` are
    asked for."""
    query = select(Run).where(Run.title != BY_HAND).order_by(Run.id.desc())
    query = query.where(Run.fork_of.is_(None) if states is None else Run.state.in_(states))
    return list(session.scalars(query.limit(most) if most else query))


def runs_of_plans(session: Session, most: int = 5) -> dict[str, list[int]]:
    """The newest runs of each plan, the newest first."""
    query = select(Run.id, Run.plan).where(Run.plan.is_not(None)).order_by(Run.id.desc())
    found: dict[str, list[int]] = {}
    for run, plan in session.execute(query):
        runs = found.setdefault(str(plan), [])
        if len(runs) < most:
            runs.append(run)
    return found


def clusters_of_runs(session: Session, most: int = 5) -> list[str]:
    """The clusters that carried runs out, the last first."""
    last = func.max(Run.id)
    query = select(Run.on).where(Run.on.is_not(None)).group_by(Run.on).order_by(last.desc())
    return [str(on) for on in session.scalars(query.limit(most))]


def agents_of_runs(session: Session, runs: Iterable[int]) -> dict[int, list[str]]:
    """The agents with trials in each run, by name."""
    query = select(Trial.run_id, Trial.agent).where(Trial.run_id.in_(list(runs))).distinct()
    found: dict[int, list[str]] = {}
    for run, agent in session.execute(query.order_by(Trial.run_id, Trial.agent)):
        found.setdefault(run, []).append(agent)
    return found


def newest_run_number(session: Session) -> int | None:
    """The number of the newest run, by hand or not; forks are left out."""
    query = select(Run.id).where(Run.fork_of.is_(None))
    return session.scalar(query.order_by(Run.id.desc()).limit(1))


def change_run(session: Session, run: int, **fields: Any) -> None:
    """Change a run's record."""
    session.execute(update(Run).where(Run.id == run).values(**fields))


def shall_stop(session: Session, run: int) -> bool:
    """Whether a run was asked to stop."""
    return bool(session.scalar(select(Run.stop).where(Run.id == run)))


class TrialCounts(NamedTuple):
    """How many trials of a run there are, by what became of them."""

    total: int
    done: int
    running: int
    passes: int
    judged: int
    errors: int


def count_trials(session: Session, run: int) -> TrialCounts:
    """How far a run is."""
    totals = count_totals(session, run)
    names = ("total", "done", "running", "passes", "n", "errors")
    return TrialCounts(*(totals[name] for name in names))


def waiting_trials(session: Session, run: int) -> list[Trial]:
    """The trials of a run that wait, the last to be carried out first."""
    query = select(Trial).where(Trial.run_id == run, Trial.state == "waiting")
    return list(session.scalars(query.order_by(Trial.place.desc())))


def cells_of_run(session: Session, run: int) -> list[Cell]:
    """The cells of a run, by suite, task and agent."""
    query = select(Trial.suite, Trial.task, Trial.agent).where(Trial.run_id == run).distinct()
    return [
        (suite, task, agent)
        for suite, task, agent in session.execute(
            query.order_by(Trial.suite, Trial.task, Trial.agent)
        )
    ]


def is_anything_left(session: Session, run: int) -> bool:
    """Whether a trial of a run is not done."""
    left = select(Trial.id).where(Trial.run_id == run, Trial.state != "done")
    return session.scalar(left.limit(1)) is not None


def failed_cells(session: Session, run: int) -> set[Cell]:
    """The cells of a run with a trial that did not pass."""
    query = select(Trial.suite, Trial.task, Trial.agent).where(
        Trial.run_id == run, Trial.verdict.in_(("fail", "error"))
    )
    return {(suite, task, agent) for suite, task, agent in session.execute(query)}


def runs_of_forks(session: Session, trial: int) -> list[Run]:
    """The runs whose trials go on from a point of one, in order."""
    return list(session.scalars(select(Run).where(Run.fork_of == trial).order_by(Run.id)))


def reopen_run(session: Session, run: int) -> None:
    """Have a run that stopped or broke off wait for a worker again."""
    change_run(
        session,
        run,
        state="waiting",
        stop=False,
        finished_at=None,
        started_at=time.time(),
        message=None,
    )


def put_back(session: Session, run: int) -> int:
    """Have what is not done of a run wait again; how many trials that is."""
    query = select(Trial.id).where(Trial.run_id == run, Trial.state != "done")
    missing = session.scalars(query).all()
    if not missing:
        return 0
    for table in (*GOES_ON, PackedTrace, ResultRow, HeldCall, TrialMark, LostTry):
        session.execute(delete(table).where(table.trial_id.in_(missing)))
    undone: dict[str, Any] = {
        "state": "waiting",
        "verdict": None,
        "reason": None,
        "calls": 0,
        "script": None,
        "went_wrong": None,
        "failed": None,
        "choices": None,
        **dict.fromkeys(MEASURED),
        "changed_at": time.time(),
        **{f"score_{family}": None for family in FAMILIES},
    }
    session.execute(update(Trial).where(Trial.id.in_(missing)).values(**undone))
    reopen_run(session, run)
    return len(missing)


def run_before_with(session: Session, agent: str, run: int) -> int | None:
    """The newest run before one that had an agent."""
    query = (
        select(Trial.run_id)
        .join(Run, Run.id == Trial.run_id)
        .where(
            Trial.agent == agent,
            Trial.run_id < run,
            Run.title != BY_HAND,
            Run.fork_of.is_(None),
        )
        .order_by(Trial.run_id.desc())
    )
    return session.scalar(query.limit(1))
