"""Comparing two agents of 10,000 trials each, against reading their rows alone."""

from __future__ import annotations

import json
import tempfile
import time
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.orm import Session

from bench.screens import SUITES, TASKS
from bench.screens import workspace as many_cells
from ferox.runs.comparison import SideName, compare_sides
from ferox.store.database import open_database

GOAL_S = 1.0
REPEATS = 20
BODY = {
    "latency": {"tool_ms": 120.0, "agent_ms": 30.0},
    "tokens": {"input": 900, "output": 40},
    "confusions": [],
}


def measure() -> str:
    """Seconds until the report is there, and how often reading the rows that is."""
    with tempfile.TemporaryDirectory() as folder:
        root = many_cells(Path(folder), agents=2, repeats=REPEATS)
        engine = open_database(root)
        with Session(engine) as session, session.begin():
            rows = "INSERT INTO result (trial_id, script, scored_at, body) SELECT id, 'x', 0, :body"
            session.execute(text(f"{rows} FROM trial"), {"body": json.dumps(BODY)})
            session.execute(text("UPDATE trial SET script = 'x', failed = '[]'"))
        with Session(engine) as session:
            begun = time.perf_counter()
            count = len(session.execute(text("SELECT * FROM trial")).all())
            bound = time.perf_counter() - begun
        with Session(engine) as session:
            begun = time.perf_counter()
            sides = SideName(1, "desk-number-0"), SideName(1, "desk-number-1")
            report = compare_sides(session, *sides)
            took = time.perf_counter() - begun
        engine.dispose()
    assert report.shared_tasks == SUITES * TASKS, report.shared_tasks
    return (
        f"comparing two agents of {count // 2:,} trials each: {took:.2f} s "
        f"(goal < {GOAL_S:g} s), {took / bound:.1f} × reading the rows alone ({bound:.2f} s)"
    )


if __name__ == "__main__":
    print(measure())
