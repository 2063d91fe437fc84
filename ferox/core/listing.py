"""What changed between two lists of a server's tools."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

from ferox.core.json_values import canonical_json

Definition = dict[str, Any]


class Difference(NamedTuple):
    """One place where two values differ: a JSON Pointer, and what stood and stands there.

    What is absent is None.
    """

    where: str
    before: Any
    after: Any


class ListChange(NamedTuple):
    """A tool that came, went or changed."""

    tool: str
    kind: str
    what: tuple[Difference, ...] = ()


def json_differences(before: Any, after: Any, where: str = "") -> list[Difference]:
    """Every place where two JSON values differ, as deep as their shapes agree."""
    if isinstance(before, dict) and isinstance(after, dict):
        found: list[Difference] = []
        for key in [*before, *(k for k in after if k not in before)]:
            place = f"{where}/{key.replace('~', '~0').replace('/', '~1')}"
            if key not in after or key not in before:
                found.append(Difference(place, before.get(key), after.get(key)))
            else:
                found += json_differences(before[key], after[key], place)
        return found
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return [
            d
            for i, (one, other) in enumerate(zip(before, after, strict=True))
            for d in json_differences(one, other, f"{where}/{i}")
        ]
    if canonical_json(before) == canonical_json(after):
        return []
    return [Difference(where, before, after)]


def list_changes(before: list[Definition], after: list[Definition]) -> list[ListChange]:
    """Tools that came, went or changed, in the order of the newer list, those gone last."""
    old = {t["name"]: t for t in before}
    new = {t["name"]: t for t in after}
    found = []
    for name, tool in new.items():
        if name not in old:
            found.append(ListChange(name, "new"))
        elif json.dumps(old[name]) != json.dumps(tool):  # most have not changed at all
            what = json_differences(old[name], tool)
            if what:
                found.append(ListChange(name, "changed", tuple(what)))
    return found + [ListChange(name, "gone") for name in old if name not in new]
