"""Scoring stored trials again: read, judged and kept, against reading them alone."""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

from sqlalchemy.orm import Session

from bench.filled_run import fill_run
from ferox.formats.suite import Suite
from ferox.runs.judging import JudgePool
from ferox.runs.rescoring import rescore_next, try_script
from ferox.store.database import Engine, open_database
from ferox.store.traces import read_trace

TRIALS = 10_000


def measure() -> str:
    """Trials a second through a whole re-scoring, by all processors and by one, and while
    somebody types."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        suite = fill_run(root, TRIALS)
        engine = open_database(root)
        begun = time.perf_counter()
        with Session(engine) as session:
            for number in range(1, TRIALS + 1):
                read_trace(session, number)
        read = TRIALS / (time.perf_counter() - begun)
        changed = _changed(suite)
        begun = time.perf_counter()
        with Session(engine) as session:
            tried = len(list(try_script(session, changed, changed.tasks[0])))
        typed = time.perf_counter() - begun
        pool = JudgePool(root)
        shared = _rescore(engine, changed, pool)
        pool.close()
        alone = _rescore(engine, suite, None)
        engine.dispose()
    return (
        f"re-scoring {TRIALS} stored trials: {shared:.0f} a second, kept, by {os.cpu_count()} "
        f"processors: {read / shared:.2f} × the time of reading them alone ({read:.0f} a second; "
        f"goal ≤ 1.5 ×); by one {alone:.0f} a second, {read / alone:.2f} ×; {tried} trials while "
        f"typing: {typed * 1000:.0f} ms"
    )


def _rescore(engine: Engine, suite: Suite, pool: JudgePool | None) -> float:
    """Score all trials again; how many a second."""
    begun, done = time.perf_counter(), 0
    while True:
        batch = rescore_next(engine, suite, suite.tasks, pool=pool)
        done += batch.done
        if not batch.left:
            return done / (time.perf_counter() - begun)


def _changed(suite: Suite) -> Suite:
    found = suite.model_dump(by_alias=True, exclude_unset=True)
    found["tasks"][0]["expect"]["answer"] = [{"matches": "Finished"}]
    return Suite.model_validate(found)
