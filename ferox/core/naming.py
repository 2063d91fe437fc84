"""Names that nothing else has."""

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
