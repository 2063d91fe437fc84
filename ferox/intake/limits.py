"""How much a text from outside may hold, and values made fit to be stored.

Everything that people, agents, servers and models send is read under these limits, so that
no few bytes can become endless work, and nothing is kept that cannot be opened again.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

REPLACEMENT = "\N{REPLACEMENT CHARACTER}"
_SURROGATE = re.compile("[\ud800-\udfff]")


class IntakeError(ValueError):
    """A text that is refused. `line` and `column` count from 1 and are None if unknown."""

    def __init__(self, message: str, line: int | None = None, column: int | None = None) -> None:
        self.message, self.line, self.column = message, line, column
        super().__init__(message if line is None else f"line {line}, column {column}: {message}")


class GivenUp(ValueError):
    """Work that something from outside asked for, and that was more than anybody can wait for.

    What it was to decide is undecided; the message says what was given up.
    """


@dataclass(frozen=True)
class Limits:
    """What one text may hold at most."""

    max_bytes: int = 32 * 1024 * 1024
    max_depth: int = 100
    """Lists and objects inside each other."""
    max_nodes: int = 1_000_000
    """Values in all, aliases written out."""
    max_digits: int = 100
    """Digits of a whole number. No float has more than 767, and none is written with 100."""


MESSAGE = Limits()
"""A message of an agent, a server or a model."""
FILE = Limits(max_bytes=4 * 1024 * 1024, max_nodes=400_000)
"""A file of the workspace or a pasted text; beyond it a mistake is likelier than a script."""


def check_size(text: str | bytes, limits: Limits) -> None:
    """See that a text is not too long.

    Raises:
        IntakeError: it is.
    """
    if len(text) > limits.max_bytes:
        raise IntakeError(f"more than {limits.max_bytes:,} bytes")


_FEW_DIGITS = 40
# Long numbers, those that may be too large to be finite, and UTF-16.
_DOUBTFUL = re.compile(rf"[0-9]{{{_FEW_DIGITS}}}|[eE][+-]?[0-9]{{3}}|NaN|Infinity|\0")


def is_surely_within(text: str | bytes, limits: Limits) -> bool:
    """Whether what a JSON text holds is within the limits, as far as the text tells by itself: of
    nearly every one it does. `check_value` tells the rest."""
    written = text if isinstance(text, str) else text.decode("latin-1")
    return (
        limits.max_digits >= _FEW_DIGITS
        and len(written) <= limits.max_nodes
        and written.count("[") + written.count("{") <= limits.max_depth
        and not _DOUBTFUL.search(written)
    )


def check_value(value: Any, limits: Limits = MESSAGE) -> None:
    """See that a JSON value stays within the limits.

    Raises:
        IntakeError: it is too deep, too large, or holds a number that JSON cannot.
    """
    nodes = 0
    for depth, level in enumerate(_levels_of(value)):
        nodes += len(level)
        if depth > limits.max_depth:
            raise IntakeError(f"more than {limits.max_depth} levels")
        if nodes > limits.max_nodes:
            raise IntakeError(f"more than {limits.max_nodes:,} values")
        for item in level:
            if isinstance(item, float) and not math.isfinite(item):
                raise IntakeError(f"{item} is not a JSON number")
            # The time to print a whole number grows with the square of its digits.
            if isinstance(item, int) and abs(item) >= 10**limits.max_digits:
                raise IntakeError(f"a number of more than {limits.max_digits} digits")


def _levels_of(value: Any) -> Iterator[list[Any]]:
    """The values at each depth, the outermost first."""
    level = [value]
    while level:
        yield level
        below: list[Any] = []
        for item in level:
            if isinstance(item, dict):
                below.extend(item.values())
            elif isinstance(item, list):
                below.extend(item)
        level = below


def storable_text(text: str) -> str:
    """A text without lone surrogates, which no file and no database takes."""
    return text if text.isascii() else _SURROGATE.sub(REPLACEMENT, text)


def storable_json(value: Any) -> Any:
    """A JSON value whose texts and keys can all be stored; the same object if they can be."""
    return value if _is_storable(value) else _storable(value)


def _is_storable(value: Any) -> bool:
    """Whether it surely is, at a glance: what is stored as it stands far outnumbers the rest."""
    try:
        _WRITTEN(value).encode()
    except (ValueError, TypeError, RecursionError):  # a half character is a ValueError too
        return False
    return True


_WRITTEN = json.JSONEncoder(ensure_ascii=False, check_circular=False).encode


def _storable(value: Any) -> Any:
    if isinstance(value, str):
        return storable_text(value)
    if isinstance(value, dict):
        made = {storable_text(str(key)): _storable(item) for key, item in value.items()}
        return value if _is_unchanged(value, made) else made
    if isinstance(value, list):
        items = [_storable(item) for item in value]
        return value if all(a is b for a, b in zip(value, items, strict=True)) else items
    return value


def _is_unchanged(before: dict[str, Any], after: dict[str, Any]) -> bool:
    return before.keys() == after.keys() and all(after[k] is v for k, v in before.items())
