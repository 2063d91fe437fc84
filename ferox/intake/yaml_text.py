"""YAML from outside, read into plain values with the place of each.

YAML 1.2: `yes` and `2031-03-14` are text. Repeated keys and several documents are faults, and
so is what JSON cannot hold. Read by libyaml, for a workspace of thousands of tasks is checked
while somebody types; what a plain word means is decided here, by the core schema of YAML 1.2.
"""

from __future__ import annotations

import math
import re
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import yaml
from yaml.nodes import MappingNode, Node, ScalarNode

from ferox.intake.collector import collector_at_rest
from ferox.intake.limits import FILE, IntakeError, Limits, check_size
from ferox.intake.yaml_causes import fault_of_yaml

ValuePath = tuple[str | int, ...]
"""Keys and indices that lead to a value."""


@dataclass
class YamlText:
    """A text's value, where each value in it stands, and what is wrong with it."""

    value: Any = None
    places: dict[ValuePath, tuple[int, int]] = field(default_factory=dict)
    faults: list[IntakeError] = field(default_factory=list)

    def find_place(self, path: ValuePath) -> tuple[int, int]:
        """Line and column of a path; if nothing stands there, of the nearest thing around it."""
        while path and path not in self.places:
            path = path[:-1]
        return self.places.get(path, (1, 1))

    def add_fault(self, path: ValuePath, message: str) -> None:
        """Note what is wrong at a path."""
        self.faults.append(IntakeError(message, *self.find_place(path)))


class _TooMuch(Exception):
    """The text cannot be read to its end; the fault is noted."""


def read_yaml_text(text: str, limits: Limits = FILE) -> YamlText:
    """A text as one YAML document. What is wrong stands in `faults`; `value` is then partial."""
    with collector_at_rest():
        return _read_document(text, limits)


def _read_document(text: str, limits: Limits) -> YamlText:
    read = YamlText()
    try:
        check_size(text, limits)
        node = yaml.compose(text, Loader=_Loader)
    except IntakeError as error:
        read.faults.append(IntakeError(error.message, 1, 1))
        return read
    except yaml.MarkedYAMLError as error:
        read.faults.append(fault_of_yaml(text, error))
        return read
    except (yaml.YAMLError, ValueError) as error:
        read.faults.append(IntakeError(f"not YAML: {error}", 1, 1))
        return read
    if node is None:
        read.faults.append(IntakeError("the file is empty", 1, 1))
    else:
        with suppress(_TooMuch):
            _Counter(read, limits).count_values(node)
            read.value = _Reader(read, limits).read_value(node, ())
    return read


class _Counter:
    """Counts a text's values with its aliases written out, without writing them out."""

    def __init__(self, read: YamlText, limits: Limits) -> None:
        self._read = read
        self._limits = limits
        self._counts: dict[int, int] = {}
        """Of the nodes that hold others: each is counted once, however often it is an alias."""

    def count_values(self, node: Node, depth: int = 0) -> int:
        """A node and all in it."""
        if depth > self._limits.max_depth:
            self._refuse_node(node, f"more than {self._limits.max_depth} levels")
        if isinstance(node, ScalarNode):
            return 1
        if id(node) not in self._counts:
            self._counts[id(node)] = 1  # in case it holds itself, which the reader says
            inner = node.value
            if isinstance(node, MappingNode):
                inner = [value for _, value in node.value]
            count = 1 + sum(self.count_values(item, depth + 1) for item in inner)
            if count > self._limits.max_nodes:
                self._refuse_node(node, f"more than {self._limits.max_nodes} values")
            self._counts[id(node)] = count
        return self._counts[id(node)]

    def _refuse_node(self, node: Node, message: str) -> None:
        self._read.faults.append(IntakeError(message, *_place_of(node)))
        raise _TooMuch


