"""Trials: found, listed, marked, and what stands beside them."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy import bindparam, func, select, update
from sqlalchemy.orm import Session

from ferox.store.tables import EventRow, LostTry, PackedTrace, Trial, TrialMark

BOARD_ORDER = (Trial.suite, Trial.task, Trial.agent, Trial.number)


def find_trial(session: Session, trial: int) -> Trial | None:
    """A trial by its number."""
    return session.get(Trial, trial)


def get_trial(session: Session, trial: int) -> Trial:
    """A trial that is there."""
    return session.get_one(Trial, trial)


def add_trial(session: Session, **fields: Any) -> Trial:
    """Keep a new trial; it has its number from here on."""
    trial = Trial(**fields)
    session.add(trial)
    session.flush()
    return trial


# Made once: to make a statement takes far longer than to carry it out.
_BEGIN = (
    update(Trial)
    .where(Trial.id == bindparam("the_trial"))
    .values(state="running", started_at=bindparam("at"), changed_at=bindparam("at"))
)


def note_begin(session: Session, trial: int, at: float) -> None:
    """A trial begins."""
    session.connection().execute(_BEGIN, {"the_trial": trial, "at": at})


def keep_loss(session: Session, trial: int, machine: str, *, at: float) -> None:
    """Keep that the machine which carried a trial out was lost meanwhile."""
    session.add(LostTry(trial_id=trial, machine=machine, at=at))


def losses_of(session: Session, trial: int) -> list[LostTry]:
    """The tries of a trial that were lost with their machines, in order."""
    query = select(LostTry).where(LostTry.trial_id == trial)
    return list(session.scalars(query.order_by(LostTry.id)))


def trials_of_run(session: Session, run: int) -> list[Trial]:
    """A run's trials, in the order of the board."""
    query = select(Trial).where(Trial.run_id == run)
    return list(session.scalars(query.order_by(*BOARD_ORDER)))


def finished_numbers(session: Session, run: int) -> list[int]:
    """The numbers of a run's trials whose trace is whole, in the order of the board."""
    query = select(Trial.id).join(PackedTrace, PackedTrace.trial_id == Trial.id)
    return list(session.scalars(query.where(Trial.run_id == run).order_by(*BOARD_ORDER)))


def read_trials(session: Session, trials: Sequence[int]) -> dict[int, Trial]:
    """Trials by their numbers."""
    return {t.id: t for t in session.scalars(select(Trial).where(Trial.id.in_(trials)))}


def cell_reasons(session: Session, run: int) -> dict[tuple[str, str, str], str]:
    """Why a trial of a cell could not run, by suite, task and agent."""
    query = select(Trial.suite, Trial.task, Trial.agent, Trial.reason).where(
        Trial.run_id == run, Trial.verdict == "error", Trial.reason.is_not(None)
    )
    rows = session.execute(query.order_by(Trial.number.desc()))
    return {(suite, task, agent): str(reason) for suite, task, agent, reason in rows}


def cell_seconds(session: Session, run: int) -> dict[tuple[str, str, str], float]:
    """How long the turns of a cell's trials took in all, by suite, task and agent."""
    query = select(Trial.suite, Trial.task, Trial.agent, func.sum(Trial.turn_ms)).where(
        Trial.run_id == run, Trial.turn_ms.is_not(None)
    )
    rows = session.execute(query.group_by(Trial.suite, Trial.task, Trial.agent))
    return {(suite, task, agent): float(ms or 0) / 1000 for suite, task, agent, ms in rows}


def finished_of(session: Session, trials: Sequence[Trial]) -> list[Trial]:
    """Those of some trials whose trace is whole."""
    heads = select(PackedTrace.trial_id).join(Trial, Trial.id == PackedTrace.trial_id)
    runs = {trial.run_id for trial in trials}
    finished = set(session.scalars(heads.where(Trial.run_id.in_(runs))))
    return [trial for trial in trials if trial.id in finished]


