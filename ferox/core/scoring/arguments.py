"""Arguments: did each matched call carry what it should?"""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from jsonschema import Draft202012Validator
from jsonschema.exceptions import SchemaError, best_match

from ferox.core.json_values import brief, same
from ferox.core.matchers import ABSENT
from ferox.core.scoring.evidence import Evidence, PartEvidence, check, share_held
from ferox.core.script import Expected
from ferox.core.story import OWN, Call
from ferox.formats.result import Check


@lru_cache(maxsize=2048)
def _validator(text: str) -> Draft202012Validator | None:
    schema = json.loads(text)
    try:
        Draft202012Validator.check_schema(schema)
    except SchemaError:
        return None
    return Draft202012Validator(schema)


def schema_fault(schema: Any, args: Any) -> str | None:
    """What is wrong with the arguments under a schema (2020-12, `format` not asserted).

    Raises:
        ValueError: the schema itself is broken.
    """
    validator = _validator(json.dumps(schema))
    if validator is None:
        raise ValueError("the schema is broken")
    if validator.is_valid(args):
        return None
    error = best_match(validator.iter_errors(args))
    where = f"{error.json_path}: " if error.json_path != "$" else ""
    return f"{where}{error.message}"


def _schema_check(evidence: Evidence, expected: Expected, call: Call) -> Check:
    id = f"{expected.name}.schema"
    offered = evidence.story.trace["tools"].get(call.tool, {})
    if offered.get("input") is None:
        what = "its schema was not seen" if call.tool.startswith(OWN) else "it has no input schema"
        return check("arguments", id, None, f"{call.tool}: not tested: {what}", [call])
    try:
        fault = schema_fault(offered["input"], call.args)
    except ValueError as error:
        return check("arguments", id, None, f"{call.tool}: {error}", [call])
    told = f"arguments break the schema: {fault}" if fault else "arguments fit the schema"
    return check("arguments", id, fault is None, told, [call])


def _argument_checks(evidence: Evidence, expected: Expected, call: Call) -> list[Check]:
    at = evidence.situation(call)
    checks = []
    for name, matcher in expected.args.items():
        value = call.args.get(name, ABSENT)
        there = "was not given" if value is ABSENT else f"was {brief(value)}"
        holds: bool | None = matcher.holds(value, at)
        told = f"{name} {there}"
        if not holds:
            told += f"; expected {evidence.expectation(matcher)}"
            if evidence.draws_on_unseen(matcher):
                holds, told = None, f"{told}: not tested"
        checks.append(check("arguments", f"{expected.name}.args.{name}", holds, told, [call]))
    if expected.spec.only_args:
        more = sorted(set(call.args) - set(expected.args))
        told = f"also gave {', '.join(more)}" if more else "gave nothing besides"
        checks.append(check("arguments", f"{expected.name}.only_args", not more, told, [call]))
    if expected.spec.as_approved:
        ask = evidence.approved_by.get(call)
        approved = None if ask is None else ask.get("edited") or ask.get("args")
        ok = ask is not None and same(call.args, approved)
        told = "called as approved"
        if ask is None:
            told = "was called without an approval, so not as approved"
        elif not ok:
            told = f"was called otherwise than approved: {brief(approved)}"
        checks.append(check("arguments", f"{expected.name}.as_approved", ok, told, [call]))
    return checks


def part_arguments(evidence: Evidence, part: PartEvidence) -> tuple[list[float], list[Check]]:
    """The checks of a part's matched calls, and for each call the share that holds.

    A matched call with no check left has no share.
    """
    checks: list[Check] = []
    shares = []
    for copy, call in part.pairs:
        own = [
            _schema_check(evidence, copy.expected, call),
            *_argument_checks(evidence, copy.expected, call),
        ]
        checks += own
        held = share_held(own)
        if held is not None:
            shares.append(held)
    return shares, checks


def arguments_score(shares: list[float]) -> float | None:
    """The mean over matched calls; None if none has a check."""
    return round(sum(shares) / len(shares), 6) if shares else None
