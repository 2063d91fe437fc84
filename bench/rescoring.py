"""Scoring stored trials again: read, judged and kept, against reading them alone."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from sqlalchemy.orm import Session

from bench.filled_run import fill_run
from ferox.formats.suite import Suite
from ferox.runs.rescoring import rescore_next, try_script
from ferox.store.database import open_database
from ferox.store.traces import read_trace

TRIALS = 2000


def measure() -> str:
    """Trials a second through a whole re-scoring, and while somebody types."""
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
        begun = time.perf_counter()
        done = 0
        while True:
            batch = rescore_next(engine, changed, changed.tasks)
            done += batch.done
            if not batch.left:
                break
        rate = done / (time.perf_counter() - begun)
        engine.dispose()
    return (
        f"re-scoring: {rate:.0f} stored trials a second, kept; {rate / read:.2f} × reading them "
        f"alone ({read:.0f} a second); {tried} trials while typing: {typed * 1000:.0f} ms"
    )


def _changed(suite: Suite) -> Suite:
    found = suite.model_dump(by_alias=True, exclude_unset=True)
    found["tasks"][0]["expect"]["answer"] = [{"matches": "Finished"}]
    return Suite.model_validate(found)
