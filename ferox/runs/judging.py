"""Judging stored trials: in this process, or many side by side in one process per processor."""

from __future__ import annotations

import os
import threading
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import (
    BrokenExecutor,
    CancelledError,
    Future,
    ProcessPoolExecutor,
    wait,
)
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from multiprocessing import get_context, parent_process
from pathlib import Path
from typing import Any, NamedTuple

from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Result
from ferox.formats.suite import Suite
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Engine, Session, open_database, read_session
from ferox.store.traces import read_traces

IDLE_S = 20.0
"""Seconds after which processes that have nothing to judge are ended."""
LOOK_S = 5.0
"""Seconds after which it is asked whether processes that have not answered are still there."""
AHEAD = 2
"""Portions for each process that are asked for ahead, so that none waits for its next."""
NICENESS = 5
"""The server, and whoever waits for its screens, come first."""


class ArmScripts:
    """The script of a suite's only task as each trial's arm meets it: with the faults that a plan
    laid over it."""

    def __init__(self, session: Session, suite: Suite) -> None:
        self._session, self._suite = session, suite
        self._by_arm: dict[tuple[int, str], Script] = {}
        self._compiled: dict[str, Script] = {}

    def script_for(self, run: int, agent: str) -> Script:
        """The script by which trials of an agent in a run are judged."""
        if (run, agent) not in self._by_arm:
            self._by_arm[run, agent] = self._script_of_arm(run, agent)
        return self._by_arm[run, agent]

    def _script_of_arm(self, run: int, agent: str) -> Script:
        arm = snapshot_of(self._session, run).arms.get(agent)
        faults = [fault.model_dump_json() for fault in arm.faults] if arm else []
        key = repr((faults, arm is None or arm.own_faults))
        if key not in self._compiled:
            suite = arm.change_suite(self._suite) if arm else self._suite
            self._compiled[key] = compile_script(suite, suite.tasks[0])
        return self._compiled[key]


class StaleTrial(NamedTuple):
    """A stored trial that is to be judged again; `was` is its verdict so far."""

    id: int
    run: int
    agent: str
    was: str | None


@dataclass(frozen=True)
class Portion:
    """Stored trials of one task that are judged together. `suite` holds no other task, `script`
    is the hash that their results are kept under."""

    suite: Suite
    script: str
    trials: list[StaleTrial]


Judged = tuple[Portion, dict[int, Result]]
"""A portion with its results by trial; a trial without a trace has none."""


def judge_here(session: Session, portions: Iterator[Portion]) -> Iterator[Judged]:
    """Judge portions in turn, in this process."""
    for portion in portions:
        yield portion, _judge_portion(session, portion)


def _judge_portion(session: Session, portion: Portion) -> dict[int, Result]:
    scripts = ArmScripts(session, portion.suite)
    traces = read_traces(session, [trial.id for trial in portion.trials])
    return {
        trial.id: score_trial(scripts.script_for(trial.run, trial.agent), traces[trial.id])
        for trial in portion.trials
        if trial.id in traces
    }


@lru_cache(maxsize=1)
def _engine_of(workspace: Path) -> Engine:
    return open_database(workspace)


def _judge_apart(workspace: Path, portion: Portion) -> dict[int, Result]:
    """Judge trials in a process of the pool, which reads their traces itself."""
    with read_session(_engine_of(workspace)) as session:
        return _judge_portion(session, portion)


def _begin_apart() -> None:
    """What a process of the pool does first: it does not outlive the one that started it."""
    os.nice(NICENESS)
    parent = parent_process()
    assert parent is not None

    def end_with_parent() -> None:
        parent.join()
        os._exit(1)

    threading.Thread(target=end_with_parent, daemon=True).start()


def _submit(
    executor: ProcessPoolExecutor, work: Callable[..., Any], *arguments: Any
) -> Future[Any] | None:
    """Ask for work; None if the processes have ended."""
    try:
        return executor.submit(work, *arguments)
    except RuntimeError:
        return None


def _result_of(executor: ProcessPoolExecutor, asked: Future[Any] | None) -> Any:
    """What comes of work; None if the processes have ended."""
    # What is asked for in the very moment in which the executor finds a process gone, it forgets
    # (Python 3.11): asking for more tells whether it is still there.
    while asked is not None and not wait([asked], LOOK_S).done:
        if _submit(executor, int) is None:
            asked = None
    try:
        return None if asked is None else asked.result()
    except (BrokenExecutor, CancelledError):
        return None


class JudgePool:
    """Processes that judge stored trials of a workspace side by side. They are started when they
    are first needed, and end when they have had nothing to do for a while."""

    def __init__(self, workspace: Path, processes: int | None = None) -> None:
        self._workspace = workspace
        self._processes = processes or os.cpu_count() or 1
        self._lock = threading.Lock()
        self._executor: ProcessPoolExecutor | None = None
        self._users = 0
        self._ending: threading.Timer | None = None

    def judge_all(self, session: Session, portions: Iterator[Portion]) -> Iterator[Judged]:
        """Judge portions side by side; they come back in their order."""
        waiting: deque[tuple[Portion, Future[dict[int, Result]] | None]] = deque()
        with self._running() as executor:

            def judge_next() -> Judged:
                portion, asked = waiting.popleft()
                results = _result_of(executor, asked)
                if results is None:
                    self.close()  # the next batch starts other processes
                    results = _judge_portion(session, portion)
                return portion, results

            for portion in portions:
                asked = _submit(executor, _judge_apart, self._workspace, portion)
                waiting.append((portion, asked))
                if len(waiting) > AHEAD * self._processes:
                    yield judge_next()
            while waiting:
                yield judge_next()

    @contextmanager
    def _running(self) -> Iterator[ProcessPoolExecutor]:
        with self._lock:
            self._users += 1
            if self._ending is not None:
                self._ending.cancel()
            if self._executor is None:
                self._executor = ProcessPoolExecutor(
                    self._processes, get_context("spawn"), initializer=_begin_apart
                )
            executor = self._executor
        try:
            yield executor
        finally:
            with self._lock:
                self._users -= 1
                self._ending = threading.Timer(IDLE_S, self._end_if_idle)
                self._ending.daemon = True
                self._ending.start()

    def _end_if_idle(self) -> None:
        with self._lock:
            is_idle = not self._users
        if is_idle:
            self.close()

    def close(self) -> None:
        """End the processes, once they have judged what they are at."""
        with self._lock:
            executor, self._executor = self._executor, None
        if executor is not None:
            executor.shutdown(cancel_futures=True)
