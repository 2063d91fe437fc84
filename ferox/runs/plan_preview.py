"""A plan before it runs: its arms, what they would take, and what they could find."""

from __future__ import annotations

from pydantic import BaseModel

from ferox.core.arms import arms_of
from ferox.core.comparison.power import smallest_drop
from ferox.core.statistics import Z95
from ferox.formats.plan import PlanFile
from ferox.runs.arm_setup import arm_files
from ferox.runs.cells import chosen_cells
from ferox.runs.estimate import Estimate, estimate_arms
from ferox.runs.looks import baseline_of, boundary_z
from ferox.store.database import Engine, read_session
from ferox.store.past_trials import read_past_rates
from ferox.workspace import Workspace

UNKNOWN_RATE = 0.5
"""Of a task that never ran: where trials differ most, so that no more is promised than holds."""


class PlannedArm(BaseModel):
    """An arm that would run. `against`: its baseline, None for a baseline itself."""

    arm: str
    agent: str
    against: str | None


class PlanPreview(BaseModel):
    """What a plan would run.

    `first_trials`: of the first look, where it ends once it is decided; else all. `found_drop`: the
    smallest drop of the baseline's pass rate that is found in 80 % (0 to 1); None: none is, or
    nothing is compared. `rates_known`: of so many of its `tasks` the last run told the pass rate.
    """

    arms: list[PlannedArm]
    tasks: int
    trials: int
    first_trials: int
    looks: list[int]
    estimate: Estimate
    found_drop: float | None
    rates_known: int


def preview_plan(engine: Engine, workspace: Workspace, plan: PlanFile, at_once: int) -> PlanPreview:
    """What a plan would run, and what of it could be believed.

    Raises:
        ValueError: it makes too many arms, or its instructions are not there.
    """
    arms, baselines = arm_files(workspace, plan), baseline_of(plan)
    looks = plan.until.looks if plan.until else []
    repeats = looks[-1] if looks else plan.trials or workspace.settings.defaults.trials
    cells = chosen_cells(workspace, plan.suites_used, list(arms), plan.tasks)
    baseline = arms_of(plan)[0]
    own = [cell for cell in cells if cell[2] == baseline.name]
    with read_session(engine) as session:
        known = read_past_rates(session, plan.suites_used, {baseline.name, baseline.agent})
    rates = [known.get(cell, known.get((*cell[:2], baseline.agent))) for cell in own]
    is_compared = any(arm != against for arm, against in baselines.items())
    return PlanPreview(
        arms=[
            PlannedArm(
                arm=name,
                agent=arm.setup.agent,
                against=baselines[name] if baselines[name] != name else None,
            )
            for name, arm in arms.items()
        ],
        tasks=len(own),
        trials=len(cells) * repeats,
        first_trials=len(cells) * (looks[0] if looks else repeats),
        looks=looks,
        estimate=estimate_arms(engine, workspace, cells, arms, repeats=repeats, at_once=at_once),
        found_drop=smallest_drop(
            [UNKNOWN_RATE if rate is None else rate for rate in rates],
            repeats,
            boundary_z(plan.until) if plan.until else Z95,
        )
        if is_compared
        else None,
        rates_known=sum(rate is not None for rate in rates),
    )
