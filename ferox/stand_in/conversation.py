"""A chat-completions history as a stand-in reads it, however a framework wrote it."""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass
from typing import Any

from ferox.intake.json_text import read_json

_FAILED = re.compile(
    r"(?i)\b(error|failed|failure|invalid|timed? ?out|timeout|unknown tool|not found|no such|"
    r"no vessel|cannot|denied|read-only|unavailable|already has|does not exist|not available)\b"
)


@dataclass(frozen=True)
class ToolResult:
    """What a call brought back, and whether it reads like a failure."""

    value: Any
    failed: bool


def text_of(content: Any) -> str:
    """A message's content as text, given as a string or as parts."""
    if isinstance(content, list):
        parts = [p.get("text", "") for p in content if isinstance(p, dict)]
        return "\n".join(str(p) for p in parts)
    return "" if content is None else str(content)


def read_result(text: str) -> ToolResult:
    """A tool message's text: JSON or a Python literal if it parses, else words.

    A model cannot see a flag; it takes for a failure what reads like one.
    """
    stripped = text.strip()
    for parse in (read_json, _read_literal):
        try:
            value = parse(stripped)
        except (ValueError, SyntaxError, MemoryError, RecursionError):
            continue
        failed = isinstance(value, dict) and "error" in value
        return ToolResult(value, failed)
    return ToolResult(text, bool(_FAILED.search(text)))


def _read_literal(text: str) -> Any:
    """A Python literal.

    Raises:
        ValueError, SyntaxError: it is none, or longer than a framework would print.
    """
    if len(text) > LONGEST_LITERAL:
        raise ValueError("too long")
    return ast.literal_eval(text)


LONGEST_LITERAL = 100_000
_CALLING = re.compile(r"Calling tools:\s*(\[.*\])\s*$", re.S)
_MARKED = re.compile(r"^(Observation|New task|Error):\n", re.M)
"""How a framework writes a history that has no tool messages: all of it is told in words."""


def _called_tools(text: str) -> list[str]:
    """The ids of the calls that an assistant's words tell of."""
    found = _CALLING.search(text)
    if not found:
        return []
    try:
        return [str(call["id"]) for call in ast.literal_eval(found[1])]
    except (ValueError, SyntaxError, TypeError, KeyError):
        return []


def _parts_of(text: str) -> list[tuple[str, str]]:
    """A user message made of results, errors and the user's own words: mark and words of each."""
    marks = list(_MARKED.finditer(text))
    ends = [m.start() for m in marks[1:]] + [len(text)]
    return [(m[1], text[m.end() : end].strip()) for m, end in zip(marks, ends, strict=True)]


@dataclass(frozen=True)
class Conversation:
    """User turns in order, and tool results by the id of the proposal."""

    said: tuple[str, ...]
    results: dict[str, str]
    tail: str
    instructions: str

    @classmethod
    def read(cls, messages: list[dict[str, Any]]) -> Conversation:
        """Sort a history. `tail` is what follows the last assistant message."""
        said: list[str] = []
        results: dict[str, str] = {}
        tail: list[str] = []
        instructions: list[str] = []
        waiting: list[str] = []  # calls that the history tells in words, not in tool messages
        for message in messages:
            role, text = message.get("role"), text_of(message.get("content"))
            if role in ("system", "developer"):
                instructions.append(text)
            if role == "assistant":
                tail, waiting = [], _called_tools(text)
                continue
            if role == "user" and _MARKED.match(text):
                for mark, words in _parts_of(text):
                    if mark == "New task":
                        said.append(words)
                    else:
                        observed = words if mark == "Observation" else f"Error: {words}"
                        results.update(dict.fromkeys(waiting, observed))
                        waiting = []
                    tail.append(words)
                continue
            tail.append(text)
            if role == "user":
                said.append(text)
            elif role in ("tool", "function"):
                results[str(message.get("tool_call_id") or message.get("name"))] = text
        return cls(tuple(said), results, "\n".join(tail), "\n".join(instructions))
