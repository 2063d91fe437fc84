"""A metric's values of one side, task by task."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class TaskValues:
    """How many values each task has, their means, and their sample variances (n − 1).

    Arrays of one shape: (tasks,). The mean is NaN where a task has no value, the variance where it
    has fewer than two.
    """

    n: NDArray[np.int64]
    mean: Numbers
    variance: Numbers


def group_by_task(values: ArrayLike, task: ArrayLike, tasks: int) -> TaskValues:
    """Values of trials by their tasks.

    `values` and `task` have a place for each trial; a task is a number below `tasks`. NaN is no
    value.
    """
    given = np.asarray(values, dtype=np.float64)
    place = np.asarray(task, dtype=np.int64)
    there = ~np.isnan(given)
    given, place = given[there], place[there]
    n = np.bincount(place, minlength=tasks)
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = np.bincount(place, weights=given, minlength=tasks) / n
        # From the means, not from sums of squares: those would lose the digits of long times.
        apart = np.bincount(place, weights=(given - mean[place]) ** 2, minlength=tasks)
        variance = np.where(n > 1, apart / (n - 1), np.nan)
    return TaskValues(n=n, mean=mean, variance=variance)


def shared_tasks(a: TaskValues, b: TaskValues) -> tuple[TaskValues, TaskValues]:
    """The tasks of which both sides have a value."""
    both = (a.n > 0) & (b.n > 0)
    return _some_of(a, both), _some_of(b, both)


def _some_of(side: TaskValues, chosen: NDArray[np.bool_]) -> TaskValues:
    return TaskValues(side.n[chosen], side.mean[chosen], side.variance[chosen])
