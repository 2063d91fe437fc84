"""Reading a YAML file into plain values, with the place of each for error messages.

YAML 1.2: `yes` and `2031-03-14` are text. Repeated keys and several documents are
errors, and so is what JSON cannot hold. Read by libyaml, for a workspace of thousands of
tasks is checked while somebody types; what a plain word means is decided here, by the
core schema of YAML 1.2.
"""

from __future__ import annotations

import math
import re
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path
from typing import Any, ClassVar, TypeVar

import yaml
from pydantic import BaseModel, ValidationError
from yaml.nodes import MappingNode, Node, ScalarNode

from ferox.workspace.problems import Problem, did_you_mean

Path_ = tuple[str | int, ...]
Model = TypeVar("Model", bound=BaseModel)
MOST_VALUES = 400_000
"""Values of the longest file, aliases written out; anchors can make few lines endless."""
LARGEST = 4 * 1024 * 1024
"""Bytes of the largest file that is read; beyond it a mistake is likelier than a script."""


@dataclass
class YamlFile:
    """A file's values, and where each of them stands."""

    name: str
    value: Any = None
    places: dict[Path_, tuple[int, int]] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)
    around: set[int] = field(default_factory=set)
    """The nodes being read: one that turns up inside itself would never end."""

    def at(self, path: Path_, message: str, note: bool = False) -> Problem:
        """A problem at a path; if nothing stands there, at the nearest thing around it."""
        while path and path not in self.places:
            path = path[:-1]
        line, column = self.places.get(path, (1, 1))
        return Problem(self.name, line, column, message, note)


class _TooMuch(Exception):
    """The file cannot be read to its end; the problem is noted."""


def read_yaml(path: Path, name: str) -> YamlFile:
    """Read a file. What is wrong with it stands in `problems`; `value` is then partial."""
    file = YamlFile(name)
    try:
        stat = path.stat()
        if stat.st_size > LARGEST:
            file.problems.append(Problem(name, 1, 1, f"larger than {LARGEST} bytes"))
            return file
        read = _read_once(path, name, (stat.st_mtime_ns, stat.st_size))
        return replace(read, problems=list(read.problems))
    except FileNotFoundError:
        file.problems.append(Problem(name, 1, 1, "no such file"))
    except (OSError, UnicodeDecodeError) as error:
        file.problems.append(Problem(name, 1, 1, f"cannot be read: {error}"))
    return file


@lru_cache(maxsize=256)
def _read_once(path: Path, name: str, stamp: tuple[int, int]) -> YamlFile:
    """A file in one state. Its values and places are shared: nobody changes them."""
    return parse_yaml(path.read_text(encoding="utf-8"), name)


def parse_yaml(text: str, name: str) -> YamlFile:
    """Parse a text as one YAML document."""
    file = YamlFile(name)
    try:
        node = yaml.compose(text, Loader=_Loader)
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        line, column = (mark.line + 1, mark.column + 1) if mark else (1, 1)
        file.problems.append(Problem(name, line, column, f"not YAML: {error.problem}"))
        return file
    except (yaml.YAMLError, ValueError) as error:
        file.problems.append(Problem(name, 1, 1, f"not YAML: {error}"))
        return file
    if node is None:
        file.problems.append(Problem(name, 1, 1, "the file is empty"))
    else:
        try:
            with suppress(_TooMuch):
                file.value = _value(node, (), file)
        except RecursionError:
            file.problems.append(Problem(name, 1, 1, "nested too deeply to be read"))
    return file


def _value(node: Node, path: Path_, file: YamlFile) -> Any:
    place = (node.start_mark.line + 1, node.start_mark.column + 1)
    file.places.setdefault(path, place)
    if id(node) in file.around or len(file.places) > MOST_VALUES:
        told = "holds itself" if id(node) in file.around else f"more than {MOST_VALUES} values"
        file.problems.append(file.at(path, told))
        raise _TooMuch
    if isinstance(node, ScalarNode):
        return _scalar(_kind(node), str(node.value), path, file)
    file.around.add(id(node))
    if isinstance(node, MappingNode):
        value: Any = _mapping(node, path, file)
    else:
        value = [_value(item, (*path, i), file) for i, item in enumerate(node.value)]
    file.around.discard(id(node))
    return value


def _mapping(node: MappingNode, path: Path_, file: YamlFile) -> dict[str, Any]:
    result: dict[str, Any] = {}
    for key_node, value_node in node.value:
        key = str(key_node.value)
        if not isinstance(key_node, ScalarNode):
            file.problems.append(file.at(path, "a key must be a word"))
            continue
        place = (key_node.start_mark.line + 1, key_node.start_mark.column + 1)
        if key in result:
            file.problems.append(Problem(file.name, *place, f"`{key}` stands here twice"))
            continue
        file.places[(*path, key)] = place
        result[key] = _value(value_node, (*path, key), file)
    return result


