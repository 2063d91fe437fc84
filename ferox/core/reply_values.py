"""The values that a text states: numbers, days, times, links and code-like words.

Each piece of the text is one value only, so that the digits of a date are not numbers.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from ferox.core.writings import MONTHS

Kind = Literal["link", "day", "time", "code", "number"]

SMALL = 10
"""Bare counts up to this are left out: everybody counts a few things rightly by eye."""

_MONTH = "|".join(f"{m}|{m[:3]}" for m in MONTHS)
_UNITS = (
    r"°\s?[CF]|°|km|cm|mm|nm|ft|m|kg|g|tonnes?|tons?|t|kWh|kW|MWh|MW|kV|V|A|litres?|l|kn|knots?"
    r"|miles?|met(?:re|er)s?|ms|s|secs?|seconds?|mins?|minutes?|hrs?|hours?|h|days?|weeks?"
    r"|months?|years?|EUR|GBP|USD|€|£|\$"
)
_DIGITS = r"[-−]?\d{1,3}(?:[ ,'\u2009\u202f\u00a0]\d{3})+(?:\.\d+)?|[-−]?\d+(?:\.\d+)?"
_NUMBER = re.compile(
    rf"(?P<money>[€£$]\s?)?(?<![\w.])(?P<digits>{_DIGITS})(?![\d])"
    rf"(?:(?P<percent>\s?%|\s(?:percent|per cent)\b)|\s?(?P<unit>{_UNITS})(?!\w)|(?!\w))"
)
_LINK = r"https?://[^\s<>)\]\"']+[^\s<>)\]\"'.,;:!?]"
_FORMS: tuple[tuple[Kind, str], ...] = (
    ("link", _LINK),
    ("time", r"\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?"),
    ("day", r"\d{4}-\d{2}-\d{2}"),
    ("day", rf"\b\d{{1,2}}(?:st|nd|rd|th)?\s+(?:of\s+)?(?:{_MONTH})\b\.?(?:,?\s+\d{{4}})?"),
    ("day", rf"\b(?:{_MONTH})\.?\s+\d{{1,2}}(?:st|nd|rd|th)?\b(?:,?\s+\d{{4}})?"),
    ("day", r"\b\d{1,2}[./]\d{1,2}[./]\d{4}\b"),
    ("time", r"\b\d{1,2}:\d{2}(?::\d{2})?(?:\s*[ap]\.?m\b\.?)?|\b\d{1,2}\s*[ap]\.?m\b\.?"),
    (
        "code",
        r"\b(?=[\w-]{0,80}[A-Za-z])(?=[\w-]{0,80}\d)[A-Za-z0-9][\w-]*\b|\b[A-Z]+(?:-[A-Z]+)+\b",
    ),
)
_PATTERNS = [(kind, re.compile(pattern, re.I if kind in ("day", "time") else 0))
             for kind, pattern in _FORMS]  # fmt: skip
_WITH_UNIT = re.compile(rf"\A\d+(?:\.\d+)?(?:{_UNITS})")
_NUMBERING = re.compile(r"(?m)^[ \t]*\d+[.)]\s")
DATE_TIME = _PATTERNS[1][1]
MONTH = _MONTH
LINK = re.compile(_LINK)


@dataclass(frozen=True)
class StatedValue:
    """A value as it stands in a text. Of a number: the number itself, whether it is written
    with %, and whether it stands bare, without unit, money or %."""

    kind: Kind
    text: str
    start: int
    number: Decimal = Decimal(0)
    percent: bool = False
    bare: bool = False

    @property
    def small_count(self) -> bool:
        """Whether it only counts a few things."""
        whole = self.number == self.number.to_integral_value()
        return self.kind == "number" and self.bare and whole and 0 <= self.number <= SMALL


def stated_values(text: str) -> list[StatedValue]:
    """Every value of a text, in order; the numbering of lists aside."""
    rest = _NUMBERING.sub(_blank_out, text)
    found: list[StatedValue] = []
    for kind, pattern in _PATTERNS:

        def take(match: re.Match[str], kind: Kind = kind) -> str:
            if kind == "code" and _WITH_UNIT.fullmatch(match[0]):
                return match[0]  # `12km` is a number with its unit
            found.append(StatedValue(kind, match[0], match.start()))
            return _blank_out(match)

        rest = pattern.sub(take, rest)
    found += _numbers_in(rest)
    return sorted(found, key=lambda value: value.start)


def _blank_out(match: re.Match[str]) -> str:
    return " " * len(match[0])


def _numbers_in(text: str) -> Iterator[StatedValue]:
    for match in _NUMBER.finditer(text):
        digits = re.sub(r"[ ,'\u2009\u202f\u00a0]", "", match["digits"]).replace("−", "-")
        yield StatedValue(
            "number",
            match[0].strip(),
            match.start() + len(match[0]) - len(match[0].lstrip()),
            number=Decimal(digits),
            percent=match["percent"] is not None,
            bare=not (match["percent"] or match["unit"] or match["money"]),
        )
