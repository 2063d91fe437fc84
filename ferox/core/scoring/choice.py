"""Choice: were the right tools called, and only those?"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator

from ferox.core.naming import counted_noun
from ferox.core.scoring.code import code_checks
from ferox.core.scoring.evidence import Evidence, PartEvidence, make_check
from ferox.core.scoring.missing import unseen_calls, why_missing
from ferox.core.scoring.stages import never_by_stage, stage_checks
from ferox.core.script import PartScript, glob_of
from ferox.core.story import OWN, Call, Story, Turn, fits_any, to_micros
from ferox.formats.result import Check, Confusion
from ferox.formats.suite import AtMost, StageTools
from ferox.formats.trace import QuestionEvent


def choice_score(evidence: Evidence) -> float | None:
    """The harmonic mean of precision |M|/(|M|+|X|) and recall |M∩R|/|R|, over all parts.

    Without `calls` in any: None. With `calls: []` that is 1 if nothing is extra, else 0. What
    could not be seen is in neither R nor M; None too where calls are not told at all.
    """
    parts = evidence.parts
    if all(part.script.expect.calls is None for part in parts):
        return None
    if "calls" in evidence.story.unseen:
        return None
    extra = sum(len(part.extra_calls) for part in parts)
    matched = sum(len(part.matched_pairs) for part in parts)
    unseen = sum(len(part.unseen_copies) for part in parts)
    required = sum(copy.is_required for part in parts for copy in part.copies) - unseen
    met = required + unseen - sum(len(part.missing_copies) for part in parts)
    precision = matched / (matched + extra) if matched + extra else 1.0
    recall = met / required if required else 1.0
    if precision + recall == 0:
        return 0.0
    return round(2 * precision * recall / (precision + recall), 6)


def part_choice(part: PartEvidence) -> list[Check]:
    """A part's `NAME.called`, `NAME.by`, `code.…`, `extra.ID`, `never.GLOB` and `at_most.…`."""
    expect = part.script.expect
    story = part.trial.story
    own = _unseen_calls(story, [part.script])
    return [
        *_called_checks(part),
        *stage_checks(part),
        *code_checks(part),
        *_extra_calls(part),
        *_never_checks(expect.never, [*part.at_start, *part.calls], story),
        *_at_most(expect.at_most, part.calls, part.turns, own),
        *_question_limit(
            expect.at_most.questions,
            [q for q in story.questions if part.contains_time(to_micros(q["t"]))],
            story,
        ),
    ]


def whole_choice(evidence: Evidence) -> list[Check]:
    """What holds over all parts, and `denied.TOOL`."""
    whole, story = evidence.script.whole, evidence.story
    own = _unseen_calls(story, evidence.script.parts)
    return [
        *_never_checks(whole.never, story.calls, story),
        *_at_most(whole.at_most, story.calls, story.turns, own),
        *_question_limit(whole.at_most.questions, story.questions, story),
        *_denied_checks(evidence),
    ]


def _unseen_calls(story: Story, scripts: Iterable[PartScript]) -> str | None:
    """Which calls that would count may not have been seen."""
    if "calls" in story.unseen:
        return "tools"
    if story.own_seen:
        return None
    return next(filter(None, map(_named_own, scripts)), None)


def _named_own(script: PartScript) -> str | None:
    """One of the agent's own tools that a part's expectations name."""
    expect = script.expect
    others = expect.others if isinstance(expect.others, list) else []
    never = map(glob_of, expect.never)
    named = [*(e.tool for e in script.expected), *others, *never, *expect.may_poll]
    return next((tool for tool in named if tool.startswith(OWN)), None)


def _called_checks(part: PartEvidence) -> list[Check]:
    checks = []
    for copy in part.copies:
        if not copy.is_required:
            continue
        id, tool = f"{copy.expected.name}.called", copy.expected.tool
        call = part.matching.get(copy)
        if call:
            checks.append(
                make_check("choice", id, True, message=f"{tool} was called", calls=[call])
            )
        elif copy in part.unseen_copies:
            reason = why_missing(part, copy).reason
            checks.append(make_check("choice", id, None, f"{tool}: not tested: {reason}"))
        else:
            reason = why_missing(part, copy).reason
            checks.append(make_check("choice", id, False, f"{tool} was not called: {reason}"))
    return checks


