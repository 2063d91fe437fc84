"""Jinja for templates from outside: nothing of Python's is reachable, and rendering ends.

Every loop, filter and call is a step; what is built and what is shown is measured as it comes
about, and so is the time. Blocks that call themselves (macros, includes, recursive loops) are
not available, nor is what pads or writes out text to any length.
"""

from __future__ import annotations

import functools
import re
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from types import BuiltinMethodType
from typing import Any

from jinja2 import StrictUndefined, Undefined, nodes, pass_context
from jinja2.exceptions import SecurityError
from jinja2.filters import FILTERS
from jinja2.sandbox import ImmutableSandboxedEnvironment
from jinja2.visitor import NodeTransformer

LARGEST = 1_000_000
"""Characters and values that one rendering may show, or any value built in it may hold."""
MOST_STEPS = 100_000
RENDER_S = 1.0
"""Seconds of processor time that one rendering may take."""
LARGEST_NUMBER = 10_000
"""Largest number that a filter takes as a width, a count or a length."""
MOST_BITS = 10_000
"""Bits of the largest whole number that is multiplied out."""

KNOWN_FILTERS = frozenset(
    "abs batch capitalize count d default dictsort e escape filesizeformat first float forceescape"  # noqa: SIM905
    " format groupby indent int items join last length list lower map max min reject rejectattr"
    " replace reverse round safe select selectattr slice sort string sum title tojson trim"
    " truncate unique upper urlencode wordcount".split()
)
KNOWN_METHODS: dict[type, frozenset[str]] = {
    str: frozenset(
        "capitalize casefold count endswith find format index isalnum isalpha isdecimal isdigit"  # noqa: SIM905
        " isidentifier islower isnumeric isspace istitle isupper join lower lstrip partition"
        " removeprefix removesuffix replace rfind rindex rpartition rsplit rstrip split"
        " splitlines startswith strip swapcase title upper".split()
    ),
    list: frozenset({"count", "index"}),
    tuple: frozenset({"count", "index"}),
    dict: frozenset({"get", "items", "keys", "values"}),
}
"""Methods of values; all others pad, change, or lead out."""
_WIDE = re.compile(r"\d{4,}|\*")
"""A width or precision in a format that nobody needs."""


# Renderings of several threads must not spend each other's steps, and filters get no context
# in which a budget could be passed.
class _Budget(threading.local):
    """What is left of one rendering's bounds."""

    active = False
    steps = 0
    shown = 0
    until = 0.0

    def step(self) -> None:
        self.steps += 1
        if self.steps > MOST_STEPS:
            raise SecurityError(f"more than {MOST_STEPS:,} steps")
        # Processor time of this thread: a busy machine must not make a good template fail.
        if time.thread_time() > self.until:
            raise SecurityError(f"longer than {RENDER_S:g} s")

    def show(self, size: int) -> None:
        self.shown += size
        if self.shown > LARGEST:
            raise SecurityError(f"gives more than {LARGEST} characters")


_budget = _Budget()


@contextmanager
def bound_rendering() -> Iterator[None]:
    """Bounds for the renderings inside, which share them."""
    # A template that is rendered within another draws on the same bounds.
    if _budget.active:
        yield
        return
    _budget.active, _budget.steps, _budget.shown = True, 0, 0
    _budget.until = time.thread_time() + RENDER_S
    try:
        yield
    finally:
        _budget.active = False


def size_of(value: Any) -> int:
    """Characters and values in a value, whatever is shared in it counted as often as it shows.

    Raises:
        SecurityError: more than anybody can use.
    """
    size, waiting = 0, [value]
    while waiting:
        item = waiting.pop()
        size += len(item) if isinstance(item, str) else 1
        if isinstance(item, dict):
            size += sum(len(k) for k in item if isinstance(k, str))
            waiting.extend(item.values())
        elif isinstance(item, list | tuple | set | frozenset):
            waiting.extend(item)
        if size + len(waiting) > LARGEST:
            raise SecurityError(f"gives more than {LARGEST} characters")
    return size


def _check_room(size: int) -> None:
    if size > LARGEST:
        raise SecurityError(f"gives more than {LARGEST} characters")


