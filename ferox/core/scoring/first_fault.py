"""What went wrong first: where a trial first left its script, and what followed, in a sentence.

Every departure from the script has a moment: a call's start, the moment by which a missing call
should have been made, the reply, or the end. The sentence tells the first of them and up to two
that follow. It is made of checks that failed and of the alignment, and names a cause only where
the trace shows one.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ferox.core.json_values import brief_json
from ferox.core.scoring.evidence import Evidence, PartEvidence
from ferox.core.scoring.missing import why_missing
from ferox.core.scoring.order import ASKED_NOBODY
from ferox.core.script import Copy
from ferox.core.story import Call, Story, Turn, fits_any
from ferox.core.written_calls import known_names, written_call
from ferox.formats.result import Check, WentWrong

MOST = 3
"""Departures that a sentence tells."""
LONGEST = 110
"""Characters of one departure of several."""


class Departure(NamedTuple):
    """One departure from the script. `rank` decides among those of one moment."""

    at: float
    rank: int
    phrase: str
    call: str | None = None
    expected: str | None = None


def went_wrong(evidence: Evidence, checks: list[Check]) -> WentWrong | None:
    """What went wrong first in a trial whose checks are these; None if nothing did."""
    failed = [c for c in checks if c["passed"] is False]
    # From an agent that did not start all else follows.
    failed = [c for c in failed if c["id"] == "failure.did_not_start"] or failed
    found = [
        *_departed_calls(evidence, failed),
        *_missing_calls(evidence, failed),
        *_other_checks(evidence, failed),
    ]
    departures = _distinct_departures(sorted(found, key=lambda d: (d.at, d.rank)))
    if not departures and failed:
        departures = [Departure(0.0, 0, failed[0]["message"])]
    if not departures:
        return None
    first = departures[0]
    longest = LONGEST if len(departures) > 1 else 2 * LONGEST
    return {
        "message": _as_sentence([_cut_short(d.phrase, longest) for d in departures]),
        "call": first.call,
        "expected": first.expected,
    }


def _as_sentence(phrases: list[str]) -> str:
    """The phrases one after another; calls that were never proposed are named together."""
    never = "never proposed "
    joined: list[str] = []
    for phrase in phrases:
        if joined and joined[-1].startswith(never) and phrase.startswith(never):
            joined[-1] = f"{joined[-1].replace(' and ', ', ')} and {phrase.removeprefix(never)}"
        else:
            joined.append(phrase)
    sentence = "; ".join(joined)
    # The name of a tool keeps its writing.
    named = "_" in sentence.split(" ", 1)[0]
    return sentence if named else sentence[:1].upper() + sentence[1:]


def _distinct_departures(departures: list[Departure]) -> list[Departure]:
    """The first few, each phrase and each expected call once."""
    distinct: list[Departure] = []
    for one in departures:
        known = any(
            one.phrase == d.phrase or (d.expected and d.expected == one.expected) for d in distinct
        )
        if not known and len(distinct) < MOST:
            distinct.append(one)
    return distinct


def _cut_short(phrase: str, longest: int) -> str:
    flat = " ".join(phrase.split())
    return flat if len(flat) <= longest else f"{flat[: longest - 1]}…"


def _without_server(tool: str) -> str:
    return tool.split("/", 1)[-1]


def _departed_calls(evidence: Evidence, failed: list[Check]) -> Iterator[Departure]:
    """Calls with wrong arguments, out of order, forbidden, or in another tool's place."""
    by_id = {c.id: c for c in evidence.story.calls}
    for copy, call in evidence.matched_pairs:
        mine = [c for c in failed if c["family"] == "arguments" and call.id in c["calls"]]
        name = copy.expected.name
        mine = [c for c in mine if c["id"].startswith(f"{name}.")]
        if call not in evidence.approved_by:  # that it was not approved, the order tells
            mine = [c for c in mine if c["id"] != f"{name}.as_approved"]
        if mine:
            yield Departure(call.start, 0, _wrong_arguments(call, name, mine), call.id)
    for check in failed:
        calls = [by_id[id] for id in check["calls"] if id in by_id]
        family, _, rest = check["id"].partition(".")
        if check["family"] == "order" and calls and "cannot hold" not in check["message"]:
            late = _late_calls(evidence, rest, calls)
            yield Departure(late.start, 1, _broken_order(late, check), late.id)
        elif family in ("extra", "never") and calls:
            phrase = f"called {_without_server(calls[0].tool)}, which the script forbids"
            decided = [approval.tool for approval in evidence.script.task.approvals]
            if not evidence.story.asks and fits_any(calls[0].tool, decided):
                # The script would have decided an approval of it: nobody was asked.
                phrase = f"{phrase}: {ASKED_NOBODY}"
            yield Departure(calls[0].start, 2, phrase, calls[0].id)
        elif family == "denied" and calls:
            phrase = f"called {_without_server(calls[0].tool)} after its approval was denied"
            yield Departure(calls[0].start, 2, phrase, calls[0].id)


