"""Memory of each warm agent process of the demo, and how long it takes to open.

Needs the demo's environments (`script/setup`).
"""

from __future__ import annotations

import time
from pathlib import Path

import psutil

from ferox.agents.links.process import ProcessLink
from ferox.formats.suite import Expect, Task
from ferox.gateway.gateway import Gateway
from ferox.runs.linking import link_of
from ferox.runs.overrides import Overrides
from ferox.runs.scripted_user import ScriptedUser
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_by_hand import job_by_hand, snapshot_by_hand
from ferox.workspace import load_workspace

DEMO = Path(__file__).resolve().parents[1] / "demo"
AGENTS = (
    "duty-officer-steady",
    "desk-smolagents-steady",
    "desk-openai-agents-steady",
    "desk-pydantic-ai-steady",
    "desk-script-steady",
)


def _memory(watchman: int) -> float:
    """Resident memory of what stands below a watchman, MB."""
    below = psutil.Process(watchman).children(recursive=True)
    return sum(process.memory_info().rss for process in below) / 2**20


async def _one(name: str) -> str:
    snapshot = snapshot_by_hand(load_workspace(DEMO), name, Overrides())
    link = link_of(snapshot, name, DEMO)
    assert isinstance(link, ProcessLink)
    task = Task(task="talk", say="When is high water tomorrow?", expect=Expect())
    begun = time.perf_counter()
    try:
        async with Gateway().serve() as gateway:
            surroundings = TrialSurroundings(gateway=gateway, link=link, folder=DEMO)
            running = TrialRun(job_by_hand(snapshot, name), surroundings, ScriptedUser(task))
            trace = await running.carry_out()
        last = trace["events"][-1]
        assert last["kind"] == "end" and last["why"] == "done", last
        (process,) = link.idle_processes
        opened = trace["link"]["start_s"]
        taken = time.perf_counter() - begun
        return f"{name} {_memory(process.pid):.0f} MB, opens in {opened:.1f} s of {taken:.1f} s"
    finally:
        await link.shut_down()


async def measure() -> str:
    """Each agent after one conversation."""
    if not (DEMO / ".venv-agents").is_dir():
        return "warm agent processes: not measured, the demo's environments are not there"
    return "warm agent processes: " + "; ".join([await _one(name) for name in AGENTS])
