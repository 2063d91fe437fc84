"""What a server's wording does to an agent: remarks, cost in context, and look-alikes."""

from __future__ import annotations

import heapq
import json
import math
import re
from typing import Any, NamedTuple

import numpy as np

from ferox.core.definitions import (
    description_of,
    only_reads,
    properties_of,
    required_of,
    sound_schema,
)
from ferox.core.json_schema import foreign_references
from ferox.core.likeness import stem_word, tool_bag, word_bag
from ferox.core.tokens import estimate_tokens
from ferox.core.writings import split_words

THIN = 4
"""A description of fewer words says too little to choose by."""
ALIKE = 0.4
"""Likeness from which two tools are worth telling apart by hand."""
NAME = re.compile(r"[A-Za-z0-9_.-]{1,128}")
"""Names that the protocol's rules allow (MCP 2025-11-25, tools)."""

OPTIONAL = re.compile(r"(?i)^\W*optional\b|\(optional\)|\bdefaults? to\b")
REQUIRED = re.compile(r"(?i)^\W*required\b|\(required\)|\bmandatory\b")
"""How descriptions say whether an argument may be left out."""

MOST_PAIRS = 400
"""Pairs that are shown; of thousands of tools the most alike."""
MOST_IN_MATRIX = 250
ROWS_AT_ONCE = 256

Tool = dict[str, Any]
"""A tool as the protocol writes it: name, description, inputSchema and so on."""


class WordingRemark(NamedTuple):
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


def token_cost(tool: Tool) -> int:
    """What a definition takes of the context, in tokens, estimated."""
    kept = {k: tool[k] for k in ("name", "description", "inputSchema") if tool.get(k)}
    return estimate_tokens(len(json.dumps(kept, ensure_ascii=False)))


def wording_remarks(tools: list[Tool], *, among: list[Tool] | None = None) -> list[WordingRemark]:
    """What is thin, untyped, against the rules or contradictory, tool by tool.

    `among` is the whole list, if these are only some of its tools.
    """
    found: list[WordingRemark] = []
    names = {tool["name"] for tool in among or tools}
    for tool in tools:
        name, description = tool["name"], description_of(tool)
        if not NAME.fullmatch(name):
            found.append(
                WordingRemark(name, "the name breaks the protocol's rules: A–Z a–z 0–9 _ - . only")
            )
        if not description:
            found.append(WordingRemark(name, "no description: the name alone has to say it all"))
        elif len(split_words(description)) < THIN:
            found.append(WordingRemark(name, f"a thin description: “{description}”"))
        found += [
            WordingRemark(name, message) for message in _argument_remarks(tool, description, names)
        ]
    return found


def _argument_remarks(tool: Tool, description: str, names: set[str]) -> list[str]:
    schema = tool.get("inputSchema")
    properties = properties_of(schema)
    found = _unusable_schema(tool)
    untyped = [n for n, p in properties.items() if isinstance(p, dict) and not _types_in(p)]
    if untyped:
        found.append(f"arguments without a type: {', '.join(untyped)}")
    silent = [n for n, p in properties.items() if isinstance(p, dict) and not p.get("description")]
    if silent:
        found.append(f"arguments without a description: {', '.join(silent)}")
    absent = [n for n in required_of(schema) if n not in properties]
    if absent:
        found.append(f"requires what it does not define: {', '.join(absent)}")
    found += _contradictions_in(schema, names, description)
    if only_reads(tool) and re.search(
        r"(?i)\b(changes|creates|deletes|updates|removes|books)\b", description
    ):
        found.append("says that it only reads, and its description speaks of a change")
    return found


def _unusable_schema(tool: Tool) -> list[str]:
    """What in a tool's schemas nobody can use, and what leads out of them."""
    found = []
    for key, what in (("inputSchema", "arguments"), ("outputSchema", "result")):
        schema = tool.get(key)
        if schema is None:
            continue
        dropped = sound_schema(schema)[1]
        if dropped:
            more = f" and {len(dropped) - 3} more" if len(dropped) > 3 else ""
            found.append(f"the schema of its {what} is broken at {', '.join(dropped[:3])}{more}")
        foreign = foreign_references(schema)
        if foreign:
            message = f"the schema of its {what} refers to `{foreign[0]}`, outside itself"
            found.append(f"{message}; no such reference is followed")
    return found


def _contradictions_in(schema: Any, tools: set[str], description: str) -> list[str]:
    """Where the words say one thing and the schema another."""
    found = []
    required = set(required_of(schema))
    properties = properties_of(schema)
    for name, spec in properties.items():
        words_ = spec.get("description") if isinstance(spec, dict) else None
        if not isinstance(words_, str):
            continue
        if name in required and OPTIONAL.search(words_):
            found.append(f"{name} is required, and its description calls it optional")
        if name not in required and REQUIRED.search(words_):
            found.append(f"{name} may be left out, and its description calls it required")
    for name in re.findall(r"`([a-z_][a-z0-9_]*)`", description):
        if properties and name not in properties and name not in tools:
            found.append(f"the description speaks of `{name}`, which is not an argument")
    return found


