"""A trial's clock: its fixed now, its zone, and the days and times told under them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
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
        """`today`, `tomorrow`, `yesterday`, `+2`, `next monday` or a date.

        `next monday` is the first Monday after today.

        Raises:
            ValueError: it is none of these.
        """
        if isinstance(phrase, int):
            return self.today + timedelta(days=phrase)
        word = phrase.strip().lower()
        if word in ("today", "tomorrow", "yesterday"):
            return self.today + timedelta(days=("yesterday", "today", "tomorrow").index(word) - 1)
        if re.fullmatch(r"[+-]\d+", word):
            return self.today + timedelta(days=int(word))
        if word.startswith("next ") and word[5:] in WEEKDAYS:
            ahead = (WEEKDAYS.index(word[5:]) - self.today.weekday() - 1) % 7 + 1
            return self.today + timedelta(days=ahead)
        try:
            return date.fromisoformat(word)
        except ValueError:
            raise ValueError(
                f"`{phrase}` is not a day: give today, +2, next monday or 2031-03-14"
            ) from None
