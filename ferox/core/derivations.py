"""Ways in which a number is naturally worked out from others, and how telling that is.

1. Of one list: sum, mean, median, count, range.
2. Of two numbers of one kind, or of one record: sum, difference, product, quotient.
3. Of a number in the user's words and one found anywhere: the same four.
4. In percent, and only then: a share of one record, of one kind, or of an element in its list's
   sum; a change within one kind, or within a record whose keys differ by a number or a word of
   time. Of numbers that are percentages themselves, 1 and the difference of 2 are in percent.

From many numbers nearly any number can be worked out. So all results of these ways are counted:
the share of the numbers of the same form that they hit is the chance that an invented number
would have been found too.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from itertools import combinations
from typing import NamedTuple

from ferox.core.number_sources import MOST_OF_A_KIND, Number, Numbers
from ferox.core.reply_values import StatedValue

DOUBTFUL = 0.05
"""The chance above which a value that can be worked out says nothing."""
MOST_RESULTS = 300_000
"""Results that are looked at; more of them would make every number doubtful."""
_TIME_WORDS = r"before|after|last|this|next|previous|current|old|new|yesterday|today|tomorrow"
_TIME_PART = re.compile(rf"\d+|(?<![a-z])(?:{_TIME_WORDS})(?![a-z])", re.I)


class DerivedNumber(NamedTuple):
    """A number that can be worked out: its value, in percent or not, from which numbers, and a
    form to tell how."""

    value: float
    percent: bool
    of: tuple[Number, ...]
    how: str


@dataclass(frozen=True)
class Derivation:
    """How a number is worked out: in words, from which texts by place, and by what chance it
    could have been."""

    how: str
    places: tuple[int, ...]
    chance: float

    @property
    def is_doubtful(self) -> bool:
        """Whether too many other numbers could have been worked out as well."""
        return self.chance > DOUBTFUL


class Derivations:
    """All that can be worked out from some numbers; computed once for all values of a reply."""

    def __init__(self, numbers: Numbers) -> None:
        self._results: list[DerivedNumber] = []
        for result in _all_derived(numbers):
            if len(self._results) >= MOST_RESULTS:
                break
            if math.isfinite(result.value):
                self._results.append(result)
        self._chances: dict[tuple[int, int, bool, bool], float] = {}

    def derivation_of(self, value: StatedValue) -> Derivation | None:
        """How a number of a reply is worked out; None if it is not."""
        decimals = _decimals_of(value)
        wanted, scale = float(value.number), 10.0**decimals
        reach = 0.5 + 1e-9 * max(1.0, abs(wanted) * scale)
        for result in self._results:
            if result.percent != value.percent:
                continue
            if abs(result.value * scale - wanted * scale) <= reach:
                places = tuple(dict.fromkeys(n.place for n in result.of))
                return Derivation(_formula_text(result), places, self._chance_of_value(value))
        return None

    def _chance_of_value(self, value: StatedValue) -> float:
        """The distinct results of a value's form over all numbers of that form."""
        decimals, digits = _decimals_of(value), _digits_of(float(value.number))
        form = decimals, digits, value.number < 0, value.percent
        if form not in self._chances:
            scale = 10.0**decimals
            hit = {
                rounded
                for r in self._results
                if r.percent == value.percent
                for rounded in [math.floor(abs(r.value) * scale + 0.5)]
                if (r.value < 0) == (value.number < 0) and _digits_of(rounded / scale) == digits
            }
            every = (10 if digits == 1 else 9 * 10 ** (digits - 1)) * 10**decimals
            self._chances[form] = round(min(1.0, len(hit) / every), 6)
        return self._chances[form]


def _decimals_of(value: StatedValue) -> int:
    exponent = value.number.as_tuple().exponent
    return max(0, -exponent) if isinstance(exponent, int) else 0


def _digits_of(value: float) -> int:
    """Digits before the point; a number below one has one, its zero."""
    return len(str(int(abs(value))))


