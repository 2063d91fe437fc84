"""Outcome: is the answer right, and is the record right at the end?"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import tzinfo
from typing import Any

from ferox.core.json_paths import find_nodes
from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import brief_json, canonical_json
from ferox.core.matcher import MatchContext, Matcher
from ferox.core.naming import counted_noun
from ferox.core.reply_values import stated_values
from ferox.core.scoring.evidence import NOT_LOOKED_UP, Evidence, PartEvidence, make_check
from ferox.core.scoring.stages import said_by_stage
from ferox.core.script import ExpectedAnswer
from ferox.core.story import OWN, Turn, to_micros
from ferox.core.support import ReplyValue, judge_reply, sources_of
from ferox.core.unseen import unseen_text
from ferox.core.value_sources import ValueSource
from ferox.core.writings import first_place, stands_in
from ferox.formats.result import Check
from ferox.formats.suite import AnswerCheck, Count, StateCheck
from ferox.intake.json_text import read_json
from ferox.intake.limits import GivenUp, IntakeError
from ferox.intake.patterns import PatternError, compile_pattern

Judgement = tuple[bool | None, str]


def _match_context(evidence: Evidence) -> MatchContext:
    story = evidence.story
    return MatchContext(
        evidence.clock,
        evidence.source_values,
        lambda: "\n".join(text for _, text in story.user_words),
        lambda: [c.result_text for c in story.calls],
    )


def _mentions_check(evidence: Evidence, demand: ExpectedAnswer, reply: str) -> Judgement:
    spec, _, source = demand
    values = [spec.mentions]
    if source is not None:
        found = evidence.source_values(source, pick=ValueSource.nodes)
        if found is None and source.name in evidence.unseen_names:
            return None, f"whether {source.name} was called was not seen: not tested"
        if found is None:
            return None, f"{source.name} was not called, and is optional: not tested"
        values = found
        if not values and spec.at_least != 0:
            return False, f"nothing found in {source}"
    zone = evidence.clock.tz
    if spec.at_least is not None or spec.only:
        values = [x for v in values for x in (v if isinstance(v, list) else [v])]
    absent = [v for v in values if not stands_in(v, reply, zone, spec.as_)]
    there = len(values) - len(absent)
    if there < (len(values) if spec.at_least is None else spec.at_least):
        message = f"the answer does not mention {_listed(absent)}"
        if spec.at_least is not None:
            message += f": it mentions {there} of {len(values)}, and {spec.at_least} are wanted"
        return False, message
    if spec.only:
        others = _other_values(demand, values, reply, zone)
        if others:
            return False, f"the answer mentions {_listed(others)} too, which is none of them"
    if spec.in_order:
        each = [x for v in values for x in (v if isinstance(v, list) else [v]) if x not in absent]
        places = [first_place(v, reply, zone, spec.as_) or 0 for v in each]
        if places != sorted(places):
            return False, f"the answer does not mention in this order: {_listed(each)}"
    if spec.only and not there:
        return True, "the answer mentions nothing of this kind"
    return True, f"the answer mentions {_listed([v for v in values if v not in absent])}"


def _listed(values: list[Any]) -> str:
    return ", ".join(brief_json(v) for v in values)


def _other_values(demand: ExpectedAnswer, values: list[Any], reply: str, zone: tzinfo) -> list[str]:
    """What a reply states of the same kind, and is none of the values."""
    spec, _, source = demand
    if source is not None and source.pattern is not None:
        alike = replace(source, of=None, column=None)
        return [one for one in alike.pieces_of(reply) if one not in values]
    kind = "link" if source is not None and source.of == "links" else spec.as_
    stated = [value.text for value in stated_values(reply) if value.kind == kind]
    if kind == "link":
        return [one for one in stated if one not in values]
    return [one for one in stated if not any(stands_in(v, one, zone, spec.as_) for v in values)]


def _json_of(reply: Turn) -> Any:
    """`data`, else the text, else its one fenced block, parsed.

    Raises:
        ValueError: there is no JSON in it.
    """
    if reply.data is not None:
        return reply.data
    text = reply.reply or ""
    blocks = re.findall(r"```[a-z]*\n(.*?)```", text, re.S)
    try:
        return read_json(text)
    except IntakeError:
        return read_json(blocks[0] if len(blocks) == 1 else text)


def _json_in_reply(spec: AnswerCheck, reply: Turn) -> Judgement:
    try:
        value = _json_of(reply)
    except IntakeError:
        return False, "the answer is not JSON"
    fault = schema_of(spec.json_ or {}).find_fault(value)
    if fault:
        return False, f"the answer's JSON is wrong: {fault.path}: {fault.message}"
    return True, "the answer's JSON fits the schema"


def _reply_data(evidence: Evidence, path: str, matcher: Matcher | None, reply: Turn) -> Judgement:
    try:
        values = find_nodes(_json_of(reply), path)
    except IntakeError:
        return False, "the answer has no data, and its text is not JSON"
    if not values:
        return False, f"nothing at {path} in the answer's data"
    if matcher is None:
        return True, f"the answer's data has {path}"
    at = _match_context(evidence)
    wrong = [v for v in values if not matcher.test(v, at)]
    if wrong:
        return (
            False,
            f"{path} was {brief_json(wrong[0])}; expected {evidence.describe_matcher(matcher)}",
        )
    return True, f"{path} was {brief_json(values[0])}"


def _claim_check(part: PartEvidence, path: str, reply: Turn) -> Judgement:
    try:
        claims = find_nodes(_json_of(reply), path)
    except IntakeError:
        return False, "the answer has no data, and its text is not JSON"
    claimed = {str(v) for node in claims for v in _as_list(node)}
    called = {c.tool for c in part.calls}
    at_start = {c.tool for c in part.at_start}
    short = {c.split("/", 1)[1]: c for c in called | at_start}
    named = {short.get(name, name) for name in claimed}
    tools = part.trial.story.trace["tools"]
    served = {name for a in tools if not a.startswith(OWN) for name in (a, a.split("/", 1)[1])}
    if called <= named <= called | at_start:
        return True, "the answer names exactly the tools that were called"
    others = named - called - at_start
    if called <= named and not part.trial.story.own_seen and not others & served:
        return None, f"whether {', '.join(sorted(others))} was called was not seen: not tested"
    return False, f"the answer names {sorted(named)}, called were {sorted(called)}"


def _as_list(value: Any) -> list[Any]:
    return value if isinstance(value, list) else [value]


def _answer_check(part: PartEvidence, demand: ExpectedAnswer) -> Judgement:
    if demand.spec.by is not None:
        return _stage_answer(part, demand, demand.spec.by)
    reply = next((t for t in reversed(part.turns) if t.reply is not None), None)
    if "reply" in part.trial.story.unseen:
        return None, "not tested: the reply was not seen"
    return _judge_words(part, demand, reply)


def _stage_answer(part: PartEvidence, demand: ExpectedAnswer, stage: str) -> Judgement:
    """What a stage said last, judged as a reply would be."""
    said = said_by_stage(part, stage)
    if isinstance(said, str):
        return (None if said.startswith("not tested") else False), said
    at = to_micros(said["t"] + (said.get("s") or 0))
    words = Turn(start=at, text="", rule=None, replied=at, reply=said["text"], data=None)
    holds, message = _judge_words(part, demand, words)
    return holds, message.replace("the answer", f"what {stage} said", 1)


def _judge_words(part: PartEvidence, demand: ExpectedAnswer, reply: Turn | None) -> Judgement:
    spec, matcher, source = demand
    evidence, unseen = part.trial, part.trial.story.unseen
    if reply is None or reply.reply is None:
        return False, "there was no reply to look at"
    if spec.matches is not None:
        holds = compile_pattern(spec.matches).is_found_in(reply.reply)
        return holds, f"the answer {'matches' if holds else 'does not match'} /{spec.matches}/"
    if spec.not_matches is not None:
        said = compile_pattern(spec.not_matches).first_match(reply.reply)
        if said is None:
            return True, "the answer avoids what it must not say"
        return False, f"the answer says {brief_json(said)}, which it must not"
    if spec.json_ is not None:
        return _unless_unseen(_json_in_reply(spec, reply), unseen & {"data"})
    if spec.data is not None:
        return _unless_unseen(_reply_data(evidence, spec.data, matcher, reply), unseen & {"data"})
    if spec.claims_tools is not None:
        return _unless_unseen(
            _claim_check(part, spec.claims_tools, reply), unseen & {"data", "calls"}
        )
    if spec.values is not None:
        judged = _support_checks(evidence, reply, strict=spec.values == "strict")
        return _unless_unseen(judged, unseen & SOURCES)
    if source is not None and evidence.is_unseen(source.name):
        return None, f"not tested: what {source.name} gave was not seen"
    return _mentions_check(evidence, demand, reply.reply)


SOURCES = frozenset({"calls", "results", "words", "instructions"})
"""Where a value of a reply may be from."""


def _unless_unseen(judged: Judgement, lacking: frozenset[str]) -> Judgement:
    """A judgement that may only fail for want of what a trace from elsewhere does not tell."""
    holds, message = judged
    if holds is False and lacking:
        return None, f"{message}: not tested, for this trace does not tell {unseen_text(lacking)}"
    return judged


def _support_checks(evidence: Evidence, reply: Turn, *, strict: bool) -> Judgement:
    """`values: supported`: nothing in the reply that no source has; `strict`: and nothing that
    could have been worked out only because nearly anything could."""
    judged = judge_reply(
        reply.reply or "", sources_of(evidence.story, reply.replied or 0, evidence.clock)
    )
    lost, doubtful = judged.of_origin("unsupported"), judged.of_origin("doubtful")
    parts = [f"{counted_noun(len(judged.values), 'value')} looked at"]
    if judged.small_counts:
        parts.append(f"{counted_noun(judged.small_counts, 'small count')} left out")
    if lost:
        parts.append(f"from nothing that was seen: {', '.join(brief_json(v.text) for v in lost)}")
    if doubtful:
        parts.append(f"in doubt: {', '.join(_doubt_text(v) for v in doubtful)}")
    derived = judged.of_origin("derived")
    if derived:
        parts.append(f"worked out: {', '.join(f'{v.text} ({v.how})' for v in derived)}")
    return not (lost or (strict and doubtful)), "; ".join(parts)


def _doubt_text(value: ReplyValue) -> str:
    share = 100 * (value.chance or 0)
    return (
        f"{value.text} (worked out as {value.how}; but so would be {share:.0f} % of such numbers)"
    )


def _state_check(evidence: Evidence, matcher: Matcher | None, spec: StateCheck) -> Judgement:
    found = _values_of_state(evidence, spec)
    if isinstance(found, str):
        return None, f"{found}: not tested"
    where, hits = found
    if spec.count is not None:
        return _count_text(spec.count, len(hits), f"{where} at {spec.path}")
    if not hits:
        return False, f"{where}: nothing at {spec.path}"
    at = _match_context(evidence)
    for value in hits:
        if matcher and not matcher.test(value, at):
            wanted = evidence.describe_matcher(matcher)
            return False, f"{where} at {spec.path} was {brief_json(value)}; expected {wanted}"
    return True, f"{where} at {spec.path} was {brief_json(hits[0])}"


def _values_of_state(evidence: Evidence, spec: StateCheck) -> tuple[str, list[Any]] | str:
    """What a check looks at, and how that is told; or why there is nothing to look at."""
    trace = evidence.story.trace
    if spec.server is not None:
        where = spec.server
        after, before = trace.get("state", {}), trace.get("state_before", {})
        if where not in after:
            return f"the trace holds no state of {where}"
    else:
        where = spec.from_ or ""
        truths, earlier = trace.get("truth", {}), trace.get("truth_before", {})
        for truth in (truths.get(where), earlier.get(where)):
            error = truth.get("error") if truth else None
            if error is not None and error["kind"] in NOT_LOOKED_UP:
                return f"{where} could not be looked up ({error['message']})"
        if where not in truths:
            return f"{where} was not looked up"
        after = {where: truths[where]["result"]}
        before = {name: truth["result"] for name, truth in earlier.items()}
    hits = find_nodes(after[where], spec.path)
    if not spec.changed:
        return where, hits
    if where not in before:
        return f"what {where} was before the trial was not looked up"
    earlier_hits = find_nodes(before[where], spec.path)
    if spec.changed == "gone":
        return f"what went from {where}", _without(earlier_hits, hits)
    return f"what changed in {where}", _without(hits, earlier_hits)


def _without(values: list[Any], others: list[Any]) -> list[Any]:
    """The values that are not among others, each of which stands for one of them."""
    left = Counter(canonical_json(other) for other in others)
    found = []
    for value in values:
        key = canonical_json(value)
        if left[key]:
            left[key] -= 1
        else:
            found.append(value)
    return found


def _count_text(wanted: int | Count, there: int, where: str) -> Judgement:
    if isinstance(wanted, int):
        return there == wanted, f"{where}: {there} found; expected {wanted}"
    low = wanted.min or 0
    high = there if wanted.max is None else wanted.max
    range_text = f"{low} or more" if wanted.max is None else f"{low} to {wanted.max}"
    return low <= there <= high, f"{where}: {there} found; expected {range_text}"


def _judged_checks(judge: Callable[..., Judgement], *what: Any) -> Judgement:
    """A judgement; one that had to be given up tests nothing, and says why."""
    try:
        return judge(*what)
    except (GivenUp, PatternError, UnusableSchema) as error:
        return None, f"not tested: {error}"


def part_outcome(part: PartEvidence, answers: int, states: int) -> list[Check]:
    """A part's `answer.N` and `state.N`; N goes on from those of the parts before."""
    script = part.script
    return [
        make_check("outcome", f"answer.{answers + n}", *_judged_checks(_answer_check, part, demand))
        for n, demand in enumerate(script.answers)
    ] + states_checked(part.trial, script.expect.state, script.state, states)


def states_checked(
    evidence: Evidence,
    specs: Sequence[StateCheck],
    matchers: Sequence[Matcher | None],
    first: int,
) -> list[Check]:
    """`state.N` from N = `first`."""
    return [
        make_check(
            "outcome", f"state.{first + n}", *_judged_checks(_state_check, evidence, matcher, spec)
        )
        for n, (spec, matcher) in enumerate(zip(specs, matchers, strict=True))
    ]
