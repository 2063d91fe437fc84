"""A comparison as `ferox compare --json` writes it and the screens read it; nothing is rounded."""

from __future__ import annotations

from pydantic import BaseModel


class IntervalReport(BaseModel):
    """Limits of a difference; of times, of a ratio."""

    low: float
    high: float
    method: str


class MetricReport(BaseModel):
    """A metric of A and B. `difference` is B less A; of times (`ratio`) B to A. `caution`: where
    the interval on these tasks promises too much."""

    metric: str
    a: float | None
    b: float | None
    n_a: int
    n_b: int
    tasks: int
    difference: float | None
    ratio: bool
    these: IntervalReport | None
    like_these: IntervalReport | None
    corrected_p: float | None
    caution: str | None
    says: str


class SideCounts(BaseModel):
    """A side's trials of a task: passes of `n` judged ones, those that could not run; all of them
    by number, and those that failed."""

    passes: int
    n: int
    errors: int
    trials: list[int]
    failed: list[int]


class TaskReport(BaseModel):
    """A task on both sides. `agent` stands where whole runs of several agents are compared."""

    suite: str
    task: str
    agent: str | None
    a: SideCounts
    b: SideCounts
    difference: float | None
    tipped: str | None


class ConfusionReport(BaseModel):
    """How often a tool was chosen in another's place, on each side, of `n_a` and `n_b` calls that
    were expected of it (None: they were not counted).

    `chosen` may be `nothing`, or `not offered`. `likeness`: on paper, from 0 to 1, with the words
    that only one of the two has; None: a definition of one of them was not seen.
    """

    expected: str
    chosen: str
    a: int
    b: int
    n_a: int | None
    n_b: int | None
    trials_a: list[int]
    trials_b: list[int]
    likeness: float | None
    words_expected: list[str]
    words_chosen: list[str]


class LookAlikesReport(BaseModel):
    """Two tools on offer that look alike and were never taken for each other."""

    one: str
    other: str
    likeness: float


class ComparisonReport(BaseModel):
    """B against A over the tasks that both have, and what was set apart."""

    a: str
    b: str
    same_within: float
    sentence: str
    """What the pass rates say, with their figures."""
    shared_tasks: int
    only_a: list[str]
    only_b: list[str]
    other_script: list[str]
    differs: list[str]
    """What differs in the set-up, by name."""
    metrics: list[MetricReport]
    tasks: list[TaskReport]
    confusions: list[ConfusionReport]
    never_confused: list[LookAlikesReport]
    looks: int | None
    """Looks at the run that both are arms of, by whose boundary the limits are; None: the usual."""
    turns_a: list[float]
    """Milliseconds of the judged trials' turns, in order; of many trials, that many quantiles."""
    turns_b: list[float]
