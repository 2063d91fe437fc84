"""Scoring stored trials under other expectations: tried while typing, or kept."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass, field

from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Check, Result
from ferox.formats.suite import Suite, Task
from ferox.runs.snapshot import script_hash
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Engine, Session, write_session
from ferox.store.results import keep_judgements, keep_script, read_results, verdict_of
from ferox.store.tables import Trial
from ferox.store.traces import read_traces
from ferox.store.trials import count_stale, judged_trials, stale_trials

AT_A_TIME = 50
"""Trials that are read together."""
BATCH_S = 0.4
"""Seconds after which a batch ends, so that progress shows and Stop is heeded."""


@dataclass(frozen=True)
class ChangedCheck:
    """A check that came out otherwise than before; None: it was a remark, or not there."""

    id: str
    was: bool | None
    now: bool | None
    message: str


@dataclass(frozen=True)
class RejudgedTrial:
    """A stored trial under expectations that are not kept yet."""

    id: int
    run: int
    agent: str
    number: int
    was: str
    now: str
    changed_checks: tuple[ChangedCheck, ...] = field(default=())


class _ArmScripts:
    """A task's script as each trial's arm meets it: with the faults that a plan laid over it."""

    def __init__(self, session: Session, suite: Suite, task: Task) -> None:
        self._session = session
        self._suite = suite.model_copy(update={"tasks": [task]})
        self._compiled: dict[str, Script] = {}

    def script_for(self, trial: Trial) -> Script:
        """The script that a trial is judged by."""
        arm = snapshot_of(self._session, trial.run_id).arms.get(trial.agent)
        faults = [fault.model_dump_json() for fault in arm.faults] if arm else []
        key = repr((faults, arm is None or arm.own_faults))
        if key not in self._compiled:
            suite = arm.change_suite(self._suite) if arm else self._suite
            self._compiled[key] = compile_script(suite, suite.tasks[0])
        return self._compiled[key]


def try_script(
    session: Session, suite: Suite, task: Task, most: int = 200
) -> Iterator[RejudgedTrial]:
    """The newest stored trials of a task, as its script would judge them now."""
    trials = judged_trials(session, suite.suite, task.task, most)
    ids = [trial.id for trial in trials]
    traces, results = read_traces(session, ids), read_results(session, ids)
    scripts = _ArmScripts(session, suite, task)
    for trial in trials:
        trace, before = traces.get(trial.id), results.get(trial.id)
        if trace is None or before is None:
            continue
        now = score_trial(scripts.script_for(trial), trace)
        about = (trial.id, trial.run_id, trial.agent, trial.number)
        yield RejudgedTrial(
            *about, verdict_of(before), verdict_of(now), tuple(changed_checks(before, now))
        )


def changed_checks(before: Result, now: Result) -> Iterator[ChangedCheck]:
    """The checks that changed between two results. Copies of an id are told apart by place."""
    was, there = _checks_by_key(before), _checks_by_key(now)
    for key in [*there, *(k for k in was if k not in there)]:
        one, other = was.get(key), there.get(key)
        passed = (one["passed"] if one else None, other["passed"] if other else None)
        if passed[0] is not passed[1]:
            shown = other or one
            assert shown is not None
            message = shown["message"] if other else "is no longer asked"
            yield ChangedCheck(shown["id"], *passed, message)


def _checks_by_key(result: Result) -> dict[tuple[str, int], Check]:
    found: dict[tuple[str, int], Check] = {}
    for check in result["checks"]:
        copy = sum(1 for id, _ in found if id == check["id"])
        found[check["id"], copy] = check
    return found


@dataclass(frozen=True)
class RescoredBatch:
    """How far scoring again is: trials done, of those how many changed, how many are left."""

    done: int
    changed: int
    left: int


def stale_count(session: Session, suite: Suite, task: Task) -> int:
    """How many stored trials of a task were last scored under another script."""
    return count_stale(session, suite.suite, task.task, script_hash(suite, task))


def rescore_next(
    engine: Engine, suite: Suite, tasks: list[Task], batch_s: float = BATCH_S
) -> RescoredBatch:
    """Score stored trials of these tasks under the suite, for as long as one batch takes.

    A trial that was last scored under this very script is left as it is. What a batch did
    is committed; the next goes on from there.
    """
    ends = time.monotonic() + batch_s
    done = changed = 0
    with write_session(engine) as session:
        for task in tasks:
            for judged, turned in _score_again(session, suite, task):
                done, changed = done + judged, changed + turned
                if time.monotonic() > ends:
                    break
            if time.monotonic() > ends:
                break
        left = sum(stale_count(session, suite, task) for task in tasks)
    return RescoredBatch(done, changed, left)


def _score_again(session: Session, suite: Suite, task: Task) -> Iterator[tuple[int, int]]:
    """Score a task's stale trials, some at a time: how many, and how many came out otherwise."""
    hashed, scripts = script_hash(suite, task), None
    while before := stale_trials(session, suite.suite, task.task, script=hashed, most=AT_A_TIME):
        if scripts is None:  # most tasks of a long suite have nothing to score again
            scripts = _ArmScripts(session, suite, task)
            keep_script(session, hashed, suite, task)
        trials = {trial.id: trial for trial in before}
        traces = read_traces(session, list(trials))
        if not traces:
            return
        results = {
            id: score_trial(scripts.script_for(trials[id]), trace) for id, trace in traces.items()
        }
        was = {id: trials[id].verdict for id in results}
        keep_judgements(session, results, hashed)
        yield len(results), sum(verdict_of(r) != was[id] for id, r in results.items())
        if len(results) < len(before):
            return
