"""Where values are taken from: what of a result, as several formats write it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ferox.formats.base import Name, Strict

PieceKind = Literal["lines", "items", "links"]
"""What a text falls into: its lines, the items of its lists, its links."""


class SourceEntry(Strict):
    """Values of an earlier result."""

    from_: Name = Field(alias="from")
    """The name of what brought the result."""
    path: str | None = None
    """A JSONPath to the values; left out: the whole result."""
    of: PieceKind | None = None
    """Of a text: each of its lines, list items or links."""
    column: str | None = None
    """Of a table in a text: the cells under this heading."""
    pattern: str | None = None
    """A regular expression that finds the values in a text: its first group, or all it fits."""

    @model_validator(mode="after")
    def _check_keys(self) -> SourceEntry:
        if not (self.path or self.of or self.column or self.pattern):
            raise ValueError("say which values: path, of, column or pattern")
        if self.of and self.column:
            raise ValueError("`of` and `column` do not go together: give one of the two")
        return self