def _counted_steps(values: Iterable[Any]) -> Iterator[Any]:
    for value in values:
        _budget.step()
        yield value


# What the compiler puts around parts of a template. Their names cannot be written in one, and as
# they take the context they are never worked out while compiling.

COUNTED, SIZED, SHOWN = "each is a step", "its size counts", "it is shown"


@pass_context
def _each_item(context: Any, values: Any) -> Any:
    return values if isinstance(values, Undefined) else _counted_steps(values)


@pass_context
def _sized_value(context: Any, value: Any) -> Any:
    _budget.step()
    size_of(value)
    return value


@pass_context
def _shown_value(context: Any, value: Any) -> Any:
    _budget.step()
    _budget.show(size_of(value))
    return value


class _Bounding(NodeTransformer):
    """Puts the counting into a template."""

    def _bound_filter(self, node: Any, name: str) -> nodes.Filter:
        return nodes.Filter(
            node, name, [], [], None, None, lineno=node.lineno, environment=node.environment
        )

    def visit_For(self, node: nodes.For) -> nodes.For:
        if node.recursive:
            raise SecurityError("a recursive loop is not available here")
        self.generic_visit(node)
        node.iter = self._bound_filter(node.iter, COUNTED)
        return node

    def visit_Output(self, node: nodes.Output) -> nodes.Output:
        self.generic_visit(node)
        node.nodes = [
            n if isinstance(n, nodes.TemplateData) else self._bound_filter(n, SHOWN)
            for n in node.nodes
        ]
        return node

    def _bound_literal(self, node: Any) -> Any:
        self.generic_visit(node)
        return node if getattr(node, "ctx", "load") == "store" else self._bound_filter(node, SIZED)

    visit_List = visit_Dict = visit_Tuple = visit_Concat = _bound_literal

    # A key is a key, whatever it is called: only what is called can be a method.

    def visit_Getattr(self, node: nodes.Getattr) -> nodes.Getitem:
        self.generic_visit(node)
        key = nodes.Const(node.attr, lineno=node.lineno, environment=node.environment)
        return nodes.Getitem(
            node.node, key, node.ctx, lineno=node.lineno, environment=node.environment
        )

    def visit_Call(self, node: nodes.Call) -> nodes.Call:
        method = node.node if isinstance(node.node, nodes.Getattr) else None
        self.generic_visit(node)
        if method is not None:
            # Its owner is transformed by now, and stands where it stood.
            node.node = method
        return node

    def _refuse_feature(self, node: nodes.Node) -> Any:
        raise SecurityError(f"`{type(node).__name__.lower()}` is not available here")

    visit_Macro = visit_CallBlock = visit_Block = visit_Extends = _refuse_feature
    visit_Include = visit_Import = visit_FromImport = _refuse_feature


