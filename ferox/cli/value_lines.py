"""Values as lines of a terminal: tables as tables, objects and long text over several lines."""

from __future__ import annotations

import json
from typing import Any

from rich import box
from rich.console import Console
from rich.table import Table
from rich.text import Text

from ferox.intake.visible import visible_text

MOST_LINES = 24
"""Lines of one value; the rest is counted."""
ONE_LINE = 70
"""Characters up to which a value stands on one line."""
MOST_COLUMNS = 8


def value_lines(value: Any, width: int = 100) -> list[str]:
    """A value in lines."""
    if isinstance(value, str):
        lines = value.splitlines() or [""]
    elif _is_table(value):
        return _table_lines(value, width)
    elif isinstance(value, dict) and any(_is_table(inner) for inner in value.values()):
        return [line for key, inner in value.items() for line in _field_lines(key, inner, width)]
    else:
        short = json.dumps(value, ensure_ascii=False)
        long = json.dumps(value, ensure_ascii=False, indent=1).splitlines()
        lines = [short] if len(short) <= ONE_LINE else long
    lines = [_printable(line) for line in lines]
    if len(lines) > MOST_LINES:
        lines = [*lines[:MOST_LINES], f"… {len(lines) - MOST_LINES} more lines"]
    return lines


def _field_lines(key: str, value: Any, width: int) -> list[str]:
    """A field of an object that holds a table: on one line, or under its name."""
    first, *more = value_lines(value, width)
    named = _printable(key)
    return [f"{named}: {first}"] if not more else [f"{named}:", first, *more]


def _printable(line: str) -> str:
    return visible_text(line).replace("\t", " ").rstrip()


def _is_table(value: Any) -> bool:
    """Whether it is a list of objects of the same few plain fields."""
    if not isinstance(value, list) or len(value) < 2:
        return False
    if not all(isinstance(row, dict) and row for row in value):
        return False
    keys = dict.fromkeys(k for row in value for k in row)
    plain = all(not isinstance(v, dict | list) for row in value for v in row.values())
    return plain and len(keys) <= MOST_COLUMNS


def _table_lines(rows: list[dict[str, Any]], width: int) -> list[str]:
    table = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    keys = list(dict.fromkeys(k for row in rows for k in row))
    for key in keys:
        numbers = all(isinstance(r.get(key), int | float) for r in rows if key in r)
        table.add_column(Text(key), justify="right" if numbers else "left")
    for row in rows[:MOST_LINES]:
        table.add_row(*(Text(visible_text(_cell_text(row.get(key)))) for key in keys))
    console = Console(width=width, no_color=True)
    with console.capture() as captured:
        console.print(table)
    lines = [_printable(line) for line in captured.get().splitlines() if line.strip()]
    more = len(rows) - MOST_LINES
    return [*lines, f"… {more} more rows"] if more > 0 else lines


def _cell_text(value: Any) -> str:
    if value is None:
        return ""
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
