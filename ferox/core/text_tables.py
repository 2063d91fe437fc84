"""Tables that stand in a text."""

from __future__ import annotations

from ferox.core.writings import split_words

SIGNS = ("|", "\t", ";", ",")
"""What parts the cells of a row."""


def table_rows(text: str, least: int = 3) -> list[list[str]]:
    """The rows of a table that a text holds: lines parted by bars, tabs, semicolons, or commas.

    Rules between rows are left out. Empty if there are not `least` rows, all of one width.
    """
    lines = [line for line in text.splitlines() if line.strip()]
    for sign in SIGNS:
        rows = [line.strip().strip("|").split(sign) for line in lines if sign in line]
        rows = [row for row in rows if not all(set(cell.strip()) <= set("-: ") for cell in row)]
        width = len(rows[0]) if rows else 0
        if len(rows) >= least and width >= 2 and all(len(row) == width for row in rows):
            return rows
    return []


def table_column(text: str, name: str) -> list[str]:
    """The cells under a heading, case and punctuation aside; none if there is no such table."""
    rows = table_rows(text, least=2)
    wanted = split_words(name)
    for place, heading in enumerate(rows[0] if rows else ()):
        if split_words(heading) == wanted:
            return [row[place].strip() for row in rows[1:]]
    return []
