"""Matchers of days and times: under the trial's clock, or seen from what a call brought."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime, timedelta
from typing import Any

from ferox.core.clock import Clock, at_clock_time, parse_day, parse_time, read_day
from ferox.core.json_values import brief_json
from ferox.core.matcher import MatchContext, Matcher, MatcherError, if_given
from ferox.core.naming import counted_noun
from ferox.core.value_sources import KEYS, SourceError, ValueSource, read_source
from ferox.core.writings import moments_apart
from ferox.intake.limits import GivenUp

_SOME_CLOCK = Clock("2031-03-14T00:00:00Z")
"""Phrases are tried with it as they are compiled."""
_MOVES = {"plus", "then", "at", "plus_min"}


def source_of(spec: Mapping[str, Any]) -> ValueSource:
    """A source that stands in a matcher.

    Raises:
        MatcherError, PathError: it cannot be understood.
    """
    try:
        return read_source(spec)
    except SourceError as error:
        raise MatcherError(str(error)) from None


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def day_matcher(spec: Mapping[str, Any]) -> Matcher:
    """`{day: next monday}`, or `{day: {from: checkin, path: $.date, plus: 3}}`."""
    phrase = spec["day"]
    if isinstance(phrase, dict):
        return _relative_day(phrase)
    if not isinstance(phrase, str | int) or isinstance(phrase, bool):
        raise MatcherError(
            f"`day` takes today, +2, next monday, a date or a source, not {brief_json(phrase)}"
        )
    try:
        _SOME_CLOCK.day(phrase)
    except ValueError as error:
        raise MatcherError(str(error)) from None

    def test(value: Any, at: MatchContext) -> bool:
        return isinstance(value, str) and parse_day(value, at.clock.tz) == at.clock.day(phrase)

    return Matcher(if_given(test), f"the day {phrase}", days=(phrase,))


class _Move:
    """How a day or a time lies to what a call brought: days later, a clock time, minutes later."""

    def __init__(self, spec: Mapping[str, Any], known: set[str], key: str) -> None:
        if "from" not in spec or not spec.keys() <= KEYS | known:
            keys = ", ".join(f"`{name}`" for name in ("from", "path", *sorted(known)))
            raise MatcherError(f"`{key}` seen from a value takes {keys}")
        self.source = source_of({k: v for k, v in spec.items() if k in KEYS})
        self.plus, self.then = spec.get("plus", 0), spec.get("then")
        self.at, self.plus_min = spec.get("at"), spec.get("plus_min", 0)
        try:
            self.moved_day(_SOME_CLOCK.today)
            if self.at is not None:
                at_clock_time(_SOME_CLOCK.today, str(self.at), UTC)
        except ValueError as error:
            raise MatcherError(str(error)) from None
        if not _is_number(self.plus_min):
            raise MatcherError(f"`plus_min` takes minutes, not {brief_json(self.plus_min)}")

    def moved_day(self, day: date) -> date:
        """The day that is meant, seen from another.

        Raises:
            ValueError: no day is meant.
        """
        for phrase in (self.plus, self.then):
            if not isinstance(phrase, str | int | None) or isinstance(phrase, bool):
                raise ValueError(f"{brief_json(phrase)} is not a day: give +2 or next monday")
            # A number of a unit is told without a sign here: `plus: 2 weeks`.
            if isinstance(phrase, str) and phrase[:1].isdigit() and "-" not in phrase:
                phrase = f"+{phrase}"
            day = day if phrase is None else read_day(phrase, day)
        return day

    def moments_of(self, found: Any, at: MatchContext) -> datetime | None:
        """The moment that is meant, seen from what a call brought; None if that is no moment."""
        zone = at.clock.tz
        moment = parse_time(found, zone) if isinstance(found, str) else None
        if moment is None and self.at is None:
            return None
        day = moment.astimezone(zone).date() if moment else parse_day(str(found), zone)
        if day is None:
            return None
        day = self.moved_day(day)
        if self.at is not None:
            return at_clock_time(day, str(self.at), zone) + timedelta(minutes=self.plus_min)
        assert moment is not None
        there = moment.astimezone(zone)
        moved = datetime.combine(day, there.time(), zone) if day != there.date() else moment
        return moved + timedelta(minutes=self.plus_min)

    def values(self, at: MatchContext) -> list[Any]:
        """What the source brought.

        Raises:
            GivenUp: it is an optional call that was not made.
        """
        found = at.sources(self.source)
        if found is None:
            raise GivenUp(f"{self.source.name} was not called, and is optional")
        return found

    def __str__(self) -> str:
        whole = isinstance(self.plus, int)
        parts = [counted_noun(abs(int(self.plus)), "day")] if whole and self.plus else []
        parts += [] if whole else [str(self.plus)]
        parts += [f"{abs(self.plus_min):g} min"] if self.plus_min else []
        before = (whole and self.plus < 0) or self.plus_min < 0
        where = f"{' and '.join(parts)} {'before' if before else 'after'} " if parts else "of "
        then = f", then {self.then}" if self.then else ""
        return f"{where}{self.source}{then}{f', at {self.at}' if self.at else ''}"


def _relative_day(spec: Mapping[str, Any]) -> Matcher:
    move = _Move(spec, {"plus", "then"}, "day")

    def test(value: Any, at: MatchContext) -> bool:
        given = parse_day(value, at.clock.tz) if isinstance(value, str) else None
        found = (parse_day(str(one), at.clock.tz) for one in move.values(at))
        return given is not None and any(
            day is not None and move.moved_day(day) == given for day in found
        )

    return Matcher(if_given(test), f"the day {move}", (move.source,))


def time_matcher(spec: Mapping[str, Any]) -> Matcher:
    """`{time: "tomorrow 15:00", within_min: 30}`, or `{time: {from: window, path: $.opens}}`."""
    wanted, within = spec["time"], spec.get("within_min", 0)
    if not _is_number(within):
        raise MatcherError(f"`within_min` takes a number of minutes, not {brief_json(within)}")
    if isinstance(wanted, dict):
        return _relative_time(wanted, within)
    if not isinstance(wanted, str):
        raise MatcherError(f"`time` takes a text or a source, not {brief_json(wanted)}")
    try:
        _SOME_CLOCK.time(wanted)
    except ValueError as error:
        raise MatcherError(str(error)) from None

    def test(value: Any, at: MatchContext) -> bool:
        there = parse_time(value, at.clock.tz) if isinstance(value, str) else None
        return there is not None and moments_apart(at.clock.time(wanted), there) <= within

    return Matcher(if_given(test), f"{wanted} within {within} min")


def _relative_time(spec: Mapping[str, Any], within: float) -> Matcher:
    move = _Move(spec, _MOVES, "time")

    def test(value: Any, at: MatchContext) -> bool:
        there = parse_time(value, at.clock.tz) if isinstance(value, str) else None
        moments = (move.moments_of(found, at) for found in move.values(at))
        return there is not None and any(
            moment is not None and moments_apart(moment, there) <= within for moment in moments
        )

    return Matcher(if_given(test), f"the time {move} within {within} min", (move.source,))
