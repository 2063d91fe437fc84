"""A soak: `python -m bench.soak [TRIALS] [local:N]` runs hostile agents, 8 at once, in one process
or in several, and looks at what is left: verdicts, processes, file handles, memory."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from statistics import median
from typing import NamedTuple

import psutil
from sqlalchemy import select
from sqlalchemy.orm import Session

from bench.hostile import STEADY, workspace
from ferox.formats.trace import Trace, end_of
from ferox.runs.records import plan_run, start_worker
from ferox.store import tables
from ferox.store.database import open_database
from ferox.store.results import read_result
from ferox.store.traces import read_trace
from ferox.workspace import load_workspace

TRIALS = 2000
AT_ONCE = 8
EVERY_S = 1.0


class Sample(NamedTuple):
    """The worker at one moment, with its cluster's processes: memory in MB, open file handles."""

    rss: float
    handles: float


class Soaked(NamedTuple):
    """What a soak left: the worker's exit status, counts, and the worker in the second quarter
    and in the last."""

    status: int | None
    trials: int
    seconds: float
    events: int
    ends: Counter[tuple[str, str]]
    early: Sample
    late: Sample


def sample(pid: int) -> Sample | None:
    """A look at a worker, and at the processes of its cluster; None if it is gone."""
    try:
        worker = psutil.Process(pid)
        below = [p for p in worker.children() if "spawn_main" in " ".join(p.cmdline())]
        there = [worker, *below]
        memory = sum(p.memory_info().rss for p in there)
        return Sample(memory / 2**20, sum(p.num_fds() for p in there))
    except psutil.Error:
        return None


def left_over(root: Path) -> list[str]:
    """Command lines of processes that work in the workspace, or were started there."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit() or int(entry.name) == os.getpid():
            continue
        try:
            outcome = (entry / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
            here = (entry / "cwd").readlink()
        except OSError:
            continue
        if str(root) in outcome or here.is_relative_to(root):
            found.append(outcome.strip())
    return found


def soak(root: Path, trials: int, on: str | None = None) -> Soaked:
    """Carry a run out, and tell what is left of it."""
    agents = workspace(root)
    repeats = -(-trials // len(agents))
    engine = open_database(root)
    run = plan_run(engine, load_workspace(root), ["small"], agents, repeats, AT_ONCE, on=on)
    begun = time.monotonic()
    worker = start_worker(root, run)
    samples = []
    while worker.poll() is None:
        if (now := sample(worker.pid)) is not None:
            samples.append(now)
        time.sleep(EVERY_S)
    taken = time.monotonic() - begun
    with Session(engine) as session:
        rows = session.scalars(select(tables.Trial).where(tables.Trial.run_id == run)).all()
        unfinished = [t.id for t in rows if t.state != "done" or t.verdict is None]
        verdicts = Counter((t.agent, t.verdict) for t in rows)
        lost = [
            t.id for t in rows if not (read_trace(session, t.id) and read_result(session, t.id))
        ]
        ends: Counter[tuple[str, str]] = Counter()
        events = 0
        for trial in rows:
            trace = read_trace(session, trial.id)
            ends[trial.agent, _ending(trace)] += 1
            events += len(trace["events"]) if trace else 0
    steady = verdicts[STEADY, "pass"]
    assert steady == repeats, f"{steady} of {repeats} steady trials passed"
    assert not unfinished and not lost, (unfinished, lost)
    left = left_over(root)
    assert not left, left
    quarter = max(1, len(samples) // 4)
    early, late = samples[quarter : 2 * quarter], samples[-quarter:]
    return Soaked(
        status=worker.returncode, trials=len(rows), seconds=taken, events=events, ends=ends,
        early=_median(early), late=_median(late),
    )  # fmt: skip


def _ending(trace: Trace | None) -> str:
    return end_of(trace)["why"] if trace else "no trace"


def _median(samples: list[Sample]) -> Sample:
    return Sample(median(s.rss for s in samples), median(s.handles for s in samples))


def main() -> None:
    """Soak, and print what was seen."""
    trials = int(sys.argv[1]) if len(sys.argv) > 1 else TRIALS
    on = sys.argv[2] if len(sys.argv) > 2 else None
    with tempfile.TemporaryDirectory() as folder:
        found = soak(Path(folder).resolve(), trials, on)
    early, late = found.early, found.late
    print(
        f"soak{f' on {on}' if on else ''}: {found.trials} trials at {AT_ONCE} at once in "
        f"{found.seconds:.0f} s, each with a "
        f"verdict and a reason, {found.events} events; no process left; the worker's memory "
        f"{early.rss:.0f} MB in the second quarter, {late.rss:.0f} MB in the last, ratio "
        f"{late.rss / early.rss:.2f}; file handles {early.handles:g} and {late.handles:g}"
    )
    for (agent, why), count in sorted(found.ends.items()):
        print(f"  {agent}: {why} {count}")


if __name__ == "__main__":
    main()
