"""What a run came to, as reports tell it: agents, cells, what changed, and what failed."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import NamedTuple

import numpy as np

from ferox.core.comparison.intervals import mean_limits
from ferox.core.comparison.task_values import group_by_task
from ferox.core.digest import summarize_trial
from ferox.core.script import Script, compile_script
from ferox.core.statistics import Interval, nearest_rank_percentile, wilson_interval
from ferox.formats.comparison import ConfusionReport
from ferox.formats.result import FAMILIES, Result
from ferox.formats.trace import Trace
from ferox.runs.baseline import Baseline
from ferox.runs.changes import Changes, changes_in_ledger, changes_since, pass_sentence
from ferox.runs.chosen_instead import report_confusions, tools_of
from ferox.runs.comparison import prices_of
from ferox.runs.snapshot import Snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.board import Cause, Cell, Key, read_cells
from ferox.store.compared_trials import ComparedTrial, read_compared_trials
from ferox.store.database import Session, let_go
from ferox.store.offered_tools import read_offers
from ferox.store.results import read_result
from ferox.store.runs import TrialCounts, count_trials, get_run
from ferox.store.tables import Run
from ferox.store.traces import read_trace

MOST_PICTURES = 200
"""Failing cells whose first failing trial is told whole; of the rest only the cause is."""


class FamilySummary(NamedTuple):
    """A family's mean score over trials that have one, with limits on these tasks if there are."""

    family: str
    score: float | None
    n: int
    limits: tuple[float, float] | None


@dataclass(frozen=True)
class AgentSummary:
    """An agent or arm over the whole run. `cost` is None where it is not known."""

    name: str
    model: str | None
    simulated: bool
    passes: int
    n: int
    errors: int
    interval: Interval | None
    families: tuple[FamilySummary, ...]
    calls: int
    tokens: int | None
    cost: tuple[float, str] | None
    turn_ms: float | None
    """The median of its trials' turn times; None for fewer than five."""


@dataclass(frozen=True)
class FailingCell:
    """A cell with trials that failed: most often for this cause, as its first failing trial
    shows."""

    key: Key
    counts: tuple[int, int]
    cause: Cause
    failed_check: str | None
    """The check that failed most with its message."""
    known: str | None
    trial: int | None
    trace: Trace | None = None
    result: Result | None = None
    script: Script | None = None

    @property
    def digest(self) -> str:
        """Its first failing trial in plain text."""
        return summarize_trial(self.trace, self.result) if self.trace and self.result else ""


@dataclass(frozen=True)
class RunReport:
    """A run as reports tell it. `sentence`: what B, this run, does against A, the baseline."""

    record: Run
    snapshot: Snapshot
    counts: TrialCounts
    changes: Changes
    sentence: str | None
    agents: list[AgentSummary]
    cells: dict[Key, Cell]
    failing: list[FailingCell]
    confusions: list[ConfusionReport]

    @property
    def began(self) -> str:
        """When it was planned, in UTC."""
        return datetime.fromtimestamp(self.record.created_at, UTC).strftime("%Y-%m-%d %H:%M UTC")

    @property
    def seconds(self) -> float | None:
        """How long it took; None where that is not known."""
        begun, ended = self.record.started_at, self.record.finished_at
        return ended - begun if begun and ended else None

    @property
    def simulated(self) -> bool:
        """Whether any of its agents thinks with a stand-in."""
        return any(agent.simulated for agent in self.agents)

    def costs(self) -> dict[str, float] | None:
        """What it cost by currency; None if that is not known of every agent."""
        found: dict[str, float] = {}
        for agent in self.agents:
            if agent.cost is None:
                return None
            found[agent.cost[1]] = found.get(agent.cost[1], 0.0) + agent.cost[0]
        return found


def report_run(session: Session, run: int, baseline: Baseline | None = None) -> RunReport:
    """What a run came to; beside a baseline, or what each cell was before."""
    changes = (
        changes_since(session, run, baseline)
        if baseline is not None
        else changes_in_ledger(session, run)
    )
    snapshot = snapshot_of(session, run)
    cells = {cell.key: cell for cell in read_cells(session, run)}
    trials = read_compared_trials(session, run, None)
    record, counts = get_run(session, run), count_trials(session, run)
    confusions, _ = report_confusions((), trials, tools_of(read_offers(session, run).values()))
    return RunReport(
        record=record,
        snapshot=snapshot,
        counts=counts,
        changes=changes,
        sentence=pass_sentence(changes.shared),
        agents=_summarize_agents(session, run, snapshot, cells=cells.values(), trials=trials),
        cells=cells,
        failing=list(_failing_cells(session, run, snapshot, cells=cells, changes=changes)),
        confusions=[one for one in confusions if one.b],
    )


