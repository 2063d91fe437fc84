"""Order: what had to be answered, granted or approved before a call started?"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from ferox.core.scoring.evidence import Evidence, PartEvidence, make_check
from ferox.core.scoring.stages import StageSpan, stage_span
from ferox.core.script import Expected, approves_sometime
from ferox.core.story import to_micros
from ferox.formats.result import Check
from ferox.formats.suite import StageStep


@dataclass(frozen=True)
class AnswerStep:
    """A server's question that an entry of `answers` answered, as a step of a chain."""

    name: str


Link = Expected | StageStep | AnswerStep
"""A step of a chain: an expected call, all that a stage does, or a question that was answered."""


def _link_name(link: Link) -> str:
    return f"by:{link.by}" if isinstance(link, StageStep) else link.name


def _links_of(evidence: Evidence, chain: list[str | StageStep]) -> Iterator[Link]:
    """The steps of a chain; optional calls that were not made are left out."""
    known = evidence.matched.keys() | evidence.incomplete_names | evidence.unseen_names
    for step in chain:
        if isinstance(step, StageStep):
            yield step
        elif step in evidence.script.answer_names:
            yield AnswerStep(step)
        elif step in known:
            yield evidence.script.by_name[step][1]


def _chain_checks(
    evidence: Evidence, order: list[list[str | StageStep]], part: PartEvidence | None
) -> list[Check]:
    """`order.X.Y` for neighbours in the chains, each once, optional calls not made left out.

    A call of which nobody can say whether it was made is left out too, and its pairs are
    remarks: that the calls around it keep their order still follows from the chain.
    """
    checks: dict[str, Check] = {}
    unseen = evidence.unseen_names
    for chain in order:
        links = list(_links_of(evidence, chain))
        for x, y in pairwise(links):
            names = _link_name(x), _link_name(y)
            hidden = {*names} & unseen
            if hidden:
                message = (
                    f"not tested: whether {' and '.join(sorted(hidden))} was called was not seen"
                )
                id = f"order.{names[0]}.{names[1]}"
                checks.setdefault(id, make_check("order", id, None, message))
        for x, y in pairwise(link for link in links if _link_name(link) not in unseen):
            id = f"order.{_link_name(x)}.{_link_name(y)}"
            if id not in checks:
                checks[id] = (
                    _chain_check(evidence, x, y)
                    if isinstance(x, Expected) and isinstance(y, Expected)
                    else _spans_check(evidence, x, y, part)
                )
    return list(checks.values())


def _spans_check(evidence: Evidence, x: Link, y: Link, part: PartEvidence | None) -> Check:
    """`order.X.by:STAGE` and the like: all that the first is ends before the second begins."""
    id = f"order.{_link_name(x)}.{_link_name(y)}"
    if AnswerStep in (type(x), type(y)) and evidence.story.unseen:
        return make_check("order", id, None, "not tested: questions of servers were not seen")
    if isinstance(x, AnswerStep) and isinstance(y, Expected) and _is_within(evidence, x, y):
        calls = evidence.calls_of(y)
        message = f"{x.name} was answered before {y.name} was"
        return make_check("order", id, True, message=message, calls=calls)
    spans: list[StageSpan] = []
    for link in (x, y):
        span = _span_of(evidence, link, part)
        if span is None:
            what = "not tested: {} was not seen" if isinstance(link, StageStep) else "{} was not {}"
            did = "asked" if isinstance(link, AnswerStep) else "called"
            name = link.by if isinstance(link, StageStep) else link.name
            passed = None if isinstance(link, StageStep) else False
            return make_check("order", id, passed, what.format(name, did))
        spans.append(span)
    first, second = spans
    holds = first.end is not None and first.end <= second.start
    done, begun = _end_words(x), _start_words(y)
    message = f"{done} before {begun}" if holds else f"{begun} before {done}"
    return make_check("order", id, holds, message=message, calls=[*first.calls, *second.calls])


def _span_of(evidence: Evidence, link: Link, part: PartEvidence | None) -> StageSpan | None:
    """When a step began and ended; None if it was not seen, or did not come about."""
    if isinstance(link, StageStep):
        return stage_span(evidence.story, link.by, part)
    if isinstance(link, AnswerStep):
        asked = [to_micros(q["t"]) for q in evidence.answered(link.name)]
        ends = [to_micros(q["t"] + (q.get("s") or 0)) for q in evidence.answered(link.name)]
        return StageSpan(min(asked), max(ends), []) if asked else None
    if link.name in evidence.incomplete_names:
        return None
    calls = evidence.calls_of(link)
    answered = [call.end for call in calls if call.end is not None]
    end = max(answered) if len(answered) == len(calls) else None
    return StageSpan(min(call.start for call in calls), end, calls)


def _is_within(evidence: Evidence, question: AnswerStep, expected: Expected) -> bool:
    """Whether a server asked in the middle of these very calls, and had its answer by then."""
    calls = {call.id for call in evidence.calls_of(expected)}
    asked = evidence.answered(question.name)
    return bool(asked) and all(q.get("call") in calls for q in asked)


def _end_words(link: Link) -> str:
    if isinstance(link, StageStep):
        return f"{link.by} had done"
    return f"{link.name} was answered"


def _start_words(link: Link) -> str:
    if isinstance(link, StageStep):
        return f"{link.by} began"
    return f"{link.name} was asked" if isinstance(link, AnswerStep) else f"{link.name} started"


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
    calls = evidence.calls_of(expected)
    approves = approves_sometime(evidence.script.task.approvals, expected.tool)
    if not approves or (not calls and expected.is_optional):
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
    checks: list[Check | None] = [*_chain_checks(evidence, part.script.expect.order, part)]
    for expected in part.script.expected:
        if expected.spec.after_grant:
            checks.append(_grant_check(evidence, expected, expected.spec.after_grant))
        checks.append(_approval_check(evidence, expected))
    return [c for c in checks if c]


def whole_order(evidence: Evidence) -> list[Check]:
    """The chains over all parts."""
    return _chain_checks(evidence, evidence.script.whole.order, None)
