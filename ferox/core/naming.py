"""Names that nothing else has, and nouns with their counts."""

from __future__ import annotations

from collections.abc import Container


def free_name(name: str, taken: Container[str], stem: str | None = None) -> str:
    """The name, or the first `STEM-2`, `STEM-3` … that is not taken; the stem is the name itself
    unless given."""
    free, count = name, 1
    while free in taken:
        count += 1
        free = f"{name if stem is None else stem}-{count}"
    return free


def counted_noun(count: int, noun: str, plural: str | None = None) -> str:
    """A count with its noun: `1 tool`, `3 tools`; the plural is the noun with an `s` unless
    given."""
    return f"{count} {noun if count == 1 else plural or f'{noun}s'}"
