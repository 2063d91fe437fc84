"""Two sides over the tasks that both have, metric by metric."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ferox.core.comparison.intervals import (
    Interval,
    NoInterval,
    ValueKind,
    caution_of,
    interval_on_others,
    interval_on_these,
    mean_difference,
)
from ferox.core.comparison.task_values import Numbers, TaskValues, group_by_task, shared_tasks
from ferox.core.comparison.verdict import SAME_WITHIN, Verdict, holm_corrected, judge
from ferox.core.statistics import Z95
from ferox.formats.result import FAMILIES

RATE, SCORE, FREE = (
    ValueKind(bounded=True, rate=True),
    ValueKind(bounded=True),
    ValueKind(bounded=False),
)
METRICS: dict[str, ValueKind] = {
    "pass": RATE,
    **dict.fromkeys(FAMILIES, SCORE),
    **dict.fromkeys(("calls", "model_calls", "tokens", "money"), FREE),
    **dict.fromkeys(("turn_ms", "tool_ms", "agent_ms", "first_words_ms"), FREE),
}
"""What is compared, and how its values lie."""
TIMES = ("turn_ms", "tool_ms", "agent_ms", "first_words_ms")
"""Compared by their logarithms: the difference is a ratio of geometric means."""


@dataclass(frozen=True)
class TrialTable:
    """The judged trials of one side: the number of each one's task, and its values by metric.

    Arrays of one shape: (trials,). NaN is no value.
    """

    task: NDArray[np.int64]
    values: Mapping[str, Numbers]


@dataclass(frozen=True)
class MetricComparison:
    """A metric of A and B over the tasks where both have values.

    `a`, `b`: means over tasks, for times geometric; `n_a`, `n_b`: trials with a value. Of times
    `difference` and limits are ratios, B to A. `caution`: where the interval on these tasks
    promises too much. `corrected_p`: Holm's, of the families.
    """

    metric: str
    a: float | None
    b: float | None
    n_a: int
    n_b: int
    tasks: int
    difference: float | None
    these: Interval | NoInterval
    like_these: Interval | NoInterval
    verdict: Verdict | NoInterval
    caution: str | None = None
    corrected_p: float | None = None


def compare(
    a: TrialTable, b: TrialTable, tasks: int, *, margin: float = SAME_WITHIN, z: float = Z95
) -> list[MetricComparison]:
    """Every metric of two sides over `tasks` shared tasks; no loop runs over trials."""
    found = [_compare_metric(metric, a, b, tasks, margin=margin, z=z) for metric in METRICS]
    p: dict[str, float] = {
        one.metric: one.these.p
        for one in found
        if one.metric in FAMILIES and isinstance(one.these, Interval)
    }
    corrected = holm_corrected(p)
    return [replace(one, corrected_p=corrected.get(one.metric)) for one in found]


def _compare_metric(
    metric: str, a: TrialTable, b: TrialTable, tasks: int, *, margin: float, z: float
) -> MetricComparison:
    kind, is_time = METRICS[metric], metric in TIMES
    one, other = shared_tasks(
        _values_of(a, metric, tasks, is_time=is_time), _values_of(b, metric, tasks, is_time=is_time)
    )
    these, others = interval_on_these(one, other, kind, z), interval_on_others(one, other, kind)
    # The same is what lies within a share of a time or some points of a rate; of counts, only
    # what is equal.
    same_within = math.log1p(margin) if is_time else margin if kind.bounded else 0.0
    verdict = judge(these, one, other, kind, margin=same_within, z=z)
    count = len(one.n)
    shown = _ratio if is_time else float
    return MetricComparison(
        metric=metric,
        a=shown(float(one.mean.mean())) if count else None,
        b=shown(float(other.mean.mean())) if count else None,
        n_a=int(one.n.sum()),
        n_b=int(other.n.sum()),
        tasks=count,
        difference=shown(mean_difference(one, other)) if count else None,
        these=_as_ratio(these) if is_time else these,
        like_these=_as_ratio(others) if is_time else others,
        verdict=_hides_as_ratio(verdict) if is_time else verdict,
        caution=caution_of(one, other, kind),
    )


def _values_of(side: TrialTable, metric: str, tasks: int, *, is_time: bool) -> TaskValues:
    values = np.asarray(side.values[metric], dtype=np.float64)
    if is_time:
        # A time of nothing has no logarithm; it is no time that was seen.
        values = np.log(values, where=values > 0, out=np.full(values.shape, np.nan))
    return group_by_task(values, side.task, tasks)


def _ratio(logarithm: float) -> float:
    return math.exp(min(logarithm, 700.0))  # beyond that a float has no room


def _as_ratio(found: Interval | NoInterval) -> Interval | NoInterval:
    if isinstance(found, NoInterval):
        return found
    return replace(found, low=_ratio(found.low), high=_ratio(found.high))


def _hides_as_ratio(verdict: Verdict | NoInterval) -> Verdict | NoInterval:
    """What may hide, as a share of the time."""
    if isinstance(verdict, NoInterval) or verdict.may_hide is None:
        return verdict
    return replace(verdict, may_hide=_ratio(verdict.may_hide) - 1)
