"""Talking to an agent by hand: a trial whose user is a person, kept like any other."""

from __future__ import annotations

import time
from datetime import UTC, datetime
from typing import Any

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace
from ferox.runs.overrides import OverrideError, Overrides
from ferox.runs.records import RunError
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot, script_hash, take_snapshot
from ferox.runs.trial import TrialJob
from ferox.store.database import Engine, write_session
from ferox.store.results import keep_result
from ferox.store.runs import BY_HAND, add_run, change_run
from ferox.store.snapshots import keep_snapshot
from ferox.store.trials import add_trial, get_trial
from ferox.workspace import Workspace
from ferox.workspace.modes import LIVE, MOCK, RECORDED, modes_of

SUITE, TASK = "by-hand", "talk"


def job_by_hand(snapshot: Snapshot, agent: str) -> TrialJob:
    """The one trial of a conversation by hand."""
    return TrialJob(snapshot, SUITE, TASK, agent=agent, number=1, seed=1)


def first_mode(server: ServerFile) -> str:
    """How a server is reached by hand unless another mode is chosen: mocked, recorded, live."""
    there = modes_of(server)
    return next((w for w in (MOCK, RECORDED, LIVE) if w in there), there[0])


def snapshot_by_hand(workspace: Workspace, agent: str, overrides: Overrides) -> Snapshot:
    """What a conversation with an agent uses: the servers it is offered, each in one mode.

    A server is mocked if it can be, else recorded, else live, unless `overrides` say
    otherwise.
    The clock is that of the first suite that uses one of them, else now.

    Raises:
        RunError: no such agent, or a mode, model or set of faults that is not there.
    """
    try:
        overrides.check_workspace(workspace)
    except OverrideError as error:
        raise RunError(str(error)) from None
    if agent not in workspace.agents:
        known = ", ".join(sorted(workspace.agents))
        raise RunError(f"`{agent}`: no such agent; there is {known}")
    offer = workspace.agents[agent].offer
    servers = {}
    for name, file in workspace.servers.items():
        if (offer is None or offer.get(name)) and modes_of(file):
            servers[name] = first_mode(file)
    body: dict[str, Any] = {"ferox": 1, "suite": SUITE, "servers": servers}
    first = next((s for s in workspace.suites.values() if s.servers.keys() & servers.keys()), None)
    if first is not None:
        body |= {"clock": first.clock, "zone": first.zone}
    else:
        body["clock"] = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    body["tasks"] = [{"task": TASK, "say": "…", "expect": {}}]
    suite = Suite.model_validate(body)
    held = Workspace(**{**vars(workspace), "suites": {SUITE: suite}})
    return take_snapshot(held, [SUITE], [agent], overrides)


def begin_by_hand(engine: Engine, snapshot: Snapshot, agent: str, lock: RunLock) -> int:
    """Keep the beginning of a conversation, its run claimed by `lock`; its trial's number."""
    now = time.time()
    with write_session(engine) as session:
        run = add_run(
            session,
            title=BY_HAND,
            state="running",
            seed=1,
            repeats=1,
            at_once=1,
            created_at=now,
            started_at=now,
        )
        lock.claim(run.id)
        keep_snapshot(session, run.id, snapshot.document())
        trial = add_trial(
            session,
            run_id=run.id,
            suite=SUITE,
            task=TASK,
            agent=agent,
            number=1,
            place=0,
            state="running",
            started_at=now,
            changed_at=now,
        )
        return trial.id


def end_by_hand(engine: Engine, snapshot: Snapshot, trial: int, trace: Trace) -> None:
    """Keep a conversation that is over, as any other trial."""
    suite = snapshot.suites[SUITE]
    result = score_trial(compile_script(suite, suite.tasks[0]), trace)
    with write_session(engine) as session:
        keep_result(session, trial, trace, result=result, script=script_hash(suite, suite.tasks[0]))
        run = get_trial(session, trial).run_id
        change_run(session, run, state="done", finished_at=time.time())
