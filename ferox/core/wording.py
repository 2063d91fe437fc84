"""What a server's wording does to an agent: remarks, cost in context, and look-alikes."""

from __future__ import annotations

import json
import re
from itertools import combinations
from typing import Any, NamedTuple

import numpy as np

from ferox.core.likeness import bag, cosine, stem, tool_bag
from ferox.core.tokens import estimated
from ferox.core.writings import words

THIN = 4
"""A description of fewer words says too little to choose by."""
ALIKE = 0.4
"""Likeness from which two tools are worth telling apart by hand."""
NAME = re.compile(r"[A-Za-z0-9_.-]{1,128}")
"""Names that the protocol's rules allow (MCP 2025-11-25, tools)."""

OPTIONAL = re.compile(r"(?i)^\W*optional\b|\(optional\)|\bdefaults? to\b")
REQUIRED = re.compile(r"(?i)^\W*required\b|\(required\)|\bmandatory\b")
"""How descriptions say whether an argument may be left out."""

Tool = dict[str, Any]
"""A tool as the protocol writes it: name, description, inputSchema and so on."""


class Remark(NamedTuple):
    """Something in a tool's definition that makes agents fail."""

    tool: str
    message: str


class Pair(NamedTuple):
    """Two tools that look alike, and the words that tell them apart."""

    one: str
    other: str
    likeness: float
    only_one: tuple[str, ...]
    only_other: tuple[str, ...]


def cost(tool: Tool) -> int:
    """What a definition takes of the context, in tokens, estimated."""
    kept = {k: tool[k] for k in ("name", "description", "inputSchema") if tool.get(k)}
    return estimated(len(json.dumps(kept, ensure_ascii=False)))


def remarks(tools: list[Tool]) -> list[Remark]:
    """What is thin, untyped, against the rules or contradictory, tool by tool."""
    found: list[Remark] = []
    names = {tool["name"] for tool in tools}
    for tool in tools:
        name, told = tool["name"], tool.get("description") or ""
        if not NAME.fullmatch(name):
            found.append(
                Remark(name, "the name breaks the protocol's rules: A–Z a–z 0–9 _ - . only")
            )
        if not told:
            found.append(Remark(name, "no description: the name alone has to say it all"))
        elif len(words(told)) < THIN:
            found.append(Remark(name, f"a thin description: “{told}”"))
        found += [Remark(name, message) for message in _arguments(tool, told, names)]
    return found


def _arguments(tool: Tool, told: str, names: set[str]) -> list[str]:
    schema = tool.get("inputSchema") or {}
    properties: dict[str, Any] = schema.get("properties") or {}
    found = []
    untyped = [n for n, p in properties.items() if isinstance(p, dict) and not _typed(p)]
    if untyped:
        found.append(f"arguments without a type: {', '.join(untyped)}")
    silent = [n for n, p in properties.items() if isinstance(p, dict) and not p.get("description")]
    if silent:
        found.append(f"arguments without a description: {', '.join(silent)}")
    absent = [n for n in schema.get("required") or () if n not in properties]
    if absent:
        found.append(f"requires what it does not define: {', '.join(absent)}")
    found += _contradictions(schema, {*properties, *names}, told)
    reading = (tool.get("annotations") or {}).get("readOnlyHint")
    if reading and re.search(r"(?i)\b(changes|creates|deletes|updates|removes|books)\b", told):
        found.append("says that it only reads, and its description speaks of a change")
    return found


def _contradictions(schema: Any, known: set[str], told: str) -> list[str]:
    """Where the words say one thing and the schema another."""
    found = []
    required = set(schema.get("required") or ())
    properties = schema.get("properties") or {}
    for name, spec in properties.items():
        words_ = spec.get("description") if isinstance(spec, dict) else None
        if not isinstance(words_, str):
            continue
        if name in required and OPTIONAL.search(words_):
            found.append(f"{name} is required, and its description calls it optional")
        if name not in required and REQUIRED.search(words_):
            found.append(f"{name} may be left out, and its description calls it required")
    for name in re.findall(r"`([a-z_][a-z0-9_]*)`", told):
        if properties and name not in known:
            found.append(f"the description speaks of `{name}`, which is no argument")
    return found


def _typed(schema: dict[str, Any]) -> bool:
    return any(k in schema for k in ("type", "enum", "const", "anyOf", "oneOf", "allOf", "$ref"))


class LookAlikes(NamedTuple):
    """Tools ordered so that the alike stand together, their matrix, and the pairs worth a look."""

    order: tuple[str, ...]
    matrix: tuple[tuple[float, ...], ...]
    pairs: tuple[Pair, ...]


def look_alikes(tools: list[Tool]) -> LookAlikes:
    """How like each other the tools of a server are on paper, from 0 to 1.

    The order is that of the leaves of an average-linkage tree, neighbours brought
    as close as the tree allows (Bar-Joseph, Gifford and Jaakkola 2001).
    """
    names = [t["name"] for t in tools]
    bags = [tool_bag(t["name"], t.get("description") or "", t.get("inputSchema")) for t in tools]
    size = len(names)
    table = np.eye(size)
    for i, j in combinations(range(size), 2):
        table[i, j] = table[j, i] = round(cosine(bags[i], bags[j]), 4)
    order = list(range(size))
    if size > 2:
        # A quarter of a second to import, which only this needs.
        from scipy.cluster.hierarchy import leaves_list, linkage
        from scipy.spatial.distance import squareform

        distances = squareform(1 - table, checks=False)
        order = [int(i) for i in leaves_list(linkage(distances, "average", optimal_ordering=True))]
    pairs = [
        _pair(tools[i], tools[j], float(table[i, j]))
        for i, j in combinations(range(size), 2)
        if table[i, j] >= ALIKE
    ]
    return LookAlikes(
        tuple(names[i] for i in order),
        tuple(tuple(float(table[i, j]) for j in order) for i in order),
        tuple(sorted(pairs, key=lambda p: (-p.likeness, p.one, p.other))),
    )


def _pair(one: Tool, other: Tool, like: float) -> Pair:
    def apart(x: Tool, y: Tool) -> tuple[str, ...]:
        mine, theirs = _text(x), bag(_text(y))
        only = [w for w in words(mine) if stem(w) not in theirs and bag(w)]
        return tuple(dict.fromkeys(only))[:4]

    return Pair(one["name"], other["name"], like, apart(one, other), apart(other, one))


def _text(tool: Tool) -> str:
    return f"{tool['name']} {tool.get('description') or ''}".replace("_", " ")
