"""Wording what-if: what an agent reads of a tool changed, what the server gets unchanged."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from ferox.core.definitions import properties_of
from ferox.formats.server import ToolWording

Definition = dict[str, Any]


def reworded_tool(tool: Definition, wording: ToolWording) -> Definition:
    """A tool's definition with other words; the arguments' types stay unless `input` is given."""
    new = dict(tool)
    for key in ("name", "title", "description"):
        words = getattr(wording, key)
        if words is not None:
            new[key] = words
    schema = dict(wording.input if wording.input is not None else tool.get("inputSchema") or {})
    if wording.arguments and isinstance(schema.get("properties"), dict):
        properties = {}
        for name, spec in schema["properties"].items():
            words = wording.arguments.get(name)
            described = words.description if words else None
            if described is not None and isinstance(spec, dict):
                spec = {**spec, "description": described}
            properties[words.name if words and words.name else name] = spec
        schema["properties"] = properties
        names = {n: w.name for n, w in wording.arguments.items() if w.name}
        if isinstance(schema.get("required"), list):
            schema["required"] = [names.get(n, n) for n in schema["required"]]
    new["inputSchema"] = schema
    return new


class Rewording:
    """The names that a wording changes, both ways."""

    def __init__(self, wording: Mapping[str, ToolWording]) -> None:
        self._wording = wording
        self._own = {w.name: own for own, w in wording.items() if w.name and w.name != own}

    def shown_definition(self, tool: Definition) -> Definition:
        """A definition as the agent reads it."""
        wording = self._wording.get(tool["name"])
        return reworded_tool(tool, wording) if wording else tool

    def own_name(self, shown: str) -> str:
        """The server's own name of a tool that the agent calls by another."""
        if shown in self._own:
            return self._own[shown]
        wording = self._wording.get(shown)
        hidden = wording is not None and wording.name not in (None, shown)
        return f"{shown} (renamed)" if hidden else shown

    def own_args(self, own: str, args: Any) -> Any:
        """A call's arguments by the server's own names."""
        wording = self._wording.get(own)
        if not wording or not wording.arguments or not isinstance(args, dict):
            return args
        names = {w.name: n for n, w in wording.arguments.items() if w.name}
        return {names.get(name, name): value for name, value in args.items()}


def wording_problems(
    tools: Mapping[str, Definition], wording: Mapping[str, ToolWording]
) -> Iterable[tuple[tuple[str, ...], str]]:
    """Where a wording fits no tool or argument, or gives two tools one name: path and message."""
    names: dict[str, str] = {}
    for own in tools:
        change = wording.get(own)
        name = (change.name if change else None) or own
        if name in names:
            yield (own if change else names[name], "name"), f"two tools would be called `{name}`"
        names[name] = own
    for own, change in wording.items():
        if own not in tools:
            yield (own,), f"`{own}`: no such tool"
            continue
        properties = properties_of(tools[own].get("inputSchema"))
        for argument in change.arguments:
            if change.input is None and argument not in properties:
                yield (own, "arguments", argument), f"`{own}` has no argument `{argument}`"
