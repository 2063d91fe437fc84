"""The arms of a run beside their baselines, as they are printed, exported and shown."""

from __future__ import annotations

from pydantic import BaseModel


class MeanReport(BaseModel):
    """A mean over tasks and its limits, by its repeats; None: a task has one value only."""

    mean: float
    low: float | None
    high: float | None


class DifferenceReport(BaseModel):
    """An arm against its baseline: the difference and its limits on these tasks."""

    difference: float
    low: float | None
    high: float | None
    says: str


class ArmReport(BaseModel):
    """One arm of a run. `against`: its baseline, None for a baseline itself.

    `values`: by dimension; `changed`: the dimensions in which it differs from the baseline. `tools`
    and `definition_tokens`: what it was offered, mean over suites; `offered_recall`: of its
    expected calls, the share whose tool its model was shown; `chosen_of_shown`: of those, the share
    that it called. Times are geometric means in ms. None is what was not seen. Of a plan that asks
    what would mend a task: the `change` in words, and its `meaning` where it passes more often.
    """

    arm: str
    agent: str
    values: dict[str, str]
    changed: list[str]
    against: str | None
    passes: int
    n: int
    errors: int
    pass_rate: MeanReport | None
    choice: MeanReport | None
    tokens: float | None
    turn_ms: float | None
    model_ms: float | None
    tools: float | None
    definition_tokens: float | None
    offered_recall: float | None
    chosen_of_shown: float | None
    pass_difference: DifferenceReport | None
    choice_difference: DifferenceReport | None
    stopped_after: int | None
    change: str | None
    meaning: str | None


class DimensionReport(BaseModel):
    """One thing that was varied."""

    name: str
    values: list[str]
    baseline: str


class SweepLine(BaseModel):
    """The arms that differ in decoys alone, the fewest first.

    `worse_from`: the first step at which choice is worse than at the first, by the interval on
    these tasks; None: at none.
    """

    name: str
    arms: list[str]
    steps: list[int]
    worse_from: int | None


class ArmsReport(BaseModel):
    """The arms of a run of a plan.

    `saved` of `all_trials`: what a run that ends once it is decided did without; None: it does not
    end so. `z`: of the limits, which is that of so many looks.
    """

    run: int
    plan: str
    title: str | None
    mends: str | None
    design: str
    dimensions: list[DimensionReport]
    arms: list[ArmReport]
    looks: list[int]
    decided_after: int | None
    saved: int | None
    all_trials: int
    z: float
    sweep: list[SweepLine]
