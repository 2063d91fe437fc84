"""Two agents, or two runs, compared over the tasks that both have."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ferox.core.comparison.compare import FAMILIES, METRICS, MetricComparison, TrialTable, compare
from ferox.core.comparison.intervals import Interval, NoInterval
from ferox.core.comparison.verdict import SAME_WITHIN
from ferox.core.comparison.words import verdict_text
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.compared_trials import ComparedTrial, read_compared_trials
from ferox.store.database import Session
from ferox.store.runs import find_run

TaskKey = tuple[str, ...]
"""Suite and task; where whole runs of several agents are compared, the agent too."""


class ComparisonError(ValueError):
    """Two sides that cannot be compared; the message says why."""


@dataclass(frozen=True)
class SideName:
    """A run, or one agent in it, as it is written: `12`, `12:duty-officer`."""

    run: int
    agent: str | None

    @classmethod
    def parse(cls, text: str) -> SideName:
        """Read `RUN` or `RUN:AGENT`.

        Raises:
            ComparisonError: it is neither.
        """
        run, _, agent = text.partition(":")
        if not run.isdecimal() or (":" in text and not agent):
            raise ComparisonError(f"`{text}` is not a side: write RUN or RUN:AGENT, as in 12:desk")
        return cls(int(run), agent or None)

    def __str__(self) -> str:
        return str(self.run) if self.agent is None else f"{self.run}:{self.agent}"


@dataclass(frozen=True)
class TaskComparison:
    """A task's passes of judged trials on both sides, and the check that tipped most often."""

    key: TaskKey
    a: tuple[int, int, int]
    """Passes, judged trials, trials that could not run."""
    b: tuple[int, int, int]
    tipped: str | None

    @property
    def difference(self) -> float | None:
        """B's rate less A's; None if a side was not judged."""
        if not self.a[1] or not self.b[1]:
            return None
        return self.b[0] / self.b[1] - self.a[0] / self.a[1]


@dataclass(frozen=True)
class Comparison:
    """B against A: every metric, every shared task, and what was set apart."""

    a: SideName
    b: SideName
    margin: float
    metrics: list[MetricComparison]
    tasks: list[TaskComparison]
    only_a: list[TaskKey]
    only_b: list[TaskKey]
    other_script: list[TaskKey]
    confusions: list[tuple[str, str, int, int]]
    """Expected and chosen tool, and how often on each side."""

    def verdict_of(self, metric: str) -> str:
        """What a metric says, in words."""
        one = next(m for m in self.metrics if m.metric == metric)
        return verdict_text(metric, one.verdict, self.margin)


def compare_sides(
    session: Session, a: SideName, b: SideName, margin: float = SAME_WITHIN
) -> Comparison:
    """Compare two sides.

    Raises:
        ComparisonError: a side is not there, or they share no task.
    """
    with_agent = a.agent is None and b.agent is None
    sides = [_by_task(_read_side(session, side), with_agent=with_agent) for side in (a, b)]
    one, other = sides
    both = sorted(one.keys() & other.keys())
    same = [key for key in both if len({t.script for t in (*one[key], *other[key])}) == 1]
    if not both:
        raise ComparisonError(f"{a} and {b} have no task in common")
    prices = {side: _prices(session, side) for side in (a, b)}
    table_a, table_b = _table(one, same, prices[a]), _table(other, same, prices[b])
    return Comparison(
        a=a,
        b=b,
        margin=margin,
        metrics=compare(table_a, table_b, len(same), margin=margin),
        tasks=[_compare_task(key, one[key], other[key]) for key in same],
        only_a=sorted(one.keys() - other.keys()),
        only_b=sorted(other.keys() - one.keys()),
        other_script=[key for key in both if key not in set(same)],
        confusions=_count_confusions(*([t for key in same for t in side[key]] for side in sides)),
    )


def _read_side(session: Session, side: SideName) -> list[ComparedTrial]:
    if find_run(session, side.run) is None:
        raise ComparisonError(f"there is no run {side.run}")
    trials = read_compared_trials(session, side.run, side.agent)
    if not trials:
        known = ", ".join(sorted(snapshot_of(session, side.run).agents))
        raise ComparisonError(f"{side} has no judged trials; run {side.run} has {known}")
    return trials


def _by_task(
    trials: Iterable[ComparedTrial], *, with_agent: bool
) -> dict[TaskKey, list[ComparedTrial]]:
    found: defaultdict[TaskKey, list[ComparedTrial]] = defaultdict(list)
    for trial in trials:
        key = (trial.suite, trial.task, trial.agent) if with_agent else (trial.suite, trial.task)
        found[key].append(trial)
    return dict(found)


Price = tuple[float, float]
"""What a token sent, and one answered, costs."""


def _prices(session: Session, side: SideName) -> dict[str, Price | None]:
    """By agent, what its model's tokens cost; None where that is not known, or where its models
    cost differently, for how they share its tokens is not known."""
    snapshot = snapshot_of(session, side.run)
    found: dict[str, Price | None] = {}
    for name, agent in snapshot.agents.items():
        sources = [snapshot.models[model] for model in set(agent.thinks_with.values())]
        prices = {source.price for source in sources}
        price = prices.pop() if len(prices) == 1 else None
        found[name] = (price.in_ / price.per, price.out / price.per) if price else None
    return found


