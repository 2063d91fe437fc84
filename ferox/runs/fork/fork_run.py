"""Planning forks: a run whose trials all go on from one point of a stored trial."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ferox.formats.fault import TOOL_FAULTS, Fault
from ferox.formats.suite import Suite
from ferox.formats.trace import Event, Trace
from ferox.recordings.recording import RecordingError
from ferox.runs.fork.change import ChangeError, ForkChange
from ferox.runs.fork.origin import ForkOrigin, PointError, find_point
from ferox.runs.records import RunError, keep_run
from ferox.runs.replay.stored_trial import (
    NotReplayable,
    assemble_stored,
    finished_trace,
    read_played,
    went_out,
)
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot, add_model, narrowed_to
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.trial_host import make_job
from ferox.runs.trial_order import TrialOrder
from ferox.store.database import Engine, Session, read_session
from ferox.store.runs import BY_HAND, get_run
from ferox.store.tables import Trial
from ferox.store.trials import find_trial
from ferox.workspace import Workspace
from ferox.workspace.modes import MOCK
from ferox.workspace.problems import did_you_mean

MOST_FORKS = 50
"""Forks of one run."""


@dataclass(frozen=True)
class ForkWish:
    """Where forks of a trial are to begin, what is otherwise, and how many of them."""

    trial: int
    at: str
    change: ForkChange
    repeats: int = 1


def plan_forks(
    engine: Engine, workspace: Workspace, wish: ForkWish, at_once: int, lock: RunLock | None = None
) -> int:
    """Keep a run of forks, all waiting; its number. They meet what the trial met, with the agent's
    file as it was.

    Raises:
        RunError: the trial cannot be gone on from there, or not with this change.
    """
    with read_session(engine) as session:
        trial = find_trial(session, wish.trial)
        if trial is None:
            raise RunError(f"there is no trial {wish.trial}")
        try:
            origin = _read_origin(session, trial, wish)
            snapshot = narrowed_to(snapshot_of(session, trial.run_id), trial, Path(workspace.root))
            snapshot = _changed(snapshot, trial, origin, workspace)
        except (NotReplayable, PointError, ChangeError, RecordingError) as error:
            raise RunError(f"trial {wish.trial}: {error}") from None
        seed = get_run(session, trial.run_id).seed
    return keep_run(
        engine,
        workspace,
        snapshot.model_copy(update={"fork": origin}),
        [(trial.suite, trial.task, trial.agent)],
        first_repeats=wish.repeats,
        lock=lock,
        title=f"from {wish.at} of trial {wish.trial}",
        # Equal for all forks of a trial, so that changes of one point meet the same luck.
        seed=seed,
        repeats=wish.repeats,
        at_once=at_once,
        fork_of=wish.trial,
        fork={"at": wish.at, "change": wish.change.words, "detail": wish.change.detail},
    )


def _read_origin(session: Session, trial: Trial, wish: ForkWish) -> ForkOrigin:
    run, snapshot = get_run(session, trial.run_id), snapshot_of(session, trial.run_id)
    if run.title == BY_HAND:
        raise PointError("its words were typed by hand, so nobody would go on")
    if snapshot.fork is not None:
        raise PointError(f"it is a fork itself: go on from trial {snapshot.fork.trial}")
    trace = finished_trace(session, trial)
    place = find_point(trace, wish.at)
    order = TrialOrder.of_trial(trial)
    origin = ForkOrigin(
        trial=trial.id,
        run=trial.run_id,
        number=trial.number,
        at=wish.at,
        seed=make_job(snapshot, run.seed, order).seed,
        change=wish.change,
        point=dict(trace["events"][place]),
        stored=read_played(session, trial, trace, until=place),
    )
    wish.change.check_fits(origin.kind)
    _check_questions(trace["events"][:place], trace)
    assemble_stored(order, origin.stored)  # all that it takes was kept
    return origin


def _check_questions(past: list[Event], trace: Trace) -> None:
    modes = trace.get("modes") or {}
    asked = {e.get("server") or "" for e in past if e["kind"] == "question"}
    for server in sorted(asked):
        if modes.get(server) != MOCK:
            raise PointError(
                f"{server} asked the user something in the middle of a call before this point, and "
                "it cannot be asked again"
            )


def _changed(
    snapshot: Snapshot, trial: Trial, origin: ForkOrigin, workspace: Workspace
) -> Snapshot:
    """With the fault that is to strike, and the model that is to be asked.

    Raises:
        ChangeError: there is no such model.
    """
    change = origin.change
    if change.model is not None:
        models = workspace.settings.models
        if change.model not in models:
            known = did_you_mean(change.model, models) or f"; there is {', '.join(models)}"
            raise ChangeError(f"`{change.model}`: no such model{known}")
        return add_model(snapshot, workspace, change.model)
    if change.fault is None:
        return snapshot
    suite = snapshot.suites[trial.suite]
    return snapshot.model_copy(
        update={"suites": {trial.suite: _with_fault(suite, _fault_at(origin, change.fault))}}
    )


def _fault_at(origin: ForkOrigin, fault: Any) -> Fault:
    """The fault, told by the number of the call or request that it strikes."""
    past = origin.stored["trace"]["events"]
    if fault.do not in TOOL_FAULTS:
        asked = sum(event["kind"] == "model" for event in past)
        found: Fault = fault.at("*", "*", asked + 1)
        return found
    address = origin.point["tool"]
    server, tool = address.split("/", 1)
    before = sum(e["kind"] == "call" and e["tool"] == address and went_out(e) for e in past)
    struck: Fault = fault.at(server, tool, before + 1)
    return struck


def _with_fault(suite: Suite, fault: Fault) -> Suite:
    """A suite of one task, with a further fault of it: the last, so that those before it keep
    their places, by which their chance is drawn."""
    (task,) = suite.tasks
    changed = task.model_copy(update={"faults": [*task.faults, fault]})
    return suite.model_copy(update={"tasks": [changed]})
