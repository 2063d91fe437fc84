"""From the store to the shapes of the interface."""

from __future__ import annotations

import time
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path
from typing import Any, cast

from ferox.formats.agent import AgentFile
from ferox.formats.suite import Suite
from ferox.formats.workspace import ModelSource
from ferox.intake.collector import collector_at_rest
from ferox.runs.known_cells import known_cells
from ferox.runs.records import overrides_of, state_of
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.board import Cause, Cell, FamilyMean, read_cells
from ferox.store.database import Session
from ferox.store.holding import held_calls
from ferox.store.ledger import Ledger, LedgerEntry, read_ledger
from ferox.store.runs import count_trials
from ferox.store.tables import Run, Trial, TrialMark
from ferox.store.trials import get_trial, newest_events
from ferox.web.runs import shapes
from ferox.web.shapes import AgentShape, HoldShape, ProblemShape
from ferox.workspace import Workspace
from ferox.workspace.modes import modes_of
from ferox.workspace.problems import Problem


def agent_shape(name: str, agent: AgentFile, models: dict[str, ModelSource]) -> AgentShape:
    """An agent as lists show it, or an arm by its own name."""
    return AgentShape(
        agent=name,
        file=agent.agent,
        title=agent.title,
        link=agent.link,
        model=agent.model,
        simulated=any(models[m].stand_in for m in agent.thinks_with.values() if m in models),
    )


def suite_shape(suite: Suite) -> shapes.SuiteShape:
    """A suite as lists show it."""
    tasks = [shapes.TaskShape(task=t.task, title=t.title, tags=t.tags) for t in suite.tasks]
    return shapes.SuiteShape(suite=suite.suite, title=suite.title, tasks=tasks)


def workspace_shape(
    workspace: Workspace, problems: Iterable[Problem], clusters: list[str]
) -> shapes.WorkspaceShape:
    """What of a workspace loads, and what is wrong with the rest."""
    return shapes.WorkspaceShape(
        name=workspace.settings.name,
        suites=[suite_shape(s) for s in workspace.suites.values()],
        agents=[agent_shape(n, a, workspace.settings.models) for n, a in workspace.agents.items()],
        servers=[
            shapes.ServerModes(server=name, modes=modes_of(file))
            for name, file in workspace.servers.items()
        ],
        models=list(workspace.settings.models),
        fault_sets=list(workspace.settings.faults),
        plans=list(workspace.plans),
        clusters=clusters,
        trials=workspace.settings.defaults.trials,
        at_once=workspace.settings.defaults.at_once,
        problems=[ProblemShape(**vars(p)) for p in problems],
    )


def run_shape(session: Session, root: Path, run: Run) -> shapes.RunShape:
    """A run and how far it is."""
    state: Any = state_of(session, root, run)  # first: what is counted is then no older
    total, done, running, passes, judged, errors = count_trials(session, run.id)
    left = None
    if state == "running" and run.started_at and done:
        left = (time.time() - run.started_at) / done * (total - done)
    return shapes.RunShape(
        id=run.id,
        title=run.title,
        state=state,
        created_at=run.created_at,
        started_at=run.started_at,
        finished_at=run.finished_at,
        message=run.message,
        total=total,
        done=done,
        running=running if state == "running" else 0,
        passes=passes,
        judged=judged,
        errors=errors,
        seconds_left=left,
        otherwise=overrides_of(run).summary(),
        hold=HoldShape(**run.hold) if run.hold else None,
        origin=run.origin,
        on=run.on,
        at_once=run.at_once,
        fork_of=run.fork_of,
    )


@lru_cache(maxsize=4096)
def _mean_shape(mean: FamilyMean) -> shapes.FamilyMeanShape:
    return {"family": mean.family, "score": mean.score, "n": mean.n}


def cell_shape(cell: Cell) -> shapes.CellShape:
    """A cell of the board."""
    return {
        "suite": cell.suite,
        "task": cell.task,
        "agent": cell.agent,
        "passes": cell.passes,
        "n": cell.n,
        "errors": cell.errors,
        "unjudged": cell.unjudged,
        "waiting": cell.waiting,
        "running": cell.running,
        "interval": cell.interval,
        "comb": [_mean_shape(mean) for mean in cell.comb],
    }