def _types_in(schema: dict[str, Any]) -> bool:
    return any(k in schema for k in ("type", "enum", "const", "anyOf", "oneOf", "allOf", "$ref"))


class LookAlikes(NamedTuple):
    """How like each other tools are: an ordered matrix, and the pairs worth a look.

    Of hundreds of tools the matrix holds the most alike; `tools` and `alike` count all tools,
    and all pairs that look alike.
    """

    order: tuple[str, ...]
    matrix: tuple[tuple[float, ...], ...]
    pairs: tuple[Pair, ...]
    tools: int
    alike: int


def look_alikes(tools: list[Tool]) -> LookAlikes:
    """How like each other the tools of a server are on paper, from 0 to 1.

    Likeness is the cosine of two tools' weighed words. The order is that of the leaves of an
    average-linkage tree, neighbours brought as close as the tree allows (Bar-Joseph, Gifford
    and Jaakkola 2001).
    """
    vectors = _unit_vectors(tools)
    nearest, alike = _nearest_pairs(vectors)
    places = list(range(len(tools)))
    if len(tools) > MOST_IN_MATRIX:
        ranked = dict.fromkeys(place for _, i, j in nearest for place in (i, j))
        places = sorted(list(ranked)[:MOST_IN_MATRIX])
    table = (vectors[places] @ vectors[places].T).toarray().round(4) if places else np.eye(0)
    np.fill_diagonal(table, 1.0)
    order = _leaves_of(table)
    pairs = [_alike_pair(tools[i], tools[j], round(like, 4)) for like, i, j in nearest]
    return LookAlikes(
        tuple(tools[places[i]]["name"] for i in order),
        tuple(tuple(float(x) for x in table[i][order]) for i in order),
        tuple(sorted(pairs, key=lambda p: (-p.likeness, p.one, p.other))),
        tools=len(tools),
        alike=alike,
    )


def compare_tools(one: Tool, other: Tool) -> Pair:
    """How like each other two tools are on paper, however little that is."""
    vectors = _unit_vectors([one, other])
    like = float((vectors[[0]] @ vectors[[1]].T).toarray()[0, 0])
    return _alike_pair(one, other, round(like, 4))


def _unit_vectors(tools: list[Tool]) -> Any:
    """A row of unit length for each tool, a column for each word (scipy.sparse, CSR)."""
    from scipy.sparse import csr_array  # a quarter of a second to import, which only this needs

    bags = [tool_bag(t["name"], description_of(t), t.get("inputSchema")) for t in tools]
    columns: dict[str, int] = {}
    for words_ in bags:
        for word in words_:
            columns.setdefault(word, len(columns))
    lengths = [math.sqrt(sum(n * n for n in b.values())) or 1.0 for b in bags]
    values = [n / length for b, length in zip(bags, lengths, strict=True) for n in b.values()]
    places = [columns[word] for b in bags for word in b]
    starts = np.cumsum([0, *(len(b) for b in bags)])
    return csr_array((values, places, starts), shape=(len(tools), max(len(columns), 1)))


def _nearest_pairs(vectors: Any) -> tuple[list[tuple[float, int, int]], int]:
    """The most alike pairs (likeness and two rows), and how many pairs are alike at all.

    Worked out in blocks of rows, so that memory stays the same however many there are.
    """
    found: list[tuple[float, int, int]] = []
    alike = 0
    for first in range(0, vectors.shape[0], ROWS_AT_ONCE):
        block = (vectors[first : first + ROWS_AT_ONCE] @ vectors.T).toarray()
        rows, columns = np.nonzero(block >= ALIKE - 1e-9)
        above = columns > rows + first
        rows, columns = rows[above], columns[above]
        alike += len(rows)
        likes = block[rows, columns]
        best = np.argsort(-likes, kind="stable")[:MOST_PAIRS]
        found += [(float(likes[k]), int(rows[k]) + first, int(columns[k])) for k in best]
        found = heapq.nsmallest(MOST_PAIRS, found, key=lambda p: (-p[0], p[1], p[2]))
    return found, alike


def _leaves_of(table: Any) -> list[int]:
    """The rows of a matrix of likeness, so that the alike stand together."""
    if len(table) < 3:
        return list(range(len(table)))
    from scipy.cluster.hierarchy import leaves_list, linkage
    from scipy.spatial.distance import squareform

    distances = squareform(np.clip(1 - table, 0, None), checks=False)
    tree = linkage(distances, "average", optimal_ordering=True)
    return [int(i) for i in leaves_list(tree)]


def _alike_pair(one: Tool, other: Tool, like: float) -> Pair:
    def apart(x: Tool, y: Tool) -> tuple[str, ...]:
        mine, theirs = _text_of(x), word_bag(_text_of(y))
        only = [w for w in split_words(mine) if stem_word(w) not in theirs and word_bag(w)]
        return tuple(dict.fromkeys(only))[:4]

    return Pair(
        one["name"], other["name"], like, only_one=apart(one, other), only_other=apart(other, one)
    )


def _text_of(tool: Tool) -> str:
    return f"{tool['name']} {description_of(tool)}".replace("_", " ")
