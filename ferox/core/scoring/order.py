"""Order: what had to be answered, granted or approved before a call started?"""

from __future__ import annotations

from itertools import pairwise

from ferox.core.scoring.evidence import Evidence, check, share_held
from ferox.core.script import Expected
from ferox.core.story import Call, fits_any, micros
from ferox.formats.result import Check
from ferox.formats.trace import Event


def _pairs(evidence: Evidence) -> list[tuple[Expected, Expected]]:
    pairs: dict[tuple[str, str], tuple[Expected, Expected]] = {}
    by_name = evidence.script.by_name
    for chain in evidence.script.task.expect.order:
        links = [
            by_name[name]
            for name in chain
            if name in evidence.matched or _incomplete(evidence, by_name[name])
        ]
        for x, y in pairwise(links):
            pairs.setdefault((x.name, y.name), (x, y))
    return list(pairs.values())


def _incomplete(evidence: Evidence, *expected: Expected) -> list[str]:
    return [e.name for e in expected if any(c.expected.name == e.name for c in evidence.missing)]


def _chain_check(evidence: Evidence, x: Expected, y: Expected) -> Check:
    first, second = evidence.calls_of(x), evidence.calls_of(y)
    id, calls = f"order.{x.name}.{y.name}", [*first, *second]
    absent = _incomplete(evidence, x, y)
    if absent:
        told = f"{x.name} before {y.name} cannot hold: {' and '.join(absent)} not called"
        return check("order", id, False, told, calls)
    started = min((c.start for c in second), default=0)
    late = [c for c in first if c.end is None or c.end > started]
    if not late:
        return check("order", id, True, f"{x.name} was answered before {y.name} started", calls)
    if any(c.end is None for c in late):
        told = f"{x.name} was never answered, so {y.name} did not come after it"
    elif min(c.start for c in late) > started:
        told = f"{y.name} came before {x.name}"
    else:
        told = f"{y.name} started while {x.name} was still in flight"
    return check("order", id, False, told, calls)


def _grant_check(evidence: Evidence, expected: Expected, grant: str) -> Check | None:
    calls = evidence.calls_of(expected)
    if not calls and expected.optional:
        return None
    id = f"order.grant:{grant}.{expected.name}"
    rules = evidence.script.task.user
    granted = [
        turn.start
        for turn in evidence.story.turns
        if turn.rule is not None and turn.rule < len(rules) and rules[turn.rule].grants == grant
    ]
    if _incomplete(evidence, expected):
        return check("order", id, False, f"{expected.name} was not called", calls)
    if not granted:
        return check("order", id, False, f"{expected.name} was called without the go-ahead", calls)
    ok = all(min(granted) <= c.start for c in calls)
    when = "after" if ok else "before"
    return check("order", id, ok, f"{expected.name} was called {when} the go-ahead", calls)


def asks_by_call(evidence: Evidence) -> dict[Call, Event]:
    """The approving ask that each matched call uses up.

    Matched calls take asks in order of time, each the earliest unused one for its tool
    that was decided (t + s) by the call's start.
    """
    left = [a for a in evidence.story.asks if a.get("decision") == "approve"]
    left.sort(key=lambda a: a["t"])
    taken: dict[Call, Event] = {}
    for call in sorted((c for _, c in evidence.pairs), key=lambda c: c.index):
        for ask in left:
            decided = micros(ask["t"] + (ask.get("s") or 0))
            if ask["tool"] == call.tool and decided <= call.start:
                taken[call] = ask
                left.remove(ask)
                break
    return taken


def _approval_check(
    evidence: Evidence, expected: Expected, asks: dict[Call, Event]
) -> Check | None:
    approvals = evidence.script.task.approvals
    entry = next((a for a in approvals if fits_any(expected.tool, [a.tool])), None)
    calls = evidence.calls_of(expected)
    if entry is None or entry.decision != "approve" or (not calls and expected.optional):
        return None
    id = f"order.approval.{expected.name}"
    if _incomplete(evidence, expected):
        return check("order", id, False, f"{expected.name} was not called", calls)
    ok = all(call in asks for call in calls)
    told = "was approved before it was called" if ok else "was called without an approval"
    return check("order", id, ok, f"{expected.name} {told}", calls)


def order_checks(evidence: Evidence) -> tuple[float | None, list[Check]]:
    """The checks, and the part that holds; None if there are none."""
    checks: list[Check | None] = [_chain_check(evidence, x, y) for x, y in _pairs(evidence)]
    asks = asks_by_call(evidence)
    for expected in evidence.script.expected:
        if expected.spec.after_grant:
            checks.append(_grant_check(evidence, expected, expected.spec.after_grant))
        checks.append(_approval_check(evidence, expected, asks))
    made = [c for c in checks if c]
    return share_held(made), made
