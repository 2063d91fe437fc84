"""Unsupported values: is every number, date, time, link and code of a reply from somewhere?

A value is *copied* if it stands, in a usual writing, in the user's words, the instructions, the
clock's date or what calls brought; *derived* if it is worked out from numbers found there in a
natural way; *doubtful* if so many numbers could be worked out that this says nothing; else
*unsupported*. No model is asked.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, tzinfo
from functools import cached_property
from typing import Any, Literal

from ferox.core.clock import Clock, parse_time
from ferox.core.derivations import Derivations
from ferox.core.number_sources import numbers_of
from ferox.core.reply_values import DATE_TIME, MONTH, Kind, StatedValue, stated_values
from ferox.core.story import Story
from ferox.core.writings import (
    MONTHS,
    clock_times_in,
    day_stands_in,
    is_rounding,
    numbers_in,
    text_stands_in,
)
from ferox.intake.limits import GivenUp

Origin = Literal["copied", "derived", "doubtful", "unsupported"]


@dataclass(frozen=True)
class ReplyValue:
    """A value of a reply: where it stands, what it is, and where it is from.

    `sources` are the places, among the texts that were looked in, of those that it came
    from; `how` tells how a derived or doubtful value was worked out, `chance` the share of
    numbers of its form that could have been.
    """

    text: str
    start: int
    kind: Kind
    origin: Origin
    sources: tuple[int, ...] = ()
    how: str | None = None
    chance: float | None = None


@dataclass(frozen=True)
class CallOutput:
    """What a call brought: its id, its text, and its result as JSON."""

    call: str
    text: str
    result: Any


@dataclass(frozen=True)
class Sources:
    """What a reply may draw on: the user's words, further texts (instructions, the clock's
    date), and what calls brought."""

    clock: Clock
    user: tuple[str, ...] = ()
    context: tuple[str, ...] = ()
    brought: tuple[CallOutput, ...] = ()

    @cached_property
    def texts(self) -> tuple[str, ...]:
        """All texts; a place is one among these."""
        return (*self.user, *self.context, *(b.text for b in self.brought))

    @cached_property
    def numbers_written(self) -> list[list[Any]]:
        """The numbers that each text writes."""
        return [numbers_in(text) for text in self.texts]

    @cached_property
    def derivations(self) -> Derivations:
        """What can be worked out."""
        results = (b.text if b.result is None else b.result for b in self.brought)
        return Derivations(numbers_of(self.user, self.context, results))

    def place_name(self, place: int) -> str:
        """What stands at a place: `user`, `instructions`, `clock`, or a call's id."""
        if place < len(self.user):
            return "user"
        place -= len(self.user)
        if place < len(self.context):
            return ("instructions", "clock")[min(place, 1)]
        return self.brought[place - len(self.context)].call


def sources_of(story: Story, by: int, clock: Clock) -> Sources:
    """What a reply at a moment (microseconds) may draw on: the user's words before it, the
    instructions, the clock's date, and what all calls before it brought."""
    return Sources(
        clock,
        tuple(text for at, text in story.user_words if at <= by),
        (story.trace.get("instructions") or "", clock.today.isoformat()),
        tuple(CallOutput(c.id, c.result_text, c.result) for c in story.calls if c.start <= by),
    )


@dataclass(frozen=True)
class JudgedValues:
    """The values of a reply, and how many small counts were left out."""

    values: list[ReplyValue]
    small_counts: int

    def of_origin(self, origin: Origin) -> list[ReplyValue]:
        """The values of one origin."""
        return [v for v in self.values if v.origin == origin]


LONGEST_REPLY = 200_000
"""Characters of the longest reply whose values are looked up."""
MOST_READ = 2_000_000
"""Characters of all texts that they are looked for in."""
MOST_COMPARED = 5_000_000
"""Pairs of a reply's value and a number of a source."""


