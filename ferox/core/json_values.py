"""JSON values: equality and canonical form."""

from __future__ import annotations

import hashlib
import json
from typing import Any

import rfc8785


def equal_json(a: Any, b: Any) -> bool:
    """Whether two values are equal as JSON: `2` equals `2.0`, `true` is not a number."""
    if isinstance(a, bool) or isinstance(b, bool):
        return a is b
    if isinstance(a, dict) and isinstance(b, dict):
        return a.keys() == b.keys() and all(equal_json(v, b[k]) for k, v in a.items())
    if isinstance(a, list) and isinstance(b, list):
        return len(a) == len(b) and all(equal_json(x, y) for x, y in zip(a, b, strict=True))
    if isinstance(a, int | float) and isinstance(b, int | float):
        return a == b
    return type(a) is type(b) and bool(a == b)


def canonical_json(value: Any) -> str:
    """The value in the form of RFC 8785, so that equal values have equal texts.

    Numbers that RFC 8785 cannot hold (integers past 2**53, NaN) keep Python's form.
    """
    if value is None or isinstance(value, str | bool):  # the everyday leaves, in C
        return _ENCODE(value)
    if isinstance(value, int) and -(2**53) < value < 2**53:
        return str(value)
    try:
        return rfc8785.dumps(value).decode()
    except (rfc8785.CanonicalizationError, ValueError):
        return repr(value)


def compact_json(value: Any) -> str:
    """The value as JSON text without spaces."""
    return _COMPACT(value)


def holds_at_most(value: Any, signs: int) -> bool:
    """Whether a JSON value's texts, keys and numbers come to so many signs at most, roughly; more
    are not looked at."""
    left, there = signs, [value]
    while there:
        item = there.pop()
        if isinstance(item, dict):
            left -= sum(map(len, item))
            there += item.values()
        elif isinstance(item, list):
            there += item
        left -= len(item) if isinstance(item, str) else 4
        if left < 0:
            return False
    return True


def content_hash(text: str) -> str:
    """A hash by which texts are stored once."""
    return hashlib.blake2b(text.encode(errors="replace"), digest_size=12).hexdigest()


_ENCODE = json.JSONEncoder(ensure_ascii=False).encode
_COMPACT = json.JSONEncoder(ensure_ascii=False, separators=(",", ":")).encode


def json_hash(value: Any) -> str:
    """A short hash of a JSON value; equal values have equal hashes."""
    return hashlib.blake2b(canonical_json(value).encode(), digest_size=8).hexdigest()


def brief_json(value: Any, limit: int = 60) -> str:
    """A value as a message shows it: JSON, cut to `limit` characters."""
    text = canonical_json(value)
    return text if len(text) <= limit else text[: limit - 1] + "…"
