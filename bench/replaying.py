"""Playing trials back, against running them: the same trials of the plain loop, side by side."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from bench.trials import AT_ONCE, workspace
from ferox.runs.records import plan_run
from ferox.runs.replay.replay_run import ReplayChoice, chosen_trials, replay_trials
from ferox.runs.worker import Worker
from ferox.store.database import open_database
from ferox.workspace import load_workspace

TRIALS = 60


async def measure() -> str:
    """Seconds of both, twice in turn; the better of each."""
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        engine, loaded = open_database(root), load_workspace(root)
        ran, played = [], []
        for _ in range(2):
            run = plan_run(engine, loaded, ["small"], ["plain"], TRIALS, AT_ONCE)
            begun = time.perf_counter()
            await Worker(engine, root, run).carry_out()
            ran.append(time.perf_counter() - begun)
            trials = chosen_trials(engine, run, ReplayChoice())
            begun = time.perf_counter()
            came = [t.came async for t in replay_trials(engine, loaded, run, trials, AT_ONCE)]
            played.append(time.perf_counter() - begun)
            same = sum(one.verdict == "same" for one in came)
            assert same == TRIALS, f"{same} of {TRIALS} the same"
        engine.dispose()
    return (
        f"playing {TRIALS} trials back, all the same: {min(played):.1f} s, "
        f"{min(played) / min(ran):.2f} × running them ({min(ran):.1f} s; goal ≤ 0.8)"
    )