_CORE = (
    ("null", re.compile(r"~|null|Null|NULL|")),
    ("bool", re.compile(r"true|True|TRUE|false|False|FALSE")),
    ("int", re.compile(r"[-+]?[0-9]+|0o[0-7]+|0x[0-9a-fA-F]+")),
    ("float", re.compile(r"[-+]?(\.[0-9]+|[0-9]+(\.[0-9]*)?)([eE][-+]?[0-9]+)?")),
    ("float", re.compile(r"[-+]?\.(inf|Inf|INF)|\.(nan|NaN|NAN)")),
)
"""The core schema of YAML 1.2 (§ 10.3.2): what a plain word is, if it is not text."""


_MAY_BE = frozenset("~nNtTfF+-.0123456789")
"""Signs that a plain word begins with if it is not text."""


class _Loader(yaml.CSafeLoader):
    """Resolves nothing itself: a scalar without a tag of its own is told apart here."""

    DEFAULT_SCALAR_TAG = "untagged"  # type: ignore[misc]  # as its own subclasses do
    yaml_implicit_resolvers: ClassVar[dict[str, Any]] = {}  # type: ignore[misc]


def _kind(node: ScalarNode) -> str:
    """null, bool, int, float or str."""
    if node.tag != _Loader.DEFAULT_SCALAR_TAG:
        return str(node.tag).rsplit(":", 1)[-1]
    value = node.value
    if node.style or (value and value[0] not in _MAY_BE):
        return "str"
    return next((kind for kind, word in _CORE if word.fullmatch(value)), "str")


def _scalar(kind: str, text: str, path: Path_, file: YamlFile) -> Any:
    if kind == "null":
        return None
    if kind == "bool":
        return text.lower() == "true"
    if kind == "int":
        return int(text, 0) if re.match(r"0[xo]", text) else int(text)
    if kind == "float":
        number = float(re.sub(r"\.(?=inf|nan)", "", text.lower()))
        if not math.isfinite(number):
            file.problems.append(file.at(path, f"`{text}` is no JSON number"))
        return number
    return text


def validate(file: YamlFile, model: type[Model]) -> Model | None:
    """The file's value as a model; None, and every problem noted, if it does not fit."""
    if file.problems:
        return None
    if not isinstance(file.value, dict):
        file.problems.append(file.at((), "the file must hold keys and values"))
        return None
    try:
        return model.model_validate(file.value)
    except ValidationError as error:
        for fault in error.errors():
            file.problems.append(_problem(file, model, dict(fault)))
        return None


_FORMS = {
    r"^[^/\s]+/\S+$": "tool's address; write `server/tool`, or `own/tool` for one of the agent's",
    r"^[A-Za-z0-9][A-Za-z0-9_.-]*$": "name; write letters, digits, `_`, `.` and `-`",
}
"""What a pattern of the formats asks for, in words."""


def _problem(file: YamlFile, model: type[BaseModel], fault: dict[str, Any]) -> Problem:
    path = _known_path(file, fault["loc"])
    where = ".".join(str(p) for p in path) or "the file"
    if fault["type"] == "extra_forbidden":
        key = str(path[-1])
        known = _keys_at(model, path[:-1])
        return file.at(path, f"`{key}` is no key here{did_you_mean(key, known)}")
    if fault["type"] == "missing":
        return file.at(path, f"`{fault['loc'][-1]}` is missing")
    told = _FORMS.get((fault.get("ctx") or {}).get("pattern", ""))
    if told is not None:
        return file.at(path, f"`{fault.get('input')}` is no {told}")
    message = str(fault["msg"]).removeprefix("Value error, ")
    found = fault.get("input")
    shown = f" (found {found!r})" if isinstance(found, str | int | float | bool) else ""
    return file.at(path, f"`{where}`: {message[0].lower()}{message[1:]}{shown}")


def _known_path(file: YamlFile, loc: tuple[str | int, ...]) -> Path_:
    """The part of Pydantic's location that the file really has (unions add words of their own)."""
    path: Path_ = ()
    for step in loc:
        if (*path, step) in file.places:
            path = (*path, step)
    return path


def _keys_at(model: type[BaseModel], path: Path_) -> list[str]:
    """The keys that a model allows at a path, as far as its types tell."""
    current: type[BaseModel] | None = model
    for step in path:
        if isinstance(step, str) and current is not None:
            current = _model_of(current, step) or current
    if current is None:
        return []
    return [f.alias or name for name, f in current.model_fields.items()]


def _model_of(model: type[BaseModel], key: str) -> type[BaseModel] | None:
    for name, info in model.model_fields.items():
        if key in (name, info.alias):
            return _first_model(info.annotation)
    return None


def _first_model(annotation: Any) -> type[BaseModel] | None:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    for inner in getattr(annotation, "__args__", ()):
        model = _first_model(inner)
        if model:
            return model
    return None
