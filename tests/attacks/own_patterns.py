"""Every pattern in Ferox's own code, on long texts: `python -m tests.attacks.own_patterns`.

A pattern that needs time beyond the length of its text would need minutes on these. Run in a
process of its own, that can be ended.
"""

from __future__ import annotations

import ast
import re
import sys
import time
from collections.abc import Iterator
from pathlib import Path

FEROX = Path(__file__).resolve().parents[2] / "ferox"
LONG = 16_000
PATIENCE_S = 1.0
"""Seconds of processor time for one pattern on one text. A search in one go needs milliseconds."""
REPEATS = frozenset("*+{")
"""A pattern without one of these reads each character once."""
PIECES = (
    *('"', '"\\', "\\", "/*", "{", "}", "{{", "[", "(", ",", ", ", "-", "_", "a", "A", "1", "1,"),
    *("1 ", " ", "\t", "\n", "\n ", "`", "```\n", "<", "<tool_call>", "=", ":", "http://", "."),
    *("aa ", "a-1", "A-", "1:1", "12 march ", "é", "-mcp", "not ", "role: ", "def a(", "'"),
)  # fmt: skip


def patterns() -> Iterator[tuple[str, str, int]]:
    """Where each literal pattern stands, the pattern, and its flags."""
    for file in sorted(FEROX.rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
                owner = node.func.value
                if isinstance(owner, ast.Name) and owner.id == "re" and node.args:
                    first = node.args[0]
                    if isinstance(first, ast.Constant) and isinstance(first.value, str):
                        yield f"{file.relative_to(FEROX)}:{node.lineno}", first.value, _flags(node)


def _flags(node: ast.Call) -> int:
    named = {n.attr for n in ast.walk(node) if isinstance(n, ast.Attribute)}
    return sum(getattr(re, name) for name in ("S", "M", "I") if name in named)


def made() -> Iterator[tuple[str, re.Pattern[str]]]:
    """The compiled patterns that modules hold, also those put together from parts."""
    for file in sorted(FEROX.rglob("*.py")):
        if "static" in file.parts or "connections" in file.parts or "versions" in file.parts:
            continue
        name = ".".join(["ferox", *file.relative_to(FEROX).with_suffix("").parts])
        if name.endswith("__main__") or name.endswith("migrations.env"):
            continue
        module = __import__(name, fromlist=["_"])
        for key, value in vars(module).items():
            held = value if isinstance(value, list | tuple) else [value]
            for one in held:
                found = one[-1] if isinstance(one, tuple) and one else one
                if isinstance(found, re.Pattern) and isinstance(found.pattern, str):
                    yield f"{name}.{key}", found


def seconds(source: str, flags: int, text: str) -> float:
    """The processor time that a pattern needs for a text."""
    begun = time.process_time()
    re.compile(source, flags).sub("", text)
    re.compile(source, flags).fullmatch(text)
    return time.process_time() - begun


def main() -> int:
    """0 if every pattern takes every text in one go."""
    all_of_them = {(p.pattern, p.flags): where for where, p in made()}
    for where, source, flags in patterns():
        compiled = re.compile(source, flags)
        all_of_them.setdefault((compiled.pattern, compiled.flags), where)
    slow = 0
    for (source, flags), where in all_of_them.items():
        if not REPEATS & set(source):
            continue
        texts = (piece * (LONG // len(piece)) + "!\n" for piece in PIECES)
        for text in texts:
            taken_s = seconds(source, flags, text)
            # Of a quarter of the text a slow machine needs a quarter of the time, a slow pattern
            # a sixteenth.
            if taken_s > PATIENCE_S and taken_s > 8 * seconds(source, flags, text[: LONG // 4]):
                print(f"{where}: /{source[:80]}/ on {text[:12]!r}…{text[-2:]!r}", flush=True)
                slow += 1
                break
    print(f"{len(all_of_them)} patterns, {slow} slow")
    return 1 if slow or len(all_of_them) < 80 else 0


if __name__ == "__main__":
    sys.exit(main())
