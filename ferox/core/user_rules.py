"""Rules of the scripted user that can never fire, because one before them always does."""

from __future__ import annotations

import re
from collections.abc import Sequence

from ferox.intake.limits import GivenUp
from ferox.intake.patterns import Pattern, PatternError, compile_pattern

_ANY_REPLY = ("a", "Done.", "7", "Ü ?", "Two lines.\nShall I go ahead?", " ", "(…)")
"""Replies as different as can be: a pattern that fits all of them fits any."""
_PLAIN = re.compile(r"(?:\\[.?!()]|[^\\.^$*+?{}\[\]()|])+")
"""A piece of a pattern that stands for itself only."""


def never_fires(patterns: Sequence[tuple[str, bool]]) -> list[tuple[int, int, str]]:
    """The rules that cannot fire: place, place of the one that always answers first, and why.

    Each rule is its pattern and whether it may answer only a number of times; such a one
    leaves what comes after it to fire. A pattern that does not parse is passed over.
    """
    found = []
    for place, (later, _) in enumerate(patterns):
        for before, (earlier, limited) in enumerate(patterns[:place]):
            why = None if limited else _covers_rule(earlier, later)
            if why:
                found.append((place, before, why))
                break
    return found


def _covers_rule(earlier: str, later: str) -> str | None:
    """Why a reply that fits the later pattern always fits the earlier; None if it may not."""
    if earlier == later:
        return "has the same pattern"
    try:
        first = compile_pattern(earlier)
        if all(first.is_found_in(reply) for reply in _ANY_REPLY):
            return "fits any reply"
        said = _literals_of(later)
        if said and all(_always_fits(first, text, folded) for text, folded in said):
            return "fits every reply that this one does"
    except (PatternError, GivenUp):
        return None
    return None


def _literals_of(pattern: str) -> list[tuple[str, bool]]:
    """The texts of which a reply must hold one, if the pattern is only such a choice; and
    whether their case does not matter."""
    folded = pattern.startswith("(?i)")
    pieces = pattern.removeprefix("(?i)").split("|")
    if not all(_PLAIN.fullmatch(piece) for piece in pieces):
        return []
    return [(re.sub(r"\\(.)", r"\1", piece), folded) for piece in pieces]


def _always_fits(first: Pattern, text: str, folded: bool) -> bool:
    """Whether a pattern fits wherever a text stands in a reply."""
    forms = {text, text.upper(), text.lower(), text.title()} if folded else {text}
    return all(first.is_found_in(around.format(form)) for form in forms for around in _AROUND)


_AROUND = ("{}", "x{}x", "Well, {} ?", "1{}1", "a.\n{}\nb")
