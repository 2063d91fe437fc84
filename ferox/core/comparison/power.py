"""What a plan can find, said before it runs."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from scipy.special import ndtri

from ferox.core.comparison.intervals import floor_of
from ferox.core.statistics import Z95

POWER = 0.8
"""How often a drop that is said to be found is found."""


def smallest_drop(rates: Sequence[float], repeats: int, z: float = Z95) -> float | None:
    """The smallest drop of the pass rate, from these rates of the tasks, that is found in 80 %.

    Every task drops by as much of its rate. It is found if the interval on these tasks lies below
    0: d ≥ (z + z₈₀)·√(V + F), V being what the variance of the difference is expected to be. None:
    not even a drop to 0 would be, or the tasks are repeated only once.
    """
    if not rates or repeats < 2:
        return None
    before = np.asarray(rates, dtype=np.float64)
    tasks, mean = len(before), float(before.mean())
    floor = floor_of(float(repeats), float(repeats), tasks)
    needed = z + float(ndtri(POWER))
    for points in range(1, math.floor(100 * mean + 1e-9) + 1):
        drop = points / 100
        after = before * (1 - drop / mean)
        spread = before * (1 - before) + after * (1 - after)
        if drop >= needed * math.sqrt(float(spread.sum()) / repeats / tasks**2 + floor):
            return drop
    return None
