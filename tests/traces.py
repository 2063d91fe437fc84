"""Small scripts and traces to score, written the way a test reads best."""

from __future__ import annotations

from typing import Any

from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Check, Result
from ferox.formats.suite import Suite

TOOLS: dict[str, Any] = {
    "harbour/vessel_details": {"input": {"type": "object"}},
    "harbour/assign_berth": {"input": {"type": "object"}},
    "harbour/list_berths": {"input": {"type": "object"}},
    "tides/tide_window": {"input": {"type": "object"}},
    "tides/high_water": {"input": {"type": "object"}},
}


def script(expect: dict[str, Any] | None = None, **task: Any) -> Script:
    """A task named `t` of a suite named `s` with these expectations."""
    body = {"task": "t", "say": "Book N1 for 9471102.", "expect": expect or {}, **task}
    suite = Suite.model_validate(
        {"ferox": 1, "suite": "s", "zone": "Europe/Lisbon", "tasks": [body]}
    )
    return compile_script(suite, suite.tasks[0])


def call(id: str, tool: str, t: float, args: Any = None, s: float | None = 0.1, **more: Any) -> Any:
    """A call at the tool seam, answered unless told otherwise."""
    fields = {"result": None, "error": None, "fault": None, "proposal": None, **more}
    return {
        "t": t, "kind": "call", "id": id, "seam": "tool", "tool": tool, "args": args or {},
        "s": s, **fields,
    }  # fmt: skip


def failed(id: str, tool: str, t: float, args: Any = None, kind: str = "tool_error") -> Any:
    """A call that ended in an error."""
    return call(id, tool, t, args, error={"kind": kind, "message": "the register is busy"})


def turn(t: float = 0.0, text: str = "Book N1 for 9471102.", rule: int | None = None) -> Any:
    """Words of the user."""
    return {"t": t, "kind": "turn", "part": 0, "text": text, "rule": rule}


def reply(t: float, text: str = "Done.", data: Any = None) -> Any:
    """Words of the agent."""
    return {"t": t, "kind": "reply", "text": text, "data": data}


def model(
    id: str, t: float, proposed: Any = (), offered: Any = None, s: float = 0.1, **more: Any
) -> Any:
    """A request to the model; `proposed` are pairs of id and tool."""
    return {
        "t": t, "kind": "model", "id": id, "s": s, "voice": "main",
        "offered": list(TOOLS) if offered is None else offered,
        "proposed": [{"id": p, "tool": tool, "args": {}} for p, tool in proposed],
        "text": None, "usage": {"input": 10, "output": 5}, "error": None, "fault": None, **more,
    }  # fmt: skip


def end(t: float = 9.0, why: str = "done", reason: str | None = None) -> Any:
    """The end of a trial."""
    return {"t": t, "kind": "end", "why": why, "reason": reason}


def trace(*events: Any, **fields: Any) -> Any:
    """A trace of these events; one without words gets a turn before and a reply after."""
    happened = list(events)
    if not any(e["kind"] == "turn" for e in happened):
        happened = [turn(), *happened, reply(8.0)]
    if not any(e["kind"] == "end" for e in happened):
        happened.append(end())
    return {
        "ferox_trace": 1, "agent": "a", "suite": "s", "task": "t", "trial": 1,
        "clock": "2031-03-14T06:30:00Z", "zone": "Europe/Lisbon", "model_seam": False,
        "tools": TOOLS, "events": happened, **fields,
    }  # fmt: skip


def judged(expect: dict[str, Any], *events: Any, **task: Any) -> Result:
    """The result of events under expectations."""
    return score_trial(script(expect, **task), trace(*events))


def checks(result: Result) -> dict[str, bool | None]:
    """What became of each check; copies of an id: the last."""
    return {c["id"]: c["passed"] for c in result["checks"]}


def find(result: Result, id: str) -> Check:
    """One check."""
    return next(c for c in result["checks"] if c["id"] == id)
