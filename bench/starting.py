"""How long a command takes to start, beside an interpreter that does nothing."""

from __future__ import annotations

import statistics
import subprocess
import sys
import time
from pathlib import Path

TIMES = 7
DEMO = Path(__file__).resolve().parents[1] / "demo"


def measure() -> str:
    """`ferox --version` and `ferox verify` of the demo against `python -c pass`."""
    bare = _median_seconds("-c", "pass")
    version = _median_seconds("-m", "ferox", "--version")
    verify = _median_seconds("-m", "ferox", "verify", str(DEMO))
    return (
        f"starting: ferox --version {version * 1000:.0f} ms, {version / bare:.1f} × an empty "
        f"interpreter; ferox verify demo {verify * 1000:.0f} ms, {verify / bare:.1f} ×"
    )


def _median_seconds(*arguments: str) -> float:
    seconds = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        subprocess.run([sys.executable, *arguments], check=True, capture_output=True)
        seconds.append(time.perf_counter() - begun)
    return statistics.median(seconds)