def trials_of_cell(
    session: Session, run: int, suite: str, task: str, agent: str
) -> list[tuple[Trial, TrialMark | None]]:
    """The trials of one cell with what a person thinks of them, by number."""
    rows = session.execute(
        select(Trial, TrialMark)
        .outerjoin(TrialMark, TrialMark.trial_id == Trial.id)
        .filter_by(run_id=run, suite=suite, task=task, agent=agent)
        .order_by(Trial.number)
    )
    return [(trial, mark) for trial, mark in rows]


def judged_trials(session: Session, suite: str, task: str, most: int) -> list[Trial]:
    """The newest judged trials of a task in any run."""
    query = select(Trial).where(
        Trial.suite == suite,
        Trial.task == task,
        Trial.state == "done",
        Trial.verdict.is_not(None),
    )
    return list(session.scalars(query.order_by(Trial.id.desc()).limit(most)))


def newest_failing_trial(
    session: Session, task: str, agent: str, suite: str | None = None
) -> Trial | None:
    """The newest failed trial of a task with an agent, in any suite unless one is named."""
    query = select(Trial).where(
        Trial.task == task, Trial.agent == agent, Trial.state == "done", Trial.verdict == "fail"
    )
    if suite is not None:
        query = query.where(Trial.suite == suite)
    return session.scalar(query.order_by(Trial.id.desc()).limit(1))


def count_stale(session: Session, suite: str, scripts: Mapping[str, str]) -> int:
    """How many trials of tasks were last scored under another script than that of the hash which
    `scripts` gives for the task."""
    query = (
        select(Trial.task, Trial.script, func.count(Trial.id))
        .where(Trial.suite == suite, Trial.task.in_(scripts), Trial.state == "done")
        .group_by(Trial.task, Trial.script)
    )
    return sum(count for task, script, count in session.execute(query) if script != scripts[task])


def stale_trials(
    session: Session, suite: str, task: str, *, script: str, after: int, most: int
) -> list[Trial]:
    """Trials of a task, after the one of that id, that were last scored under another script than
    that of this hash; the oldest first."""
    query = select(Trial).where(
        Trial.suite == suite, Trial.task == task, Trial.id > after,
        Trial.state == "done", Trial.script != script,
    )  # fmt: skip
    return list(session.scalars(query.order_by(Trial.id).limit(most)))


def find_mark(session: Session, trial: int) -> TrialMark | None:
    """What a person thinks of a trial."""
    return session.get(TrialMark, trial)


def keep_mark(session: Session, trial: int, mark: str | None, note: str) -> TrialMark:
    """Keep what a person thinks of a trial."""
    return session.merge(TrialMark(trial_id=trial, mark=mark, note=note, at=time.time()))


def newest_events(session: Session, run: int, most: int) -> list[tuple[Trial, Any]]:
    """The newest events of a run's trials that go on, the newest first."""
    query = (
        select(Trial, EventRow.body)
        .join(EventRow, EventRow.trial_id == Trial.id)
        .where(Trial.run_id == run, Trial.state == "running")
        .order_by(EventRow.trial_id.desc(), EventRow.n.desc())
        .limit(most)
    )
    return [(trial, event) for trial, event in session.execute(query)]


def neighbouring_trials(session: Session, trial: Trial) -> dict[str, int | None]:
    """The previous and next trial of the run, and the previous and next failure.

    In the order of the board: by suite, task, agent and number.
    """
    rows = session.execute(
        select(Trial.id, Trial.verdict)
        .where(Trial.run_id == trial.run_id, Trial.state != "waiting")
        .order_by(*BOARD_ORDER)
    ).all()
    place = next(i for i, row in enumerate(rows) if row.id == trial.id)

    def near(step: int, failures: bool) -> int | None:
        there: Any = rows[place + 1 :] if step > 0 else reversed(rows[:place])
        return next((r.id for r in there if not failures or r.verdict == "fail"), None)

    return {
        "previous": near(-1, False),
        "next": near(1, False),
        "previous_failure": near(-1, True),
        "next_failure": near(1, True),
    }
