"""Room on the disk: of one trial with all that is kept of it, and of many."""

from __future__ import annotations

import asyncio
import gzip
import tempfile
import time
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.orm import Session

from bench.trials import workspace
from ferox.core.json_values import compact_json
from ferox.runs.records import plan_run
from ferox.runs.worker import Worker
from ferox.store.board import keep_counts, read_cells
from ferox.store.database import Engine, database_path, open_database
from ferox.store.results import keep_result, read_result
from ferox.store.traces import gather_beside, read_trace
from ferox.store.trials import read_trials
from ferox.workspace import load_workspace

TRIALS = 200
GROWTH = (1_000, 10_000, 100_000)
CELL = 1_000
"""Trials of a run's one cell, where there are many: planning is not what is measured."""


def measure() -> str:
    """Bytes of a trial of five calls, against its trace as compact JSON, gzip."""
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        engine = open_database(root)
        empty = _size(engine, root)
        run = plan_run(engine, load_workspace(root), ["small"], ["plain"], TRIALS, 2)
        asyncio.run(Worker(engine, root, run).carry_out())
        each = (_size(engine, root) - empty) / TRIALS
        with Session(engine) as session:
            packed = len(gzip.compress(compact_json(read_trace(session, 1)).encode()))
        engine.dispose()
    return (
        f"room for a trial of 5 calls, everything kept: {each:.0f} bytes, "
        f"{each / packed:.2f} × its trace as compact JSON, gzip ({packed}; goal ≤ 2)"
    )


def _size(engine: Engine, root: Path) -> int:
    """Bytes of the database, with nothing left in its log."""
    with engine.connect() as connection:
        connection.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
    return database_path(root).stat().st_size


def growth(sizes: tuple[int, ...] = GROWTH) -> list[str]:
    """A table: as trials grow in number, their room, the time to keep one, and to read a board."""
    titles = ("trials", "MB", "bytes each", "µs to keep", "ms for the cells")
    lines = ["{:>9} {:>7} {:>11} {:>11} {:>17}".format(*titles)]
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        engine = open_database(root)
        loaded = load_workspace(root)
        first = plan_run(engine, loaded, ["small"], ["plain"], 1, 1)
        asyncio.run(Worker(engine, root, first).carry_out())
        with Session(engine) as session:
            trace, result = read_trace(session, 1), read_result(session, 1)
            beside = gather_beside(session, 1)
            script = read_trials(session, [1])[1].script
        assert trace and result and script
        there = 0
        for wanted in sizes:
            before, spent = there, 0.0
            while there < wanted:
                run = plan_run(engine, loaded, ["small"], ["plain"], CELL, 1)
                begun = time.perf_counter()
                with Session(engine) as session, session.begin():
                    rows = session.execute(
                        text("SELECT id FROM trial WHERE run_id = :run"), {"run": run}
                    )
                    for (trial,) in rows.all():
                        keep_result(session, trial, trace, result, script, beside=beside)
                spent += time.perf_counter() - begun
                there += CELL
            keep = spent / (there - before)
            keep_counts(engine, range(1, run + 1))
            begun = time.perf_counter()
            with Session(engine) as session:
                read_cells(session, run)
            cells = time.perf_counter() - begun
            size = _size(engine, root)
            lines.append(
                f"{there:>9,} {size / 1e6:>7.1f} {size / there:>11.0f} {keep * 1e6:>11.0f} "
                f"{cells * 1000:>17.1f}"
            )
        engine.dispose()
    return lines


if __name__ == "__main__":
    print(measure())
    print("\n".join(growth()))
