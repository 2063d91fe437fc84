"""Can a JSONPath (RFC 9535) find anything in a value that fits a JSON Schema?

The walk follows names, indices and wildcards through the schema. Where a schema leaves
something open, anything may stand there; only what it rules out is told.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from difflib import get_close_matches
from typing import Any

from jsonpath_rfc9535.segments import JSONPathRecursiveDescentSegment
from jsonpath_rfc9535.selectors import IndexSelector, JSONPathSelector, NameSelector
from referencing import Registry, Resource
from referencing.exceptions import Unresolvable
from referencing.jsonschema import DRAFT202012

from ferox.core.definitions import properties_of, sound_schema
from ferox.core.json_paths import check_path
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

MOST_BRANCHES = 500
"""Branches of a schema that are looked at for one step of a path."""
ANY: dict[str, Any] = {}
_ANYTHING = frozenset({"object", "array", "string", "number", "integer", "boolean", "null"})


def types_of(schema: Any) -> frozenset[str]:
    """The JSON types that a schema allows, as far as `type`, `enum` and `const` tell."""
    if not isinstance(schema, dict):
        return frozenset() if schema is False else _ANYTHING
    declared = schema.get("type")
    if isinstance(declared, str):
        return frozenset({declared})
    if isinstance(declared, list):
        return frozenset(declared)
    values = (
        schema["enum"] if "enum" in schema else [schema["const"]] if "const" in schema else None
    )
    if isinstance(values, list):
        return frozenset(_type_of(v) for v in values)
    return _ANYTHING


def element_types(schemas: list[Any]) -> frozenset[str]:
    """The types of what a `from` may take there: the values, and the elements of lists."""
    own = {t for s in schemas for t in types_of(s)}
    lists = [s for s in schemas if isinstance(s, dict) and "array" in types_of(s)]
    return frozenset(own | {t for s in lists for t in types_of(s.get("items", ANY))})


def _type_of(value: Any) -> str:
    if value is None:
        return "null"
    kinds: list[tuple[Any, str]] = [
        (bool, "boolean"), (str, "string"), (int, "integer"), (float, "number"), (list, "array"),
    ]  # fmt: skip
    return next((name for kind, name in kinds if isinstance(value, kind)), "object")


def resolve_reference(schema: Any, root: Any) -> Any:
    """A schema with its own `$ref` into the same document followed; else anything."""
    for _ in range(20):  # a chain longer than this goes in circles
        if not (isinstance(schema, dict) and isinstance(schema.get("$ref"), str)):
            return schema
        if not schema["$ref"].startswith("#"):
            return ANY
        resource = Resource.from_contents(root, default_specification=DRAFT202012)
        try:
            resolver = Registry().resolver_with_root(resource)
            schema = resolver.lookup(schema["$ref"]).contents
        except Unresolvable:
            return ANY
    return ANY


def schemas_at(schema: Any, path: str) -> tuple[list[Any], str | None]:
    """The schemas of what may stand at a path, and why nothing can if there are none.

    Raises:
        PathError: the path does not parse.
    """
    schema = sound_schema(schema)[0]
    held, so_far = [schema], "$"
    try:
        for there, selectors, held in _walk_path(schema, path):
            if not held:
                return [], _why_nothing(there, selectors, so_far, schema)
            so_far += _written_selectors(selectors)
    except _NoEnd:
        return [ANY], None
    return held, None


def unlikely_name(schema: Any, path: str) -> str | None:
    """A name in a path that the schema allows without declaring it, and a near one that it does.

    Raises:
        PathError: the path does not parse.
    """
    schema = sound_schema(schema)[0]
    for there, selectors, _ in _likely_steps(schema, path):
        names = [x.name for x in selectors if isinstance(x, NameSelector)]
        declared = {p for s in there for p in _properties_of(resolve_reference(s, schema))}
        for name in names:
            near = get_close_matches(name, declared, n=1, cutoff=0.6)
            if near and name not in declared:
                return f"the output does not declare `{name}`; did you mean `{near[0]}`?"
    return None


class _NoEnd(Exception):
    """A schema whose references multiply, or lead back to themselves: anything may stand there."""


def _likely_steps(schema: Any, path: str) -> Iterator[Step]:
    """The walk as far as it can be followed."""
    with suppress(_NoEnd):
        yield from _walk_path(schema, path)


Step = tuple[list[Any], list[JSONPathSelector], list[Any]]
"""Schemas before a segment of a path, its selectors, and the schemas that they lead to."""


def _walk_path(schema: Any, path: str) -> Iterator[Step]:
    """The walk along a path; a descent into any depth leads to anything, and ends it."""
    there = [schema]
    for segment in check_path(path).segments:
        selectors = list(segment.selectors)
        if isinstance(segment, JSONPathRecursiveDescentSegment):
            yield there, [], [ANY]
            return
        room = [MOST_BRANCHES]
        held = [c for s in there for x in selectors for c in _children_of(s, x, schema, room)]
        yield there, selectors, held
        there = held


def _written_selectors(selectors: list[JSONPathSelector]) -> str:
    """A segment as people write it."""
    if len(selectors) == 1 and isinstance(selectors[0], NameSelector):
        name = selectors[0].name
        if re.fullmatch(r"[A-Za-z_]\w*", name):
            return f".{name}"
    return f"[{', '.join(str(s) for s in selectors)}]"


def _why_nothing(
    there: list[Any], selectors: list[JSONPathSelector], so_far: str, root: Any
) -> str:
    wanted = ", ".join(str(s) for s in selectors)
    declared = sorted({p for s in there for p in _properties_of(resolve_reference(s, root))})
    for selector in selectors:
        if isinstance(selector, NameSelector) and declared:
            near = get_close_matches(selector.name, declared, n=1, cutoff=0.5)
            hint = f"did you mean `{near[0]}`?" if near else f"there is {', '.join(declared[:8])}"
            return f"`{so_far}` has no `{selector.name}`; {hint}"
    kinds = sorted({t for s in there for t in types_of(resolve_reference(s, root))})
    return f"`{so_far}` is {' or '.join(kinds) or 'nothing'}, so {wanted} finds nothing in it"


def _properties_of(schema: Any) -> Iterator[str]:
    """The names that a schema declares, its references aside."""
    if isinstance(schema, dict):
        yield from properties_of(schema)
        for key in ("allOf", "anyOf", "oneOf"):
            for branch in schema.get(key) or ():
                yield from _properties_of(branch)


def _children_of(schema: Any, selector: JSONPathSelector, root: Any, room: list[int]) -> list[Any]:
    """The schemas of what a selector finds in a value of a schema; none if it finds nothing.

    `room` holds the number of branches that may still be looked at.
    """
    room[0] -= 1
    if room[0] < 0:
        raise _NoEnd
    schema = resolve_reference(schema, root)
    if not isinstance(schema, dict):
        return [] if schema is False else [ANY]
    found = _own_children(schema, selector)
    choices = [schema[key] for key in ("anyOf", "oneOf") if schema.get(key)]
    for branches in [*([branch] for branch in schema.get("allOf") or ()), *choices]:
        inner = [c for branch in branches for c in _children_of(branch, selector, root, room)]
        found = [] if not inner else inner if found == [ANY] else found
    return found


def _own_children(schema: dict[str, Any], selector: JSONPathSelector) -> list[Any]:
    types = types_of(schema)
    members = _members_of(schema, selector) if "object" in types else []
    items = _items_of(schema, selector) if "array" in types else []
    found = members + items
    return [ANY] if ANY in found else found


def _members_of(schema: dict[str, Any], selector: JSONPathSelector) -> list[Any]:
    properties = properties_of(schema)
    more = schema.get("additionalProperties", ANY)
    more = ANY if more is True else more
    if isinstance(selector, NameSelector):
        patterns = schema.get("patternProperties") or {}
        fitting = [s for p, s in patterns.items() if _may_fit(p, selector.name)]
        if selector.name in properties:
            return [properties[selector.name]]
        return fitting or ([] if more is False else [more])
    if isinstance(selector, IndexSelector):
        return []
    return [*properties.values(), *([] if more is False else [more])]


def _may_fit(source: str, name: str) -> bool:
    """Whether a pattern fits a name; one that cannot be used rules nothing out."""
    try:
        return compile_pattern(source).is_found_in(name)
    except (PatternError, GivenUp):
        return True


def _items_of(schema: dict[str, Any], selector: JSONPathSelector) -> list[Any]:
    if isinstance(selector, NameSelector):
        return []
    first = schema.get("prefixItems") or []
    rest = schema.get("items", ANY)
    rest = ANY if rest is True else rest
    if isinstance(selector, IndexSelector) and selector.index >= 0:
        if selector.index >= schema.get("maxItems", float("inf")):
            return []
        if selector.index < len(first):
            return [first[selector.index]]
        return [] if rest is False else [rest]
    return [*first, *([] if rest is False else [rest])]
