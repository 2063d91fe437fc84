"""Where a script takes values from: what of a call's result, or of a truth's."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from typing import Any, get_args

from ferox.core.json_paths import check_path, find_nodes, find_values
from ferox.core.json_values import brief_json, canonical_json, equal_json
from ferox.core.reply_values import LINK
from ferox.core.text_tables import table_column
from ferox.formats.source import PieceKind, SourceEntry
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

MOST_PIECES = 10_000
"""Pieces that are taken of one result's text."""
_ITEM = re.compile(r"(?m)^[ \t]*(?:[-*+•]|\d{1,4}[.)])[ \t]+(.+)$")
PIECES: dict[str, Callable[[str], list[str]]] = {
    "lines": lambda text: [line.strip() for line in text.splitlines() if line.strip()],
    "items": lambda text: [item.strip() for item in _ITEM.findall(text)],
    "links": lambda text: LINK.findall(text),
}
"""What a text falls into, by its name in a script."""
KEYS = frozenset({"from", "path", "of", "column", "pattern"})
SOURCE_FORMS = tuple(
    frozenset({"from", *form})
    for form in (
        ("path",), ("of",), ("column",), ("pattern",), ("path", "of"), ("path", "column"),
        ("path", "pattern"), ("of", "pattern"), ("column", "pattern"),
        ("path", "of", "pattern"), ("path", "column", "pattern"),
    )
)  # fmt: skip
"""The keys of every source that a script may write."""


class SourceError(ValueError):
    """A source that cannot be understood."""


@dataclass(frozen=True)
class ValueSource:
    """Values of the result of a call or a truth, by its name.

    `path` is a JSONPath; left out: the whole result. Of what is found there `of` takes each
    line, list item or link of the text, `column` the cells under a heading of the table in it,
    and `pattern` what it finds in each: its first group, or all that it fits.
    """

    name: str
    path: str | None = None
    of: PieceKind | None = None
    column: str | None = None
    pattern: str | None = None

    @classmethod
    def of_entry(cls, entry: SourceEntry) -> ValueSource:
        """The source that an entry of a file means."""
        return cls(entry.from_, entry.path, entry.of, column=entry.column, pattern=entry.pattern)

    @property
    def is_of_text(self) -> bool:
        """Whether its values are pieces of a text."""
        return bool(self.of or self.column or self.pattern)

    def nodes(self, result: Any) -> list[Any]:
        """The nodes at the path, or the pieces of their texts.

        Raises:
            GivenUp: finding them takes too long, or too many are found.
        """
        found = find_nodes(result, self.path or "$")
        return self._pieces(found) if self.is_of_text else found

    def values(self, result: Any) -> list[Any]:
        """The values that `from` may take: each node, and the elements of an only node that is a
        list; or the pieces of their texts."""
        return self.nodes(result) if self.is_of_text else find_values(result, self.path or "$")

    def items(self, result: Any) -> list[Any]:
        """The nodes, and of an only node that is a list its elements; or the pieces."""
        found = self.nodes(result)
        alone = len(found) == 1 and isinstance(found[0], list)
        return found[0] if alone and not self.is_of_text else found

    def equals(self, value: Any, found: Any) -> bool:
        """Whether a value is one that was found. A number in a text is found as text."""
        if equal_json(value, found):
            return True
        if not self.is_of_text or isinstance(value, bool) or not isinstance(value, int | float):
            return False
        try:
            return Decimal(str(value)) == Decimal(found.replace(",", "").strip())
        except InvalidOperation:
            return False

    def pieces_of(self, text: str) -> list[str]:
        """The pieces of a text that are such values."""
        pieces = [text]
        if self.column is not None:
            pieces = table_column(text, self.column)
        elif self.of is not None:
            pieces = PIECES[self.of](text)
        if self.pattern is not None:
            pattern = compile_pattern(self.pattern)
            pieces = [match for piece in pieces for match in pattern.all_matches(piece)]
        if len(pieces) > MOST_PIECES:
            raise GivenUp(f"more than {MOST_PIECES:,} pieces of text are too many to look at")
        return pieces

    def _pieces(self, nodes: list[Any]) -> list[Any]:
        return [piece for text in _texts_of(nodes) for piece in self.pieces_of(text)]

    def __str__(self) -> str:
        """As a message tells it: `found at $.text, each line matching /IMO/`."""
        parts = [self.name]
        if self.path is not None:
            parts.append(f" at {self.path}")
        if self.column is not None:
            parts.append(f", column {self.column}")
        if self.of is not None:
            parts.append(f", its {self.of}")
        if self.pattern is not None:
            parts.append(f", what matches /{self.pattern}/")
        return "".join(parts)


def _texts_of(nodes: list[Any]) -> Iterator[str]:
    for node in nodes:
        if isinstance(node, str):
            yield node
        elif isinstance(node, list):
            yield from _texts_of(node)
        elif isinstance(node, dict):
            yield from _texts_of(list(node.values()))
        elif node is not None:
            yield canonical_json(node)


def is_source(spec: Any) -> bool:
    """Whether an object of a script would be read as a source: `from`, and what of it."""
    return isinstance(spec, dict) and frozenset(spec) in SOURCE_FORMS


def read_source(spec: Mapping[str, Any]) -> ValueSource:
    """A source as a script writes it: `{from: found, path: $.text, pattern: "…"}`.

    Raises:
        SourceError, PathError: it cannot be understood.
    """
    for key, value in spec.items():
        if not isinstance(value, str):
            raise SourceError(f"`{key}` takes a text, not {brief_json(value)}")
    if not is_source(spec):
        raise SourceError("a source is `from` with path, pattern, and one of `of` and `column`")
    if "of" in spec and spec["of"] not in get_args(PieceKind):
        raise SourceError(f"`of` takes lines, items or links, not `{spec['of']}`")
    if "path" in spec:
        check_path(spec["path"])
    try:
        if "pattern" in spec:
            compile_pattern(spec["pattern"])
    except PatternError as error:
        raise SourceError(f"`pattern` takes a regular expression: {error}") from None
    return ValueSource(**{"name" if key == "from" else key: spec[key] for key in spec})
