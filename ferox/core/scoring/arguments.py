"""Arguments: did each matched call carry what it should?"""

from __future__ import annotations

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import brief_json, equal_json
from ferox.core.matcher import ABSENT
from ferox.core.scoring.evidence import Evidence, PartEvidence, make_check, share_held
from ferox.core.script import Expected
from ferox.core.story import OWN, Call
from ferox.formats.result import Check
from ferox.intake.limits import GivenUp


def _schema_check(evidence: Evidence, expected: Expected, call: Call) -> Check:
    id = f"{expected.name}.schema"
    offered = evidence.story.trace["tools"].get(call.tool, {})
    if offered.get("input") is None:
        hidden = call.tool.startswith(OWN) or "offers" in evidence.story.unseen
        what = "its schema was not seen" if hidden else "it has no input schema"
        return make_check(
            "arguments", id, None, message=f"{call.tool}: not tested: {what}", calls=[call]
        )
    try:
        fault = schema_of(offered["input"]).find_fault(call.args)
    except (UnusableSchema, GivenUp) as error:
        return make_check(
            "arguments", id, None, message=f"{call.tool}: not tested: {error}", calls=[call]
        )
    message = f"arguments break the schema: {fault}" if fault else "arguments fit the schema"
    return make_check("arguments", id, fault is None, message=message, calls=[call])


def _argument_checks(evidence: Evidence, expected: Expected, call: Call) -> list[Check]:
    at = evidence.match_context(call)
    checks = []
    for name, matcher in expected.args.items():
        value = call.args.get(name, ABSENT)
        there = "was not given" if value is ABSENT else f"was {brief_json(value)}"
        message = f"{name} {there}"
        try:
            holds: bool | None = matcher.test(value, at)
        except GivenUp as error:
            holds, message = None, f"{message}: not tested: {error}"
        if holds is False:
            message += f"; expected {evidence.describe_matcher(matcher)}"
            if evidence.draws_on_unseen(matcher):
                holds, message = None, f"{message}: not tested"
            elif evidence.may_be_edited(call):
                holds, message = None, f"{message}: not tested: approvals may have edited it"
        if evidence.is_undecidable(matcher):
            holds, message = None, f"{name} {there}: not tested: where it is from was not seen"
        checks.append(
            make_check(
                "arguments", f"{expected.name}.args.{name}", holds, message=message, calls=[call]
            )
        )
    if expected.spec.only_args:
        more = sorted(set(call.args) - set(expected.args))
        message = f"also gave {', '.join(more)}" if more else "gave nothing besides"
        checks.append(
            make_check(
                "arguments", f"{expected.name}.only_args", not more, message=message, calls=[call]
            )
        )
    if expected.spec.as_approved:
        ask = evidence.approved_by.get(call)
        if ask is None and "approvals" in evidence.story.unseen:
            id, message = f"{expected.name}.as_approved", "not tested: approvals were not seen"
            return [*checks, make_check("arguments", id, None, message, calls=[call])]
        approved = None if ask is None else ask.get("edited") or ask.get("args")
        ok = ask is not None and equal_json(call.args, approved)
        message = "called as approved"
        if ask is None:
            message = "was called without an approval, so not as approved"
        elif not ok:
            message = f"was called with arguments other than those approved: {brief_json(approved)}"
        checks.append(
            make_check(
                "arguments", f"{expected.name}.as_approved", ok, message=message, calls=[call]
            )
        )
    return checks


def _unseen_arguments(expected: Expected, call: Call) -> list[Check]:
    """The checks of a call whose arguments nobody has seen."""
    names = [f"args.{name}" for name in expected.args]
    names += ["only_args"] * expected.spec.only_args + ["as_approved"] * expected.spec.as_approved
    message = f"{call.tool}: not tested: its arguments were not seen"
    return [
        make_check("arguments", f"{expected.name}.{name}", None, message, calls=[call])
        for name in ("schema", *names)
    ]


def part_arguments(evidence: Evidence, part: PartEvidence) -> tuple[list[float], list[Check]]:
    """The checks of a part's matched calls, and for each call the share that holds.

    A matched call with no check left has no share.
    """
    checks: list[Check] = []
    shares = []
    for copy, call in part.matched_pairs:
        own = (
            _unseen_arguments(copy.expected, call)
            if "arguments" in call.unseen
            else [
                _schema_check(evidence, copy.expected, call),
                *_argument_checks(evidence, copy.expected, call),
            ]
        )
        checks += own
        held = share_held(own)
        if held is not None:
            shares.append(held)
    return shares, checks


def arguments_score(shares: list[float]) -> float | None:
    """The mean over matched calls; None if none has a check."""
    return round(sum(shares) / len(shares), 6) if shares else None
