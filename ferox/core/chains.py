"""Chains of names: together, what comes before what."""

from __future__ import annotations

from collections.abc import Collection, Mapping


def path_between(before: Mapping[str, Collection[str]], start: str, goal: str) -> list[str] | None:
    """The shortest path from one name to another by what each comes before; None if none leads."""
    paths = [[start]]
    seen = {start}
    while paths:
        names = paths.pop(0)
        if names[-1] == goal:
            return names
        for name in before.get(names[-1], ()):
            if name not in seen:
                seen.add(name)
                paths.append([*names, name])
    return None
