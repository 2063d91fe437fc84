"""Paths into JSON values (JSONPath, RFC 9535), with bounds on the work that one may ask for."""

from __future__ import annotations

import re
import threading
import time
from collections.abc import Iterable
from functools import lru_cache
from itertools import islice
from typing import Any

from iregexp_check import check as is_iregexp
from jsonpath_rfc9535 import JSONPathEnvironment, JSONPathError, JSONPathNode, JSONPathQuery
from jsonpath_rfc9535.exceptions import JSONPathRecursionError
from jsonpath_rfc9535.function_extensions import ExpressionType, FilterFunction
from jsonpath_rfc9535.parse import Parser

from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

PATH_S = 0.5
"""Seconds of processor time that one path may take on one value."""
MOST_NODES = 100_000
"""Nodes that one path may find."""
LONGEST = 2_000
"""Characters of the longest path."""


class PathError(ValueError):
    """A JSONPath that does not parse."""


def check_path(path: str) -> JSONPathQuery:
    """The compiled query.

    Raises:
        PathError: the path does not parse; the message says where.
    """
    if len(path) > LONGEST:
        raise PathError(f"a JSONPath of more than {LONGEST} characters")
    try:
        return _compile_path(path)
    except (JSONPathError, RecursionError) as error:
        raise PathError(f"`{path}` is not a JSONPath: {error}") from None


@lru_cache(maxsize=4096)
def _compile_path(path: str) -> JSONPathQuery:
    query = _ENVIRONMENT.compile(path)
    return _Query(env=query.env, segments=query.segments)


def find_nodes(value: Any, path: str) -> list[Any]:
    """The nodes that a JSONPath finds in a value, in its order.

    Raises:
        PathError: the path itself is wrong.
        GivenUp: it takes too long on this value, or finds too much.
    """
    simple = re.fullmatch(r"\$((?:\.[A-Za-z_]\w*)*)", path)
    if simple:  # the everyday case, several times faster than the general query
        for key in simple[1].split(".")[1:]:
            if not isinstance(value, dict) or key not in value:
                return []
            value = value[key]
        return [value]
    # Processor time of this thread, so that a busy machine does not make a good path fail.
    query = check_path(path)
    _deadline.at = time.thread_time() + PATH_S
    try:
        hits = list(islice(query.finditer(value), MOST_NODES + 1))
    except JSONPathRecursionError:
        raise GivenUp(f"`{path}` was given up: the value is nested too deeply") from None
    except _TooLong:
        raise GivenUp(f"`{path}` was given up after {PATH_S:g} s on this value") from None
    if len(hits) > MOST_NODES:
        raise GivenUp(f"`{path}` was given up: it finds more than {MOST_NODES:,} values")
    return [hit.value for hit in hits]


def find_values(value: Any, path: str) -> list[Any]:
    """The values a `from` may take: each node, and the elements of an only node that is a list."""
    hits = find_nodes(value, path)
    if len(hits) == 1 and isinstance(hits[0], list):
        return hits + hits[0]
    return hits


# The query language of the library, its steps and its patterns under a deadline.


class _TooLong(Exception):
    pass


# The library passes nothing of ours down to its nodes, and several threads may judge at once.
class _Deadline(threading.local):
    at = float("inf")


_deadline = _Deadline()


class _Node(JSONPathNode):
    """A node whose making is a step of the work."""

    __slots__ = ()

    def new_child(self, value: object, key: int | str, parent: JSONPathNode | None) -> _Node:
        if time.thread_time() > _deadline.at:
            raise _TooLong
        return _Node(value=value, location=(*self.location, key), parent=parent, root=self.root)


class _Query(JSONPathQuery):
    __slots__ = ()

    def finditer(self, value: Any) -> Iterable[JSONPathNode]:
        found: Iterable[JSONPathNode] = [_Node(value=value, location=(), parent=None, root=value)]
        for segment in self.segments:
            found = segment.resolve(found)
        return found


class _Parser(Parser):
    """Makes the queries inside filters of the same kind."""

    def parse_root_query(self, stream: Any) -> Any:
        return self._time_filter(super().parse_root_query(stream))

    def parse_relative_query(self, stream: Any) -> Any:
        return self._time_filter(super().parse_relative_query(stream))

    def _time_filter(self, filter_: Any) -> Any:
        filter_.query = _Query(env=self.env, segments=filter_.query.segments)
        return filter_


class _PatternFunction(FilterFunction):
    """`match` and `search` of RFC 9535, their patterns those of RFC 9485."""

    arg_types = [ExpressionType.VALUE, ExpressionType.VALUE]
    return_type = ExpressionType.LOGICAL

    def __init__(self, *, whole: bool) -> None:
        self._whole = whole

    def __call__(self, text: object, source: object) -> bool:
        # By RFC 9535 § 2.4.6 and 2.4.7 all else is no match, and not an error.
        if not (isinstance(text, str) and isinstance(source, str) and is_iregexp(source)):
            return False
        try:
            read = _dot_read(source)
            return compile_pattern(rf"\A(?:{read})\Z" if self._whole else read).is_found_in(text)
        except PatternError:
            return False


def _dot_read(source: str) -> str:
    """A pattern of RFC 9485 as one of Python's: `.` is neither of two line ends (§ 5.4)."""
    pieces = re.findall(r"\\.|\[(?:\\.|[^\]\\])*+\]?|.", source, re.S)
    return "".join(r"[^\r\n]" if piece == "." else piece for piece in pieces)


class _Environment(JSONPathEnvironment):
    parser_class = _Parser

    def setup_function_extensions(self) -> None:
        super().setup_function_extensions()
        self.function_extensions["match"] = _PatternFunction(whole=True)
        self.function_extensions["search"] = _PatternFunction(whole=False)


_ENVIRONMENT = _Environment()
