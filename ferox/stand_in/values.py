"""Where a stand-in takes arguments from, and what it makes up when it has none."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from ferox.core.chance import draw
from ferox.core.clock import Clock, parse_day
from ferox.core.definitions import properties_of
from ferox.core.json_values import equal_json
from ferox.core.likeness import text_likeness
from ferox.core.value_sources import ValueSource
from ferox.formats.stand_in import Value
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

NEAR_ENOUGH = 0.34
"""Likeness from which a value is taken to be meant for an argument of another name."""


class NoValue(LookupError):
    """The conversation does not hold the value."""


def resolve_value(value: Value, said: str, results: Mapping[str, Any], clock: Clock) -> Any:
    """The value, from its source.

    Raises:
        NoValue: the user did not say it, or no earlier result holds it.
    """
    if value.day is not None:
        return (clock.today + timedelta(days=value.day)).isoformat()
    if value.said is not None:
        try:
            last = compile_pattern(value.said).last_match(said)
        except (PatternError, GivenUp) as error:
            raise NoValue(str(error)) from None
        if last is None:
            raise NoValue(value.said)
        return last
    if value.from_ is not None:
        if value.from_ not in results:
            raise NoValue(value.from_)
        source = ValueSource(
            value.from_, value.path, value.of, column=value.column, pattern=value.pattern
        )
        try:
            found = _pick_value(source.nodes(results[value.from_]), value.where)
        except (PatternError, GivenUp) as error:
            raise NoValue(str(error)) from None
        return _added(found, value.plus, clock) if value.plus else found
    return value.constant


def _added(found: Any, plus: float, clock: Clock) -> Any:
    """A number with another added; a day so many days later. All else stays."""
    if isinstance(found, int | float) and not isinstance(found, bool):
        return round(found + plus, 6)
    day = parse_day(found, clock.tz) if isinstance(found, str) else None
    return found if day is None else (day + timedelta(days=plus)).isoformat()


def _pick_value(hits: list[Any], where: Mapping[str, Any] | None) -> Any:
    if where:
        hits = [
            h
            for h in hits
            if isinstance(h, dict) and all(equal_json(h.get(k), v) for k, v in where.items())
        ]
    if not hits:
        raise NoValue("nothing there")
    return hits[0]


def made_up(schema: Any, name: str, clock: Clock, seed: int) -> Any:
    """A plausible value under a property's schema, from nowhere."""
    schema = schema if isinstance(schema, dict) else {}
    if isinstance(schema.get("enum"), list) and schema["enum"]:
        return schema["enum"][int(draw(seed, "enum", name) * len(schema["enum"]))]
    kind = schema.get("type", "string")
    if kind in ("number", "integer"):
        least = schema.get("minimum", 3)
        least = least if isinstance(least, int | float) else 3
        number = least + int(draw(seed, "number", name) * 6)
        return number if kind == "integer" else number + 0.5
    if kind == "boolean":
        return True
    if kind == "array":
        return []
    if kind == "object":
        return {}
    digits = re.search(r"\{(\d{1,2})\}", str(schema.get("pattern", "")))
    if digits:
        count = int(digits[1])
        return "9" + f"{int(draw(seed, 'digits', name) * 10 ** (count - 1)):0{count - 1}d}"
    if schema.get("format") == "date-time":
        return clock.moment.isoformat()
    if schema.get("format") == "date" or "day" in name or "date" in name:
        return clock.today.isoformat()
    return "unknown"


def place_values(values: Mapping[str, Any], schema: Any) -> dict[str, Any]:
    """Values by what they mean → arguments by a tool's own names.

    A value goes to the argument of its name, else to the likest free one that is
    near enough; what finds no place is left out, unless the tool names no arguments.
    """
    properties = properties_of(schema)
    if not properties:
        return dict(values)
    args = {name: value for name, value in values.items() if name in properties}
    for name, value in values.items():
        if name in args:
            continue
        free = [p for p in properties if p not in args]
        scored = [(_nearness_of(name, p, properties[p]), p) for p in free]
        best = max(scored, default=(0.0, ""), key=lambda pair: (pair[0], pair[1]))
        if best[0] >= NEAR_ENOUGH:
            args[best[1]] = value
    return args


def _nearness_of(name: str, argument: str, schema: Any) -> float:
    description = schema.get("description", "") if isinstance(schema, dict) else ""
    return max(text_likeness(name, argument), text_likeness(name, f"{argument} {description}"))


def fit_type(value: Any, schema: Any) -> Any:
    """A value in the type that a property wants, where a sensible model would turn it."""
    kind = schema.get("type") if isinstance(schema, dict) else None
    if isinstance(value, list) and value and kind in ("string", "number", "integer"):
        value = value[0]
    if kind in ("number", "integer") and isinstance(value, str):
        try:
            number = float(value)
        except ValueError:
            return value
        return int(number) if kind == "integer" else number
    if kind == "string" and isinstance(value, int | float) and not isinstance(value, bool):
        return str(value)
    return value


def mistype_value(value: Any, seed: int, name: str) -> Any:
    """The value as a careless model writes it: a wrong type, a swapped digit, the day before."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return f"{value} m"
    if not isinstance(value, str):
        return str(value)
    day = re.fullmatch(r"(\d{4}-\d{2}-)(\d{2})(.*)", value)
    if day:
        return f"{day[1]}{max(1, int(day[2]) - 1):02d}{day[3]}"
    digits = [i for i, c in enumerate(value) if c.isdigit()]
    if digits:
        i = digits[int(draw(seed, "digit", name) * len(digits))]
        return value[:i] + str((int(value[i]) + 1) % 10) + value[i + 1 :]
    return value.upper() if value != value.upper() else value.lower()
