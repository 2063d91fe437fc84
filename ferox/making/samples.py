"""A sample value for a JSON Schema, to be filled in by a person."""

from __future__ import annotations

from typing import Any

FORMATS = {
    "date-time": "2031-03-14T06:30:00Z",
    "date": "2031-03-14",
    "time": "06:30:00Z",
    "email": "desk@skerrow.example",
    "uri": "https://skerrow.example/",
    "uuid": "00000000-0000-4000-8000-000000000001",
}
DEEPEST = 6


def sample_value(schema: Any, depth: int = 0) -> Any:
    """A value that fits a schema: its example or default if it has one, else the plainest."""
    if not isinstance(schema, dict) or depth > DEEPEST:
        return None
    for key in ("example", "default", "const"):
        if key in schema:
            return schema[key]
    for key in ("examples", "enum"):
        if _listed_values(schema, key):
            return schema[key][0]
    for key in ("oneOf", "anyOf"):
        if _listed_values(schema, key):
            return sample_value(schema[key][0], depth + 1)
    if _listed_values(schema, "allOf"):
        parts = [sample_value(part, depth + 1) for part in schema["allOf"]]
        return {k: v for part in parts if isinstance(part, dict) for k, v in part.items()}
    kind = schema.get("type")
    kind = kind[0] if isinstance(kind, list) and kind else kind
    if kind == "object" or (kind is None and "properties" in schema):
        properties = schema.get("properties")
        if not isinstance(properties, dict):
            return {}
        return {name: sample_value(spec, depth + 1) for name, spec in properties.items()}
    if kind == "array":
        return [] if depth >= DEEPEST else [sample_value(schema.get("items"), depth + 1)]
    if kind in ("integer", "number"):
        return schema.get("minimum", 0)
    if kind == "boolean":
        return False
    if kind == "string":
        return FORMATS.get(schema.get("format", ""), "…")
    return None


def _listed_values(schema: dict[str, Any], key: str) -> bool:
    """Whether a keyword holds a list with something in it, as it should."""
    return isinstance(schema.get(key), list) and bool(schema[key])
