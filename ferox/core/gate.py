"""The gate: does a run hold the line, against floors and against a baseline?

A rule holds, fails, or cannot be told; what cannot be told fails only where that is strict.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ferox.core.comparison.compare import RATE
from ferox.core.comparison.intervals import NoInterval, interval_on_these, mean_difference
from ferox.core.comparison.task_values import TaskValues
from ferox.core.naming import counted_noun
from ferox.formats.result import FAMILIES

FLOORS = ("pass", *FAMILIES)
"""What may have a floor."""
EXACT = 1e-9
"""A difference that floating point makes of none."""
NAMED = 3
"""Cells that broke which a sentence names; it counts the others."""


@dataclass(frozen=True)
class GateRules:
    """What a run has to keep: `floors` by metric; with a baseline, nothing may break, and passes
    may drop by `no_worse` at most (None: by any amount)."""

    floors: Mapping[str, float]
    no_worse: float | None = None
    strict: bool = False


@dataclass(frozen=True)
class RuleVerdict:
    """What came of a rule; `held` is None where it cannot be told."""

    rule: str
    held: bool | None
    says: str

    def fails(self, *, strict: bool) -> bool:
        """Whether it fails the run."""
        return self.held is False or (strict and self.held is None)


def judge_floor(metric: str, least: float, values: Sequence[float]) -> RuleVerdict:
    """Whether the mean over trials reaches a floor. Values: 1 or 0 for passes, else scores."""
    rule = f"--fail-under {metric}={least:g}"
    if not values:
        return RuleVerdict(rule, None, f"{rule} cannot be told: no trial tests {metric}")
    reached = sum(values) / len(values)
    figures = f"{metric} is {reached:.4g} in {counted_noun(len(values), 'trial')}"
    if reached >= least - EXACT:
        return RuleVerdict(rule, True, f"{rule} holds: {figures}")
    return RuleVerdict(rule, False, f"{rule} fails: {figures}, {least - reached:.3g} too low")


def judge_broken(broke: Sequence[str], compared: int) -> RuleVerdict:
    """Whether nothing broke; `broke` tells each cell that did, of `compared` ones."""
    rule = "nothing breaks"
    if not compared:
        return RuleVerdict(
            rule, None, f"{rule}: cannot be told: no cell has a predecessor in the baseline"
        )
    of = f"of {counted_noun(compared, 'cell')} compared"
    if not broke:
        return RuleVerdict(rule, True, f"{rule}: holds: none {of} broke")
    more = len(broke) - NAMED
    named = ", ".join(broke[:NAMED]) + (f" and {more} more" if more > 0 else "")
    return RuleVerdict(rule, False, f"{rule}: fails: {len(broke)} {of} broke: {named}")


def judge_no_worse(
    before: Sequence[tuple[int, int]],
    now: Sequence[tuple[int, int]],
    *,
    most: float,
    strict: bool,
) -> RuleVerdict:
    """Whether passes dropped by `most` at most: passes and trials of each task, before and now.

    The difference on these tasks decides; where that is strict, its lower limit. Where a task has
    one trial on a side there is no interval, and nothing can be told.
    """
    rule = f"--no-worse {most:g}"
    a, b = _values_of(before), _values_of(now)
    found = interval_on_these(a, b, RATE)
    if isinstance(found, NoInterval):
        return RuleVerdict(rule, None, f"{rule} cannot be told: {found.why}")
    difference = mean_difference(a, b)
    trials = f"{sum(n for _, n in before)} and {sum(n for _, n in now)} trials"
    figures = (
        f"{_points_text(difference)} points on {counted_noun(len(now), 'task')}, {trials} "
        f"({_points_text(found.low)} to {_points_text(found.high)})"
    )
    judged, what = (found.low, "the lower limit is ") if strict else (difference, "")
    if judged < -most - EXACT:
        short = 100 * (-most - judged)
        return RuleVerdict(
            rule, False, f"{rule} fails: {figures}: {what}{short:.3g} points too low"
        )
    hides = "; more may hide: repeat the tasks to tell" if found.low < -most - EXACT else ""
    return RuleVerdict(rule, True, f"{rule} holds: {figures}{hides}")


def _values_of(tallies: Sequence[tuple[int, int]]) -> TaskValues:
    """Passes as values of 1 and 0, task by task."""
    passes = np.array([p for p, _ in tallies], dtype=np.float64)
    n = np.array([n for _, n in tallies], dtype=np.int64)
    mean = passes / np.maximum(n, 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        variance = np.where(n > 1, n * mean * (1 - mean) / (n - 1), np.nan)
    return TaskValues(n=n, mean=mean, variance=variance)


def _points_text(share: float) -> str:
    """A difference of rates in points, signed."""
    text = f"{100 * share:+.1f}".removesuffix(".0")
    return "0" if float(text) == 0 else text.replace("-", "−")
