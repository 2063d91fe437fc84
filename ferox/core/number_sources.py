"""The numbers that a reply may be worked out from, with what they have in common.

What may be computed with what follows from where numbers stand: in one list, under one key, in
one record, or in the user's words.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from ferox.core.reply_values import stated_values
from ferox.core.text_tables import table_rows

MOST_OF_A_KIND = 250
"""Numbers of one kind that are taken in pairs."""
MOST_NUMBERS = 2000
"""Numbers of all results that are looked at."""
_PERCENT_KEY = re.compile(r"(?i)percent|pct|share")


@dataclass(frozen=True)
class Number:
    """A number of a source. `place`: of the text it stands in; `key`: under which; `percent`:
    it is told in percent."""

    value: Decimal
    place: int
    key: str = ""
    percent: bool = False


@dataclass
class Numbers:
    """Numbers by what they have in common."""

    lists: list[list[Number]] = field(default_factory=list)
    """One key of a list's objects, one column of a table, or a list of numbers."""
    lengths: list[tuple[int, int]] = field(default_factory=list)
    """How many items a list has, and the place of its text."""
    kinds: dict[str, list[Number]] = field(default_factory=dict)
    """By key, over all results."""
    records: list[list[Number]] = field(default_factory=list)
    """Of one object, or one row of a table."""
    user: list[Number] = field(default_factory=list)
    everywhere: list[Number] = field(default_factory=list)


def numbers_of(user: Iterable[str], context: Iterable[str], results: Iterable[Any]) -> Numbers:
    """The numbers of the user's words, of further texts, and of results, placed in this order."""
    numbers = Numbers()
    place = 0
    for text in user:
        numbers.user += _in_text(text, place)
        place += 1
    numbers.everywhere += numbers.user
    for text in context:
        numbers.everywhere += _in_text(text, place)
        place += 1
    for result in results:
        _walk_value(result, place, "", numbers)
        place += 1
    return numbers


def _in_text(text: str, place: int, key: str = "") -> list[Number]:
    return [
        Number(s.number, place, key, s.percent or bool(_PERCENT_KEY.search(key)))
        for s in stated_values(text)
        if s.kind == "number"
    ]


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _number_at(value: int | float, place: int, key: str) -> Number:
    return Number(Decimal(str(value)), place, key, bool(_PERCENT_KEY.search(key)))


def _take_number(numbers: Numbers, found: list[Number]) -> None:
    room = MOST_NUMBERS - len(numbers.everywhere)
    for one in found[: max(0, room)]:
        numbers.everywhere.append(one)
        kind = numbers.kinds.setdefault(one.key, [])
        if one.key and len(kind) < MOST_OF_A_KIND:
            kind.append(one)


def _walk_value(value: Any, place: int, key: str, numbers: Numbers) -> None:
    if isinstance(value, dict):
        record = [_number_at(v, place, k) for k, v in value.items() if _is_finite(v)]
        _take_number(numbers, record)
        if len(record) > 1:
            numbers.records.append(record)
        for name, inner in value.items():
            if not _is_number(inner):
                _walk_value(inner, place, str(name), numbers)
    elif isinstance(value, list):
        _walk_list(value, place, key, numbers)
    elif _is_finite(value):
        _take_number(numbers, [_number_at(value, place, key)])
    elif isinstance(value, str):
        table = table_rows(value)
        if table:
            _walk_table(table, place, numbers)
        else:
            _take_number(numbers, _in_text(value, place, key))


def _is_finite(value: Any) -> bool:
    return _is_number(value) and abs(value) < float("inf")  # not NaN either


def _walk_list(value: list[Any], place: int, key: str, numbers: Numbers) -> None:
    if value:
        numbers.lengths.append((len(value), place))
    plain = [_number_at(v, place, key) for v in value if _is_finite(v)]
    _take_number(numbers, plain)
    keys = {k for item in value if isinstance(item, dict) for k in item}
    columns = [
        [_number_at(i[k], place, k) for i in value if isinstance(i, dict) and _is_finite(i.get(k))]
        for k in sorted(keys)
    ]
    numbers.lists += [column for column in [plain, *columns] if column]
    for item in value:
        if not _is_number(item):
            _walk_value(item, place, key, numbers)


def _walk_table(rows: list[list[str]], place: int, numbers: Numbers) -> None:
    """A table in text: its columns are lists of one kind, its rows records."""
    header = [cell.strip() for cell in rows[0]]
    named = not any(_table_cell(cell) for cell in header)
    body = rows[1:] if named else rows
    keys = header if named else [f"column {n + 1}" for n in range(len(header))]
    numbers.lengths.append((len(body), place))
    columns: dict[str, list[Number]] = {}
    for row in body:
        record = []
        for name, cell in zip(keys, row, strict=True):
            percent = "%" in cell or "%" in name or bool(_PERCENT_KEY.search(name))
            for value in _table_cell(cell):
                one = Number(value, place, name, percent)
                record.append(one)
                columns.setdefault(name, []).append(one)
        _take_number(numbers, record)
        if len(record) > 1:
            numbers.records.append(record)
    numbers.lists += columns.values()


def _table_cell(text: str) -> list[Decimal]:
    """The number of a cell, if it holds just one."""
    found = [s for s in stated_values(text) if s.kind == "number"]
    return [found[0].number] if len(found) == 1 else []