def _summarize_agents(
    session: Session,
    run: int,
    snapshot: Snapshot,
    cells: Iterable[Cell],
    trials: list[ComparedTrial],
) -> list[AgentSummary]:
    prices = prices_of(session, run)
    found = []
    for name in snapshot.agents:
        own = [trial for trial in trials if trial.agent == name]
        judged = [trial for trial in own if trial.verdict != "error"]
        mine = [cell for cell in cells if cell.agent == name]
        if not mine:
            continue
        passes, n = sum(cell.passes for cell in mine), sum(cell.n for cell in mine)
        price, tokens = prices.get(name), _token_sums(own)
        cost = None
        if price is not None and tokens is not None:
            sent, answered, cached = tokens
            cost = price.cost(sent, answered, cached), price.currency
        times = [trial.turn_ms for trial in judged if trial.turn_ms is not None]
        found.append(
            AgentSummary(
                name=name,
                model=snapshot.agents[name].model,
                simulated=snapshot.is_simulated(name),
                passes=passes,
                n=n,
                errors=sum(cell.errors for cell in mine),
                interval=wilson_interval(passes, n) if n else None,
                families=tuple(_summarize_family(place, judged) for place in range(len(FAMILIES))),
                calls=sum(trial.calls for trial in own),
                tokens=None if tokens is None else tokens[0] + tokens[1],
                cost=cost,
                turn_ms=nearest_rank_percentile(times, 50),
            )
        )
    return found


def _token_sums(trials: list[ComparedTrial]) -> tuple[int, int, int] | None:
    """Tokens sent, answered, and of those sent the ones kept from before; None if those of any
    trial are not known."""
    if any(trial.tokens_in is None for trial in trials):
        return None
    return (
        sum(trial.tokens_in or 0 for trial in trials),
        sum(trial.tokens_out or 0 for trial in trials),
        sum(trial.tokens_cached or 0 for trial in trials),
    )


def _summarize_family(place: int, judged: list[ComparedTrial]) -> FamilySummary:
    scored = [(t, t.scores[place]) for t in judged if t.scores[place] is not None]
    if not scored:
        return FamilySummary(FAMILIES[place], None, 0, None)
    tasks = {key: i for i, key in enumerate(sorted({(t.suite, t.task) for t, _ in scored}))}
    values = np.array([score for _, score in scored], dtype=np.float64)
    by_task = group_by_task(values, [tasks[t.suite, t.task] for t, _ in scored], len(tasks))
    return FamilySummary(FAMILIES[place], float(values.mean()), len(scored), mean_limits(by_task))


def _failing_cells(
    session: Session,
    run: int,
    snapshot: Snapshot,
    cells: dict[Key, Cell],
    changes: Changes,
) -> Iterable[FailingCell]:
    """Cells with failed trials: what broke first, what is known last."""
    causes = {key: cell.cause for key, cell in cells.items() if cell.cause}
    broke = {change.key for change in changes.of_kind("broke")}
    ordered = sorted(causes, key=lambda key: (key in changes.known, key not in broke, key))
    for place, key in enumerate(ordered):
        cell, cause = cells[key], causes[key]
        trial = cause.trials[0] if cause.trials else None
        bare = FailingCell(
            key=key,
            counts=(cell.passes, cell.n),
            cause=cause,
            failed_check=cause.failed_check,
            known=changes.known.get(key),
            trial=trial,
        )
        if trial is None or place >= MOST_PICTURES:
            yield bare
            continue
        trace, result = read_trace(session, trial), read_result(session, trial)
        let_go(session)
        suite, task = snapshot.of_arm(key[2]).script_of(key[0], key[1])
        yield replace(
            bare,
            failed_check=_check_text(result, cause.failed_check),
            trace=trace,
            result=result,
            script=compile_script(suite, task),
        )


def _check_text(result: Result | None, id: str | None) -> str | None:
    """A failed check with its message."""
    for check in result["checks"] if result else ():
        if check["id"] == id and check["passed"] is False:
            return f"{id}: {check['message']}"
    return id
