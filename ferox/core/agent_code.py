"""Which files of an agent's own code a Python file brings with it."""

from __future__ import annotations

import ast
from collections.abc import Iterator


def local_modules(source: str) -> Iterator[str]:
    """Names of modules that a file imports and that may lie beside it: `a.b` as `a/b`.

    A source that is not Python imports none.
    """
    try:
        tree = ast.parse(source)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            yield from (alias.name.replace(".", "/") for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = (node.module or "").replace(".", "/")
            if base:
                yield base
            yield from (f"{base}/{alias.name}".lstrip("/") for alias in node.names)
