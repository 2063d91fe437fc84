"""Words that a regular expression fits, for what a simulated model is to say."""

from __future__ import annotations

import re

# The standard library's own parser: it has no public name.
from re import _constants, _parser  # type: ignore[attr-defined]
from typing import Any

from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

LONGEST = 200
"""Characters of the longest words that are made."""
COMMON = ("Shall I go ahead?", "Please confirm: shall I do it?", "Done.", "Yes.", "No.")
"""Tried before words are made up, for they read better."""


def fitting_words(pattern: str) -> str | None:
    """The plainest words in which a pattern is found; None if none come to mind."""
    try:
        wanted = compile_pattern(pattern)
        common = next((words for words in COMMON if wanted.is_found_in(words)), None)
        # Almost any words fit such a pattern, and the common ones would say too much.
        if common and not wanted.is_found_in("."):
            return common
        words = _written(_parser.parse(pattern))[:LONGEST].strip()
        return words if words and wanted.is_found_in(words) else None
    except (PatternError, GivenUp, re.error, RecursionError, OverflowError):
        return None


_CATEGORIES: dict[Any, str] = {
    _constants.CATEGORY_DIGIT: "1",
    _constants.CATEGORY_SPACE: " ",
    _constants.CATEGORY_NOT_WORD: " ",
}


def _written(parsed: Any) -> str:
    return "".join(_written_piece(kind, value) for kind, value in parsed)


def _written_piece(kind: Any, value: Any) -> str:
    """The shortest text of one piece of a parsed pattern; what only looks around gives none."""
    match kind:
        case _constants.LITERAL:
            return chr(value)
        case _constants.NOT_LITERAL:
            return "x" if chr(value) != "x" else "y"
        case _constants.ANY:
            return "x"
        case _constants.IN:
            return _member(value)
        case _constants.BRANCH:
            return _written(value[1][0])
        case _constants.SUBPATTERN:
            return _written(value[-1])
        case _constants.ATOMIC_GROUP:
            return _written(value)
        case _constants.MAX_REPEAT | _constants.MIN_REPEAT | _constants.POSSESSIVE_REPEAT:
            least, _, repeated = value
            return "".join(_written(repeated) for _ in range(min(least, LONGEST)))
    return ""


def _member(options: list[tuple[Any, Any]]) -> str:
    """A sign of a set; letters first, for they read as words."""
    negated = any(kind is _constants.NEGATE for kind, _ in options)
    if negated:
        return "x"
    kind, value = options[0]
    match kind:
        case _constants.LITERAL:
            return chr(value)
        case _constants.RANGE:
            return chr(value[0])
        case _constants.CATEGORY:
            return _CATEGORIES.get(value, "x")
    return "x"
