"""Talking to an agent by hand: a trial whose user is a person, kept like any other."""

from __future__ import annotations

import time
from collections.abc import Collection
from pathlib import Path
from typing import Any, NamedTuple

from ferox.core.clock import REAL
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.base import Offer, offered_of
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
from ferox.workspace.load import load_needed
from ferox.workspace.modes import LIVE, MOCK, RECORDED, modes_of

SUITE, TASK = "by-hand", "talk"


def job_by_hand(snapshot: Snapshot, agent: str) -> TrialJob:
    """The one trial of a conversation by hand."""
    return TrialJob(snapshot, SUITE, TASK, agent=agent, number=1, seed=1)


def first_mode(server: ServerFile) -> str:
    """How a server is reached by hand unless another mode is chosen: mocked, recorded, live."""
    there = modes_of(server)
    return next((w for w in (MOCK, RECORDED, LIVE) if w in there), there[0])


def snapshot_by_hand(
    workspace: Workspace,
    agent: str,
    overrides: Overrides,
    by_hand: Offer | None = None,
) -> Snapshot:
    """What a conversation with an agent uses: the servers it is offered, each in one mode.

    A server is mocked if it can be, else recorded, else live, unless `overrides` say
    otherwise. `by_hand`, an offer of tools by server, stands in place of what its file
    offers, and belongs to the task.
    The clock is that of the first suite that uses one of them, else the real one.

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
    file = workspace.agents[agent]
    offer = file.offer if by_hand is None else by_hand
    servers = {}
    for name, server in workspace.servers.items():
        if (offer is None or offer.get(name)) and modes_of(server):
            servers[name] = first_mode(server)
    body: dict[str, Any] = {"ferox": 1, "suite": SUITE, "servers": servers}
    first = suite_of_servers(workspace, servers)
    body |= {"clock": first.clock, "zone": first.zone} if first else {"clock": REAL}
    body["tasks"] = [{"task": TASK, "say": "…", "expect": {}}]
    if by_hand is not None:
        body["tasks"][0]["offer"] = {s: tools for s, tools in by_hand.items() if s in servers}
    suite = Suite.model_validate(body)
    agents = {**workspace.agents, agent: file.model_copy(update={"offer": offer})}
    held = Workspace(**{**vars(workspace), "suites": {SUITE: suite}, "agents": agents})
    return take_snapshot(held, [SUITE], [agent], overrides)


def suite_of_servers(workspace: Workspace, servers: Collection[str]) -> Suite | None:
    """The first suite that uses one of some servers: its day is that of a conversation."""
    used = (s for s in workspace.suites.values() if not s.servers.keys().isdisjoint(servers))
    return next(used, None)


class PreparedByHand(NamedTuple):
    """What a conversation or a probe uses, and the servers that it would be offered if their files
    loaded, with the first thing that is wrong with each."""

    snapshot: Snapshot
    without: dict[str, str]


def prepare_by_hand(
    root: Path, agent: str, overrides: Overrides, by_hand: Offer | None = None
) -> PreparedByHand:
    """Load what a conversation with an agent needs, as `snapshot_by_hand` takes it.

    Raises:
        WorkspaceError: the agent's file, or what it thinks with, does not load.
        RunError: no such agent, or a mode, model or set of faults that is not there.
    """
    needed = load_needed(root, agents=[agent], suites=[])
    snapshot = snapshot_by_hand(needed.workspace, agent, overrides, by_hand)
    offer = needed.workspace.agents[agent].offer if by_hand is None else by_hand
    first = {problem.file: problem for problem in reversed(needed.left_out)}
    without = {
        server: f"its file does not load: {first[path]}"
        for server, path in needed.workspace.unloaded_servers.items()
        if path in first and offered_of(offer, server)
    }
    return PreparedByHand(snapshot, without)


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
