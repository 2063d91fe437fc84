"""Scoring stored trials again: read, judged and kept, against reading them alone."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from bench.scoring import trial
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import Suite
from ferox.runs.rescoring import rescore_next, try_script
from ferox.store import tables
from ferox.store.database import open_database
from ferox.store.results import keep_result
from ferox.store.traces import read_trace

TRIALS = 2000


def measure() -> str:
    """Trials a second through a whole re-scoring, and while somebody types."""
    suite, trace = trial()
    with tempfile.TemporaryDirectory() as folder:
        engine = open_database(Path(folder))
        _fill(engine, suite, trace)
        begun = time.perf_counter()
        with Session(engine) as session:
            for number in range(1, TRIALS + 1):
                read_trace(session, number)
        read = TRIALS / (time.perf_counter() - begun)
        changed = _changed(suite)
        begun = time.perf_counter()
        with Session(engine) as session:
            tried = len(list(try_script(session, compile_script(changed, changed.tasks[0]))))
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


def _fill(engine: Any, suite: Suite, trace: Any) -> None:
    result = score_trial(compile_script(suite, suite.tasks[0]), trace)
    with Session(engine) as session, session.begin():
        run = tables.Run(title="s", state="done", seed=1, repeats=TRIALS, at_once=1, created_at=0)
        session.add(run)
        session.flush()
        for number in range(1, TRIALS + 1):
            session.add(
                tables.Trial(
                    id=number, run_id=run.id, suite="s", task="t", agent="a", number=number,
                    place=number, state="done", changed_at=0,
                )
            )  # fmt: skip
        session.flush()
        for number in range(1, TRIALS + 1):
            session.add_all(
                tables.EventRow(trial_id=number, n=n, body=event)
                for n, event in enumerate(trace["events"])
            )
        session.flush()
        for number in range(1, TRIALS + 1):
            keep_result(session, number, trace, result, "first")


def _changed(suite: Suite) -> Suite:
    found = suite.model_dump(by_alias=True, exclude_unset=True)
    found["tasks"][0]["expect"]["answer"] = [{"matches": "Finished"}]
    return Suite.model_validate(found)
