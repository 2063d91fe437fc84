"""What an interval says: which side is better, whether they are the same, or how far it is open."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.special import ndtr, stdtrit

from ferox.core.comparison.intervals import (
    Interval,
    NoInterval,
    ValueKind,
    degrees_of_freedom,
    floor_of,
    mean_difference,
    newcombe_reach,
)
from ferox.core.comparison.task_values import Numbers, TaskValues
from ferox.core.statistics import Z95

SAME_WITHIN = 0.05
"""The margin within which two sides are the same, unless the reader says otherwise."""
MOST_REPEATS = 200
"""More repeats than this are not advised by number."""
POCOCK = (1.960, 2.178, 2.289, 2.361, 2.413, 2.453, 2.485, 2.512, 2.535, 2.555)
"""The boundary for 1 to 10 looks at two-sided 5 % (Pocock, Biometrika 64, 1977, 191–199)."""


@dataclass(frozen=True)
class Verdict:
    """What an interval says of B against A.

    `differs`: B's values are higher or lower. `same`: within the margin; both may hold at once. If
    neither does, a difference of up to `may_hide` may hide, and `repeats` more of each task would
    tell; None: more than 200 would be needed.
    """

    differs: Literal["higher", "lower"] | None
    same: bool
    may_hide: float | None = None
    repeats: int | None = None

    @property
    def is_decided(self) -> bool:
        """Whether it says anything of the two."""
        return self.differs is not None or self.same


def judge(
    found: Interval | NoInterval,
    a: TaskValues,
    b: TaskValues,
    kind: ValueKind,
    *,
    margin: float = SAME_WITHIN,
    z: float = Z95,
) -> Verdict | NoInterval:
    """What the interval of A and B on these tasks says, and what would tell where it says
    nothing."""
    if isinstance(found, NoInterval):
        return found
    verdict = judge_interval(found, margin)
    if verdict.is_decided:
        return verdict
    return replace(verdict, repeats=repeats_that_tell(a, b, kind, margin=margin, z=z))


def judge_interval(found: Interval, margin: float) -> Verdict:
    """What an interval says, by where 0 and the margin lie; a limit on either decides nothing."""
    differs: Literal["higher", "lower"] | None = None
    if found.low > 0:
        differs = "higher"
    elif found.high < 0:
        differs = "lower"
    same = -margin <= found.low and found.high <= margin
    may_hide = None if differs or same else max(abs(found.low), abs(found.high))
    return Verdict(differs, same, may_hide)


def repeats_that_tell(
    a: TaskValues, b: TaskValues, kind: ValueKind, *, margin: float = SAME_WITHIN, z: float = Z95
) -> int | None:
    """The smallest number of further trials of each task, on both sides, that would decide it.

    If their rates stay as they are; None if more than 200 would be needed.
    """
    more = np.arange(1, MOST_REPEATS + 1)
    low, high = _limits_with_more(a, b, kind, more, z)
    tells = (low > 0) | (high < 0) | ((low >= -margin) & (high <= margin))
    return int(more[np.argmax(tells)]) if tells.any() else None


def _limits_with_more(
    a: TaskValues, b: TaskValues, kind: ValueKind, more: np.ndarray, z: float
) -> tuple[Numbers, Numbers]:
    """Both limits for each number of further trials: arrays of the shape of `more`."""
    d = mean_difference(a, b)
    tasks = len(a.n)
    if kind.rate and tasks == 1:
        rate_a, rate_b = float(a.mean[0]), float(b.mean[0])
        reach = np.array([newcombe_reach(rate_a, a.n[0] + n, rate_b, b.n[0] + n, z) for n in more])
        return d - reach[:, 0], d + reach[:, 1]
    variance = (_variance_with_more(a, kind, more) + _variance_with_more(b, kind, more)) / tasks**2
    if kind.bounded:
        variance += floor_of(a.n.mean() + more, b.n.mean() + more, tasks)
    if kind.bounded:
        error = z * np.sqrt(variance)
        return np.maximum(d - error, -1.0), np.minimum(d + error, 1.0)
    degrees = np.array([degrees_of_freedom(a, b, int(n)) for n in more])
    known = np.isfinite(degrees)
    t = np.where(known, stdtrit(np.where(known, degrees, 1.0), ndtr(z)), z)
    error = t * np.sqrt(variance)
    return d - error, d + error


def _variance_with_more(side: TaskValues, kind: ValueKind, more: np.ndarray) -> Numbers:
    """The sum over tasks of the means' variances, for each number of further trials."""
    n = side.n[:, None] + more[None, :]
    if kind.rate:  # s² = p(1 − p)·n/(n − 1), of which the mean's variance is an n-th
        spread = (side.mean * (1 - side.mean))[:, None]
        return np.asarray((spread / (n - 1)).sum(axis=0))
    return np.asarray((side.variance[:, None] / n).sum(axis=0))


def holm_corrected(p: Mapping[str, float]) -> dict[str, float]:
    """Holm's corrected p of each of several questions that are read together (Holm 1979)."""
    corrected: dict[str, float] = {}
    least = 0.0
    for place, name in enumerate(sorted(p, key=lambda name: p[name])):
        least = max(least, min(1.0, (len(p) - place) * p[name]))
        corrected[name] = least
    return {name: corrected[name] for name in p}
