"""Order: what had to be answered, granted or approved before a call started?"""

from __future__ import annotations

from itertools import pairwise

from ferox.core.scoring.evidence import Evidence, PartEvidence, make_check
from ferox.core.script import Expected
from ferox.core.story import fits_any
from ferox.formats.result import Check


def _chain_checks(evidence: Evidence, order: list[list[str]]) -> list[Check]:
    """`order.X.Y` for neighbours in the chains, each once, optional calls not made left out.

    A call of which nobody can say whether it was made is left out too, and its pairs are
    remarks: that the calls around it keep their order still follows from the chain.
    """
    checks: dict[tuple[str, str], Check] = {}
    unseen = evidence.unseen_names
    known = evidence.matched.keys() | evidence.incomplete_names | unseen
    for chain in order:
        links = [evidence.script.by_name[name][1] for name in chain if name in known]
        for x, y in pairwise(links):
            hidden = {x.name, y.name} & unseen
            if hidden:
                message = (
                    f"not tested: whether {' and '.join(sorted(hidden))} was called was not seen"
                )
                id = f"order.{x.name}.{y.name}"
                checks.setdefault((x.name, y.name), make_check("order", id, None, message))
        for x, y in pairwise(link for link in links if link.name not in unseen):
            if (x.name, y.name) not in checks:
                checks[x.name, y.name] = _chain_check(evidence, x, y)
    return list(checks.values())


def _chain_check(evidence: Evidence, x: Expected, y: Expected) -> Check:
    first, second = evidence.calls_of(x), evidence.calls_of(y)
    id, calls = f"order.{x.name}.{y.name}", [*first, *second]
    absent = [e.name for e in (x, y) if e.name in evidence.incomplete_names]
    if absent:
        message = f"{x.name} before {y.name} cannot hold: {' and '.join(absent)} not called"
        return make_check("order", id, False, message=message, calls=calls)
    started = min((c.start for c in second), default=0)
    late = [c for c in first if c.end is None or c.end > started]
    if not late:
        return make_check(
            "order", id, True, message=f"{x.name} was answered before {y.name} started", calls=calls
        )
    if any("times" in c.unseen for c in late) and min(c.start for c in late) <= started:
        message = f"not tested: when {x.name} and {y.name} were called was not seen"
        return make_check("order", id, None, message=message, calls=calls)
    if any(c.end is None for c in late):
        message = f"{x.name} was never answered, so {y.name} did not come after it"
    elif min(c.start for c in late) > started:
        message = f"{y.name} came before {x.name}"
    else:
        message = f"{y.name} started while {x.name} was still in flight"
    return make_check("order", id, False, message=message, calls=calls)


def _grant_check(evidence: Evidence, expected: Expected, grant: str) -> Check | None:
    calls = evidence.calls_of(expected)
    if not calls and expected.is_optional:
        return None
    id = f"order.grant:{grant}.{expected.name}"
    granted = [
        turn.start
        for turn in evidence.story.turns
        if (rule := evidence.script.find_rule(turn.part, turn.rule)) and rule.grants == grant
    ]
    if expected.name in evidence.unseen_names:
        message = f"not tested: whether {expected.name} was called was not seen"
        return make_check("order", id, None, message=message, calls=calls)
    if expected.name in evidence.incomplete_names:
        return make_check(
            "order", id, False, message=f"{expected.name} was not called", calls=calls
        )
    if not granted and "rules" in evidence.story.unseen:
        message = f"not tested: whether {expected.name} had a go-ahead was not seen"
        return make_check("order", id, None, message=message, calls=calls)
    if not granted:
        return make_check(
            "order",
            id,
            False,
            message=f"{expected.name} was called without the go-ahead",
            calls=calls,
        )
    ok = all(min(granted) <= c.start for c in calls)
    when = "after" if ok else "before"
    return make_check(
        "order", id, ok, message=f"{expected.name} was called {when} the go-ahead", calls=calls
    )


ASKED_NOBODY = "the agent asked nobody in this trial"


def _approval_check(evidence: Evidence, expected: Expected) -> Check | None:
    approvals = evidence.script.task.approvals
    entry = next((a for a in approvals if fits_any(expected.tool, [a.tool])), None)
    calls = evidence.calls_of(expected)
    if entry is None or entry.decision != "approve" or (not calls and expected.is_optional):
        return None
    id = f"order.approval.{expected.name}"
    if expected.name in evidence.unseen_names:
        message = f"not tested: whether {expected.name} was called was not seen"
        return make_check("order", id, None, message=message, calls=calls)
    if expected.name in evidence.incomplete_names:
        return make_check(
            "order", id, False, message=f"{expected.name} was not called", calls=calls
        )
    ok = all(call in evidence.approved_by for call in calls)
    if not ok and "approvals" in evidence.story.unseen:
        message = f"not tested: whether {expected.name} was approved was not seen"
        return make_check("order", id, None, message=message, calls=calls)
    message = "was approved before it was called" if ok else "was called, and not approved before"
    if not ok and not evidence.story.asks:
        # Of a framework without a step for approvals, this is the whole explanation.
        message += f": {ASKED_NOBODY}"
    return make_check("order", id, ok, message=f"{expected.name} {message}", calls=calls)


def part_order(evidence: Evidence, part: PartEvidence) -> list[Check]:
    """A part's chains, and what had to be granted or approved first."""
    checks: list[Check | None] = [*_chain_checks(evidence, part.script.expect.order)]
    for expected in part.script.expected:
        if expected.spec.after_grant:
            checks.append(_grant_check(evidence, expected, expected.spec.after_grant))
        checks.append(_approval_check(evidence, expected))
    return [c for c in checks if c]


def whole_order(evidence: Evidence) -> list[Check]:
    """The chains over all parts."""
    return _chain_checks(evidence, evidence.script.whole.order)
