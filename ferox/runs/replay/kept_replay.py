"""Replays that are kept beside their run: begun, carried out, stopped and read."""

from __future__ import annotations

import asyncio
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, cast

from ferox.core.arms import agent_of_arm
from ferox.core.replay_verdict import Difference, Replayed, ReplayVerdict
from ferox.runs.records import RunError
from ferox.runs.replay.replay_run import (
    ReplayChoice,
    ReplayedTrial,
    RunReplay,
    chosen_trials,
    replay_trials,
)
from ferox.runs.run_lock import RunLock, is_claimed
from ferox.runs.trial_order import TrialOrder
from ferox.runs.worker_process import start_worker_process
from ferox.store.database import Engine, Session, read_session, write_session
from ferox.store.replays import (
    add_replay,
    change_replay,
    find_replay,
    get_replay,
    keep_replayed,
    replayed_trials,
    shall_stop_replay,
)
from ferox.store.runs import find_run
from ferox.store.trials import read_trials
from ferox.workspace.load import load_needed


def lock_name(replay: int) -> str:
    """By what a replay is claimed."""
    return f"replay-{replay}"


def begin_replay(engine: Engine, lock: RunLock, run: int, choice: ReplayChoice) -> int:
    """Keep a replay of a run's finished trials that is to be carried out; its number. It is
    claimed by `lock`.

    Raises:
        RunError: there is no such run, or no such trial in it.
    """
    with read_session(engine) as session:
        if find_run(session, run) is None:
            raise RunError(f"there is no run {run}")
    trials = chosen_trials(engine, run, choice)
    if not trials:
        raise RunError(f"run {run} has no finished trial of these")
    with write_session(engine) as session:
        replay = add_replay(session, run, trials)
        # Before it is committed: one that is seen and claimed by nobody counts as interrupted.
        if not lock.claim(lock_name(replay)):
            raise RunError(f"replay {replay} is claimed by another process; try again")
    return replay


def carry_out_replay(
    engine: Engine,
    root: Path,
    replay: int,
    *,
    at_once: int | None = None,
    in_time: bool = False,
    note: Callable[[int, int], None] = lambda done, total: None,
) -> RunReplay:
    """Play back the trials of a replay that is claimed, and keep what comes of each. `note` hears
    how many are done, of how many; `in_time`: answers take as long as they took.

    Raises:
        WorkspaceError: an agent's file does not load.
    """
    state, message = "stopped", None
    try:
        if asyncio.run(_play(engine, root, replay, at_once=at_once, in_time=in_time, note=note)):
            state = "done"
    except BaseException as error:
        message = str(error) or type(error).__name__
        raise
    finally:
        with write_session(engine) as session:
            ended = {"state": state, "message": message, "finished_at": time.time()}
            change_replay(session, replay, **ended)
    with read_session(engine) as session:
        return read_replay(session, replay)


async def _play(
    engine: Engine,
    root: Path,
    replay: int,
    *,
    at_once: int | None,
    in_time: bool,
    note: Callable[[int, int], None],
) -> bool:
    """Whether all were played back, or it was stopped before."""
    with read_session(engine) as session:
        record = get_replay(session, replay)
        run, trials = record.run_id, list(record.trials)
        agents = {agent_of_arm(t.agent) for t in read_trials(session, trials).values()}
    workspace = load_needed(root, agents=sorted(agents), suites=()).workspace
    side_by_side = at_once or workspace.settings.defaults.at_once
    done = 0
    played = replay_trials(
        engine, workspace, run, trials=trials, at_once=side_by_side, in_time=in_time
    )
    async for trial in played:
        done += 1
        with write_session(engine) as session:
            _keep(session, replay, trial)
            if shall_stop_replay(session, replay):
                return False
        note(done, len(trials))
    return True


def _keep(session: Session, replay: int, trial: ReplayedTrial) -> None:
    came = trial.came
    body = {
        "parted": came.parted and came.parted._asdict(),
        "differences": [found._asdict() for found in came.differences],
        "reason": came.reason,
    }
    keep_replayed(
        session,
        replay,
        trial.order.trial,
        verdict=came.verdict,
        asked_model=trial.asked_model,
        body=body,
    )


def replayed_of(verdict: str, body: dict[str, Any]) -> Replayed:
    """What became of a trial, as it was kept."""
    parted = body["parted"]
    return Replayed(
        cast(ReplayVerdict, verdict),
        parted and _difference(parted),
        tuple(_difference(found) for found in body["differences"]),
        body["reason"],
    )


def _difference(kept: dict[str, Any]) -> Difference:
    return Difference(kept["at"], kept["what"], tuple(kept["lines"]))


def read_replay(session: Session, replay: int) -> RunReplay:
    """What a replay came to so far."""
    return RunReplay(
        [
            ReplayedTrial(
                TrialOrder.of_trial(trial),
                replayed_of(kept.verdict, kept.body),
                asked_model=kept.asked_model,
            )
            for trial, kept in replayed_trials(session, replay)
        ]
    )


@dataclass(frozen=True)
class ReplayProgress:
    """A replay's record, and how far it is."""

    id: int
    run: int
    at: float
    state: str
    message: str | None
    total: int


def replay_progress(session: Session, root: Path, replay: int) -> ReplayProgress | None:
    """How a replay stands; None: there is none."""
    record = find_replay(session, replay)
    if record is None:
        return None
    claimed = record.state != "running" or is_claimed(root, lock_name(replay))
    return ReplayProgress(
        id=record.id,
        run=record.run_id,
        at=record.created_at,
        state=record.state if claimed else "interrupted",
        message=record.message,
        total=len(record.trials),
    )


def start_replay_worker(root: Path, replay: int, lock: RunLock) -> subprocess.Popen[bytes]:
    """Have a process of its own carry out a replay that `lock` has claimed; it outlives this."""
    return start_worker_process(
        "ferox.runs.replay.worker", root, replay, log=lock_name(replay), lock=lock
    )