class _Reader:
    """Turns the nodes of one text into values."""

    def __init__(self, read: YamlText, limits: Limits) -> None:
        self._read = read
        self._limits = limits
        self._around: set[int] = set()
        """The nodes being read: one that turns up inside itself would never end."""

    def read_value(self, node: Node, path: ValuePath) -> Any:
        """The value of a node that stands at a path."""
        self._read.places.setdefault(path, _place_of(node))
        if id(node) in self._around:
            self._refuse_value(path, "holds itself")
        if len(path) > self._limits.max_depth:
            self._refuse_value(path, f"more than {self._limits.max_depth} levels")
        if isinstance(node, ScalarNode):
            return self._read_scalar(_kind_of(node), str(node.value), path)
        self._around.add(id(node))
        if isinstance(node, MappingNode):
            value: Any = self._read_mapping(node, path)
        else:
            value = [self.read_value(item, (*path, i)) for i, item in enumerate(node.value)]
        # Left again: an alias may stand in two places, only not within itself.
        self._around.discard(id(node))
        return value

    def _refuse_value(self, path: ValuePath, message: str) -> None:
        self._read.add_fault(path, message)
        raise _TooMuch

    def _read_mapping(self, node: MappingNode, path: ValuePath) -> dict[str, Any]:
        result: dict[str, Any] = {}
        for key_node, value_node in node.value:
            key = str(key_node.value)
            if not isinstance(key_node, ScalarNode):
                message = "a key must be a word"
                if isinstance(key_node, MappingNode):
                    message += "; put a text that begins with `{{` in quotes"
                self._read.add_fault(path, message)
                continue
            place = _place_of(key_node)
            # YAML forbids it, and libraries keep one or the other without a word.
            if key in result:
                self._read.faults.append(IntakeError(f"`{key}` stands here twice", *place))
                continue
            self._read.places[(*path, key)] = place
            result[key] = self.read_value(value_node, (*path, key))
        return result

    def _read_scalar(self, kind: str, text: str, path: ValuePath) -> Any:
        if kind == "null":
            return None
        if kind == "bool":
            return text.lower() == "true"
        if kind not in ("int", "float"):
            return text
        if len(text) > self._limits.max_digits:
            self._read.add_fault(path, f"a number of more than {self._limits.max_digits} digits")
            return text
        try:
            return _number_of(kind, text)
        except ValueError:
            self._read.add_fault(path, f"`{text}` is not a JSON number")
            return text


def _place_of(node: Node) -> tuple[int, int]:
    return node.start_mark.line + 1, node.start_mark.column + 1


_CORE = re.compile(
    r"(?P<null>~|null|Null|NULL|)"
    r"|(?P<bool>true|True|TRUE|false|False|FALSE)"
    r"|(?P<int>[-+]?[0-9]+|0o[0-7]+|0x[0-9a-fA-F]+)"
    r"|(?P<float>[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?"
    r"|[-+]?\.(?:inf|Inf|INF)|\.(?:nan|NaN|NAN))"
)
"""The core schema of YAML 1.2 (§ 10.3.2): what a plain word is, if it is not text."""


_MAY_BE = frozenset("~nNtTfF+-.0123456789")
"""Signs that a plain word begins with if it is not text."""


_UNTAGGED = "untagged"


class _Loader(yaml.CSafeLoader):
    """Resolves nothing itself: a scalar without a tag of its own is told apart here."""

    def resolve(self, kind: type[Node], value: Any, implicit: Any) -> str:
        """The tag of a node that has none of its own."""
        return _UNTAGGED


def _kind_of(node: ScalarNode) -> str:
    """null, bool, int, float or str."""
    if node.tag != _UNTAGGED:
        return str(node.tag).rsplit(":", 1)[-1]
    value = node.value
    if node.style or (value and value[0] not in _MAY_BE):
        return "str"
    word = _CORE.fullmatch(value)
    return (word and word.lastgroup) or "str"


def _number_of(kind: str, text: str) -> int | float:
    """A number of YAML's core schema.

    Raises:
        ValueError: JSON has no such number.
    """
    if kind == "int":
        return int(text, 0) if re.match(r"0[xo]", text) else int(text)
    number = float(re.sub(r"\.(?=inf|nan)", "", text.lower()))
    if not math.isfinite(number):
        raise ValueError(text)
    return number
