"""Tools' definitions read with care: a schema from outside may hold anything anywhere."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any


def description_of(tool: dict[str, Any]) -> str:
    """What a tool's definition says of it, which may be nothing."""
    description = tool.get("description")
    return description if isinstance(description, str) else ""


def properties_of(schema: Any) -> dict[str, Any]:
    """The arguments that a schema declares, each with its own schema; none if it is malformed."""
    properties = schema.get("properties") if isinstance(schema, dict) else None
    return properties if isinstance(properties, dict) else {}


def required_of(schema: Any) -> list[str]:
    """The arguments that a schema requires; none if it is malformed."""
    required = schema.get("required") if isinstance(schema, dict) else None
    return [r for r in required if isinstance(r, str)] if isinstance(required, list) else []


_OBJECTS = frozenset({"properties", "patternProperties", "$defs", "definitions"})
_LISTS = frozenset({"required", "enum", "anyOf", "oneOf", "allOf", "prefixItems", "examples"})
_TEXTS = frozenset({"pattern", "format", "title", "description", "$ref", "$schema", "$comment"})
_NUMBERS = frozenset(
    "minimum maximum exclusiveMinimum exclusiveMaximum multipleOf minLength maxLength minItems"  # noqa: SIM905
    " maxItems minProperties maxProperties".split()
)
_SCHEMAS = frozenset({"items", "additionalProperties", "not", "if", "then", "else", "contains"})
_LITERAL = frozenset({"enum", "const", "default", "examples", "example"})
"""Keywords whose values are not schemas, whatever they look like."""


def sound_schema(schema: Any) -> tuple[Any, list[str]]:
    """A schema without the keywords whose values are of no use, and which those were.

    A glance that costs little, for lists of thousands; it does not find every fault.
    """
    dropped: list[str] = []
    return _sound_value(schema, "", dropped), dropped


def _sound_value(schema: Any, where: str, dropped: list[str]) -> Any:
    if isinstance(schema, bool):
        return schema
    if not isinstance(schema, dict):
        dropped.append(where or "/")
        return {}
    kept: dict[str, Any] = {}
    for key, value in schema.items():
        if not _fits_keyword(key, value):
            dropped.append(f"{where}/{key}")
        elif key in _OBJECTS:
            kept[key] = {
                n: _sound_value(s, f"{where}/{key}/{n}", dropped) for n, s in value.items()
            }
        elif key in _SCHEMAS:
            kept[key] = _sound_value(value, f"{where}/{key}", dropped)
        elif isinstance(value, list) and key in _LISTS - _LITERAL - {"required"}:
            kept[key] = [
                _sound_value(s, f"{where}/{key}/{i}", dropped) for i, s in enumerate(value)
            ]
        else:
            kept[key] = value
    return kept


def _fits_keyword(key: str, value: Any) -> bool:
    if key in _OBJECTS:
        return isinstance(value, dict)
    if key == "required":
        return isinstance(value, list) and all(isinstance(v, str) for v in value)
    if key in _LISTS:
        return isinstance(value, list)
    if key in _TEXTS:
        return isinstance(value, str)
    if key in _NUMBERS:
        # OpenAPI 3.0 and the drafts before 6 wrote two of them as flags.
        return isinstance(value, int | float)
    if key == "type":
        kinds = value if isinstance(value, list) else [value]
        return all(isinstance(kind, str) for kind in kinds)
    if key in _SCHEMAS:
        return isinstance(value, dict | bool)
    return True


def only_reads(definition: Mapping[str, Any]) -> bool:
    """Whether a tool says of itself that it only reads; one that does not say so may write."""
    hints = definition.get("annotations")
    return isinstance(hints, Mapping) and bool(hints.get("readOnlyHint"))
