"""Chains of names: together, what comes before what."""

from __future__ import annotations

from collections.abc import Collection, Mapping


def way(before: Mapping[str, Collection[str]], start: str, goal: str) -> list[str] | None:
    """The shortest way from one name to another by what each comes before; None if none leads."""
    ways = [[start]]
    seen = {start}
    while ways:
        names = ways.pop(0)
        if names[-1] == goal:
            return names
        for name in before.get(names[-1], ()):
            if name not in seen:
                seen.add(name)
                ways.append([*names, name])
    return None
