"""The set-up of a trial: what it ran with, and what that was in the run before."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ferox.core.fault_words import fault_text
from ferox.formats.suite import Task
from ferox.formats.trace import Trace
from ferox.runs.records import overrides_of
from ferox.runs.snapshot import Snapshot
from ferox.runs.stored_snapshots import snapshot_of, snapshot_of_trial
from ferox.store.database import Session
from ferox.store.runs import get_run, run_before_with
from ferox.store.tables import Trial
from ferox.store.trials import losses_of
from ferox.web.trials import shapes


def setup_shape(
    session: Session, trial: Trial, trace: Trace | dict[str, Any], task: Task
) -> shapes.SetupShape:
    """What a trial ran with. `task` is the run's own, with the faults that were laid over it."""
    snapshot = snapshot_of_trial(session, trial)
    agent, suite = snapshot.agents[trial.agent], snapshot.suites[trial.suite]
    run = get_run(session, trial.run_id)
    models = [
        shapes.ThinksWith(
            called=called, model=name, simulated=bool(snapshot.models[name].stand_in),
            recorded=bool(snapshot.models[name].recording),
        )
        for called, name in agent.thinks_with.items()
    ]  # fmt: skip
    return shapes.SetupShape(
        link=agent.link,
        title=agent.title,
        models=models,
        params=agent.params,
        instructions=str(trace.get("instructions") or snapshot.instructions.get(trial.agent, "")),
        before=_instructions_before(session, trial, snapshot),
        modes=dict(suite.servers),
        wording={
            name: {
                tool: wording.model_dump(exclude_none=True)
                for tool, wording in file.wording.items()
            }
            for name, file in snapshot.servers.items()
            if name in suite.servers and file.wording
        },
        faults=[fault_text(fault) for fault in task.faults],
        otherwise=overrides_of(run).summary(),
        steps=list(_step_texts(trace)),
        clock=snapshot.clock_of(suite).now,
        zone=suite.zone,
        ferox=snapshot.ferox,
        python=snapshot.python,
        on=run.on,
        lost=[one.machine for one in losses_of(session, trial.id)],
    )


def _step_texts(trace: Trace | dict[str, Any]) -> Iterator[str]:
    """What Ferox did to live servers before a trial and after it."""
    for key, when in (("prepared", "before"), ("restored", "after")):
        steps: Any = trace.get(key) or ()
        for step in steps:
            error = step["error"]
            came = f"failed: {error['message']}" if error else f"{1000 * step['s']:.0f} ms"
            yield f"{when}: {step['what']} ({came})"


def _instructions_before(
    session: Session, trial: Trial, snapshot: Snapshot
) -> shapes.EarlierInstructions | None:
    """The agent's instructions in the newest earlier run that had it."""
    run = run_before_with(session, trial.agent, trial.run_id)
    if run is None:
        return None
    text = snapshot_of(session, run).instructions.get(trial.agent, "")
    same = text == snapshot.instructions.get(trial.agent, "")
    return shapes.EarlierInstructions(run=run, text=text, same=same)
