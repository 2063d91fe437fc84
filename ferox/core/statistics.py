"""Statistics over trials: intervals that say how far a few trials can be trusted."""

from __future__ import annotations

import math
from statistics import NormalDist
from typing import NamedTuple

Z95 = NormalDist().inv_cdf(0.975)


class Interval(NamedTuple):
    """Both ends, from 0 to 1."""

    low: float
    high: float


def wilson_interval(passes: int, n: int) -> Interval:
    """Wilson's 95 % score interval of a pass rate (Wilson 1927).

    Raises:
        ValueError: no trials, or more passes than trials.
    """
    if n <= 0 or not 0 <= passes <= n:
        raise ValueError(f"{passes} of {n} is not a pass rate")
    low, high = wilson_limits(passes / n, n)
    return Interval(round(low, 6), round(high, 6))


def wilson_limits(rate: float, n: float, z: float = Z95) -> Interval:
    """Wilson's score limits of a rate over `n` trials, unrounded."""
    z2 = z * z
    centre = (rate + z2 / (2 * n)) / (1 + z2 / n)
    half = z * math.sqrt(rate * (1 - rate) / n + z2 / (4 * n * n)) / (1 + z2 / n)
    return Interval(max(0.0, centre - half), min(1.0, centre + half))


def nearest_rank_percentile(values: list[float], percent: float) -> float | None:
    """The nearest-rank percentile; None for fewer than five values."""
    if len(values) < 5:
        return None
    return sorted(values)[max(1, math.ceil(percent / 100 * len(values))) - 1]
