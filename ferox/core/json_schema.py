"""JSON Schema (2020-12) for schemas from outside: nothing is fetched, and validation ends.

References resolve within the schema only. Patterns are searched with a time limit, and so is a
validation as a whole, for references can multiply to more steps than anybody waits for.
`format` is not asserted.
"""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Iterator, Mapping
from functools import lru_cache
from itertools import islice
from typing import Any, NamedTuple

from jsonschema import Draft202012Validator
from jsonschema.exceptions import SchemaError, UnknownType, ValidationError, best_match
from jsonschema.validators import extend
from referencing import Registry
from referencing.exceptions import Unresolvable

from ferox.core.json_values import canonical_json
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

VALIDATION_S = 0.5
"""Seconds of processor time that one validation may take."""
CLOCK_EVERY = 32
"""Keywords from one look at the clock to the next."""
MOST_FAULTS = 100
"""Faults among which the most telling is looked for."""
LONGEST_MESSAGE = 300


class UnusableSchema(ValueError):
    """A schema that is none, or that cannot be used as it stands; the message says why."""


class SchemaFault(NamedTuple):
    """What is wrong with a value: a JSONPath, and a message."""

    path: str
    message: str

    def __str__(self) -> str:
        return self.message if self.path == "$" else f"{self.path}: {self.message}"


class Schema:
    """A schema that values are held against."""

    def __init__(self, definition: Any) -> None:
        self.definition = definition
        self._validator = _usable_schema(definition)

    def find_fault(self, value: Any) -> SchemaFault | None:
        """The most telling thing that is wrong with a value; None if it fits.

        Raises:
            UnusableSchema: the schema leads somewhere that it does not hold.
            GivenUp: it was not decided in time.
        """
        _deadline.begin()
        try:
            error = best_match(islice(self._validator.iter_errors(value), MOST_FAULTS))
        except Unresolvable:
            raise UnusableSchema(self._unresolved_message()) from None
        except RecursionError:
            raise UnusableSchema("the schema refers to itself without end") from None
        except PatternError as error:
            raise UnusableSchema(f"the schema has a pattern that cannot be used: {error}") from None
        except (SchemaError, UnknownType, TypeError, AttributeError, KeyError) as error:
            raise UnusableSchema(f"the schema is broken: {_short_message(str(error))}") from None
        if error is None:
            return None
        return SchemaFault(error.json_path, _short_message(error.message))

    def _unresolved_message(self) -> str:
        foreign = foreign_references(self.definition)
        if foreign:
            reference = _short_message(foreign[0])
            return f"`{reference}` leads out of the schema: no such reference is followed"
        return "a reference in the schema leads nowhere"


@lru_cache(maxsize=2048)
def _from_text(text: str) -> Schema:
    return Schema(json.loads(text))


def schema_of(definition: Any) -> Schema:
    """A schema, made once however often it is asked for.

    Raises:
        UnusableSchema: it is none.
        GivenUp: that was not decided in time.
    """
    return _from_text(json.dumps(definition))


def foreign_references(definition: Any) -> list[str]:
    """The references of a schema that lead out of it, in its order, each once."""
    values = list(_objects_in(definition))
    own = {v["$id"] for v in values if isinstance(v.get("$id"), str)}
    found = [v.get(key) for v in values for key in ("$ref", "$dynamicRef")]
    foreign = [r for r in found if isinstance(r, str) and not r.startswith("#")]
    return list(dict.fromkeys(r for r in foreign if r.partition("#")[0] not in own))


def _objects_in(value: Any) -> Iterator[Mapping[str, Any]]:
    waiting = [value]
    while waiting:
        item = waiting.pop()
        if isinstance(item, dict):
            yield item
            waiting.extend(reversed(item.values()))
        elif isinstance(item, list):
            waiting.extend(reversed(item))


