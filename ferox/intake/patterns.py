"""Regular expressions from outside: Python's `re` syntax, with bounds on work.

Matched by the `regex` package, which gives up after a time and lets other threads run
meanwhile. Its compiler writes counted groups out, so what they multiply to is bounded first.
"""

from __future__ import annotations

import re
import warnings
from collections import deque
from functools import lru_cache
from itertools import pairwise
from math import prod
from typing import Any

import regex

from ferox.intake.limits import GivenUp

MATCH_S = 0.25
"""Seconds that one search may take; a pattern without nested repeats needs microseconds."""
LONGEST = 4_000
"""Characters of the longest pattern."""
HEAVIEST = 20_000
"""Steps that a pattern may have once its counted groups are written out."""

SHORT_PATTERN, SHORT_TEXT = 200, 300
"""Characters up to which a search with one simple repeat ends well within the time, so that it
needs no clock. Asking for the time costs more than most searches do."""
KEPT = 20
"""Texts that a pattern remembers to be too slow on, for the same are asked again and again."""

# Python warns of what may mean something else in some later version; nobody here could act on it.
warnings.filterwarnings("ignore", "Possible (nested set|set)", FutureWarning)

_TOKEN = re.compile(
    r"\\.|\(\?#[^)]*\)|\[\^?\]?(?:\\.|[^\]\\])*+\]?|\{(\d{0,9})(?:,(\d{0,9}))?\}|.", re.S
)
_VERBOSE = re.compile(r"\(\?[a-zA-Z]*x")


class PatternError(ValueError):
    """A pattern that cannot be used; the message says why."""


class Pattern:
    """A compiled pattern whose searches end."""

    def __init__(self, source: str) -> None:
        self.source = source
        self._compiled = _compile_cached(source)
        self._is_swift = _is_swift(source)
        self._given_up: set[str] = set()

    def first_match(self, text: str) -> str | None:
        """The first piece of a text that the pattern fits, which may be empty.

        Raises:
            GivenUp: it was not decided in time.
        """
        if self._is_swift and len(text) <= SHORT_TEXT:
            found = self._compiled.search(text, concurrent=False)
            return None if found is None else str(found[0])
        if text in self._given_up:
            raise GivenUp(self._give_up_reason(text))
        try:
            # `concurrent` gives the interpreter's lock away, so that others go on meanwhile.
            found = self._compiled.search(text, timeout=MATCH_S, concurrent=True)
        except TimeoutError:
            self._given_up = {*list(self._given_up)[-KEPT:], text}
            raise GivenUp(self._give_up_reason(text)) from None
        return None if found is None else str(found[0])

    def last_match(self, text: str) -> str | None:
        """The last piece of a text that the pattern fits; of one with groups, its first group.

        Raises:
            GivenUp: it was not decided in time.
        """
        matches = self._compiled.finditer(text, timeout=MATCH_S, concurrent=True)
        try:
            last = next(iter(deque(matches, maxlen=1)), None)
        except TimeoutError:
            raise GivenUp(self._give_up_reason(text)) from None
        if last is None:
            return None
        return str(last[1] if self._compiled.groups else last[0])

    def all_matches(self, text: str) -> list[str]:
        """Every piece of a text that the pattern fits, in order; of one with groups, the first
        group that took part. Empty pieces are left out.

        Raises:
            GivenUp: it was not decided in time.
        """
        found = []
        try:
            for match in self._compiled.finditer(text, timeout=MATCH_S, concurrent=True):
                groups = [group for group in match.groups() if group is not None]
                found.append(str(groups[0] if groups else match[0]))
        except TimeoutError:
            raise GivenUp(self._give_up_reason(text)) from None
        return [piece for piece in found if piece]

    def is_found_in(self, text: str) -> bool:
        """Whether the pattern is found anywhere in a text.

        Raises:
            GivenUp: it was not decided in time.
        """
        return self.first_match(text) is not None

    def _give_up_reason(self, text: str) -> str:
        shown = self.source if len(self.source) <= 60 else self.source[:59] + "…"
        return (
            f"the pattern /{shown}/ was given up after {MATCH_S:g} s: it takes too long on "
            f"a text of {len(text)} characters"
        )


@lru_cache(maxsize=4096)
def compile_pattern(source: str) -> Pattern:
    """A pattern, compiled once.

    Raises:
        PatternError: it is none, or is longer or heavier than anybody needs.
    """
    return Pattern(source)


def _compile_cached(source: Any) -> Any:
    if not isinstance(source, str):
        raise PatternError("a regular expression is a text")
    if len(source) > LONGEST:
        raise PatternError(f"a regular expression of more than {LONGEST} characters")
    if _weight_of(source) > HEAVIEST:
        raise PatternError("its repeats multiply to more than anybody can match")
    try:
        # The formats promise the syntax of `re`; what only `regex` takes is refused.
        re.compile(source)
        return regex.compile(source)
    except (re.error, regex.error, RecursionError, OverflowError, MemoryError) as error:
        raise PatternError(f"no regular expression: {error or type(error).__name__}") from None


def _is_swift(source: str) -> bool:
    """Whether a pattern repeats one thing at most, and no group: then a search takes no more
    steps than the pattern has characters, times the square of the text's."""
    if len(source) > SHORT_PATTERN or "(?#" in source or _VERBOSE.search(source):
        return False  # a blank or comment may stand between a group and its repeat
    tokens = [token[0] for token in _TOKEN.finditer(source)]
    repeats = [
        before
        for before, token in pairwise(tokens)
        if before != "(" and (token in "*+?" or (token[0] == "{" and len(token) > 1))
    ]
    return len(repeats) <= 1 and ")" not in repeats


def _weight_of(source: str) -> int:
    """Steps of a pattern with each `{n}` of a group written out, never less than there are."""
    if _VERBOSE.search(source):  # blanks and comments may stand before a count
        counts = (int(n) for n in re.findall(r"\d+", source) if len(n) < 10)
        return len(source) * prod(max(n, 1) for n in counts)
    outer: list[int] = []
    here, last = 0, 0
    for token in _TOKEN.finditer(source):
        text = token[0]
        if text.startswith("(?#"):
            continue
        if text == "(":
            outer.append(here)
            here, last = 0, 0
        elif text == ")" and outer:
            last = here
            here += outer.pop()
        elif len(text) > 1 and text[0] == "{" and (token[1] or token[2]):
            times = max(int(token[1] or token[2]), 1)
            here += last * (times - 1)
            last *= times
        else:
            here, last = here + 1, 1
        if here > HEAVIEST:
            break
    return here
