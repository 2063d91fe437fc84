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
READ_YAML = """
import sys, yaml
from pathlib import Path
for file in sorted(Path(sys.argv[1]).rglob("*.yaml")):
    yaml.load(file.read_bytes(), Loader=yaml.CSafeLoader)
"""


def measure() -> str:
    """`ferox --version` and `score` of one trace against `python -c pass`, `verify` of the demo
    against an interpreter that reads its YAML and no more."""
    bare = _median_seconds("-c", "pass")
    tasks = str(TRACE.with_name("window-then-berth.yaml"))
    figures = []
    for name, *words in (
        ("--version",),
        ("score of one trace", "score", "--tasks", tasks, str(TRACE)),
    ):
        seconds = _median_seconds("-m", "ferox", *(words or [name]))
        figures.append(f"{name} {seconds * 1000:.0f} ms, {seconds / bare:.1f} ×")
    demo = str(TOP / "demo")
    reading = _median_seconds("-c", READ_YAML, demo)
    verifying = _median_seconds("-m", "ferox", "verify", demo)
    return (
        f"starting ferox, against an empty interpreter ({bare * 1000:.0f} ms; goal of --version "
        f"≤ 5): {'; '.join(figures)}; verify demo {verifying * 1000:.0f} ms, "
        f"{verifying / reading:.1f} × reading its YAML alone ({reading * 1000:.0f} ms; goal ≤ 3)"
    )


def _median_seconds(*arguments: str) -> float:
    seconds = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        subprocess.run([sys.executable, *arguments], check=True, capture_output=True)
        seconds.append(time.perf_counter() - begun)
    return statistics.median(seconds)
