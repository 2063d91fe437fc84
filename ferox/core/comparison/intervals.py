"""Intervals for the difference of two sides over the same tasks.

Two questions: would repeating *these tasks* show the difference again, and would other *tasks like
these*? Neither draws lots; both are checked by simulation in `bench/calibration.py`.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from scipy.special import ndtr, stdtr, stdtrit

from ferox.core.comparison.task_values import Numbers, TaskValues
from ferox.core.statistics import Z95, wilson_limits

FEWEST_TASKS = 5
"""Fewer tasks than this say nothing of others."""
Count = TypeVar("Count", float, Numbers)
REPEAT = "a task has only one value on a side; repeat each task at least twice"
FEWEST_REPEATS = 3
"""Fewer values than this of few tasks make an interval of pass rates too narrow."""
CAUTION = (
    "two repeats of so few tasks: such an interval holds the truth in 90 to 93 of 100, not 95; "
    f"repeat each task at least {FEWEST_REPEATS} times"
)
"""By simulation: `bench/calibration.py`."""
FEW_TASKS = f"fewer than {FEWEST_TASKS} tasks say nothing of other tasks"


@dataclass(frozen=True)
class Interval:
    """Limits of a difference, by which method, and its two-sided p of no difference."""

    low: float
    high: float
    method: str
    p: float


@dataclass(frozen=True)
class NoInterval:
    """Why there is none, as advice."""

    why: str


@dataclass(frozen=True)
class ValueKind:
    """How a metric's values lie: `bounded` between 0 and 1, or free; `rate`: each is 0 or 1."""

    bounded: bool
    rate: bool = False


def mean_difference(a: TaskValues, b: TaskValues) -> float:
    """The mean over tasks of B's mean less A's; NaN if there is no task."""
    return float(np.mean(b.mean - a.mean)) if len(a.n) else math.nan


def floor_of(n_a: Count, n_b: Count, tasks: int) -> Count:
    """The least variance: as if one task were undecided.

    So tasks which have only ever passed are not taken for certain. `n_a` and `n_b` are the mean
    numbers of values a task.
    """
    return (1 / (4 * (n_a + 1)) + 1 / (4 * (n_b + 1))) / tasks**2


def interval_on_these(
    a: TaskValues, b: TaskValues, kind: ValueKind, z: float = Z95
) -> Interval | NoInterval:
    """Whether repeating the same suite would show the difference again: d ± z·√(V + F).

    V is the unbiased variance of a stratified mean, F the floor where values are bounded. Where
    they are not, nothing makes up for variances that are estimated from few values: there z is
    Student's point for as much confidence. One task's pass rate has Newcombe's method 10 (1998)
    over Wilson's limits.
    """
    tasks = len(a.n)
    if not tasks:
        return NoInterval("no task has values on both sides")
    if min(a.n.min(), b.n.min()) < 2:
        return NoInterval(REPEAT)
    if kind.rate and tasks == 1:
        return _newcombe(a, b, z)
    d = mean_difference(a, b)
    variance = float(np.sum(a.variance / a.n + b.variance / b.n)) / tasks**2
    if kind.bounded:
        error = math.sqrt(variance + floor_of(float(a.n.mean()), float(b.n.mean()), tasks))
        p = _p_of(d, error, ndtr)
        return _cut(Interval(d - z * error, d + z * error, "stratified mean", p), kind)
    error, degrees = math.sqrt(variance), degrees_of_freedom(a, b)
    t = float(stdtrit(degrees, ndtr(z))) if math.isfinite(degrees) else z
    p = _p_of(d, error, lambda x: stdtr(degrees, x) if math.isfinite(degrees) else ndtr(x))
    return Interval(d - t * error, d + t * error, "stratified mean, t", p)


def caution_of(a: TaskValues, b: TaskValues, kind: ValueKind) -> str | None:
    """Where an interval on these tasks is known to promise too much."""
    few = len(a.n) < FEWEST_TASKS
    if kind.rate and few and len(a.n) and min(a.n.min(), b.n.min()) == FEWEST_REPEATS - 1:
        return CAUTION
    return None


def mean_limits(side: TaskValues, z: float = Z95) -> tuple[float, float] | None:
    """Limits of one side's mean over tasks of bounded values: m ± z·√(V + F), cut to [0, 1].

    V and F are one side's parts of those of a difference. None where a task has one value only.
    """
    tasks = len(side.n)
    if not tasks or side.n.min() < 2:
        return None
    mean = float(side.mean.mean())
    floor = 1 / (4 * (float(side.n.mean()) + 1)) / tasks**2
    error = z * math.sqrt(float(np.sum(side.variance / side.n)) / tasks**2 + floor)
    return max(0.0, mean - error), min(1.0, mean + error)


def degrees_of_freedom(a: TaskValues, b: TaskValues, more: int = 0) -> float:
    """Of V, by Welch and Satterthwaite, with `more` values of each task; infinite where V is 0."""
    n = np.concatenate([a.n, b.n]) + more
    parts = np.concatenate([a.variance, b.variance]) / n
    whole = float(parts.sum()) ** 2
    return whole / float(np.sum(parts**2 / (n - 1))) if whole else math.inf


def interval_on_others(a: TaskValues, b: TaskValues, kind: ValueKind) -> Interval | NoInterval:
    """Whether other tasks of the kind would show the difference: d ± t·√(s²/k + F)."""
    tasks = len(a.n)
    if tasks < FEWEST_TASKS:
        return NoInterval(FEW_TASKS)
    d = mean_difference(a, b)
    variance = float(np.var(b.mean - a.mean, ddof=1)) / tasks
    if kind.bounded:
        variance += floor_of(float(a.n.mean()), float(b.n.mean()), tasks)
    error = math.sqrt(variance)
    t = float(stdtrit(tasks - 1, 0.975))
    p = _p_of(d, error, lambda x: stdtr(tasks - 1, x))
    return _cut(Interval(d - t * error, d + t * error, "t over tasks", p), kind)


def _newcombe(a: TaskValues, b: TaskValues, z: float) -> Interval:
    rate_a, rate_b = float(a.mean[0]), float(b.mean[0])
    below, above = newcombe_reach(rate_a, float(a.n[0]), rate_b, float(b.n[0]), z)
    d = rate_b - rate_a
    p = _p_of(d, (below if d > 0 else above) / z, ndtr)
    return Interval(max(-1.0, d - below), min(1.0, d + above), "Newcombe 10", p)


def newcombe_reach(
    rate_a: float, n_a: float, rate_b: float, n_b: float, z: float = Z95
) -> tuple[float, float]:
    """How far the limits for the difference of two proportions lie below and above it.

    Newcombe's method 10 (Statistics in Medicine 17, 1998, 873–890), over Wilson's limits.
    """
    low_a, high_a = wilson_limits(rate_a, n_a, z)
    low_b, high_b = wilson_limits(rate_b, n_b, z)
    return (
        math.hypot(rate_b - low_b, high_a - rate_a),
        math.hypot(high_b - rate_b, rate_a - low_a),
    )


def _p_of(d: float, error: float, distribution: Callable[[float], float]) -> float:
    """The two-sided p of no difference."""
    if not error:
        return 1.0 if d == 0 else 0.0
    return min(1.0, 2 * float(distribution(-abs(d) / error)))


def _cut(found: Interval, kind: ValueKind) -> Interval:
    """A difference of values between 0 and 1 lies between −1 and 1."""
    if not kind.bounded:
        return found
    return Interval(max(-1.0, found.low), min(1.0, found.high), found.method, found.p)
