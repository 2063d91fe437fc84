"""Tool calls that a reply writes out as words, instead of being a call.

A model without support for calls, or a framework that does not read its form of them, leaves the
call in the text. Only what names a known tool counts.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator, Mapping
from typing import Any

from ferox.formats.trace import Trace
from ferox.intake.json_text import read_json

LONGEST = 8000
"""Characters of a reply that are looked at; longer ones are not a single call."""
_TAGGED = re.compile(r"<(tool_call|function_call|tool_use)>(.{1,8000}?)</\1>", re.S)
_FUNCTION = re.compile(r"<function=([\w./-]{1,128})>")
_FENCED = re.compile(r"```[\w-]{0,20}\n(.{1,8000}?)```", re.S)
_NAME_KEYS = ("name", "tool", "tool_name", "function")
_ARGUMENT_KEYS = ("arguments", "args", "parameters", "input", "tool_input")


def known_names(trace: Trace) -> dict[str, str]:
    """The names under which a model may know a trial's tools, each with the tool's address."""
    names: dict[str, str] = {}
    seen = trace.get("seen_by_model") or {}
    for address, tool in trace["tools"].items():
        server, bare = address.split("/", 1)
        shown = seen.get(address, {}).get("name") or tool.get("name") or bare
        for name in (shown, bare, address, f"{server}.{bare}", f"{server}_{bare}"):
            names.setdefault(name, address)
    return names


def written_call(text: str, names: Mapping[str, str]) -> str | None:
    """The address of the tool to which a text is a call in words; None if it is none.

    `names` are those of `known_names`. A call may be a JSON object with a tool's name, in tags
    or fenced or bare, or a call in Python.
    """
    text = text.strip()
    if not text or len(text) > LONGEST:
        return None
    for name in _named_arguments(text):
        if name in names:
            return names[name]
    return None


def _named_arguments(text: str) -> Iterator[str]:
    """The tools that a text calls, by name, if it is nothing but a call."""
    for match in _TAGGED.finditer(text):
        yield from _of_json(match[2])
        yield from _of_python(match[2])
    if (function := _FUNCTION.match(text)) is not None:
        yield function[1]
    blocks = _FENCED.findall(text)
    if len(blocks) == 1 and not _FENCED.sub("", text).strip():
        yield from _of_json(blocks[0])
        yield from _of_python(blocks[0])
    yield from _of_json(text)
    yield from _of_python(text)


def _of_json(text: str) -> Iterator[str]:
    try:
        value = read_json(text)
    except (ValueError, RecursionError):
        return
    for call in value if isinstance(value, list) else [value]:
        if isinstance(call, dict):
            yield from _of_object(call)


def _of_object(call: dict[str, Any]) -> Iterator[str]:
    """`{"name": …, "arguments": …}`, or the same under `function`."""
    inner = call.get("function")
    if isinstance(inner, dict):
        yield from _of_object(inner)
    if any(key in call for key in _ARGUMENT_KEYS):
        yield from (str(call[k]) for k in _NAME_KEYS if isinstance(call.get(k), str))


def _of_python(text: str) -> Iterator[str]:
    """`high_water(day="today")`, alone or assigned or printed, line by line."""
    if "(" not in text:
        return
    try:
        lines = ast.parse(text.strip()).body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return
    for line in lines:
        if not isinstance(line, ast.Expr | ast.Assign):
            return  # a program or prose, not a call
        value: ast.expr | None = line.value
        while isinstance(value, ast.Call):
            yield ast.unparse(value.func)
            value = value.args[0] if len(value.args) == 1 else None
