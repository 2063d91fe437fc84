"""Exporting 10,000 trials in every format: seconds against reading them, and memory against a
tenth of them. `python -m bench.exporting`."""

from __future__ import annotations

import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing import get_context
from pathlib import Path

import psutil
from sqlalchemy.orm import Session

from bench.filled_run import fill_run
from ferox.exports.finished import finished_trials
from ferox.exports.writing import FORMATS, ExportFormat, export_to_file
from ferox.store.database import Engine, open_database
from ferox.store.trials import finished_numbers

TRIALS, FEW = 10_000, 1_000
LOOK_S = 0.01


def measure() -> str:
    """A line for each format."""
    lines = []
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        # In a process of its own: what it took would hide what exporting takes.
        filling = get_context("spawn").Process(target=fill_run, args=(root, TRIALS))
        filling.start()
        filling.join()
        engine = open_database(root)
        with Session(engine) as session:
            numbers = finished_numbers(session, 1)
            begun = time.perf_counter()
            for _ in finished_trials(session, numbers):
                pass
            bound = time.perf_counter() - begun
        for form in FORMATS:
            few, _ = _exported(engine, root, form, numbers[:FEW])
            many, took = _exported(engine, root, form, numbers)
            size = (root / "out").stat().st_size / 1e6
            lines.append(
                f"exporting {TRIALS:,} trials as {form}: {took:.1f} s, {took / bound:.2f} × "
                f"reading them alone ({bound:.1f} s); {size:.0f} MB written, memory grows by "
                f"{many:.0f} MB (by {few:.0f} MB for {FEW:,})"
            )
        engine.dispose()
    return "\n".join(lines)


def _exported(
    engine: Engine, root: Path, form: ExportFormat, numbers: list[int]
) -> tuple[float, float]:
    """Megabytes by which memory grew at most, and seconds."""
    with _grown() as grown, Session(engine) as session:
        begun = time.perf_counter()
        export_to_file(session, 1, root / "out", form, numbers=numbers)
        took = time.perf_counter() - begun
    return grown[0], took


@contextmanager
def _grown() -> Iterator[list[float]]:
    """How far memory grows in the block, looked at a hundred times a second."""
    process, over = psutil.Process(), threading.Event()
    before = process.memory_info().rss
    most = [0.0]

    def look() -> None:
        while not over.wait(LOOK_S):
            most[0] = max(most[0], (process.memory_info().rss - before) / 1e6)

    watching = threading.Thread(target=look)
    watching.start()
    try:
        yield most
    finally:
        over.set()
        watching.join()


if __name__ == "__main__":
    print(measure())
