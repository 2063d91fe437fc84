"""Two agents, or two runs, compared over the tasks that both have."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ferox.core.comparison.compare import (
    METRICS,
    TIMES,
    MetricComparison,
    TrialTable,
    compare,
)
from ferox.core.comparison.intervals import Interval, NoInterval
from ferox.core.comparison.verdict import POCOCK, SAME_WITHIN
from ferox.core.comparison.words import verdict_sentence, verdict_text
from ferox.core.statistics import Z95
from ferox.formats.comparison import (
    ComparisonReport,
    IntervalReport,
    MetricReport,
    SideCounts,
    TaskReport,
)
from ferox.formats.result import FAMILIES
from ferox.formats.workspace import Price, shared_price
from ferox.runs.chosen_instead import Tools, report_confusions, tools_of
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.compared_trials import ComparedTrial, read_compared_trials
from ferox.store.database import Session
from ferox.store.ledger import read_setups
from ferox.store.offered_tools import read_offers
from ferox.store.runs import find_run

MOST_TIMES = 400
"""Times of a side that are told one by one."""
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


def compare_sides(
    session: Session, a: SideName, b: SideName, margin: float = SAME_WITHIN
) -> ComparisonReport:
    """B against A: every metric, every shared task, and what is set apart.

    Raises:
        ComparisonError: a side is not there, or they share no task.
    """
    with_agent = a.agent is None and b.agent is None
    sides = [trials_by_task(_read_side(session, side), with_agent=with_agent) for side in (a, b)]
    one, other = sides
    both = sorted(one.keys() & other.keys())
    same = [key for key in both if len({t.script for t in (*one[key], *other[key])}) == 1]
    if not both:
        raise ComparisonError(f"{a} and {b} have no task in common")
    prices_a, prices_b = (_prices_of_side(session, side) for side in (a, b))
    if len({price.currency for price in (*prices_a.values(), *prices_b.values()) if price}) > 1:
        prices_a = prices_b = {}  # sums in different currencies are not compared
    table_a = trial_table(one, same, prices_a)
    table_b = trial_table(other, same, prices_b)
    looks = _shared_looks(session, a, b)
    metrics = compare(
        table_a, table_b, len(same), margin=margin, z=POCOCK[looks - 1] if looks else Z95
    )
    shared_a, shared_b = ([trial for key in same for trial in side[key]] for side in sides)
    confusions, never_confused = report_confusions(
        shared_a, shared_b, tools_of_sides(session, (a, b), {key[0] for key in same})
    )
    reports = [metric_report(metric, margin) for metric in metrics]
    return ComparisonReport(
        sentence=verdict_sentence(reports[0]),
        a=str(a),
        b=str(b),
        same_within=margin,
        shared_tasks=len(same),
        only_a=_names_of(one.keys() - other.keys()),
        only_b=_names_of(other.keys() - one.keys()),
        other_script=_names_of(set(both) - set(same)),
        differs=_differing_parts(session, a, b, {key[0] for key in both}),
        metrics=reports,
        tasks=[_task_report(key, one[key], other[key]) for key in same],
        confusions=confusions,
        never_confused=never_confused,
        looks=looks,
        turns_a=_turns_of(shared_a),
        turns_b=_turns_of(shared_b),
    )


def _shared_looks(session: Session, a: SideName, b: SideName) -> int | None:
    """How many looks the run that both sides are arms of has, if it ends once it is decided."""
    if a.run != b.run or a.agent is None or b.agent is None:
        return None
    plan = snapshot_of(session, a.run).plan
    return len(plan.until.looks) if plan and plan.until else None


def tools_of_sides(session: Session, sides: Iterable[SideName], suites: Collection[str]) -> Tools:
    """The tools that sides were offered in some suites, as the first had them where several did."""
    return tools_of(
        offer
        for side in sides
        for (_, suite), offer in read_offers(session, side.run, side.agent).items()
        if suite in suites
    )


def _names_of(keys: Iterable[TaskKey]) -> list[str]:
    return ["/".join(key) for key in sorted(keys)]


def _read_side(session: Session, side: SideName) -> list[ComparedTrial]:
    if find_run(session, side.run) is None:
        raise ComparisonError(f"there is no run {side.run}")
    trials = read_compared_trials(session, side.run, side.agent)
    if not trials:
        known = ", ".join(sorted(snapshot_of(session, side.run).agents))
        raise ComparisonError(f"{side} has no judged trials; run {side.run} has {known}")
    return trials


def trials_by_task(
    trials: Iterable[ComparedTrial], *, with_agent: bool
) -> dict[TaskKey, list[ComparedTrial]]:
    found: defaultdict[TaskKey, list[ComparedTrial]] = defaultdict(list)
    for trial in trials:
        key = (trial.suite, trial.task, trial.agent) if with_agent else (trial.suite, trial.task)
        found[key].append(trial)
    return dict(found)


def _differing_parts(session: Session, a: SideName, b: SideName, suites: set[str]) -> list[str]:
    """What differs in the set-ups of the suites that both have run."""
    one, other = (_setups_of(session, side, suites) for side in (a, b))
    if a.agent is None:  # whole runs: agent by agent
        pairs = [(one[key], other[key]) for key in one.keys() & other.keys()]
    else:
        by_suite = {suite: setup for (suite, _), setup in other.items()}
        pairs = [(setup, by_suite[suite]) for (suite, _), setup in one.items() if suite in by_suite]
    parts = {
        part for mine, its in pairs for part in mine if part in its and mine[part] != its[part]
    }
    return sorted(parts)


def _setups_of(
    session: Session, side: SideName, suites: set[str]
) -> dict[tuple[str, str], dict[str, str]]:
    return {
        key: setup
        for key, setup in read_setups(session, side.run).items()
        if key[0] in suites and side.agent in (None, key[1])
    }


def _turns_of(trials: list[ComparedTrial]) -> list[float]:
    """The times of judged trials in order; of many, so many quantiles as a drawing can show."""
    times = sorted(t.turn_ms for t in trials if t.turn_ms is not None and t.verdict != "error")
    if len(times) <= MOST_TIMES:
        return times
    return [float(q) for q in np.quantile(times, np.linspace(0, 1, MOST_TIMES))]


def prices_of(session: Session, run: int) -> dict[str, Price | None]:
    """By agent, what its models' tokens cost, where that is known."""
    snapshot = snapshot_of(session, run)
    return {
        name: shared_price(snapshot.models[model] for model in agent.thinks_with.values())
        for name, agent in snapshot.agents.items()
    }


