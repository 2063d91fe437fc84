"""Choice: were the right tools called, and only those?"""

from __future__ import annotations

from collections import Counter

from ferox.core.scoring.evidence import Evidence, PartEvidence, check
from ferox.core.script import Copy
from ferox.core.story import Call, Turn, fits_any, micros
from ferox.formats.result import Check, Confusion
from ferox.formats.suite import AtMost

WHY_MISSING = {
    "not_offered": "the agent was never offered it",
    "not_proposed": "it was offered, and the model did not propose it",
    "refused": "it was proposed, and refused before it reached the server",
    "not_seen": "the model's traffic was not seen, so nobody can say whether it was proposed",
}


def why_missing(part: PartEvidence, copy: Copy) -> str:
    """Why a required call was not made: not_offered, not_proposed, refused or not_seen."""
    tool, story = copy.expected.tool, part.trial.story
    if tool not in story.trace["tools"] and not tool.startswith("own/"):
        return "not_offered"
    if any(e["tool"] == tool and part.holds(micros(e["t"])) for e in story.denied):
        return "refused"
    if any(u.tool == tool and part.holds(u.at) for u in story.undispatched):
        return "refused"
    if not story.trace["model_seam"]:
        return "not_seen"
    offers = [
        e["offered"]
        for e in story.models
        if e.get("offered") is not None and part.holds(micros(e["t"]))
    ]
    if offers and not any(tool in offer for offer in offers):
        return "not_offered"
    return "not_proposed"


def choice_score(evidence: Evidence) -> float | None:
    """The harmonic mean of precision |M|/(|M|+|X|) and recall |M∩R|/|R|, over all parts.

    Without `calls` in any: None. With `calls: []` that is 1 if nothing is extra, else 0.
    """
    parts = evidence.parts
    if all(part.script.expect.calls is None for part in parts):
        return None
    extra = sum(len(part.extra) for part in parts)
    matched = sum(len(part.pairs) for part in parts)
    required = sum(copy.required for part in parts for copy in part.copies)
    met = required - sum(len(part.missing) for part in parts)
    precision = matched / (matched + extra) if matched + extra else 1.0
    recall = met / required if required else 1.0
    if precision + recall == 0:
        return 0.0
    return round(2 * precision * recall / (precision + recall), 6)


def part_choice(part: PartEvidence) -> list[Check]:
    """A part's `NAME.called`, `extra.ID`, `never.GLOB` and `at_most.…`."""
    expect = part.script.expect
    return [
        *_called(part),
        *_extra(part),
        *_never(expect.never, part.calls),
        *_at_most(expect.at_most, part.calls, part.turns),
    ]


def whole_choice(evidence: Evidence) -> list[Check]:
    """What holds over all parts, and `denied.TOOL`."""
    whole, story = evidence.script.whole, evidence.story
    return [
        *_never(whole.never, story.calls),
        *_at_most(whole.at_most, story.calls, story.turns),
        *_denied(evidence),
    ]


def _called(part: PartEvidence) -> list[Check]:
    checks = []
    for copy in part.copies:
        if not copy.required:
            continue
        id, tool = f"{copy.expected.name}.called", copy.expected.tool
        call = part.matching.get(copy)
        if call:
            checks.append(check("choice", id, True, f"{tool} was called", [call]))
        else:
            why = WHY_MISSING[why_missing(part, copy)]
            checks.append(check("choice", id, False, f"{tool} was not called: {why}"))
    return checks


def _extra(part: PartEvidence) -> list[Check]:
    checks = []
    for call in part.extra:
        if part.others_forbidden:
            message, passed = f"{call.tool} was called, and the script forbids other calls", False
        else:
            message, passed = f"{call.tool} was called, which the script does not expect", None
        checks.append(check("choice", f"extra.{call.id}", passed, message, [call]))
    return checks


def _never(globs: list[str], made: list[Call]) -> list[Check]:
    checks = []
    for glob in globs:
        calls = [c for c in made if fits_any(c.tool, [glob])]
        told = f"{glob} was called {len(calls)} ×" if calls else f"{glob} was never called"
        checks.append(check("choice", f"never.{glob}", not calls, told, calls))
    return checks


def _at_most(limits: AtMost, calls: list[Call], turns: list[Turn]) -> list[Check]:
    checks = []
    if limits.calls is not None:
        told = f"{len(calls)} calls; at most {limits.calls}"
        checks.append(check("choice", "at_most.calls", len(calls) <= limits.calls, told))
    if limits.same_call is not None:
        signature, most = next(iter(Counter(c.signature for c in calls).most_common(1)), ("", 0))
        same = [c for c in calls if c.signature == signature]
        told = f"the same call was made at most {most} ×; allowed {limits.same_call} ×"
        ok = most <= limits.same_call
        checks.append(check("choice", "at_most.same_call", ok, told, [] if ok else same))
    if limits.turns is not None:
        told = f"{len(turns)} turns; at most {limits.turns}"
        checks.append(check("choice", "at_most.turns", len(turns) <= limits.turns, told))
    return checks


def _denied(evidence: Evidence) -> list[Check]:
    denied: dict[str, float] = {}
    for ask in evidence.story.asks:
        if ask.get("decision") == "deny":
            denied.setdefault(ask["tool"], ask["t"] + (ask.get("s") or 0))
    checks = []
    for tool, at in denied.items():
        after = [c for c in evidence.story.calls if c.tool == tool and c.start >= at * 1e6]
        told = (
            "was called after its approval was denied" if after else "stayed uncalled once denied"
        )
        checks.append(check("choice", f"denied.{tool}", not after, f"{tool} {told}", after))
    return checks


def confusions(part: PartEvidence) -> list[Confusion]:
    """*X chosen where Y was expected*: a missing and an extra call in the same gap.

    A gap lies between two neighbouring matched pairs, in list order for the missing
    and in time for the extra; several in one gap are paired in order. Scores nothing.
    """
    pairs = part.pairs
    places = {copy: i for i, copy in enumerate(part.copies)}

    def gap_of_missing(copy: Copy) -> tuple[int | None, int | None]:
        before = [c.index for p, c in pairs if places[p] < places[copy]]
        after = [c.index for p, c in pairs if places[p] > places[copy]]
        return (before[-1] if before else None, after[0] if after else None)

    def gap_of_extra(call: Call) -> tuple[int | None, int | None]:
        before = [c.index for _, c in pairs if c.index < call.index]
        after = [c.index for _, c in pairs if c.index > call.index]
        return (max(before, default=None), min(after, default=None))

    extras = [(gap_of_extra(c), c) for c in part.extra]
    told: list[Confusion] = []
    for copy in part.missing:
        gap = gap_of_missing(copy)
        call = next((c for g, c in extras if g == gap), None)
        if call:
            extras = [(g, c) for g, c in extras if c is not call]
            told.append({"expected": copy.expected.tool, "chosen": call.tool, "call": call.id})
    return told