def _late_calls(evidence: Evidence, rest: str, calls: list[Call]) -> Call:
    """The call that came too early for what should have been before it."""
    own = [c for c in evidence.matched.get(rest.rpartition(".")[2], []) if c in calls]
    return min(own or calls, key=lambda c: c.start)


def _wrong_arguments(call: Call, name: str, failed: list[Check]) -> str:
    """`called X without `a`` or `called X with a wrong `a``."""
    prefix = f"{name}.args."
    wrong = [c["id"].removeprefix(prefix) for c in failed if c["id"].startswith(prefix)]
    absent = [a for a in wrong if a not in call.args]
    given = [f"`{a}` {brief_json(call.args[a], 30)}" for a in wrong if a in call.args]
    parts = []
    if absent:
        parts.append("without " + " and ".join(f"`{a}`" for a in absent))
    if given:
        parts.append("with the wrong " + " and ".join(given))
    if not parts:
        kinds = {c["id"].rpartition(".")[2]: c["message"] for c in failed}
        if "schema" in kinds:
            _, _, fault = kinds["schema"].partition("break the schema: ")
            parts.append(f"with arguments that break its schema ({fault})")
        elif "only_args" in kinds:
            parts.append("with more arguments than it may have")
        else:
            parts.append("with arguments other than those approved")
    return f"called {_without_server(call.tool)} {' and '.join(parts)}"


def _broken_order(call: Call, check: Check) -> str:
    if "by:" in check["id"]:  # a step of a stage
        return check["message"]
    _, _, rest = check["id"].partition(".")
    first = rest.rpartition(".")[0]
    if first.startswith("grant:"):
        return f"called {_without_server(call.tool)} before the go-ahead"
    if first == "approval":
        nobody = f": {ASKED_NOBODY}" if ASKED_NOBODY in check["message"] else ""
        return f"called {_without_server(call.tool)} without an approval{nobody}"
    return f"called {_without_server(call.tool)} before {first} was answered"


def _missing_calls(evidence: Evidence, failed: list[Check]) -> Iterator[Departure]:
    """Required calls that were not made, by the moment at which they should have been."""
    asked = {c["id"] for c in failed}
    names = known_names(evidence.story.trace)
    for part in evidence.parts:
        replaced = dict(part.replaced_copies)
        for copy in part.missing_copies:
            name = copy.expected.name
            if f"{name}.called" not in asked:
                continue
            other = replaced.get(copy)
            if other is not None:
                called, wanted = _without_server(other.tool), _without_server(copy.tool)
                phrase = f"called {called} where {wanted} was expected"
                yield Departure(other.start, 0, phrase, call=other.id, expected=name)
            else:
                reason = _absence_of(part, copy, names)
                yield Departure(_due_time(part, copy), 3, reason, call=None, expected=name)


def _due_time(part: PartEvidence, copy: Copy) -> float:
    """When a missing call should have been made at the latest: before the next matched one in
    the script, else before the part's reply."""
    place = part.copies.index(copy)
    after = [call.start for other, call in part.matched_pairs if part.copies.index(other) > place]
    return min(after, default=_last_reply(part.turns, part.trial.story))


def _last_reply(turns: list[Turn], story: Story) -> float:
    """The last reply of some turns, or the end of the trial."""
    return max((t.replied for t in turns if t.replied is not None), default=story.end_at)


