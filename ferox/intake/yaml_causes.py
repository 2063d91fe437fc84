"""What most likely made a text no YAML: where the mistake stands, not where the parser stumbled."""

from __future__ import annotations

import re
from contextlib import suppress
from typing import Any

import yaml

from ferox.intake.limits import IntakeError

_KEY = re.compile(r"\A\s*+(?:- ++)*+(?P<key>[\w.-]++): ++(?P<value>.+)")
LONGEST_QUOTED = 60
"""Characters of a line that an error repeats."""


def fault_of_yaml(text: str, error: yaml.MarkedYAMLError) -> IntakeError:
    """The fault that a parser's error comes from, with its line and column."""
    mark = error.problem_mark or error.context_mark
    if mark is None:
        return IntakeError(f"not YAML: {error.problem}", 1, 1)
    found = _quote_cause(text, error) or _line_cause(text, error, mark) or _bracket_cause(error)
    return found or IntakeError(f"not YAML: {error.problem}", mark.line + 1, mark.column + 1)


def _at(mark: Any, message: str) -> IntakeError:
    return IntakeError(f"not YAML: {message}", mark.line + 1, mark.column + 1)


def _quote_cause(text: str, error: yaml.MarkedYAMLError) -> IntakeError | None:
    """A quote that is not closed, or closed too early."""
    if error.context == "while scanning a quoted scalar" and error.context_mark:
        return _at(error.context_mark, "the quote that opens here is never closed")
    mark = error.problem_mark
    quoted = _last_quoted(text)
    if quoted is None or mark is None:
        return None
    first, last, quote = quoted
    if last.line == first.line == mark.line:
        twice = "''" if quote == "'" else '\\"'
        message = f"not YAML: the quoted text ends here; write a {quote} within it as {twice}"
        return IntakeError(message, last.line + 1, last.column)
    if first.line < last.line == mark.line:
        message = f"the quote that opens here is closed only on line {last.line + 1}"
        return _at(first, f"{message}; is its closing quote missing?")
    return None


def _last_quoted(text: str) -> tuple[Any, Any, str] | None:
    """Where the last text in quotes begins and ends before the parser gave up, and its quote."""
    last = None
    with suppress(yaml.YAMLError):
        for event in yaml.parse(text, Loader=yaml.CSafeLoader):
            if isinstance(event, yaml.ScalarEvent) and event.style in ("'", '"'):
                last = event.start_mark, event.end_mark, event.style
    return last


def _line_cause(text: str, error: yaml.MarkedYAMLError, mark: Any) -> IntakeError | None:
    """A sign that has a meaning of its own in a text without quotes."""
    problem = str(error.problem)
    lines = text.splitlines()
    line = lines[mark.line] if mark.line < len(lines) else ""
    if "tab character" in problem or line[mark.column : mark.column + 1] == "\t":
        return _at(mark, "indent by spaces, not by tabs")
    entry = _KEY.fullmatch(line)
    if entry is None or entry["value"][0] in "'\"|>&*":
        return None
    key, value = entry["key"], entry["value"]
    written = f'`{key}: "{value}"`' if len(value) <= LONGEST_QUOTED and '"' not in value else ""
    hint = f"put the text in quotes{f': {written}' if written else ''}"
    if value.startswith("{{"):
        return _at(mark, f"a text that begins with `{{{{` needs quotes; {hint}")
    if "mapping values are not allowed" in problem and ": " in f"{value} ":
        return _at(mark, f"`: ` within a text begins a new value; {hint}")
    if "cannot start any token" in problem:
        return _at(mark, f"a text cannot begin with `{value[0]}`; {hint}")
    return None


def _bracket_cause(error: yaml.MarkedYAMLError) -> IntakeError | None:
    """A bracket that is not closed."""
    opened, problem = error.context_mark, error.problem_mark
    if opened is None or "flow" not in str(error.context):
        return None
    sign = "[" if "sequence" in str(error.context) else "{"
    if problem is not None and problem.line == opened.line:
        return None
    return _at(opened, f"the `{sign}` that opens here is not closed")
