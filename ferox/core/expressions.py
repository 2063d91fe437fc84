"""Expressions of a mock: sandboxed Jinja over `args`, `state`, `now`, `call`, `given`.

A string that is one `{{ … }}` and nothing else keeps the value's type. Besides Jinja's
own tests there are `containing` (a part of a text, case aside) and `starting`.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any, TypeVar

from jinja2 import Template, TemplateError, Undefined, meta, nodes
from jinja2.environment import TemplateExpression

from ferox.core.template_sandbox import Sandbox, bound_rendering

_ONE = re.compile(r"\{\{((?:(?!\{\{|\}\}).)*)\}\}", re.S)
LONGEST = 100_000
"""Characters of the longest template."""
_FAULTS = (TemplateError, TypeError, ValueError, KeyError, ArithmeticError, RecursionError)
_COMPILE_FAULTS = (*_FAULTS, SyntaxError, MemoryError)


class ExpressionError(ValueError):
    """An expression that does not parse, or that fails on these values."""


Compiled = TypeVar("Compiled")
_PLAIN = Sandbox()


@lru_cache(maxsize=4096)
def _parse_expression(source: str) -> TemplateExpression:
    return _PLAIN.compile_expression(source, undefined_to_none=False)


@lru_cache(maxsize=4096)
def _parse_template(source: str) -> Template:
    return _PLAIN.from_string(source)


def check_expressions(text: str, condition: bool = False) -> None:
    """See that a text's expressions parse; of a `condition`, that the whole of it does.

    Raises:
        ExpressionError: it does not parse.
    """
    one = _ONE.fullmatch(text.strip())
    if condition or one:
        _compile_cached(
            _parse_expression, (one[1] if one and not condition else text).strip(), text
        )
    elif "{{" in text or "{%" in text:
        _compile_cached(_parse_template, text)


def names_used(text: str, getter: str) -> set[str]:
    """The names that a text's expressions take from outside, by themselves or by a call of
    `getter` whose first argument names one.

    Raises:
        ExpressionError: the text does not parse.
    """
    check_expressions(text)
    tree = _PLAIN.parse(text)
    names = meta.find_undeclared_variables(tree) - {getter, *_PLAIN.globals}
    for call in tree.find_all(nodes.Call):
        called = isinstance(call.node, nodes.Name) and call.node.name == getter
        if called and call.args and isinstance(call.args[0], nodes.Const):
            names.add(str(call.args[0].value))
    return names


def _compile_cached(
    compiled: Callable[[str], Compiled], source: str, shown: str | None = None
) -> Compiled:
    """A text as the sandbox runs it; a message shows it as `shown`.

    Raises:
        ExpressionError: it does not parse, or is longer than anybody writes.
    """
    if len(source) > LONGEST:
        raise ExpressionError(f"a template of more than {LONGEST:,} characters")
    try:
        with bound_rendering():
            return compiled(source)
    except _COMPILE_FAULTS as error:
        raise ExpressionError(f"`{_brief_source(shown or source)}`: {error}") from None


def _brief_source(source: str) -> str:
    text = source.strip()
    return text if len(text) <= 120 else text[:119] + "…"


def evaluate(source: str, names: Mapping[str, Any]) -> Any:
    """The value of an expression.

    Raises:
        ExpressionError: it does not parse or fails; the message shows it.
    """
    run = _compile_cached(_parse_expression, source.strip())
    try:
        with bound_rendering():
            value = run(**names)
    except _FAULTS as error:
        raise ExpressionError(f"`{_brief_source(source)}`: {error}") from None
    if isinstance(value, Undefined):
        raise ExpressionError(f"`{_brief_source(source)}`: nothing of that name")
    return value


def condition_holds(condition: str, names: Mapping[str, Any]) -> bool:
    """Whether a condition is true; what is not there makes it false, not an error."""
    try:
        return bool(evaluate(condition, names))
    except ExpressionError as error:
        if "nothing of that name" in str(error) or "is undefined" in str(error):
            return False
        if "has no attribute" in str(error) or "has no element" in str(error):
            return False
        raise


def render_value(value: Any, names: Mapping[str, Any]) -> Any:
    """A JSON value with every expression in it, keys aside, replaced by what it gives.

    Raises:
        ExpressionError: one of them does not parse or fails, or all together give too much.
    """
    with bound_rendering():
        return _render_value(value, names)


def _render_value(value: Any, names: Mapping[str, Any]) -> Any:
    if isinstance(value, dict):
        return {key: _render_value(item, names) for key, item in value.items()}
    if isinstance(value, list):
        return [_render_value(item, names) for item in value]
    if not isinstance(value, str) or ("{{" not in value and "{%" not in value):
        return value
    one = _ONE.fullmatch(value.strip())
    if one:
        return evaluate(one[1], names)
    template = _compile_cached(_parse_template, value)
    try:
        return template.render(names)
    except _FAULTS as error:
        raise ExpressionError(f"`{_brief_source(value)}`: {error}") from None
