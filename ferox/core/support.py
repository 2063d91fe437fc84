"""Unsupported values: is every number, date, time, link and code of a reply from somewhere?

A value is *copied* if it stands, in a usual writing, in the user's words, the
instructions, the clock's date or what calls brought; *derived* if it is a sum,
difference, product, quotient or percentage of two values found there, or the sum,
mean or count of one list; else *unsupported*. No model is asked.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date, tzinfo
from decimal import Decimal, DivisionByZero, InvalidOperation
from itertools import combinations
from typing import Any, Literal

from ferox.core.clock import Clock, parse_time
from ferox.core.story import Story
from ferox.core.writings import (
    MONTHS,
    clock_times_in,
    day_stands_in,
    is_rounding,
    numbers_in,
    text_stands_in,
)

Kind = Literal["link", "day", "time", "code", "number"]
Origin = Literal["copied", "derived", "unsupported"]

MOST_NUMBERS = 300
"""Source numbers that are tried in pairs; beyond it a coincidence is likelier than a sum."""
SMALL = 10
"""Counts up to this are left out: everybody counts a few things rightly by eye."""

_MONTH = "|".join(f"{m}|{m[:3]}" for m in MONTHS)
_FORMS: tuple[tuple[Kind, str], ...] = (
    ("link", r"https?://[^\s<>)\]\"']+[^\s<>)\]\"'.,;:!?]"),
    ("time", r"\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?"),
    ("day", r"\d{4}-\d{2}-\d{2}"),
    ("day", rf"\b\d{{1,2}}(?:st|nd|rd|th)?\s+(?:of\s+)?(?:{_MONTH})\b\.?(?:,?\s+\d{{4}})?"),
    ("day", rf"\b(?:{_MONTH})\.?\s+\d{{1,2}}(?:st|nd|rd|th)?\b(?:,?\s+\d{{4}})?"),
    ("day", r"\b\d{1,2}[./]\d{1,2}[./]\d{4}\b"),
    ("time", r"\b\d{1,2}:\d{2}(?::\d{2})?(?:\s*[ap]\.?m\b\.?)?|\b\d{1,2}\s*[ap]\.?m\b\.?"),
    ("code", r"\b(?=[\w-]*[A-Za-z])(?=[\w-]*\d)[A-Za-z0-9][\w-]*\b|\b[A-Z]+(?:-[A-Z]+)+\b"),
    ("number", r"(?<![\w.])-?\d{1,3}(?:[ ,'\u2009\u202f\u00a0]\d{3})+(?:\.\d+)?(?!\w)"
               r"|(?<![\w.])-?\d+(?:\.\d+)?(?!\w)"),
)  # fmt: skip
_PATTERNS = [(kind, re.compile(pattern, re.I if kind in ("day", "time") else 0))
             for kind, pattern in _FORMS]  # fmt: skip
_UNIT = re.compile(r"-?\d+(?:\.\d+)?(?:m|km|t|kg|h|min|s|ms|kn|nm)", re.I)
_NUMBERING = re.compile(r"(?m)^\s*\d+[.)]\s")


@dataclass(frozen=True)
class Value:
    """A value of a reply: where it stands, what it is, and where it is from.

    `sources` are the places, among the texts that were looked in, of those that it came
    from; `how` tells how a derived value was worked out.
    """

    text: str
    start: int
    kind: Kind
    origin: Origin
    sources: tuple[int, ...] = ()
    how: str | None = None


@dataclass(frozen=True)
class Sources:
    """What a reply may draw on: texts, and results as JSON for the lists in them.

    The texts of the results, in their order, are the last of `texts`; `calls` are the
    results' calls.
    """

    texts: tuple[str, ...]
    results: tuple[Any, ...]
    clock: Clock
    calls: tuple[str, ...] = ()

    @property
    def first_result(self) -> int:
        """The place of the first result's text."""
        return len(self.texts) - len(self.results)


def sources_of(story: Story, by: int, clock: Clock) -> Sources:
    """What a reply at a moment (microseconds) may draw on: the user's words before it, the
    instructions, the clock's date, and what all calls before it brought."""
    calls = [c for c in story.calls if c.start <= by]
    texts = (
        *(text for at, text in story.user_words if at <= by),
        story.trace.get("instructions") or "",
        clock.today.isoformat(),
        *(c.text for c in calls),
    )
    return Sources(texts, tuple(c.result for c in calls), clock, tuple(c.id for c in calls))


def values_in(text: str) -> Iterator[tuple[Kind, str, int]]:
    """Kind, writing and place of every value, each piece of text being one thing only."""
    rest = _NUMBERING.sub(lambda m: " " * len(m[0]), text)
    found: list[tuple[Kind, str, int]] = []
    for kind, pattern in _PATTERNS:
        for match in pattern.finditer(rest):
            written = match[0]
            if kind == "code" and _UNIT.fullmatch(written):
                number = re.match(r"-?\d+(?:\.\d+)?", written)
                found.append(("number", number[0] if number else written, match.start()))
            else:
                found.append((kind, written, match.start()))
        rest = pattern.sub(lambda m: " " * len(m[0]), rest)
    return iter(sorted(found, key=lambda value: value[2]))