def _prices_of_side(session: Session, side: SideName) -> dict[str, Price | None]:
    prices = prices_of(session, side.run)
    return prices if side.agent is None else {side.agent: prices.get(side.agent)}


def trial_table(
    side: dict[TaskKey, list[ComparedTrial]],
    keys: Sequence[TaskKey],
    prices: dict[str, Price | None],
) -> TrialTable:
    """The judged trials of some tasks, numbered by their places in `keys`."""
    trials: list[ComparedTrial] = []
    task: list[int] = []
    for place, key in enumerate(keys):
        judged = [trial for trial in side[key] if trial.verdict != "error"]
        trials += judged
        task += [place] * len(judged)
    values: dict[str, list[float | None]] = {
        "pass": [float(trial.verdict == "pass") for trial in trials],
        "calls": [trial.calls for trial in trials],
        "model_calls": [trial.model_calls for trial in trials],
        "tokens": [_tokens_of(trial) for trial in trials],
        "money": [_money_of(trial, prices.get(trial.agent)) for trial in trials],
        "turn_ms": [trial.turn_ms for trial in trials],
        "tool_ms": [trial.tool_ms for trial in trials],
        "agent_ms": [trial.agent_ms for trial in trials],
        "first_words_ms": [trial.first_words_ms for trial in trials],
    }
    for place, family in enumerate(FAMILIES):
        values[family] = [trial.scores[place] for trial in trials]
    return TrialTable(
        task=np.array(task, dtype=np.int64),
        values={metric: np.array(values[metric], dtype=np.float64) for metric in METRICS},
    )


def _tokens_of(trial: ComparedTrial) -> float | None:
    if trial.tokens_in is None:
        return None
    return trial.tokens_in + (trial.tokens_out or 0)


def _money_of(trial: ComparedTrial, price: Price | None) -> float | None:
    if trial.tokens_in is None or price is None:
        return None
    return price.cost(trial.tokens_in, trial.tokens_out or 0, trial.tokens_cached or 0)


def _task_report(key: TaskKey, a: list[ComparedTrial], b: list[ComparedTrial]) -> TaskReport:
    """A task's passes on both sides, and the check that tipped most often."""
    suite, task, *agent = key
    one, other = _counts_of(a), _counts_of(b)
    difference = other.passes / other.n - one.passes / one.n if one.n and other.n else None
    return TaskReport(
        suite=suite,
        task=task,
        agent=agent[0] if agent else None,
        a=one,
        b=other,
        difference=difference,
        tipped=_tipping_check(a, b, difference) if difference else None,
    )


def _counts_of(trials: list[ComparedTrial]) -> SideCounts:
    judged = [trial for trial in trials if trial.verdict != "error"]
    return SideCounts(
        passes=sum(trial.verdict == "pass" for trial in judged),
        n=len(judged),
        errors=len(trials) - len(judged),
        trials=[trial.id for trial in trials],
        failed=[trial.id for trial in judged if trial.verdict == "fail"],
    )


def _tipping_check(a: list[ComparedTrial], b: list[ComparedTrial], difference: float) -> str | None:
    """The check that failed most in the side that passes less, beyond how it did in the other."""
    worse, better = (_failing_shares(side) for side in ((a, b) if difference > 0 else (b, a)))
    beyond = {check: share - better.get(check, 0.0) for check, share in worse.items()}
    tipped = max(sorted(beyond), key=lambda check: beyond[check], default=None)
    return tipped if tipped is not None and beyond[tipped] > 0 else None


def _failing_shares(trials: list[ComparedTrial]) -> dict[str, float]:
    """Of the judged trials, the share in which each check failed."""
    judged = [trial for trial in trials if trial.verdict != "error"]
    counts = Counter(check for trial in judged for check in trial.failed)
    return {check: count / len(judged) for check, count in counts.items()}


def metric_report(one: MetricComparison, margin: float) -> MetricReport:
    """A metric's comparison as it is reported, with what it says in words."""
    return MetricReport(
        metric=one.metric,
        a=one.a,
        b=one.b,
        n_a=one.n_a,
        n_b=one.n_b,
        tasks=one.tasks,
        difference=one.difference,
        ratio=one.metric in TIMES,
        these=_interval_report(one.these),
        like_these=_interval_report(one.like_these),
        corrected_p=one.corrected_p,
        caution=one.caution,
        says=verdict_text(one.metric, one.verdict, margin),
    )


def _interval_report(found: Interval | NoInterval) -> IntervalReport | None:
    if isinstance(found, NoInterval):
        return None
    return IntervalReport(low=found.low, high=found.high, method=found.method)
