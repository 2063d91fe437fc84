"""Trials a second on a cluster of this machine, with one, two and four processes."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from bench.trials import workspace
from ferox.runs.records import plan_run, start_worker
from ferox.store import tables
from ferox.store.database import open_database
from ferox.workspace import load_workspace

TRIALS = 300
ROUNDS = 2
PROCESSES = (1, 2, 4)


def measure(trials: int = TRIALS) -> list[str]:
    """Each way in turn, the best of its rounds; the same trials with every call as in `trials`."""
    ways: list[tuple[str, str | None, int]] = [("one process", None, 2)]
    ways += [(f"local:{n}", f"local:{n}", max(2, n)) for n in PROCESSES]
    best = dict.fromkeys((name for name, *_ in ways), 0.0)
    for _ in range(ROUNDS):
        for name, on, at_once in ways:
            best[name] = max(best[name], _rate(trials, on, at_once))
    alone = best["one process"]
    cpus = len(os.sched_getaffinity(0))
    lines = [
        f"trials a second on this machine of {cpus} cores, which bounds them: {alone:.1f} in one "
        "process"
    ]
    for name, *_ in ways[1:]:
        lines.append(f"  {name}: {best[name]:.1f}, {best[name] / alone:.2f} × (goal of 2: ≥ 1.7)")
    overhead = 1000 / best["local:1"] - 1000 / alone
    lines.append(f"  a trial on a cluster of one against in process: {overhead:+.1f} ms")
    return lines


def _rate(trials: int, on: str | None, at_once: int) -> float:
    """Trials a second between the first begin and the last end, in a worker of its own."""
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        engine = open_database(root)
        run = plan_run(engine, load_workspace(root), ["small"], ["plain"], trials, at_once, on=on)
        worker: subprocess.Popen[bytes] = start_worker(root, run)
        worker.wait()
        with Session(engine) as session:
            of_run = tables.Trial.run_id == run
            times = func.min(tables.Trial.started_at), func.max(tables.Trial.changed_at)
            first, last = session.execute(select(*times).where(of_run)).one()
            passed = session.query(tables.Trial).filter_by(run_id=run, verdict="pass").count()
        assert passed == trials, f"{passed} of {trials} passed on {on}"
        engine.dispose()
        assert first and last
        return trials / (last - first)


if __name__ == "__main__":
    print("\n".join(measure(int(sys.argv[1]) if len(sys.argv) > 1 else TRIALS)))
