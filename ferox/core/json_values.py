"""JSON values: equality, canonical form and paths into them."""

from __future__ import annotations

import hashlib
import json
import re
from functools import lru_cache
from typing import Any

import rfc8785
from jsonpath_rfc9535 import JSONPathError, JSONPathQuery
from jsonpath_rfc9535 import compile as compile_path


def same(a: Any, b: Any) -> bool:
    """Whether two values are equal as JSON: `2` equals `2.0`, `true` is no number."""
    if isinstance(a, bool) or isinstance(b, bool):
        return a is b
    if isinstance(a, dict) and isinstance(b, dict):
        return a.keys() == b.keys() and all(same(v, b[k]) for k, v in a.items())
    if isinstance(a, list) and isinstance(b, list):
        return len(a) == len(b) and all(same(x, y) for x, y in zip(a, b, strict=True))
    if isinstance(a, int | float) and isinstance(b, int | float):
        return a == b
    return type(a) is type(b) and bool(a == b)


def canonical(value: Any) -> str:
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


_ENCODE = json.JSONEncoder(ensure_ascii=False).encode


def hashed(value: Any) -> str:
    """A short hash of a JSON value; equal values have equal hashes."""
    return hashlib.blake2b(canonical(value).encode(), digest_size=8).hexdigest()


@lru_cache(maxsize=4096)
def _compiled(path: str) -> JSONPathQuery:
    return compile_path(path)


def nodes(value: Any, path: str) -> list[Any]:
    """The nodes that a JSONPath (RFC 9535) finds in a value, in its order.

    Raises:
        PathError: the path itself is wrong.
    """
    simple = re.fullmatch(r"\$((?:\.[A-Za-z_]\w*)*)", path)
    if simple:  # the everyday case, several times faster than the general query
        for key in simple[1].split(".")[1:]:
            if not isinstance(value, dict) or key not in value:
                return []
            value = value[key]
        return [value]
    return list(check_path(path).find(value).values())


class PathError(ValueError):
    """A JSONPath that does not parse."""


def check_path(path: str) -> JSONPathQuery:
    """The compiled query.

    Raises:
        PathError: the path does not parse; the message says where.
    """
    try:
        return _compiled(path)
    except JSONPathError as error:
        raise PathError(f"`{path}` is no JSONPath: {error}") from None


def found(value: Any, path: str) -> list[Any]:
    """The values a `from` may take: each node, and the elements of an only node that is a list."""
    hits = nodes(value, path)
    if len(hits) == 1 and isinstance(hits[0], list):
        return hits + hits[0]
    return hits


def brief(value: Any, limit: int = 60) -> str:
    """A value as a message shows it: JSON, cut to `limit` characters."""
    text = canonical(value)
    return text if len(text) <= limit else text[: limit - 1] + "…"
