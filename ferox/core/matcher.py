"""What a compiled matcher is, and what it may look at."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from ferox.core.clock import Clock
from ferox.core.value_sources import ValueSource
from ferox.core.writings import stands_in
from ferox.intake.limits import GivenUp


class Absent:
    """The value of an argument that was not given; null is given."""

    def __repr__(self) -> str:
        return "not given"


ABSENT = Absent()


@dataclass(frozen=True)
class MatchContext:
    """What a matcher may look at besides the value.

    `sources` gives the values that a source may take, or None where it was an optional call
    that was not made (then `seen` decides);
    `results` gives the texts of all earlier results.
    """

    clock: Clock
    sources: Callable[[ValueSource], list[Any] | None] = lambda source: []
    user_text: Callable[[], str] = lambda: ""
    results: Callable[[], Sequence[str]] = tuple

    def has_seen(self, value: Any) -> bool:
        """Whether a value stands in the user's words or any earlier result."""
        texts = (self.user_text(), *self.results())
        if isinstance(value, list):
            return all(self.has_seen(v) for v in value)
        return any(stands_in(value, text, self.clock.tz) for text in texts)


Test = Callable[[Any, MatchContext], bool]


@dataclass(frozen=True)
class Matcher:
    """A compiled matcher: its test, how a message tells it, and the sources and days it refers
    to."""

    test: Test
    description: str
    sources: tuple[ValueSource, ...] = field(default=())
    days: tuple[str | int, ...] = field(default=())
    looks_back: bool = False
    """It looks through the user's words or all earlier results."""

    def holds_for(self, value: Any, context: MatchContext) -> bool:
        """Whether a value (or ABSENT) is known to satisfy the matcher.

        `test` tells what is undecided apart: it raises GivenUp.
        """
        try:
            return self.test(value, context)
        except GivenUp:
            return False


class MatcherError(ValueError):
    """A matcher that cannot be understood."""


def if_given(test: Test) -> Test:
    """A test that fails for an argument that was not given."""
    return lambda value, at: value is not ABSENT and test(value, at)
