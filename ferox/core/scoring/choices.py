"""Which tool was chosen for each expected call; for tables of what was chosen instead."""

from __future__ import annotations

import json
from collections.abc import Iterable
from functools import lru_cache
from typing import Any

from ferox.core.scoring.evidence import PartEvidence
from ferox.core.scoring.missing import why_missing
from ferox.core.script import Copy
from ferox.formats.result import Choices

NOTHING = "nothing"
"""No call stands in the expected one's place."""
NOT_OFFERED = "not offered"
"""Nothing does, for the tool was not there to be chosen."""


def expected_choices(parts: Iterable[PartEvidence]) -> Choices:
    """For each tool that is expected, how often which one was chosen.

    Of required calls, and optional ones that were made. What cannot be seen is left out. A missing
    call whose place no other call took counts as the tool that was proposed and does not exist, if
    one was in that part (several in order), else as nothing.
    """
    found: Choices = {}

    def count(copy: Copy, chosen: str) -> None:
        row = found.setdefault(copy.tool, {})
        row[chosen] = row.get(chosen, 0) + 1

    for part in parts:
        for copy, _ in part.matched_pairs:
            count(copy, copy.tool)
        instead = {copy: call.tool for copy, call in part.replaced_copies}
        unknown = [
            proposal.tool
            for proposal in part.trial.story.undispatched
            if proposal.kind == "unknown_tool" and part.contains_time(proposal.at)
        ]
        for copy in part.missing_copies:
            why = why_missing(part, copy).kind
            if why == "not_seen":
                continue
            if copy in instead:
                count(copy, instead[copy])
            elif why == "not_offered":
                count(copy, NOT_OFFERED)
            else:
                count(copy, unknown.pop(0) if unknown else NOTHING)
    return found


@lru_cache(maxsize=4096)
def read_choices(text: str) -> tuple[tuple[str, str, int], ...]:
    """Choices as they are stored: expected, chosen and how often. Most trials' are alike."""
    rows: Any = json.loads(text)
    return tuple(
        (expected, chosen, n) for expected, row in rows.items() for chosen, n in row.items()
    )
