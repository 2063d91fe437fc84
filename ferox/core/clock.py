"""A trial's clock: its now, its zone, and the days and times told under them."""

from __future__ import annotations

import re
from calendar import monthrange
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from functools import cached_property
from zoneinfo import ZoneInfo

WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_DATE = re.compile(r"\d{4}-\d{2}-\d{2}")
_DATE_TIME = re.compile(
    r"(\d{4}-\d{2}-\d{2})[Tt ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)\s*([Zz]|[+-]\d{2}:?\d{2})?"
)


def parse_time(text: str, zone: tzinfo) -> datetime | None:
    """A date-time of RFC 3339; without an offset it is the zone's. None if it is none."""
    match = _DATE_TIME.fullmatch(text.strip())
    if not match:
        return None
    offset = (match[3] or "").upper().replace("Z", "+00:00")
    try:
        moment = datetime.fromisoformat(f"{match[1]}T{match[2]}{offset}")
    except ValueError:
        return None
    return moment if moment.tzinfo else moment.replace(tzinfo=zone)


def parse_day(text: str, zone: tzinfo) -> date | None:
    """A date, or the day of a date-time moved into the zone. None if it is neither."""
    text = text.strip()
    if _DATE.fullmatch(text):
        try:
            return date.fromisoformat(text)
        except ValueError:
            return None
    moment = parse_time(text, zone)
    return moment.astimezone(zone).date() if moment else None


@dataclass(frozen=True)
class Clock:
    """Now, as RFC 3339, and an IANA zone."""

    now: str
    zone: str = "UTC"

    @cached_property
    def tz(self) -> tzinfo:
        """The zone's rules; UTC needs no table."""
        return UTC if self.zone == "UTC" else ZoneInfo(self.zone)

    @cached_property
    def moment(self) -> datetime:
        """Now, in the zone.

        Raises:
            ValueError: `now` is not a date-time of RFC 3339.
        """
        moment = parse_time(self.now, self.tz)
        if moment is None:
            raise ValueError(f"`{self.now}` is not a date-time of RFC 3339")
        return moment.astimezone(self.tz)

    @property
    def today(self) -> date:
        """The zone's day now."""
        return self.moment.date()

    def day(self, phrase: str | int) -> date:
        """The day that a phrase means today: see `read_day`.

        Raises:
            ValueError: it means none.
        """
        return read_day(phrase, self.today)

    def time(self, phrase: str) -> datetime:
        """The moment that a phrase means: `now`, `+90 min`, `tomorrow 15:00` or a date-time.

        Before a clock time stands whatever `read_day` understands.

        Raises:
            ValueError: it means none.
        """
        word = " ".join(phrase.lower().split())
        moment = parse_time(phrase, self.tz)
        if moment is not None:
            return moment
        if word == "now":
            return self.moment
        later = _MINUTES.fullmatch(word)
        if later:
            unit = 60 if later[2].startswith("h") else 1
            return self.moment + timedelta(minutes=int(later[1]) * unit)
        day, _, at = word.rpartition(" ")
        if day and _AT.fullmatch(at):
            return at_clock_time(self.day(day), at, self.tz)
        raise ValueError(
            f"`{phrase}` is no time: give now, +90 min, tomorrow 15:00 or a date-time of RFC 3339"
        )


REAL = "now"
"""What a suite writes for its clock that is to meet the real time."""


def real_now() -> str:
    """The real time, as a clock tells it."""
    return datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")


_AT = re.compile(r"([01]?\d|2[0-3]):([0-5]\d)")
_MINUTES = re.compile(r"([+-]\d{1,6}) ?(min|minutes?|h|hours?)")
_STEPS = re.compile(r"([+-]\d{1,5})(?: (day|week|weekday|month|year)s?)?")
_WEEKEND = 5
"""The number of the first day of the week, from 0, that is no weekday."""


def at_clock_time(day: date, clock_time: str, zone: tzinfo) -> datetime:
    """A day's moment at a clock time such as 15:00.

    Raises:
        ValueError: it is no clock time.
    """
    match = _AT.fullmatch(clock_time)
    if match is None:
        raise ValueError(f"`{clock_time}` is no clock time: give one such as 15:00")
    return datetime.combine(day, time(int(match[1]), int(match[2])), zone)


def read_day(phrase: str | int, today: date) -> date:
    """The day that a phrase means, seen from another.

    `today`, `tomorrow`, `yesterday`; `+2` or `+2 days`, `weeks`, `months`, `years`, `weekdays`
    (Monday to Friday); `monday` is the first from today on, `next monday` the first after today,
    `last monday` the last before it; `next weekday`; `end of month`, `end of next month`,
    `start of next month`; or a date. A month later on a day that it lacks is its last.

    Raises:
        ValueError: it is none of these, or out of reach.
    """
    try:
        if isinstance(phrase, int):
            return today + timedelta(days=phrase)
        found = _read_phrase(" ".join(phrase.lower().split()), today)
    except OverflowError:
        raise ValueError(f"`{phrase}` is further away than the calendar reaches") from None
    if found is None:
        raise ValueError(
            f"`{phrase}` is not a day: give today, +2, next monday, end of month or 2031-03-14"
        )
    return found


def _read_phrase(word: str, today: date) -> date | None:
    near = {"yesterday": -1, "today": 0, "tomorrow": 1}
    if word in near:
        return today + timedelta(days=near[word])
    steps = _STEPS.fullmatch(word)
    if steps:
        return _days_later(today, int(steps[1]), steps[2] or "day")
    which, _, named = word.rpartition(" ")
    if named in WEEKDAYS and which in ("", "next", "last"):
        ahead = (WEEKDAYS.index(named) - today.weekday()) % 7
        if which == "last":
            ahead -= 7
        elif which == "next":
            ahead = ahead or 7
        return today + timedelta(days=ahead)
    if word == "next weekday":
        return _days_later(today, 1, "weekday")
    first = today.replace(day=1)
    if word == "end of month":
        return _months_later(first, 1) - timedelta(days=1)
    if word == "end of next month":
        return _months_later(first, 2) - timedelta(days=1)
    if word == "start of next month":
        return _months_later(first, 1)
    try:
        return date.fromisoformat(word)
    except ValueError:
        return None


def _days_later(day: date, count: int, unit: str) -> date:
    if unit in ("month", "year"):
        return _months_later(day, count * (12 if unit == "year" else 1))
    if unit != "weekday":
        return day + timedelta(days=count * (7 if unit == "week" else 1))
    step = timedelta(days=1 if count > 0 else -1)
    while count:
        day += step
        if day.weekday() < _WEEKEND:
            count -= 1 if count > 0 else -1
    return day


def _months_later(day: date, months: int) -> date:
    years, month = divmod(day.month - 1 + months, 12)
    if not date.min.year <= day.year + years <= date.max.year:
        raise OverflowError
    last = monthrange(day.year + years, month + 1)[1]
    return date(day.year + years, month + 1, min(day.day, last))
