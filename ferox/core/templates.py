"""URI templates of level 1 (RFC 6570): `tides://{day}` against a URI."""

from __future__ import annotations

import re
from functools import lru_cache
from urllib.parse import unquote

_VARIABLE = re.compile(r"\{([A-Za-z0-9_.]+)\}")


@lru_cache(maxsize=512)
def _pattern(template: str) -> tuple[re.Pattern[str], tuple[str, ...]]:
    names = tuple(_VARIABLE.findall(template))
    parts = _VARIABLE.split(template)
    text = "".join(re.escape(p) if i % 2 == 0 else "([^/?#]*)" for i, p in enumerate(parts))
    return re.compile(text), names


def variables_of(template: str) -> tuple[str, ...]:
    """The names in a template, in order."""
    return _pattern(template)[1]


def fit(template: str, uri: str) -> dict[str, str] | None:
    """The values that make the template this URI; None if none do."""
    pattern, names = _pattern(template)
    found = pattern.fullmatch(uri)
    return dict(zip(names, map(unquote, found.groups()), strict=True)) if found else None
