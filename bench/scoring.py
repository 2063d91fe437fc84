"""Scoring: trials a second on one core, 6 expected calls, 8 actual ones."""

from __future__ import annotations

import time
from itertools import cycle, islice
from typing import Any

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import Suite

ROUNDS = 1500
TOOLS = [f"s/tool{i}" for i in range(6)]


def _call(number: int, tool: str) -> dict[str, Any]:
    return {
        "t": number * 1.0, "kind": "call", "id": f"c{number}", "seam": "tool", "tool": tool,
        "args": {"n": number, "name": f"v{number}"}, "s": 0.5, "result": {"id": number},
        "error": None, "fault": None, "proposal": None,
    }  # fmt: skip


def trial(more: int = 2) -> tuple[Suite, Any]:
    """A suite with one task, and a trace of it with 6 expected calls and some more; by default of
    the size that the goal names."""
    calls = [
        {"as": f"e{i}", "tool": tool, "args": {"name": {"matches": "^v"}, "n": {"any": True}}}
        for i, tool in enumerate(TOOLS)
    ]
    expect = {
        "calls": calls,
        "order": [[c["as"] for c in calls]],
        "answer": [{"matches": "Done"}],
    }
    task = {"task": "t", "say": "Go.", "expect": expect}
    suite = Suite.model_validate({"ferox": 1, "suite": "s", "tasks": [task]})
    made = [
        _call(i + 1, tool)
        for i, tool in enumerate([*TOOLS, *islice(cycle((TOOLS[2], TOOLS[4])), more)])
    ]
    trace: Any = {
        "ferox_trace": 1, "agent": "a", "suite": "s", "task": "t", "trial": 1,
        "clock": "2031-03-14T06:30:00Z", "zone": "UTC", "model_seam": False,
        "tools": {tool: {"input": {"type": "object"}} for tool in TOOLS},
        "events": [
            {"t": 0.0, "kind": "turn", "part": 0, "text": "Go.", "rule": None}, *made,
            {"t": 9.0 + more, "kind": "reply", "text": "Done.", "data": None},
            {"t": 9.1 + more, "kind": "end", "why": "done", "reason": None},
        ],
    }  # fmt: skip
    return suite, trace


def measure() -> str:
    """A trial scored again and again."""
    suite, trace = trial()
    script = compile_script(suite, suite.tasks[0])
    score_trial(script, trace)
    begun = time.perf_counter()
    for _ in range(ROUNDS):
        score_trial(script, trace)
    rate = ROUNDS / (time.perf_counter() - begun)
    return f"scoring: {rate:.0f} trials a second on one core (goal ≥ 5,000)"