def definition_fault(definition: Any) -> tuple[tuple[str | int, ...], str] | None:
    """Where a definition is not JSON Schema, and why; None if it is one.

    Raises:
        GivenUp: it was not decided in time.
    """
    _deadline.begin()
    try:
        error = best_match(islice(_META.iter_errors(definition), MOST_FAULTS))
        if error is not None:
            return tuple(error.absolute_path), _short_message(error.message)
        for item in _objects_in(definition):
            sources = item.get("patternProperties") or ()
            for source in (item.get("pattern"), *sources):
                if isinstance(source, str):
                    compile_pattern(source)
    except RecursionError:
        return (), "nested too deeply"
    except PatternError as error:
        return (), str(error)
    return None


def _usable_schema(definition: Any) -> Any:
    fault = definition_fault(definition)
    if fault is not None:
        raise UnusableSchema(f"this is not JSON Schema: {fault[1]}")
    keys = {key for item in _objects_in(definition) for key in item}
    if {"unevaluatedProperties", "patternProperties"} <= keys:
        raise UnusableSchema("`unevaluatedProperties` beside `patternProperties` is not tested")
    return _Validator(definition, registry=Registry())


def _short_message(text: str) -> str:
    return text if len(text) <= LONGEST_MESSAGE else text[: LONGEST_MESSAGE - 1] + "…"


# Keywords, each under the deadline of the validation that it is part of.


class _Deadline(threading.local):
    """Asking for the time costs more than most keywords do, so few of them ask."""

    keywords = 0
    at = float("inf")

    def begin(self) -> None:
        """A validation begins."""
        self.keywords, self.at = 0, float("inf")

    def is_over(self) -> bool:
        """Whether the validation has had its time, counted from its first look at the clock."""
        self.keywords += 1
        if self.keywords % CLOCK_EVERY:
            return False
        now = time.thread_time()
        self.at = min(self.at, now + VALIDATION_S)
        return now > self.at


_deadline = _Deadline()


def _within_time(keyword: Any) -> Any:
    def within_time(validator: Any, value: Any, instance: Any, schema: Any) -> Any:
        if _deadline.is_over():
            raise GivenUp(f"holding it against the schema was given up after {VALIDATION_S:g} s")
        return keyword(validator, value, instance, schema)

    return within_time


def _pattern_keyword(
    validator: Any, source: Any, instance: Any, schema: Any
) -> Iterator[ValidationError]:
    if isinstance(instance, str) and not compile_pattern(source).is_found_in(instance):
        yield ValidationError(f"{instance!r} does not match {source!r}")


def _pattern_properties(
    validator: Any, patterns: Any, instance: Any, schema: Any
) -> Iterator[ValidationError]:
    if not isinstance(instance, dict):
        return
    for source, below in patterns.items():
        for key, item in instance.items():
            if compile_pattern(source).is_found_in(key):
                yield from validator.descend(item, below, path=key, schema_path=source)


def _additional_properties(
    validator: Any, below: Any, instance: Any, schema: Any
) -> Iterator[ValidationError]:
    if not isinstance(instance, dict):
        return
    patterns = [compile_pattern(source) for source in schema.get("patternProperties") or ()]
    declared = schema.get("properties") or {}
    extra = [
        key
        for key in instance
        if key not in declared and not any(p.is_found_in(key) for p in patterns)
    ]
    if isinstance(below, dict):
        for key in extra:
            yield from validator.descend(instance[key], below, path=key)
    elif not below and extra:
        were = "was" if len(extra) == 1 else "were"
        names = ", ".join(map(repr, sorted(extra)))
        yield ValidationError(f"Additional properties are not allowed ({names} {were} unexpected)")


def _unique_items(
    validator: Any, wanted: Any, instance: Any, schema: Any
) -> Iterator[ValidationError]:
    if not (wanted and isinstance(instance, list)):
        return
    if len({canonical_json(item) for item in instance}) < len(instance):
        yield ValidationError(f"{instance!r} has non-unique elements")


_OWN = {
    "pattern": _pattern_keyword,
    "patternProperties": _pattern_properties,
    "additionalProperties": _additional_properties,
    "uniqueItems": _unique_items,
}
_Validator: Any = extend(  # type: ignore[no-untyped-call]
    Draft202012Validator,
    {k: _within_time(_OWN.get(k, own)) for k, own in Draft202012Validator.VALIDATORS.items()},
)
_META: Any = _Validator(Draft202012Validator.META_SCHEMA)
