"""Faults in words: what was injected, and when."""

from __future__ import annotations

from ferox.formats.fault import Fault

ENDING = frozenset(
    {"timeout", "tool_error", "protocol_error", "status", "drop", "garbled", "lost_session",
     "missing_tool", "model_status"}
)  # fmt: skip
"""Faults by which a call or a request fails; after the others a failure really happened."""


def fault_text(fault: Fault) -> str:
    """A fault as people read it: `status 503 at call 1`."""
    kind = fault.do.removeprefix("model_").replace("_", " ")
    detail = {
        "slow": f" by {fault.ms or 0:g} ms",
        "model_slow": f" by {fault.ms or 0:g} ms",
        "status": f" {fault.status}",
        "model_status": f" {fault.status}",
        "timeout": f" after {fault.after_ms:g} ms" if fault.after_ms else " without end",
        "huge": f", {fault.bytes:,} bytes",
    }.get(fault.do, "")
    unit = "request" if fault.do.startswith("model_") else "call"
    if fault.call is not None:
        when = f"at {unit} {fault.call}"
    elif fault.rate is not None:
        when = f"at a rate of {fault.rate:g}"
    else:
        when = f"at every {unit}"
    return f"{kind}{detail} {when}"


def describe_injection(kind: str | None, place: int | None, faults: list[Fault]) -> str | None:
    """What was injected at a call or a request to the model, None if nothing was.

    `kind` and `place` are the event's `fault` and `fault_n`, `faults` the task's. A trace from
    elsewhere, or a task that has changed since, may not hold the fault that took effect: then
    only its kind is named.
    """
    if not kind:
        return None
    if place is not None and place < len(faults) and faults[place].do == kind:
        return f"injected by this task: {fault_text(faults[place])}"
    return f"injected by Ferox: {kind.removeprefix('model_').replace('_', ' ')}"
