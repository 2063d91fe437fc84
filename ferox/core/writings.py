"""The usual writings of a value in a text: how people write a number, a day, a time.

A value *stands in* a text if the text holds it in one of these writings, not
glued to other letters or digits.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from datetime import date, datetime, tzinfo
from decimal import Decimal, InvalidOperation
from typing import Any, Literal

from ferox.core.clock import parse_time
from ferox.intake.limits import GivenUp

Kind = Literal["text", "number", "day", "time"]

NUMBER_WORDS = tuple(
    "zero one two three four five six seven eight nine ten eleven twelve".split()  # noqa: SIM905
)
MONTHS = tuple(
    "january february march april may june july "  # noqa: SIM905
    "august september october november december".split()
)
_GAP = r"[ ,'\u2009\u202f\u00a0]"
_NUMBER = re.compile(
    rf"(?<![\w.,-])-?\d{{1,3}}(?:{_GAP}\d{{3}})+(?:\.\d+)?(?![\d\w])|(?<![\w.])-?\d+(?:\.\d+)?(?!\d)"
)
_CLOCK = re.compile(r"(?<!\d)(\d{1,2})(?:[:.h](\d{2}))?(?::\d{2})?\s*([ap]\.?m\.?)?(?!\d)", re.I)
_WORDS = re.compile(r"[^\W_]+")


LONGEST_TEXT = 5_000_000
"""Characters of the longest text that values are looked for in."""
LONG_TEXT = 20_000


def split_words(text: str) -> list[str]:
    """Case-folded runs of letters and digits, in order."""
    return [w.casefold() for w in _WORDS.findall(text)]


def numbers_in(text: str) -> list[Decimal]:
    """The numbers that a text writes in digits, thousands separators taken away."""
    result = []
    for match in _NUMBER.finditer(text):
        try:
            result.append(Decimal(re.sub(_GAP, "", match[0])))
        except InvalidOperation:
            continue
    return result


def is_rounding(written: Decimal, value: Decimal) -> bool:
    """Whether `written` is `value` rounded to the decimals that `written` shows."""
    exponent = written.as_tuple().exponent
    if not isinstance(exponent, int):
        return False
    try:
        return value.quantize(Decimal(1).scaleb(exponent)) == written
    except InvalidOperation:
        return False


def number_stands_in(value: int | float, text: str) -> bool:
    """In digits (rounded to the decimals written), or as a word up to twelve."""
    exact = Decimal(str(value))
    if any(is_rounding(n, exact) for n in numbers_in(text)):
        return True
    return (
        exact == int(exact) and 0 <= exact <= 12 and NUMBER_WORDS[int(exact)] in split_words(text)
    )


def text_stands_in(value: str, text: str) -> bool:
    """As a run of the same words (case, punctuation and spacing aside)."""
    wanted, there = split_words(value), split_words(text)
    if not wanted:
        return value in text
    size = len(wanted)
    return any(there[i : i + size] == wanted for i in range(len(there) - size + 1))


def day_stands_in(value: date, text: str) -> bool:
    """`2031-03-14`, `14/03/2031`, `14 March`, `March 14th`, `14 Mar 2031` and the like."""
    if value.isoformat() in text:
        return True
    month = f"(?:{MONTHS[value.month - 1]}|{MONTHS[value.month - 1][:3]})\\.?"
    day = rf"0?{value.day}(?:st|nd|rd|th)?"
    year = rf"(?:,?\s+{value.year})?"
    short_year = rf"(?:{value.year}|{value.year % 100:02d})"
    patterns = [
        rf"\b{day}\s+(?:of\s+)?{month}\b{year}(?!\s*\d{{4}})",
        rf"\b{month}\s+{day}\b{year}(?!,?\s*\d{{4}})",
        rf"(?<!\d)0?{value.day}[./]0?{value.month}[./]{short_year}(?!\d)",
    ]
    return any(re.search(p, text, re.I) for p in patterns)


def clock_times_in(text: str) -> set[tuple[int, int]]:
    """Hours and minutes of the clock times that a text writes, in 24 hours."""
    result = set()
    for match in _CLOCK.finditer(text):
        hour, minute, half = int(match[1]), match[2], (match[3] or "").lower()
        if minute is None and not half:
            continue
        if half and 1 <= hour <= 12:
            hour = hour % 12 + (12 if half.startswith("p") else 0)
        if (hour, int(minute or 0)) == (24, 0):  # the end of a day
            result.add((0, 0))
        elif hour < 24 and int(minute or 0) < 60:
            result.add((hour, int(minute or 0)))
    return result


def time_stands_in(value: str, text: str, zone: tzinfo) -> bool:
    """The clock time, as written or (if it has an offset) moved into the zone."""
    there = clock_times_in(text)
    wanted = set(list(clock_times_in(value))[:1]) if "T" not in value else set()
    moment = parse_time(value, zone)
    if moment:
        wanted |= {(m.hour, m.minute) for m in (moment, moment.astimezone(zone))}
    return bool(wanted & there)


def kind_of(value: Any) -> Kind:
    """The kind a value is taken for when the script does not say."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return "number"
    if isinstance(value, str):
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", value):
            return "day"
        if re.fullmatch(r"\d{1,2}:\d{2}(:\d{2})?", value) or re.match(
            r"\d{4}-\d{2}-\d{2}[Tt ]\d{2}:\d{2}", value
        ):
            return "time"
    return "text"


def stands_in(value: Any, text: str, zone: tzinfo, kind: Kind | None = None) -> bool:
    """Whether a value stands in a text in a usual writing. A list: all its elements.

    Raises:
        GivenUp: the text is too long to be looked through.
    """
    if len(text) > LONGEST_TEXT:
        raise GivenUp(f"a text of {len(text):,} characters is too long to look for a value in")
    if isinstance(value, list):
        return all(stands_in(v, text, zone, kind) for v in value)
    if isinstance(value, dict):
        return all(stands_in(v, text, zone, kind) for v in value.values())
    kind = kind or kind_of(value)
    if kind == "number":
        try:
            return number_stands_in(float(value) if isinstance(value, str) else value, text)
        except ValueError:
            return False
    if kind == "day" and isinstance(value, str):
        moment = parse_time(value, zone)
        try:
            day = moment.astimezone(zone).date() if moment else date.fromisoformat(value)
        except ValueError:
            return False
        return day_stands_in(day, text)
    if kind == "time":
        return time_stands_in(str(value), text, zone)
    if value is None or isinstance(value, bool):
        return str(value).lower() in split_words(text)
    return text_stands_in(str(value), text)


def first_place(value: Any, text: str, zone: tzinfo, kind: Kind | None = None) -> int | None:
    """Where the words end with which a value first stands in a text; None if it never does."""
    ends = [match.end() for match in re.finditer(r"\S+", text)]
    if len(text) > LONG_TEXT:  # one by one, each look would read all that stands before
        place = bisect_left(ends, True, key=lambda end: stands_in(value, text[:end], zone, kind))
        return ends[place] if place < len(ends) else None
    return next((end for end in ends if stands_in(value, text[:end], zone, kind)), None)


def moments_apart(a: datetime, b: datetime) -> float:
    """Minutes between two moments."""
    return abs((a - b).total_seconds()) / 60
