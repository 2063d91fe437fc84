"""How often the intervals of a comparison hold the truth, on simulated suites whose truth is known.

`python -m bench.calibration [SUITES]` prints the tables that `docs/comparing.md` tells of.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from ferox.core.comparison.compare import FREE, RATE, SCORE
from ferox.core.comparison.intervals import (
    Interval,
    ValueKind,
    interval_on_others,
    interval_on_these,
)
from ferox.core.comparison.task_values import Numbers, TaskValues, group_by_task
from ferox.core.comparison.verdict import POCOCK, judge_interval

SUITES = 4_000
TASKS, REPEATS = (5, 24, 200), (3, 5, 20)
FEW_TASKS, FEW_REPEATS = (1, 2, 3, 5), (2, 3, 5)
"""Where the screens warn: see `ferox.core.comparison.intervals.caution_of`."""
DIFFERENCES = (0.0, -0.05, -0.2)
LOOKS = (3, 5, 8, 13, 20)
SEED = 20_310_314

Draw = Callable[[np.random.Generator, Numbers, int], Numbers]
"""Values of trials, (tasks, repeats), from each task's own mean."""


class Shape(NamedTuple):
    """How alike a suite's tasks are: their means by A, drawn for a number of tasks."""

    name: str
    means: Callable[[np.random.Generator, int], Numbers]


SHAPES = (
    Shape("alike", lambda _, n: np.full(n, 0.7)),
    Shape("spread", lambda rng, n: rng.uniform(0.05, 0.95, n)),
    Shape("nearly certain", lambda rng, n: rng.beta(0.4, 0.1, n)),
)


def draw_passes(rng: np.random.Generator, means: Numbers, repeats: int) -> Numbers:
    """Each trial passes or not."""
    return (rng.random((len(means), repeats)) < means[:, None]).astype(float)


def draw_scores(rng: np.random.Generator, means: Numbers, repeats: int) -> Numbers:
    """A share of three checks holds in each trial."""
    return rng.binomial(3, means[:, None], (len(means), repeats)) / 3


def draw_times(rng: np.random.Generator, means: Numbers, repeats: int) -> Numbers:
    """Logarithms of times, skew as times are: a third of the trials waits for something."""
    waits = rng.random((len(means), repeats)) < 1 / 3
    return means[:, None] + rng.normal(0, 0.15, (len(means), repeats)) + 0.4 * (waits - 1 / 3)


MEASURES: tuple[tuple[str, ValueKind, Draw], ...] = (
    ("pass rate", RATE, draw_passes), ("family score", SCORE, draw_scores),
    ("time (logarithm)", FREE, draw_times),
)  # fmt: skip


class Found(NamedTuple):
    """Shares of the suites."""

    these: float
    others: float
    said: float
    """Where there is no difference: how often one side was said to be better, on the worse side."""


def simulate(
    shape: Shape,
    kind: ValueKind,
    draw: Draw,
    *,
    tasks: int,
    repeats: int,
    difference: float,
    suites: int,
) -> Found:
    """One line of the table: `difference` is B's mean less A's, cut where a mean ends."""
    rng = np.random.default_rng([SEED, tasks, repeats, abs(round(difference * 100))])
    truth = _population_difference(shape, difference, bounded=kind.bounded)
    these = others = counted = 0
    said = {"higher": 0, "lower": 0}
    for _ in range(suites):
        means = shape.means(rng, tasks)
        moved = _moved(means, difference, bounded=kind.bounded)
        a = _side(draw(rng, means, repeats))
        b = _side(draw(rng, moved, repeats))
        interval = interval_on_these(a, b, kind)
        assert isinstance(interval, Interval)
        these += interval.low <= float(np.mean(moved - means)) <= interval.high
        verdict = judge_interval(interval, 0.05)
        if verdict.differs:
            said[verdict.differs] += 1
        other = interval_on_others(a, b, kind)
        if isinstance(other, Interval):
            counted += 1
            others += other.low <= truth <= other.high
    return Found(
        these / suites, others / counted if counted else np.nan, max(said.values()) / suites
    )


def simulate_looks(tasks: int, difference: float, suites: int) -> tuple[float, float]:
    """With looks after 3, 5, 8, 13 and 20 repeats: how often a difference is said in all, and
    after how many repeats on average it was decided."""
    rng = np.random.default_rng([SEED, tasks, abs(round(difference * 100)), 1])
    said, spent = 0, 0.0
    z = POCOCK[len(LOOKS) - 1]
    for _ in range(suites):
        means = rng.uniform(0.05, 0.95, tasks)
        moved = _moved(means, difference, bounded=True)
        a, b = (draw_passes(rng, side, LOOKS[-1]) for side in (means, moved))
        for look in LOOKS:
            found = interval_on_these(_side(a[:, :look]), _side(b[:, :look]), RATE, z)
            assert isinstance(found, Interval)
            verdict = judge_interval(found, 0.05)
            if verdict.is_decided or look == LOOKS[-1]:
                said += verdict.differs is not None
                spent += look
                break
    return said / suites, spent / suites


def _moved(means: Numbers, difference: float, *, bounded: bool) -> Numbers:
    moved = means + difference
    return np.clip(moved, 0.0, 1.0) if bounded else moved


def _population_difference(shape: Shape, difference: float, *, bounded: bool) -> float:
    means = shape.means(np.random.default_rng(SEED), 400_000)
    return float(np.mean(_moved(means, difference, bounded=bounded) - means))


def _side(values: Numbers) -> TaskValues:
    tasks, repeats = values.shape
    return group_by_task(values.ravel(), np.repeat(np.arange(tasks), repeats), tasks)


def lines(suites: int) -> Iterator[str]:
    """The tables, a line at a time."""
    yield "measure           tasks are       tasks repeats  difference  these  tasks like  said"
    for name, kind, draw in MEASURES:
        for shape in SHAPES:
            for tasks in TASKS:
                for repeats in REPEATS:
                    for difference in DIFFERENCES:
                        found = simulate(
                            shape, kind, draw,
                            tasks=tasks, repeats=repeats, difference=difference, suites=suites,
                        )  # fmt: skip
                        said = f"{found.said:6.1%}" if difference == 0 else "     –"
                        yield (
                            f"{name:17} {shape.name:15} {tasks:5} {repeats:7} {difference:11.2f} "
                            f"{found.these:6.1%} {found.others:11.1%} {said}"
                        )
    yield "few tasks, few repeats of them, no difference"
    for name, kind, draw in MEASURES:
        for shape in SHAPES:
            for tasks in FEW_TASKS:
                for repeats in FEW_REPEATS:
                    found = simulate(
                        shape, kind, draw,
                        tasks=tasks, repeats=repeats, difference=0.0, suites=suites,
                    )  # fmt: skip
                    yield (
                        f"{name:17} {shape.name:15} {tasks:5} {repeats:7} {0:11.2f} "
                        f"{found.these:6.1%} {'–':>11} {found.said:6.1%}"
                    )
    yield "five looks: tasks  difference  said in all  repeats on average"
    for tasks in (5, 24, 100):
        for difference in (0.0, -0.1, -0.2):
            said_in_all, spent = simulate_looks(tasks, difference, suites)
            yield f"{tasks:17} {difference:11.2f} {said_in_all:12.1%} {spent:12.1f}"


def main() -> None:
    """Print the tables."""
    for line in lines(int(sys.argv[1]) if len(sys.argv) > 1 else SUITES):
        print(line, flush=True)


if __name__ == "__main__":
    main()
