"""Looks at a run that ends once it is decided: each arm is compared with its agent's baseline."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import BaseModel

from ferox.core.arms import arms_of
from ferox.core.comparison.compare import RATE
from ferox.core.comparison.intervals import NoInterval, interval_on_these
from ferox.core.comparison.task_values import TaskValues, group_by_task, shared_tasks
from ferox.core.comparison.verdict import POCOCK, judge_interval
from ferox.core.comparison.words import look_text
from ferox.formats.plan import PlanFile, Until
from ferox.runs.cells import mixed_trials
from ferox.runs.looks_ahead import may_go_on
from ferox.runs.snapshot import Snapshot
from ferox.store.compared_trials import ComparedTrial, read_compared_trials
from ferox.store.database import Session
from ferox.store.runs import add_trials, cells_of_run, change_run, get_run


class ArmLook(BaseModel):
    """What a look says of one arm against its baseline: the difference of pass rates and its
    limits by the boundary of so many looks. None: a side has no judged trials, or too few."""

    arm: str
    baseline: str
    difference: float | None
    low: float | None
    high: float | None
    decided: bool
    says: str


class Look(BaseModel):
    """One look: after how many repeats, and what it says of each arm that went on until then.

    `stopped`: the arms, baselines among them, that run no further.
    """

    repeats: int
    arms: list[ArmLook]
    stopped: list[str]


def boundary_z(until: Until) -> float:
    """The z of every look at a run with so many of them (Pocock 1977), at two-sided 5 %."""
    return POCOCK[len(until.looks) - 1]


def baseline_of(plan: PlanFile) -> dict[str, str]:
    """Each arm's baseline, by name; a baseline is its own.

    That is its agent's baseline; of a plan that varies only the agent, the first agent.
    """
    arms = arms_of(plan)
    by_agent = {arm.agent: arm.name for arm in arms if not arm.changed}
    if all(not arm.changed for arm in arms):
        return {arm.name: arms[0].name for arm in arms}
    return {arm.name: by_agent[arm.agent] for arm in arms}


def look_at(
    plan: PlanFile, repeats: int, going: Sequence[str], trials: Sequence[ComparedTrial]
) -> Look:
    """Compare the arms that go on with their baselines after `repeats` of every task.

    An arm that is decided stops; a baseline stops when no arm of its own goes on, and at the last
    look everything does.
    """
    assert plan.until is not None
    baselines = baseline_of(plan)
    tasks = sorted({(t.suite, t.task) for t in trials})
    places = {task: place for place, task in enumerate(tasks)}
    passes = {name: _passes_of(name, trials, places) for name in {*baselines, *baselines.values()}}
    arms = [
        _look_at_arm(arm, baselines[arm], passes, plan.until)
        for arm in going
        if baselines[arm] != arm
    ]
    open_arms = {look.arm for look in arms if not look.decided}
    is_last = repeats >= plan.until.looks[-1]
    goes_on = set() if is_last else open_arms | {baselines[arm] for arm in open_arms}
    return Look(repeats=repeats, arms=arms, stopped=[arm for arm in going if arm not in goes_on])


def _passes_of(
    arm: str, trials: Sequence[ComparedTrial], places: dict[tuple[str, str], int]
) -> TaskValues:
    judged = [t for t in trials if t.agent == arm and t.verdict != "error"]
    values = np.array([float(t.verdict == "pass") for t in judged], dtype=np.float64)
    task = np.array([places[t.suite, t.task] for t in judged], dtype=np.int64)
    return group_by_task(values, task, len(places))


def _look_at_arm(arm: str, baseline: str, passes: dict[str, TaskValues], until: Until) -> ArmLook:
    a, b = shared_tasks(passes[baseline], passes[arm])
    found = interval_on_these(a, b, RATE, boundary_z(until))
    if isinstance(found, NoInterval):
        return ArmLook(
            arm=arm, baseline=baseline, difference=None, low=None, high=None, decided=False,
            says=look_text(found, until.same_within),
        )  # fmt: skip
    verdict = judge_interval(found, until.same_within)
    return ArmLook(
        arm=arm,
        baseline=baseline,
        difference=float((b.mean - a.mean).mean()),
        low=found.low,
        high=found.high,
        decided=verdict.is_decided,
        says=look_text(verdict, until.same_within),
    )


def take_look(session: Session, run: int, snapshot: Snapshot) -> bool:
    """Look at a run whose trials are done, and add the next round's; whether there is one.

    Without `until` in its plan nothing is looked at.
    """
    plan, record = snapshot.plan, get_run(session, run)
    if plan is None or plan.until is None or not may_go_on(plan, record):
        return False
    earlier: list[dict[str, Any]] = record.looks or []
    stopped = {arm for look in earlier for arm in look["stopped"]}
    going = [arm for arm in snapshot.agents if arm not in stopped]
    repeats = plan.until.looks[len(earlier)]
    look = look_at(plan, repeats, going, read_compared_trials(session, run, None))
    change_run(session, run, looks=[*earlier, look.model_dump()])
    goes_on = {*going} - {*look.stopped}
    if not goes_on:
        return False
    cells = [cell for cell in cells_of_run(session, run) if cell[2] in goes_on]
    numbers = range(repeats + 1, plan.until.looks[len(earlier) + 1] + 1)
    add_trials(session, run, mixed_trials(cells, numbers, record.seed + repeats))
    return True


class Savings(BaseModel):
    """Trials that a run did without, because its arms were decided, of all it could have had."""

    saved: int
    of: int


def savings_of(plan: PlanFile, looks: Sequence[Look], tasks: int) -> Savings:
    """What stopping early saved against the last look."""
    assert plan.until is not None
    last = plan.until.looks[-1]
    saved = sum((last - look.repeats) * len(look.stopped) * tasks for look in looks)
    return Savings(saved=saved, of=last * len(arms_of(plan)) * tasks)