class Sandbox(ImmutableSandboxedEnvironment):
    """No attribute of Python's own is reachable, nothing changes from inside, all work ends."""

    intercepted_binops = frozenset({"+", "*", "**", "%"})

    def __init__(self) -> None:
        # Not optimized: the compiler would work constant parts out before any bound applies.
        super().__init__(undefined=StrictUndefined, autoescape=False, optimized=False)
        self.globals = {"range": _bounded_range}
        self.filters = {
            name: _bounded_filter(name, FILTERS[name]) for name in sorted(KNOWN_FILTERS)
        }
        self.filters |= {COUNTED: _each_item, SIZED: _sized_value, SHOWN: _shown_value}
        self.tests["containing"] = lambda value, part: str(part).casefold() in str(value).casefold()
        self.tests["starting"] = lambda value, start: str(value).startswith(str(start))

    def _generate(self, source: nodes.Template, *args: Any, **kwargs: Any) -> str:
        return super()._generate(_Bounding().visit(source), *args, **kwargs)

    def getitem(self, obj: Any, argument: Any) -> Any:
        """What stands under a key or an index; a method of a value is none."""
        if isinstance(obj, dict):
            return obj[argument] if argument in obj else self.undefined(obj=obj, name=argument)
        found = super().getitem(obj, argument)
        if isinstance(found, BuiltinMethodType):
            return self.undefined(obj=obj, name=argument)
        return found

    def call(self, context: Any, function: Any, *args: Any, **kwargs: Any) -> Any:
        """Call a method or function of a template, as a step of it."""
        _budget.step()
        if isinstance(function, BuiltinMethodType):
            owner, name = function.__self__, function.__name__
            kind = next((k for k in KNOWN_METHODS if isinstance(owner, k)), None)
            if kind is None or name not in KNOWN_METHODS[kind]:
                raise SecurityError(f"`{name}` is not available here")
            if kind is str:
                _check_text_work(name, str(owner), args)
        return super().call(context, function, *args, **kwargs)

    def wrap_str_format(self, value: Any) -> Callable[..., str] | None:
        """`format` of a text, which Jinja wraps, with bounds on its widths."""
        wrapped = super().wrap_str_format(value)
        if wrapped is None:
            return None

        def within_bounds(*args: Any, **kwargs: Any) -> str:
            text = str(value.__self__)
            _check_format(text)
            if re.search(r"\{[^{}]*\{", text):
                raise SecurityError("a width that is worked out is not available in a format")
            return wrapped(*args, **kwargs)

        return within_bounds

    def call_binop(self, context: Any, operator: str, left: Any, right: Any) -> Any:
        """Carry out an operator whose result could be of any size."""
        numbers = _is_number(left) and _is_number(right)
        if operator == "**" or (operator == "*" and not numbers):
            raise SecurityError(f"`{operator}` is not available for these values")
        if operator == "*" and _bits_of(left) + _bits_of(right) > MOST_BITS:
            raise SecurityError("a number of too many digits")
        if operator == "+" and not numbers:
            _check_room(size_of(left) + size_of(right))
        if operator == "%" and isinstance(left, str):
            _check_format(left)
        return super().call_binop(context, operator, left, right)


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float)


def _bits_of(value: Any) -> int:
    return value.bit_length() if isinstance(value, int) else 64


def _check_format(text: str) -> None:
    if _WIDE.search(text):
        raise SecurityError("a width of four digits or more is not available in a format")


def _check_text_work(name: str, text: str, args: tuple[Any, ...]) -> None:
    """Refuse what makes a long text of a short one."""
    if name == "replace" and len(args) >= 2:
        old, new = str(args[0]), str(args[1])
        _check_room(len(text) + text.count(old) * len(new))
    elif name == "join" and args:
        size = size_of(args[0])
        _check_room(size + size * len(text))


def _bounded_range(*bounds: int) -> list[int]:
    numbers = range(*bounds)
    if len(numbers) > 10_000:
        raise SecurityError("a range holds at most 10,000 numbers")
    return list(numbers)


def _bounded_filter(name: str, plain: Callable[..., Any]) -> Callable[..., Any]:
    """A filter of Jinja's whose work and result are measured."""
    passed = 0 if getattr(plain, "jinja_pass_arg", None) is None else 1

    @functools.wraps(plain)
    def measured(*args: Any, **kwargs: Any) -> Any:
        _budget.step()
        before, (value, *more) = args[:passed], args[passed:]
        if not isinstance(value, str | dict | Undefined) and isinstance(value, Iterable):
            value = list(_counted_steps(value))
        options = [*more, *kwargs.values()]
        if any(isinstance(o, int) and abs(o) > LARGEST_NUMBER for o in options):
            raise SecurityError(f"`{name}` takes numbers up to {LARGEST_NUMBER:,}")
        if name == "format":
            _check_format(str(value))
        elif name == "replace":
            _check_text_work("replace", str(value), tuple(options))
        elif name == "join":
            _check_text_work("join", str(options[0]) if options else "", (value,))
        elif name == "indent":
            width = next((o for o in options if isinstance(o, int)), 4)
            _check_room(len(str(value)) + str(value).count("\n") * max(width, 4))
        elif name == "sum" and not all(_is_number(o) or isinstance(o, str) for o in options):
            raise SecurityError("`sum` adds numbers")
        result = plain(*before, value, *more, **kwargs)
        if isinstance(result, Iterator):
            result = list(_counted_steps(result))
        if not isinstance(result, Undefined):
            size_of(result)
        return result

    return measured
