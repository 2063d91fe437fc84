"""Expressions of a mock: sandboxed Jinja over `args`, `state`, `now`, `call`, `given`.

A string that is one `{{ … }}` and nothing else keeps the value's type. Besides Jinja's
own tests there are `containing` (a part of a text, case aside) and `starting`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from jinja2 import StrictUndefined, Template, TemplateError, Undefined
from jinja2.environment import TemplateExpression
from jinja2.exceptions import SecurityError
from jinja2.sandbox import ImmutableSandboxedEnvironment

_ONE = re.compile(r"\s*\{\{((?:(?!\{\{|\}\}).)*)\}\}\s*", re.S)
LARGEST = 1_000_000
"""Characters that one expression may give; more is a mistake or an attack."""


class ExpressionError(ValueError):
    """An expression that does not parse, or that fails on these values."""


class _Sandbox(ImmutableSandboxedEnvironment):
    """No attribute of Python's own is reachable, nothing can be changed from inside."""

    def call(self, context: Any, obj: Any, *args: Any, **kwargs: Any) -> Any:
        if getattr(obj, "__name__", "") in ("center", "ljust", "rjust", "zfill"):
            raise SecurityError("padding is not available here")
        return super().call(context, obj, *args, **kwargs)

    def call_binop(self, context: Any, operator: str, left: Any, right: Any) -> Any:
        if operator == "**" or (operator == "*" and not _both_numbers(left, right)):
            raise SecurityError(f"`{operator}` is not available for these values")
        return super().call_binop(context, operator, left, right)

    intercepted_binops = frozenset({"*", "**"})


def _both_numbers(left: Any, right: Any) -> bool:
    return isinstance(left, int | float) and isinstance(right, int | float)


def _range(*bounds: int) -> list[int]:
    numbers = range(*bounds)
    if len(numbers) > 10_000:
        raise SecurityError("a range holds at most 10,000 numbers")
    return list(numbers)


_PLAIN = _Sandbox(undefined=StrictUndefined, autoescape=False)
_PLAIN.globals = {"range": _range}
_PLAIN.tests["containing"] = lambda value, part: str(part).casefold() in str(value).casefold()
_PLAIN.tests["starting"] = lambda value, start: str(value).startswith(str(start))


@lru_cache(maxsize=4096)
def _expression(source: str) -> TemplateExpression:
    return _PLAIN.compile_expression(source, undefined_to_none=False)


@lru_cache(maxsize=4096)
def _template(source: str) -> Template:
    return _PLAIN.from_string(source)


def compiles(text: str, condition: bool = False) -> None:
    """See that a text's expressions parse; of a `condition`, that the whole of it does.

    Raises:
        ExpressionError: it does not parse.
    """
    one = _ONE.fullmatch(text)
    try:
        if condition or one:
            _expression((one[1] if one and not condition else text).strip())
        elif "{{" in text or "{%" in text:
            _template(text)
    except TemplateError as error:
        raise ExpressionError(f"`{text.strip()}`: {error}") from None


def evaluate(source: str, names: Mapping[str, Any]) -> Any:
    """The value of an expression.

    Raises:
        ExpressionError: it does not parse or fails; the message shows it.
    """
    try:
        value = _expression(source.strip())(**names)
    except (TemplateError, TypeError, ValueError, KeyError, ArithmeticError) as error:
        raise ExpressionError(f"`{source.strip()}`: {error}") from None
    if isinstance(value, Undefined):
        raise ExpressionError(f"`{source.strip()}`: nothing of that name")
    return value


def holds(condition: str, names: Mapping[str, Any]) -> bool:
    """Whether a condition is true; what is not there makes it false, not an error."""
    try:
        return bool(evaluate(condition, names))
    except ExpressionError as error:
        if "nothing of that name" in str(error) or "is undefined" in str(error):
            return False
        if "has no attribute" in str(error) or "has no element" in str(error):
            return False
        raise


def render(value: Any, names: Mapping[str, Any]) -> Any:
    """A JSON value with every expression in it, keys aside, replaced by what it gives.

    Raises:
        ExpressionError: one of them does not parse or fails.
    """
    if isinstance(value, dict):
        return {key: render(item, names) for key, item in value.items()}
    if isinstance(value, list):
        return [render(item, names) for item in value]
    if not isinstance(value, str) or ("{{" not in value and "{%" not in value):
        return value
    one = _ONE.fullmatch(value)
    if one:
        return evaluate(one[1], names)
    try:
        text = _template(value).render(names)
    except (TemplateError, TypeError, ValueError, KeyError, ArithmeticError) as error:
        raise ExpressionError(f"`{value}`: {error}") from None
    if len(text) > LARGEST:
        raise ExpressionError(f"`{value[:60]}`: gives more than {LARGEST} characters")
    return text