def judge_reply(reply: str, sources: Sources) -> JudgedValues:
    """Every value of a reply with its origin; small counts and list numbering left out.

    Raises:
        GivenUp: the reply, or what it may draw on, is too long to be looked through.
    """
    read = sum(map(len, sources.texts))
    if len(reply) > LONGEST_REPLY:
        raise GivenUp(f"a reply of {len(reply):,} characters has too many values to look up")
    if read > MOST_READ:
        raise GivenUp(f"the results hold {read:,} characters, too many to look values up in")
    there = stated_values(reply)
    looked_at = [value for value in there if not value.small_count]
    numbers = sum(map(len, sources.numbers_written))
    if len(looked_at) * numbers > MOST_COMPARED:
        message = f"{len(looked_at):,} values against {numbers:,} numbers"
        raise GivenUp(f"{message} of the sources are too many to compare")
    return JudgedValues([_judge_value(v, sources) for v in looked_at], len(there) - len(looked_at))


def _judge_value(value: StatedValue, sources: Sources) -> ReplyValue:
    fields = (value.text, value.start, value.kind)
    copied = _copied_from(value, sources)
    if copied is not None:
        return ReplyValue(*fields, "copied", (copied,))
    made = sources.derivations.derivation_of(value) if value.kind == "number" else None
    if made is None:
        return ReplyValue(*fields, "unsupported")
    origin: Origin = "doubtful" if made.is_doubtful else "derived"
    return ReplyValue(*fields, origin, made.places, made.how, made.chance)


def _copied_from(value: StatedValue, sources: Sources) -> int | None:
    """The place of the text that a value was copied from: the last, for it is the nearest."""
    # Texts stand in the order in which they came: the last is the nearest to the reply.
    places = reversed(range(len(sources.texts)))
    if value.kind == "number":
        written = sources.numbers_written
        return next(
            (p for p in places if any(is_rounding(value.number, n) for n in written[p])), None
        )
    holds = _holder_of(value, sources.clock)
    return next((place for place in places if holds(sources.texts[place])), None)


def _holder_of(value: StatedValue, clock: Clock) -> Callable[[str], bool]:
    """Tells whether a text holds a value, in a usual writing."""
    zone, written = clock.tz, value.text
    if value.kind == "link":
        return lambda text: written in text
    if value.kind == "code":
        return lambda text: text_stands_in(written, text)
    if value.kind == "day":
        day = _day_of(written, clock.today.year)
        return lambda text: day is not None and _has_day(day, text, zone)
    wanted = _times_of(written, zone)
    return lambda text: bool(wanted & _times_of(text, zone))


def _times_of(text: str, zone: tzinfo) -> set[tuple[int, int]]:
    """Clock times of a text, those with an offset also moved into the zone."""
    times = clock_times_in(re.sub(r"\d{4}-\d{2}-\d{2}[T ]", "", text))
    for match in DATE_TIME.finditer(text):
        moment = parse_time(match[0], zone)
        if moment:
            times |= {(m.hour, m.minute) for m in (moment, moment.astimezone(zone))}
    return times


def _has_day(day: date, text: str, zone: tzinfo) -> bool:
    if day_stands_in(day, text):
        return True
    moments = (parse_time(m[0], zone) for m in DATE_TIME.finditer(text))
    return any(m is not None and m.astimezone(zone).date() == day for m in moments)


def _day_of(written: str, year: int) -> date | None:
    """The day that a writing names; without a year, the clock's."""
    named = re.search(MONTH, written, re.I)
    numbers = [int(n) for n in re.findall(r"\d+", written)]
    try:
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", written):
            return date.fromisoformat(written)
        if named:
            month = next(i for i, m in enumerate(MONTHS) if m[:3] == named[0][:3].lower()) + 1
            return date(numbers[1] if len(numbers) > 1 else year, month, numbers[0])
        return date(numbers[2], numbers[1], numbers[0])
    except (ValueError, IndexError):
        return None