def _ledger_shape(ledger: Ledger) -> shapes.LedgerShape:
    return shapes.LedgerShape(
        compared=ledger.compared,
        no_predecessor=ledger.no_predecessor,
        failing_as_before=ledger.failing_as_before,
        bases=ledger.bases,
        groups=[
            shapes.LedgerGroupShape.model_construct(
                kind=cast(shapes.ChangeKind, group.kind),
                message=group.message,
                failed_check=group.failed_check,
                differs=list(group.differs),
                entries=[_entry_shape(entry) for entry in group.entries],
                known=group.known,
            )
            for group in ledger.groups
        ],
    )


def _entry_shape(entry: LedgerEntry) -> shapes.LedgerEntryShape:
    return {
        "suite": entry.suite,
        "task": entry.task,
        "agent": entry.agent,
        "now": entry.now,
        "before": entry.before,
        "base": entry.base,
        "cause": _cause_shape(entry.cause),
        "was": _cause_shape(entry.was) if entry.was else None,
    }


def _cause_shape(cause: Cause) -> shapes.CauseShape:
    return {
        "message": cause.message,
        "failed_check": cause.failed_check,
        "trials": list(cause.trials),
    }


def board_shape(
    session: Session, root: Path, run: Run, base: int | None = None
) -> shapes.BoardShape:
    """The whole board of a run, its ledger against `base` or each cell's predecessor."""
    with collector_at_rest():
        return _board_shape(session, root, run, base)


def _board_shape(session: Session, root: Path, run: Run, base: int | None) -> shapes.BoardShape:
    snapshot = snapshot_of(session, run.id)
    cells = read_cells(session, run.id)
    known = known_cells(session, run, [c.key for c in cells])
    there = {(c.suite, c.task) for c in cells}
    suites = [suite_shape(s) for s in snapshot.suites.values()]
    for suite in suites:
        suite.tasks = [t for t in suite.tasks if (suite.suite, t.task) in there]
    return shapes.BoardShape(
        run=run_shape(session, root, run),
        plan=snapshot.plan.plan if snapshot.plan else None,
        suites=suites,
        agents=[agent_shape(n, a, snapshot.models) for n, a in snapshot.agents.items()],
        cells=[cell_shape(c) for c in cells],
        ledger=_ledger_shape(read_ledger(session, run.id, cells, base, known=known)),
    )


def trial_line(trial: Trial, mark: TrialMark | None = None) -> shapes.TrialLine:
    """A trial as lists show it, with what a person thinks of it."""
    return shapes.TrialLine(
        id=trial.id,
        run=trial.run_id,
        suite=trial.suite,
        task=trial.task,
        agent=trial.agent,
        number=trial.number,
        state=trial.state,
        verdict=trial.verdict,
        reason=trial.reason,
        calls=trial.calls,
        turn_ms=trial.turn_ms,
        went_wrong=trial.went_wrong,
        mark=mark.mark if mark else None,
        noted=bool(mark and mark.note),
    )


def held_shapes(session: Session, run: int) -> list[shapes.HeldShape]:
    """The calls of a run that are held."""
    shown = []
    for held in held_calls(session, run):
        trial = get_trial(session, held.trial_id)
        shown.append(
            shapes.HeldShape(
                id=held.id,
                trial=trial.id,
                task=trial.task,
                agent=trial.agent,
                tool=held.tool,
                args=held.args,
                at=held.at,
            )
        )
    return shown


def newest_calls(session: Session, run: int, most: int = 4) -> list[dict[str, Any]]:
    """The newest calls of a run's trials, the newest first, with their trial."""
    calls = []
    for trial, event in newest_events(session, run, most * 6):
        if event["kind"] == "call":
            calls.append(
                {
                    "trial": trial.id,
                    "agent": trial.agent,
                    "tool": event["tool"],
                    "s": event.get("s"),
                    "failed": event.get("error") is not None,
                }
            )
    return calls[:most]
