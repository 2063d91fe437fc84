"""Objects that were most likely meant as matchers, and are none."""

from __future__ import annotations

from difflib import get_close_matches
from typing import Any

from ferox.core.definitions import properties_of
from ferox.core.matchers import FORMS, is_matcher
from ferox.core.value_sources import KEYS

_HOLDING_MATCHERS = ("every", "not", "all")
_WORDS = sorted({key for keys, _ in FORMS for key in keys})
_LONG_WORDS = [word for word in _WORDS if len(word) >= 5]
"""A short one is too near to words that plain objects have: `days`, `note`, `call`."""
_BESIDE = {"path", "of", "column", "pattern", "within", "percent", "within_min"}
"""Keys that only stand beside another."""
_MEANT = {
    "regex": "matches",
    "regexp": "matches",
    "equals": "equal",
    "eq": "equal",
    "in": "one_of",
    "any_of": "one_of",
    "anyOf": "one_of",
    "includes": "contains",
    "approx": "near",
    "all_of": "all",
    "allOf": "all",
}
"""Words by which people ask for a matcher, and its key."""


def mistaken_matcher(spec: Any, schema: Any = None) -> str | None:
    """Why an object that would be taken for a plain value was most likely meant as a matcher.

    `schema` is that of the argument: an object whose keys it knows is plain. None if nothing
    speaks for a mistake.
    """
    if not isinstance(spec, dict):
        return None
    if is_matcher(spec):
        inner = [spec[key] for key in _HOLDING_MATCHERS if key in spec]
        inner = inner[0] if inner and isinstance(inner[0], list) else inner
        return next(filter(None, map(mistaken_matcher, inner)), None)
    keys = [str(key) for key in spec]
    if {*keys} <= _BESIDE or {*keys} & {*properties_of(schema)}:
        return None
    meant = [_meant_key(key) for key in keys]
    if not all(meant):
        return None
    plain = "write `equal: {…}` if a plain object is meant"
    wrong = next((n for n, key in enumerate(keys) if key != meant[n]), None)
    if wrong is not None:
        return f"no matcher has the key `{keys[wrong]}`; did you mean `{meant[wrong]}`? ({plain})"
    given = {*keys}
    if "from" in given and given <= KEYS and {"of", "column"} <= given:
        return "`of` and `column` do not go together: give one of the two"
    partly = [form for form, _ in FORMS if given < form and len(form) == len(given) + 1]
    if partly:
        lacking = " or ".join(f"`{key}`" for form in partly for key in sorted(form - given))
        return f"`{'`, `'.join(sorted(given))}` lacks {lacking} ({plain})"
    both = " and ".join(f"`{key}`" for key in sorted(given))
    return f"{both} are of different matchers; join them as `all: [{{…}}, {{…}}]` ({plain})"


def _meant_key(key: str) -> str | None:
    """The matcher's key that a key is, or was most likely meant to be."""
    if key in _WORDS:
        return key
    near = get_close_matches(key[:40], _LONG_WORDS, n=1, cutoff=0.8)
    return near[0] if near else _MEANT.get(key)
