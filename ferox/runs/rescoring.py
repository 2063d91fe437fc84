"""Scoring stored trials under other expectations: tried while typing, or kept."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass, field

from ferox.core.scoring import score_trial
from ferox.formats.result import Check, Result
from ferox.formats.suite import Suite, Task
from ferox.runs.judging import ArmScripts, JudgePool, Portion, StaleTrial, judge_here
from ferox.runs.snapshot import script_hash
from ferox.store.database import Engine, Session, write_session
from ferox.store.results import keep_judgements, keep_script, read_results, verdict_of
from ferox.store.traces import read_traces
from ferox.store.trials import count_stale, judged_trials, stale_trials

AT_A_TIME = 50
"""Trials that are read together."""
MANY = 1000
"""Trials from which on other processes take part; to start them takes a second."""
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


def try_script(
    session: Session, suite: Suite, task: Task, most: int = 200
) -> Iterator[RejudgedTrial]:
    """The newest stored trials of a task, as its script would judge them now."""
    trials = judged_trials(session, suite.suite, task.task, most)
    ids = [trial.id for trial in trials]
    traces, results = read_traces(session, ids), read_results(session, ids)
    scripts = ArmScripts(session, suite.model_copy(update={"tasks": [task]}))
    for trial in trials:
        trace, before = traces.get(trial.id), results.get(trial.id)
        if trace is None or before is None:
            continue
        now = score_trial(scripts.script_for(trial.run_id, trial.agent), trace)
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


def stale_count(session: Session, suite: Suite, tasks: list[Task]) -> int:
    """How many stored trials of tasks were last scored under another script."""
    return count_stale(session, suite.suite, _script_hashes(suite, tasks))


def _script_hashes(suite: Suite, tasks: list[Task]) -> dict[str, str]:
    return {task.task: script_hash(suite, task) for task in tasks}


def rescore_next(
    engine: Engine,
    suite: Suite,
    tasks: list[Task],
    *,
    batch_s: float = BATCH_S,
    pool: JudgePool | None = None,
) -> RescoredBatch:
    """Score stored trials of these tasks under the suite, for as long as one batch takes.

    A trial that was last scored under this very script is left as it is. What a batch did
    is committed; the next goes on from there. Many trials are shared among the processes of
    `pool`, if there is one.
    """
    ends = time.monotonic() + batch_s
    done = changed = 0
    scripts = _script_hashes(suite, tasks)
    with write_session(engine) as session:
        portions = _until(ends, _portions(session, suite, tasks, scripts))
        if pool is not None and count_stale(session, suite.suite, scripts) >= MANY:
            judged = pool.judge_all(session, portions)
        else:
            judged = judge_here(session, portions)
        for portion, results in judged:
            if not results:
                continue
            keep_script(session, portion.script, suite, portion.suite.tasks[0])
            keep_judgements(session, results, portion.script)
            done += len(results)
            was = {trial.id: trial.was for trial in portion.trials}
            changed += sum(verdict_of(now) != was[id] for id, now in results.items())
        left = count_stale(session, suite.suite, scripts)
    return RescoredBatch(done, changed, left)


def _portions(
    session: Session, suite: Suite, tasks: list[Task], scripts: dict[str, str]
) -> Iterator[Portion]:
    """The stale trials of tasks, some at a time; `scripts` are the hashes of the tasks' own."""
    for task in tasks:
        alone, hashed = suite.model_copy(update={"tasks": [task]}), scripts[task.task]
        last = 0
        while trials := stale_trials(
            session, suite.suite, task.task, script=hashed, after=last, most=AT_A_TIME
        ):
            briefly = [StaleTrial(t.id, t.run_id, t.agent, was=t.verdict) for t in trials]
            yield Portion(alone, hashed, briefly)
            last = trials[-1].id


def _until(ends: float, portions: Iterator[Portion]) -> Iterator[Portion]:
    """Portions until a moment of the monotonic clock; at least one."""
    for portion in portions:
        yield portion
        if time.monotonic() > ends:
            return