def _all_derived(numbers: Numbers) -> Iterator[DerivedNumber]:
    for values in numbers.lists:
        yield from _of_list(values)
    for count, place in numbers.lengths:
        yield DerivedNumber(
            count, False, (Number(Decimal(count), place),), f"the count of {count} items"
        )
    for record in numbers.records:
        for a, b in combinations(record[:MOST_OF_A_KIND], 2):
            yield from _of_two(a, b)
            yield from _derived_shares(a, b)
            if _differ_in_time(a.key, b.key):
                yield from _derived_changes(a, b)
    for kind in [*numbers.kinds.values(), numbers.user]:
        for a, b in combinations(kind[:MOST_OF_A_KIND], 2):
            yield from _of_two(a, b)
            yield from _derived_shares(a, b)
            yield from _derived_changes(a, b)
    for a in numbers.user:
        for b in numbers.everywhere:
            if a is not b:
                yield from _of_two(a, b)
    for values in numbers.lists:
        total = sum(float(n.value) for n in values)
        for one in values if total and len(values) > 1 else ():
            share = 100 * float(one.value) / total
            yield DerivedNumber(share, True, (one, *values), "{0} as a share of its list's sum")


def _of_list(values: list[Number]) -> Iterator[DerivedNumber]:
    numbers = sorted(float(n.value) for n in values)
    count, percent, of = len(numbers), values[0].percent, tuple(values)
    if count < 2:
        return
    half = count // 2
    median = numbers[half] if count % 2 else (numbers[half - 1] + numbers[half]) / 2
    yield DerivedNumber(sum(numbers), percent, of, f"the sum of {count} values")
    yield DerivedNumber(sum(numbers) / count, percent, of, f"the mean of {count} values")
    yield DerivedNumber(median, percent, of, f"the median of {count} values")
    yield DerivedNumber(count, False, of, f"the count of {count} values")
    yield DerivedNumber(numbers[-1] - numbers[0], percent, of, f"the range of {count} values")


def _of_two(a: Number, b: Number) -> Iterator[DerivedNumber]:
    x, y, points = float(a.value), float(b.value), a.percent and b.percent
    yield DerivedNumber(x + y, False, (a, b), "{0} + {1}")
    yield DerivedNumber(x - y, points, (a, b), "{0} − {1}")
    yield DerivedNumber(y - x, points, (b, a), "{0} − {1}")
    yield DerivedNumber(x * y, False, (a, b), "{0} × {1}")
    if y:
        yield DerivedNumber(x / y, False, (a, b), "{0} ÷ {1}")
    if x:
        yield DerivedNumber(y / x, False, (b, a), "{0} ÷ {1}")


def _derived_shares(a: Number, b: Number) -> Iterator[DerivedNumber]:
    for one, other in ((a, b), (b, a)):
        if other.value:
            share = 100 * float(one.value) / float(other.value)
            yield DerivedNumber(share, True, (one, other), "{0} as a share of {1}")


def _derived_changes(a: Number, b: Number) -> Iterator[DerivedNumber]:
    for one, other in ((a, b), (b, a)):
        if one.value:
            change = 100 * (float(other.value) - float(one.value)) / float(one.value)
            yield DerivedNumber(change, True, (one, other), "the change from {0} to {1}")


def _differ_in_time(one: str, other: str) -> bool:
    """Whether two keys differ by a number or a word of time only: `y2029` and `y2030`."""
    if one == other or not (_TIME_PART.search(one) and _TIME_PART.search(other)):
        return False
    return _TIME_PART.sub("", one) == _TIME_PART.sub("", other)


def _formula_text(result: DerivedNumber) -> str:
    written = [f"{n.value:,f}".rstrip("0").rstrip(".") if n.value % 1 else f"{n.value:,.0f}"
               for n in result.of[:2]]  # fmt: skip
    return result.how.format(*written) if "{" in result.how else result.how
