"""Can what a script expects of an argument ever be, under the tool's schema?"""

from __future__ import annotations

import math
from typing import Any

from ferox.core.definitions import sound_schema
from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import brief_json
from ferox.core.matchers import is_matcher
from ferox.core.schema_paths import resolve_reference, types_of
from ferox.core.writings import split_words
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

_TEXT = ("matches", "same_words", "day", "time")


def never_fits(spec: Any, schema: Any, root: Any = None, required: bool = False) -> str | None:
    """Why no value can satisfy both a matcher and a property's schema; None if one may.

    `root` is the tool's whole input schema, into which a `$ref` may point.
    """
    root = schema if root is None else root
    schema = sound_schema(resolve_reference(schema, root))[0]
    if not is_matcher(spec):
        return _invalid_reason(spec, schema, root)
    if "equal" in spec:
        return _invalid_reason(spec["equal"], schema, root)
    if "one_of" in spec and isinstance(spec["one_of"], list):
        faults = [_invalid_reason(v, schema, root) for v in spec["one_of"]]
        return faults[0] if faults and all(faults) else None
    if "near" in spec:
        return _no_number(spec, schema)
    if "absent" in spec and required:
        return "the tool requires this argument, so it cannot be absent"
    if "every" in spec and "array" not in types_of(schema):
        return f"the tool takes {_allowed_kinds(schema)} here, and `every` holds only for a list"
    if "contains" in spec and not types_of(schema) & {"string", "array", "object"}:
        return f"the tool takes {_allowed_kinds(schema)} here, which contains nothing"
    if "all" in spec and isinstance(spec["all"], list):
        inner = (never_fits(s, schema, root, required) for s in spec["all"])
        return next(filter(None, inner), None)
    return _no_text(spec, schema) if any(key in spec for key in _TEXT) else None


def _allowed_kinds(schema: Any) -> str:
    return " or ".join(sorted(types_of(schema))) or "nothing"


def _invalid_reason(value: Any, schema: Any, root: Any) -> str | None:
    if not isinstance(schema, dict):
        return "the tool takes nothing here" if schema is False else None
    shared = {k: root[k] for k in ("$defs", "definitions") if isinstance(root, dict) and k in root}
    try:
        fault = schema_of({**shared, **schema}).find_fault(value)
    except (UnusableSchema, GivenUp):
        return None  # a broken schema is told where it stands
    if fault is None:
        return None
    where = "" if fault.path == "$" else f" at {fault.path}"
    return f"the tool's schema never allows {brief_json(value)}{where}: {fault.message}"


def _no_number(spec: dict[str, Any], schema: Any) -> str | None:
    if not types_of(schema) & {"number", "integer"}:
        return f"the tool takes {_allowed_kinds(schema)} here, and `near` holds only for a number"
    centre = spec["near"]
    try:
        reach = spec["within"] if "within" in spec else abs(centre) * spec["percent"] / 100
        low, high = centre - reach, centre + reach
    except TypeError:
        return None
    if not isinstance(schema, dict):
        return None
    least, most = schema.get("minimum", -math.inf), schema.get("maximum", math.inf)
    if high < least or low > most:
        bound = f"at least {least}" if high < least else f"at most {most}"
        return f"the tool takes {bound}, and this asks for {low:g} to {high:g}"
    if "number" not in types_of(schema) and math.floor(high) < math.ceil(low):
        return f"the tool takes whole numbers, and there is none from {low:g} to {high:g}"
    return None


def _no_text(spec: dict[str, Any], schema: Any) -> str | None:
    key = next(k for k in _TEXT if k in spec)
    if "string" not in types_of(schema):
        return f"the tool takes {_allowed_kinds(schema)} here, and `{key}` holds only for text"
    choices = schema.get("enum") if isinstance(schema, dict) else None
    if not isinstance(choices, list) or key in ("day", "time"):
        return None
    texts = [c for c in choices if isinstance(c, str)]
    if key == "same_words":
        fits = any(split_words(c) == split_words(str(spec[key])) for c in texts)
    else:
        try:
            fits = any(compile_pattern(spec[key]).is_found_in(c) for c in texts)
        except (PatternError, GivenUp, TypeError):
            return None
    return None if fits else f"the tool takes one of {', '.join(map(brief_json, choices))}"
