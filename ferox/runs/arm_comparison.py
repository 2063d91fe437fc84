"""The arms of a run against their baselines."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from statistics import fmean

import numpy as np
from numpy.typing import NDArray

from ferox.core.arms import Arm, arms_of, dimensions_of
from ferox.core.comparison.compare import RATE, SCORE, TrialTable
from ferox.core.comparison.intervals import (
    Interval,
    ValueKind,
    interval_on_these,
    mean_difference,
    mean_limits,
)
from ferox.core.comparison.task_values import TaskValues, group_by_task, shared_tasks
from ferox.core.comparison.verdict import SAME_WITHIN, judge
from ferox.core.comparison.words import verdict_text
from ferox.core.scoring.choices import NOT_OFFERED, read_choices
from ferox.core.statistics import Z95
from ferox.core.wording import token_cost
from ferox.formats.arms import (
    ArmReport,
    ArmsReport,
    DifferenceReport,
    DimensionReport,
    MeanReport,
    SweepLine,
)
from ferox.formats.plan import PlanFile
from ferox.runs.chosen_instead import tools_of
from ferox.runs.comparison import ComparisonError, TaskKey, prices_of, trial_table, trials_by_task
from ferox.runs.looks import Look, baseline_of, boundary_z, savings_of
from ferox.runs.mending import change_meaning, change_text
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.compared_trials import ComparedTrial, read_compared_trials
from ferox.store.database import Session
from ferox.store.offered_tools import read_offers
from ferox.store.runs import cells_of_run, find_run
from ferox.store.tables import Run


def compare_arms(session: Session, run: int) -> ArmsReport:
    """Every arm of a run of a plan, and what tells it from its baseline.

    Raises:
        ComparisonError: there is no such run, or it has no plan.
    """
    record = find_run(session, run)
    if record is None:
        raise ComparisonError(f"there is no run {run}")
    snapshot = snapshot_of(session, run)
    if snapshot.plan is None:
        raise ComparisonError(f"run {run} is not of a plan, so it has no arms")
    table = _ArmTable.read(session, record, snapshot.plan)
    looks = [Look.model_validate(look) for look in record.looks or ()]
    return table.report(looks)


@dataclass(frozen=True)
class _ArmTable:
    """The judged trials of a run by arm, over the tasks of the run."""

    run: int
    plan: PlanFile
    tasks: list[TaskKey]
    trials: Mapping[str, list[ComparedTrial]]
    tables: Mapping[str, TrialTable]
    tools: Mapping[str, tuple[float, float]]
    """By arm: the number of tools offered and the tokens of their definitions, mean over suites."""

    @classmethod
    def read(cls, session: Session, record: Run, plan: PlanFile) -> _ArmTable:
        tasks: list[TaskKey] = sorted({cell[:2] for cell in cells_of_run(session, record.id)})
        trials: dict[str, list[ComparedTrial]] = {arm.name: [] for arm in arms_of(plan)}
        for trial in read_compared_trials(session, record.id, None):
            trials.setdefault(trial.agent, []).append(trial)
        prices = prices_of(session, record.id)
        tables = {
            arm: trial_table(
                {key: [] for key in tasks} | trials_by_task(own, with_agent=False), tasks, prices
            )
            for arm, own in trials.items()
        }
        costs: dict[str, list[tuple[int, int]]] = {}
        for (agent, _), offer in read_offers(session, record.id).items():
            cost = sum(token_cost(tool) for tool in tools_of([offer]).values())
            costs.setdefault(agent, []).append((len(offer), cost))
        tools = {
            agent: (fmean(c[0] for c in each), fmean(c[1] for c in each))
            for agent, each in costs.items()
        }
        return cls(record.id, plan, tasks, trials, tables, tools)

    @cached_property
    def baselines(self) -> dict[str, str]:
        """Each arm's baseline, by name."""
        return baseline_of(self.plan)

    @property
    def z(self) -> float:
        """Of the limits: that of so many looks, if the run is one that ends once decided."""
        return boundary_z(self.plan.until) if self.plan.until else Z95

    @property
    def margin(self) -> float:
        """Within which pass rates are the same."""
        return self.plan.until.same_within if self.plan.until else SAME_WITHIN

    def report(self, looks: Sequence[Look]) -> ArmsReport:
        """The whole table."""
        savings = savings_of(self.plan, looks, len(self.tasks)) if self.plan.until else None
        all_trials = savings.of if savings else sum(len(t) for t in self.trials.values())
        return ArmsReport(
            run=self.run,
            plan=self.plan.plan,
            title=self.plan.title,
            mends=self.plan.mends,
            design=self.plan.design,
            dimensions=[
                DimensionReport(name=d.name, values=list(d.values), baseline=d.baseline)
                for d in dimensions_of(self.plan)
            ],
            arms=[self._arm_report(arm, looks) for arm in arms_of(self.plan)],
            looks=self.plan.until.looks if self.plan.until else [],
            decided_after=looks[-1].repeats if looks and self._is_over(looks) else None,
            saved=savings.saved if savings else None,
            all_trials=all_trials,
            z=self.z,
            sweep=self._sweep_lines(),
        )

    def _is_over(self, looks: Sequence[Look]) -> bool:
        decided = {a.arm for look in looks for a in look.arms if a.decided}
        compared = {a.arm for look in looks for a in look.arms}
        return bool(compared) and decided == compared

    def _arm_report(self, arm: Arm, looks: Sequence[Look]) -> ArmReport:
        baseline = self.baselines[arm.name]
        trials = self.trials[arm.name]
        judged = [trial for trial in trials if trial.verdict != "error"]
        tools = self.tools.get(arm.name)
        expected, shown, called = _count_shown(judged)
        is_baseline = baseline == arm.name
        passing = None if is_baseline else self._difference(baseline, arm.name, "pass", RATE)
        changes = [(d, arm.values[d]) for d in arm.changed] if self.plan.mends else []
        mended = passing is not None and passing.low is not None and passing.low > 0
        return ArmReport(
            arm=arm.name,
            agent=arm.agent,
            values=dict(arm.values),
            changed=list(arm.changed),
            against=None if is_baseline else baseline,
            passes=sum(trial.verdict == "pass" for trial in judged),
            n=len(judged),
            errors=len(trials) - len(judged),
            pass_rate=self._mean_report(arm.name, "pass"),
            choice=self._mean_report(arm.name, "choice"),
            tokens=_mean_over_tasks(self._values(arm.name, "tokens")),
            turn_ms=_geometric_mean([trial.turn_ms for trial in judged]),
            model_ms=_geometric_mean([trial.model_ms for trial in judged]),
            tools=tools[0] if tools else None,
            definition_tokens=tools[1] if tools else None,
            offered_recall=shown / expected if expected else None,
            chosen_of_shown=called / shown if shown else None,
            pass_difference=passing,
            choice_difference=None
            if is_baseline
            else self._difference(baseline, arm.name, "choice", SCORE),
            stopped_after=next((k.repeats for k in looks if arm.name in k.stopped), None),
            change=", ".join(change_text(*change) for change in changes) or None,
            meaning="; ".join(change_meaning(*c) for c in changes) if mended and changes else None,
        )

    def _values(self, arm: str, metric: str) -> TaskValues:
        table = self.tables[arm]
        return group_by_task(table.values[metric], table.task, len(self.tasks))

    def _mean_report(self, arm: str, metric: str) -> MeanReport | None:
        values = _with_values(self._values(arm, metric))
        if not len(values.n):
            return None
        limits = mean_limits(values)
        return MeanReport(
            mean=float(values.mean.mean()),
            low=limits[0] if limits else None,
            high=limits[1] if limits else None,
        )

    def _difference(
        self, baseline: str, arm: str, metric: str, kind: ValueKind
    ) -> DifferenceReport | None:
        a, b = shared_tasks(self._values(baseline, metric), self._values(arm, metric))
        if not len(a.n):
            return None
        found = interval_on_these(a, b, kind, self.z)
        verdict = judge(found, a, b, kind, margin=self.margin, z=self.z)
        known = found if isinstance(found, Interval) else None
        return DifferenceReport(
            difference=mean_difference(a, b),
            low=known.low if known else None,
            high=known.high if known else None,
            says=verdict_text(metric, verdict, self.margin).removeprefix("B "),
        )

    def _sweep_lines(self) -> list[SweepLine]:
        """One for each agent and combination of all else that is varied."""
        if self.plan.vary.decoys is None:
            return []
        lines: dict[tuple[str, ...], list[tuple[int, str]]] = {}
        for arm in arms_of(self.plan):
            others = (v for name, v in arm.values.items() if name != "decoys")
            line = lines.setdefault((arm.agent, *others), [])
            line.append((int(arm.values["decoys"]), arm.name))
        found = []
        for line in lines.values():
            line.sort()
            if len(line) > 1:
                found.append(self._sweep_line(line))
        return found

    def _sweep_line(self, line: list[tuple[int, str]]) -> SweepLine:
        first = line[0][1]
        worse = (
            count
            for count, arm in line[1:]
            if (difference := self._difference(first, arm, "choice", SCORE)) is not None
            and difference.high is not None
            and difference.high < 0
        )
        return SweepLine(
            name=first,
            arms=[arm for _, arm in line],
            steps=[count for count, _ in line],
            worse_from=next(worse, None),
        )


def _count_shown(trials: Sequence[ComparedTrial]) -> tuple[int, int, int]:
    """Of what was expected: how many calls, of how many the model was shown the tool, and how many
    were made."""
    expected = shown = called = 0
    for trial in trials:
        for tool, chosen, n in read_choices(trial.choices or "{}"):
            expected += n
            shown += n if chosen != NOT_OFFERED else 0
            called += n if chosen == tool else 0
    return expected, shown, called


def _with_values(side: TaskValues) -> TaskValues:
    """The tasks that have a value."""
    return shared_tasks(side, side)[0]


def _mean_over_tasks(side: TaskValues) -> float | None:
    values = _with_values(side)
    return float(values.mean.mean()) if len(values.n) else None


def _geometric_mean(times: Sequence[float | None]) -> float | None:
    logs: NDArray[np.float64] = np.log([t for t in times if t is not None and t > 0])
    return math.exp(float(logs.mean())) if len(logs) else None
