"""Why a required call was not made, as far as the trace tells."""

from __future__ import annotations

from typing import NamedTuple

from ferox.core.remarks import acts_in_words
from ferox.core.scoring.evidence import PartEvidence
from ferox.core.script import Copy
from ferox.core.story import OWN, Story, to_micros

BROKE_OFF = ("crash", "did_not_start", "limit", "no_reply")
"""Ends after which nobody can say what the model would have proposed, had it been asked."""
OWN_UNSEEN = "what the agent calls inside itself was not seen"


def unseen_calls(story: Story) -> str:
    """Why nobody can say whether a tool was called."""
    return "this trace does not tell calls" if "calls" in story.unseen else OWN_UNSEEN


class MissingReason(NamedTuple):
    """Why a call is missing: a word for programs, and the reason as people read it."""

    kind: str
    reason: str


def why_missing(part: PartEvidence, copy: Copy) -> MissingReason:
    """Why a required call was not made: not_offered, not_proposed, refused or not_seen."""
    tool, story = copy.expected.tool, part.trial.story
    if story.may_be_unseen(tool):
        return MissingReason("not_seen", unseen_calls(story))
    if (
        "offers" not in story.unseen
        and tool not in story.trace["tools"]
        and not tool.startswith(OWN)
    ):
        return MissingReason("not_offered", "the agent was never offered it")
    if any(e["tool"] == tool and part.contains_time(to_micros(e["t"])) for e in story.denied):
        return MissingReason("refused", "its approval was denied")
    inside = next((c for c in part.calls if c.hides == tool), None)
    if inside is not None:
        return MissingReason(
            "refused", f"it was proposed, and {inside.tool} answered inside the agent"
        )
    if any(u.tool == tool and part.contains_time(u.at) for u in story.undispatched):
        return MissingReason("refused", "it was proposed, and refused before it reached the server")
    asked = [e for e in story.models if part.contains_time(to_micros(e["t"]))]
    answered = [e for e in asked if e.get("s") is not None and not e.get("error")]
    if story.why in BROKE_OFF and not answered:
        end = story.why.replace("_", " ")
        before = "its model answered" if asked else "its model was asked"
        return MissingReason("not_seen", f"not seen: the trial ended ({end}) before {before}")
    if not story.trace["model_seam"] or "proposals" in story.unseen:
        reason = "the model's traffic was not seen, so nobody can say whether it was proposed"
        return MissingReason("not_seen", reason)
    if "offers" in story.unseen:
        return MissingReason("not_proposed", "its model did not propose it")
    offers = [e["offered"] for e in asked if e.get("offered") is not None]
    if offers and not any(offers) and acts_in_words(story):
        reason = "its model was given no tool definitions; what it proposed stands in its words"
        return MissingReason("not_seen", reason)
    return _of_offers(tool, offers)


def _of_offers(tool: str, offers: list[list[str]]) -> MissingReason:
    """What the requests to the model tell, if there were any."""
    if not offers:
        return MissingReason("not_proposed", "no request to its model was seen in this part")
    if not any(tool in offer for offer in offers):
        shown = "its model was never shown it"
        return MissingReason(
            "not_offered", shown if tool.startswith(OWN) else f"it was offered, and {shown}"
        )
    showing = sum(tool in offer for offer in offers)
    times = "" if showing == len(offers) else f" in {showing} of {len(offers)} requests"
    return MissingReason("not_proposed", f"its model was shown it{times}, and did not propose it")