def judge(reply: str, sources: Sources) -> list[Value]:
    """Every value of a reply with its origin; small counts and list numbering left out."""
    judged = []
    numbers = _source_numbers(sources)
    for kind, written, start in values_in(reply):
        if kind == "number" and _is_small(written):
            continue
        copied = _copied(kind, written, sources)
        made = None
        if copied is None and kind == "number":
            made = _derived(numbers_in(written)[0], numbers, sources)
        if copied is not None:
            judged.append(Value(written, start, kind, "copied", (copied,)))
        elif made is not None:
            judged.append(Value(written, start, kind, "derived", *made))
        else:
            judged.append(Value(written, start, kind, "unsupported"))
    return judged


def _is_small(written: str) -> bool:
    return written.isdigit() and int(written) <= SMALL


def _copied(kind: Kind, written: str, sources: Sources) -> int | None:
    """The place of the text that a value was copied from: the last, for it is the nearest."""
    holds = _holder(kind, written, sources.clock)
    places = reversed(range(len(sources.texts)))
    return next((place for place in places if holds(sources.texts[place])), None)


def _holder(kind: Kind, written: str, clock: Clock) -> Callable[[str], bool]:
    """Tells whether a text holds a value, in a usual writing."""
    zone = clock.tz
    if kind == "link":
        return lambda text: written in text
    if kind == "code":
        return lambda text: text_stands_in(written, text)
    if kind == "day":
        day = _day(written, clock.today.year)
        return lambda text: day is not None and _has_day(day, text, zone)
    if kind == "time":
        wanted = _times(written, zone)
        return lambda text: bool(wanted & _times(text, zone))
    number = numbers_in(written)[0]
    return lambda text: any(is_rounding(number, there) for there in numbers_in(text))


def _times(text: str, zone: tzinfo) -> set[tuple[int, int]]:
    """Clock times of a text, those with an offset also moved into the zone."""
    times = clock_times_in(re.sub(r"\d{4}-\d{2}-\d{2}[T ]", "", text))
    for match in re.finditer(_FORMS[1][1], text):
        moment = parse_time(match[0], zone)
        if moment:
            times |= {(m.hour, m.minute) for m in (moment, moment.astimezone(zone))}
    return times


def _has_day(day: date, text: str, zone: tzinfo) -> bool:
    if day_stands_in(day, text):
        return True
    moments = (parse_time(m[0], zone) for m in re.finditer(_FORMS[1][1], text))
    return any(m is not None and m.astimezone(zone).date() == day for m in moments)


def _day(written: str, year: int) -> date | None:
    """The day that a writing names; without a year, the clock's."""
    named = re.search(_MONTH, written, re.I)
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


def _source_numbers(sources: Sources) -> list[tuple[Decimal, int]]:
    """The numbers of the sources with their texts, those inside dates, times, links and codes
    aside.

    One that stands there more than once is given twice: it may be added to itself.
    """
    found: dict[Decimal, list[int]] = {}
    for place, text in enumerate(sources.texts):
        for kind, written, _ in values_in(text):
            if kind == "number":
                for number in numbers_in(written):
                    found.setdefault(number, []).append(place)
    return [(n, place) for n, places in found.items() for place in places[:2]][:MOST_NUMBERS]


Made = tuple[tuple[int, ...], str]
"""The texts that a derived value came from, and how."""


def _derived(number: Decimal, numbers: list[tuple[Decimal, int]], sources: Sources) -> Made | None:
    """How a number is worked out from what is there; None if it is not."""
    for place, result in enumerate(sources.results):
        for values in _lists([result]):
            for value, how in _of_list(values):
                if is_rounding(number, value):
                    return (sources.first_result + place,), how
    for (a, at), (b, there) in combinations(numbers, 2):
        for value, how in _of_two(a, b):
            if is_rounding(number, value):
                return tuple(dict.fromkeys((at, there))), how
    return None


def _of_two(a: Decimal, b: Decimal) -> Iterator[tuple[Decimal, str]]:
    yield a + b, f"{a} + {b}"
    yield a - b, f"{a} − {b}"
    yield b - a, f"{b} − {a}"
    yield a * b, f"{a} × {b}"
    for x, y in ((a, b), (b, a)):
        try:
            yield x / y, f"{x} ÷ {y}"
            yield 100 * x / y, f"{x} as a share of {y}, in percent"
        except (DivisionByZero, InvalidOperation):
            continue


def _of_list(values: list[Decimal]) -> Iterator[tuple[Decimal, str]]:
    total = sum(values, Decimal(0))
    yield total, f"the sum of {len(values)} values" if len(values) > 1 else "the count of a list"
    yield total / len(values), f"the mean of {len(values)} values"


def _lists(results: Iterable[Any]) -> Iterator[list[Decimal]]:
    """Numbers of every list, and of one key of its objects; a list's length as a list of one."""
    for value in results:
        if isinstance(value, dict):
            yield from _lists(value.values())
        elif isinstance(value, list) and value:
            yield [Decimal(len(value))]
            keys = {k for item in value if isinstance(item, dict) for k in item}
            columns = [[i.get(k) for i in value if isinstance(i, dict)] for k in sorted(keys)]
            for column in [value, *columns]:
                numbers = [Decimal(str(n)) for n in column if _is_number(n)]
                if numbers:
                    yield numbers
            yield from _lists(v for v in value if isinstance(v, dict | list))


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
