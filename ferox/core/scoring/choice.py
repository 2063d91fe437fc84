"""Choice: were the right tools called, and only those?"""

from __future__ import annotations

from collections import Counter

from ferox.core.scoring.evidence import Evidence, check
from ferox.core.script import Copy
from ferox.core.story import Call, fits_any
from ferox.formats.result import Check, Confusion

WHY_MISSING = {
    "not_offered": "the agent was never offered it",
    "not_proposed": "it was offered, and the model did not propose it",
    "refused": "it was proposed, and refused before it reached the server",
    "not_seen": "the model's traffic was not seen, so nobody can say whether it was proposed",
}


def why_missing(evidence: Evidence, copy: Copy) -> str:
    """Why a required call was not made: not_offered, not_proposed, refused or not_seen."""
    tool, story = copy.expected.tool, evidence.story
    if tool not in story.trace["tools"] and not tool.startswith("own/"):
        return "not_offered"
    if any(e["tool"] == tool for e in story.denied):
        return "refused"
    if any(u.tool == tool for u in story.undispatched):
        return "refused"
    if not story.trace["model_seam"]:
        return "not_seen"
    offers = [e["offered"] for e in story.models if e.get("offered") is not None]
    if offers and not any(tool in offer for offer in offers):
        return "not_offered"
    return "not_proposed"


def choice_score(evidence: Evidence) -> float | None:
    """The harmonic mean of precision |M|/(|M|+|X|) and recall |M∩R|/|R|.

    Without `calls`: None. With `calls: []`: 1 if nothing is extra, else 0.
    """
    calls = evidence.script.task.expect.calls
    if calls is None:
        return None
    extra = len(evidence.extra)
    if not calls:
        return 0.0 if extra else 1.0
    matched = len(evidence.pairs)
    required = sum(c.required for c in evidence.copies)
    met = required - len(evidence.missing)
    precision = matched / (matched + extra) if matched + extra else 1.0
    recall = met / required if required else 1.0
    if precision + recall == 0:
        return 0.0
    return round(2 * precision * recall / (precision + recall), 6)


def choice_checks(evidence: Evidence) -> list[Check]:
    """`NAME.called`, `extra.ID`, `never.GLOB`, `at_most.…` and `denied.TOOL`."""
    return [
        *_called(evidence),
        *_extra(evidence),
        *_never(evidence),
        *_at_most(evidence),
        *_denied(evidence),
    ]


def _called(evidence: Evidence) -> list[Check]:
    checks = []
    for copy in evidence.copies:
        if not copy.required:
            continue
        id, tool = f"{copy.expected.name}.called", copy.expected.tool
        call = evidence.matching.get(copy)
        if call:
            checks.append(check("choice", id, True, f"{tool} was called", [call]))
        else:
            why = WHY_MISSING[why_missing(evidence, copy)]
            checks.append(check("choice", id, False, f"{tool} was not called: {why}"))
    return checks


def _extra(evidence: Evidence) -> list[Check]:
    checks = []
    for call in evidence.extra:
        if evidence.others_forbidden:
            message, passed = f"{call.tool} was called, and the script forbids other calls", False
        else:
            message, passed = f"{call.tool} was called, which the script does not expect", None
        checks.append(check("choice", f"extra.{call.id}", passed, message, [call]))
    return checks


def _never(evidence: Evidence) -> list[Check]:
    checks = []
    for glob in evidence.script.task.expect.never:
        calls = [c for c in evidence.story.calls if fits_any(c.tool, [glob])]
        told = f"{glob} was called {len(calls)} ×" if calls else f"{glob} was never called"
        checks.append(check("choice", f"never.{glob}", not calls, told, calls))
    return checks


def _at_most(evidence: Evidence) -> list[Check]:
    limits, calls = evidence.script.task.expect.at_most, evidence.story.calls
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
        turns = len(evidence.story.turns)
        told = f"{turns} turns; at most {limits.turns}"
        checks.append(check("choice", "at_most.turns", turns <= limits.turns, told))
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


def confusions(evidence: Evidence) -> list[Confusion]:
    """*X chosen where Y was expected*: a missing and an extra call in the same gap.

    A gap lies between two neighbouring matched pairs, in list order for the missing
    and in time for the extra; several in one gap are paired in order. Scores nothing.
    """
    pairs = evidence.pairs
    places = {copy: i for i, copy in enumerate(evidence.copies)}

    def gap_of_missing(copy: Copy) -> tuple[int | None, int | None]:
        before = [c.index for p, c in pairs if places[p] < places[copy]]
        after = [c.index for p, c in pairs if places[p] > places[copy]]
        return (before[-1] if before else None, after[0] if after else None)

    def gap_of_extra(call: Call) -> tuple[int | None, int | None]:
        before = [c.index for _, c in pairs if c.index < call.index]
        after = [c.index for _, c in pairs if c.index > call.index]
        return (max(before, default=None), min(after, default=None))

    extras = [(gap_of_extra(c), c) for c in evidence.extra]
    told: list[Confusion] = []
    for copy in evidence.missing:
        gap = gap_of_missing(copy)
        call = next((c for g, c in extras if g == gap), None)
        if call:
            extras = [(g, c) for g, c in extras if c is not call]
            told.append({"expected": copy.expected.tool, "chosen": call.tool, "call": call.id})
    return told