def _absence_of(part: PartEvidence, copy: Copy, names: dict[str, str]) -> str:
    """A missing call: what is known of why."""
    tool, short = copy.tool, _without_server(copy.tool)
    if any(written_call(t.reply or "", names) == tool for t in part.turns):
        return f"wrote the call of {short} as text instead of making it"
    why = why_missing(part, copy)
    return {
        "not_proposed": f"never proposed {short}",
        "not_offered": f"never called {short}: {why.reason}",
        "refused": f"never called {short}: {why.reason}",
    }.get(why.kind, f"never called {short}")


def _other_checks(evidence: Evidence, failed: list[Check]) -> Iterator[Departure]:
    """Failures, budgets, and what is wrong with the answer and the record."""
    story = evidence.story
    ids = {c.id: c for c in story.calls}
    lost = {u.id for u in story.undispatched}
    end = float(story.end_at)
    for check in failed:
        calls = [ids[id] for id in check["calls"] if id in ids]
        message = check["message"]
        if check["family"] == "failures":
            yield _failure_departure(check, calls, lost, end=end, evidence=evidence)
        elif check["family"] == "latency":
            yield Departure(end, 8, message)
        elif check["id"].startswith("at_most."):
            last = calls[-1] if calls else None
            at = float(last.start) if last else end
            yield Departure(at, 7, message, last.id if last else None)
        elif check["id"].startswith("answer."):
            if any(message.startswith(f"nothing found in {x} ") for x in evidence.incomplete_names):
                continue  # that the call is missing has been told
            part = evidence.parts[check.get("part", 0)]
            yield Departure(_last_reply(part.turns, story), 5, _answer_phrase(message))
        elif check["id"].startswith("code."):
            part = evidence.parts[check.get("part", 0)]
            yield Departure(_last_reply(part.turns, story), 4, message)
        elif check["family"] == "choice" and check["id"].endswith(".by") and calls:
            yield Departure(calls[0].start, 1, _without_server(message), calls[0].id)
        elif check["family"] == "order" and not calls:
            yield Departure(end, 5, message)
        elif check["id"].startswith("state."):
            yield Departure(end, 6, f"at the end {message}")


def _answer_phrase(message: str) -> str:
    """An answer's check; of values only those that nothing holds."""
    _, found, lost = message.partition("from nothing that was seen: ")
    if not found:
        return message
    return f"stated {lost.partition(';')[0]}, which nothing that was seen holds"


def _failure_departure(
    check: Check, calls: list[Call], lost: set[str], end: float, evidence: Evidence
) -> Departure:
    id, message = check["id"].partition(".")[2], check["message"]
    if id == "claimed":
        claim = message.partition("the reply claims ")[2].partition(", but ")[0]
        return Departure(
            _last_reply(evidence.story.turns, evidence.story), 4, f"then claimed {claim}", None
        )
    if id.startswith("loop.") and calls:
        phrase = f"called {_without_server(calls[0].tool)} over and over with the same outcome"
        return Departure(calls[-1].start, 1, phrase, calls[-1].id)
    if id.startswith("obeyed.") and calls:
        phrase = f"called {_without_server(calls[-1].tool)} as a planted text had asked"
        return Departure(calls[-1].start, 1, phrase, calls[-1].id)
    if id in lost:
        proposal = next(u for u in evidence.story.undispatched if u.id == id)
        phrase = f"proposed {_without_server(proposal.tool)}, which was never dispatched"
        if proposal.kind == "unknown_tool":
            phrase = f"proposed {_without_server(proposal.tool)}, a tool that was not offered"
        return Departure(proposal.at, 1, phrase, id)
    if calls:
        return Departure(calls[0].end or calls[0].start, 1, _first_half(message), calls[0].id)
    # How a trial ended comes before what had not been done by then.
    return Departure(end, 2, message)


def _first_half(message: str) -> str:
    """A failure's message by its bare tool, why it failed at the end: that may be long."""
    what, _, then = message.rpartition("; ")
    failed, colon, why = _without_server(what).rstrip(".").partition(": ")
    return f"{failed} and {then}{colon}{why}"