def _extra_calls(part: PartEvidence) -> list[Check]:
    checks = []
    for call in part.extra_calls:
        if part.others_forbidden:
            message, passed = f"{call.tool} was called, and the script forbids other calls", False
        else:
            message, passed = f"{call.tool} was called, which the script does not expect", None
        checks.append(
            make_check("choice", f"extra.{call.id}", passed, message=message, calls=[call])
        )
    return checks


def _never_checks(entries: list[str | StageTools], made: list[Call], story: Story) -> list[Check]:
    checks = []
    for glob in entries:
        if isinstance(glob, StageTools):
            checks.append(never_by_stage(glob, made))
            continue
        calls = [c for c in made if fits_any(c.tool, [glob])]
        if not calls and story.may_be_unseen(glob):
            message = f"{glob}: not tested: {unseen_calls(story)}"
            checks.append(make_check("choice", f"never.{glob}", None, message))
            continue
        message = f"{glob} was called {len(calls)} ×" if calls else f"{glob} was never called"
        checks.append(
            make_check("choice", f"never.{glob}", not calls, message=message, calls=calls)
        )
    return checks


def _at_most(
    limits: AtMost, calls: list[Call], turns: list[Turn], unseen: str | None
) -> list[Check]:
    """`unseen`: a tool that counts by name, and whose calls could not have been seen."""
    checks = []

    def kept(within: bool) -> bool | None:
        """A count that is too high is so whatever was not seen; another may be too low."""
        return None if within and unseen else within

    more = f"; not tested: calls of {unseen} were not seen" if unseen else ""
    if limits.calls is not None:
        message = f"{counted_noun(len(calls), 'call')}; at most {limits.calls}"
        within = kept(len(calls) <= limits.calls)
        checks.append(
            make_check("choice", "at_most.calls", within, message + more * (within is None))
        )
    if limits.same_call is not None:
        signature, most = next(iter(Counter(c.signature for c in calls).most_common(1)), ("", 0))
        same = [c for c in calls if c.signature == signature]
        message = f"the same call was made at most {most} ×; allowed {limits.same_call} ×"
        alike = any("arguments" in call.unseen for call in calls)
        within = None if alike else kept(most <= limits.same_call)
        message += "; not tested: arguments were not seen" if alike else more * (within is None)
        evidence = same if within is False else []
        checks.append(
            make_check("choice", "at_most.same_call", within, message=message, calls=evidence)
        )
    if limits.turns is not None:
        message = f"{counted_noun(len(turns), 'turn')}; at most {limits.turns}"
        checks.append(make_check("choice", "at_most.turns", len(turns) <= limits.turns, message))
    return checks


def _question_limit(most: int | None, asked: list[QuestionEvent], story: Story) -> Iterator[Check]:
    """`at_most.questions`: what servers asked the user in the middle of calls."""
    if most is None:
        return
    id = "at_most.questions"
    if story.unseen and len(asked) <= most:
        yield make_check("choice", id, None, "not tested: questions of servers were not seen")
        return
    message = f"servers asked the user {counted_noun(len(asked), 'question')}; at most {most}"
    yield make_check("choice", id, len(asked) <= most, message)


def _denied_checks(evidence: Evidence) -> list[Check]:
    decided: dict[str, list[tuple[int, bool]]] = {}
    for ask in evidence.story.asks:
        at = to_micros(ask["t"] + (ask.get("s") or 0))
        decided.setdefault(ask["tool"], []).append((at, ask.get("decision") == "deny"))
    checks = []
    for tool, asks in decided.items():
        if not any(denied for _, denied in asks):
            continue
        # A later approval lets the calls after it go.
        after = [
            call
            for call in evidence.story.calls
            if call.tool == tool and ([(0, False)] + [a for a in asks if a[0] <= call.start])[-1][1]
        ]
        message = (
            "was called after its approval was denied" if after else "stayed uncalled once denied"
        )
        checks.append(
            make_check(
                "choice", f"denied.{tool}", not after, message=f"{tool} {message}", calls=after
            )
        )
    return checks


def tool_confusions(part: PartEvidence) -> list[Confusion]:
    """*X chosen where Y was expected*; scores nothing."""
    return [
        {"expected": copy.tool, "chosen": call.tool, "call": call.id}
        for copy, call in part.replaced_copies
    ]
