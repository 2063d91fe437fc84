"""How long a command takes to start, beside an interpreter that does nothing."""

from __future__ import annotations

import statistics
import subprocess
import sys
import time
from pathlib import Path

TIMES = 7
TOP = Path(__file__).resolve().parents[1]
TRACE = TOP / "tests/data/window-then-berth.trace.json"


def measure() -> str:
    """`ferox --version`, `verify` of the demo and `score` of one trace against `python -c pass`."""
    bare = _median_seconds("-c", "pass")
    tasks = str(TRACE.with_name("window-then-berth.yaml"))
    figures = []
    for name, *words in (
        ("--version",),
        ("verify demo", "verify", str(TOP / "demo")),
        ("score of one trace", "score", "--tasks", tasks, str(TRACE)),
    ):
        seconds = _median_seconds("-m", "ferox", *(words or [name]))
        figures.append(f"{name} {seconds * 1000:.0f} ms, {seconds / bare:.1f} ×")
    return f"starting ferox, against an empty interpreter ({bare * 1000:.0f} ms): " + "; ".join(
        figures
    )


def _median_seconds(*arguments: str) -> float:
    seconds = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        subprocess.run([sys.executable, *arguments], check=True, capture_output=True)
        seconds.append(time.perf_counter() - begun)
    return statistics.median(seconds)