def _table(
    side: dict[TaskKey, list[ComparedTrial]],
    keys: Sequence[TaskKey],
    prices: dict[str, Price | None],
) -> TrialTable:
    """The judged trials of some tasks, numbered by their places in `keys`."""
    judged = [
        (place, trial)
        for place, key in enumerate(keys)
        for trial in side[key]
        if trial.verdict != "error"
    ]
    values: dict[str, list[float | None]] = {metric: [] for metric in METRICS}
    for _, trial in judged:
        values["pass"].append(float(trial.verdict == "pass"))
        for family, score in zip(FAMILIES, trial.scores, strict=True):
            values[family].append(score)
        for metric in ("calls", "model_calls", "turn_ms", "tool_ms", "agent_ms"):
            values[metric].append(getattr(trial, metric))
        values["tokens"].append(_tokens_of(trial))
        values["money"].append(_money_of(trial, prices.get(trial.agent)))
        values["first_words_ms"].append(None)
    return TrialTable(
        task=np.array([place for place, _ in judged], dtype=np.int64),
        values={metric: np.array(given, dtype=np.float64) for metric, given in values.items()},
    )


def _tokens_of(trial: ComparedTrial) -> float | None:
    if trial.tokens_in is None:
        return None
    return trial.tokens_in + (trial.tokens_out or 0)


def _money_of(trial: ComparedTrial, price: Price | None) -> float | None:
    if trial.tokens_in is None or price is None:
        return None
    return trial.tokens_in * price[0] + (trial.tokens_out or 0) * price[1]


def _compare_task(key: TaskKey, a: list[ComparedTrial], b: list[ComparedTrial]) -> TaskComparison:
    return TaskComparison(key, _counts_of(a), _counts_of(b), _tipping_check(a, b))


def _counts_of(trials: list[ComparedTrial]) -> tuple[int, int, int]:
    judged = [trial for trial in trials if trial.verdict != "error"]
    passes = sum(trial.verdict == "pass" for trial in judged)
    return passes, len(judged), len(trials) - len(judged)


def _tipping_check(a: list[ComparedTrial], b: list[ComparedTrial]) -> str | None:
    """The check that failed most in the side that passes less, beyond how it did in the other."""
    one, other = _failing_shares(a), _failing_shares(b)
    rates = [passes / n if n else None for passes, n, _ in (_counts_of(a), _counts_of(b))]
    if None in rates or rates[0] == rates[1]:
        return None
    worse, better = (one, other) if rates[0] < rates[1] else (other, one)  # type: ignore[operator]
    beyond = {check: share - better.get(check, 0.0) for check, share in worse.items()}
    tipped = max(sorted(beyond), key=lambda check: beyond[check], default=None)
    return tipped if tipped is not None and beyond[tipped] > 0 else None


def _failing_shares(trials: list[ComparedTrial]) -> dict[str, float]:
    """Of the judged trials, the share in which each check failed."""
    judged = [trial for trial in trials if trial.verdict != "error"]
    counts = Counter(check for trial in judged for check in trial.failed)
    return {check: count / len(judged) for check, count in counts.items()}


def _count_confusions(
    a: list[ComparedTrial], b: list[ComparedTrial]
) -> list[tuple[str, str, int, int]]:
    sides = [
        Counter((c["expected"], c["chosen"]) for trial in side for c in trial.confusions)
        for side in (a, b)
    ]
    pairs = sorted(sides[0].keys() | sides[1].keys())
    return [(*pair, sides[0][pair], sides[1][pair]) for pair in pairs]


def as_json(compared: Comparison) -> dict[str, Any]:
    """A comparison as `ferox compare --json` writes it; numbers are not rounded."""
    return {
        "a": str(compared.a),
        "b": str(compared.b),
        "shared_tasks": len(compared.tasks),
        "only_a": ["/".join(key) for key in compared.only_a],
        "only_b": ["/".join(key) for key in compared.only_b],
        "other_script": ["/".join(key) for key in compared.other_script],
        "metrics": [
            {
                "metric": one.metric,
                "a": one.a,
                "b": one.b,
                "n_a": one.n_a,
                "n_b": one.n_b,
                "tasks": one.tasks,
                "difference": one.difference,
                "these": _interval_json(one.these),
                "like_these": _interval_json(one.like_these),
                "corrected_p": one.corrected_p,
                "says": verdict_text(one.metric, one.verdict, compared.margin),
            }
            for one in compared.metrics
        ],
        "tasks": [
            {
                "suite": one.key[0],
                "task": one.key[1],
                **({"agent": one.key[2]} if len(one.key) > 2 else {}),
                "a": dict(zip(("passes", "n", "errors"), one.a, strict=True)),
                "b": dict(zip(("passes", "n", "errors"), one.b, strict=True)),
                "difference": one.difference,
                "tipped": one.tipped,
            }
            for one in compared.tasks
        ],
        "confusions": [
            dict(zip(("expected", "chosen", "a", "b"), one, strict=True))
            for one in compared.confusions
        ],
    }


def _interval_json(found: Interval | NoInterval) -> dict[str, Any] | None:
    if isinstance(found, NoInterval):
        return None
    return {"low": found.low, "high": found.high, "method": found.method}
