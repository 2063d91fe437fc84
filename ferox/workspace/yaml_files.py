"""Reading a YAML file into plain values, with the place of each for error messages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from ferox.intake.files import read_text
from ferox.intake.limits import IntakeError
from ferox.intake.yaml_text import ValuePath, YamlText, read_yaml_text
from ferox.workspace.problems import Problem, did_you_mean

Model = TypeVar("Model", bound=BaseModel)


@dataclass
class YamlFile:
    """A file's values, and where each of them stands."""

    name: str
    value: Any = None
    places: dict[ValuePath, tuple[int, int]] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)

    def problem_at(self, path: ValuePath, message: str, note: bool = False) -> Problem:
        """A problem at a path; if nothing stands there, at the nearest thing around it."""
        line, column = YamlText(places=self.places).find_place(path)
        return Problem(self.name, line, column, message=message, note=note)


def read_yaml(path: Path, name: str) -> YamlFile:
    """Read a file. What is wrong with it stands in `problems`; `value` is then partial."""
    file = YamlFile(name)
    try:
        stat = path.stat()
        read = _read_once(path, name, (stat.st_mtime_ns, stat.st_size))
        return replace(read, problems=list(read.problems))
    except FileNotFoundError:
        file.problems.append(Problem(name, 1, 1, "no such file"))
    except (OSError, IntakeError) as error:
        file.problems.append(Problem(name, 1, 1, f"cannot be read: {error}"))
    return file


@lru_cache(maxsize=256)
def _read_once(path: Path, name: str, stamp: tuple[int, int]) -> YamlFile:
    """A file in one state. Its values and places are shared: nobody changes them."""
    return parse_yaml(read_text(path), name)


def parse_yaml(text: str, name: str) -> YamlFile:
    """Parse a text as one YAML document."""
    read = read_yaml_text(text)
    problems = [Problem(name, f.line or 1, f.column or 1, f.message) for f in read.faults]
    return YamlFile(name, read.value, read.places, problems)


def validate_file(file: YamlFile, model: type[Model]) -> Model | None:
    """The file's value as a model; None, and every problem noted, if it does not fit."""
    if file.problems:
        return None
    if not isinstance(file.value, dict):
        file.problems.append(file.problem_at((), "the file must hold keys and values"))
        return None
    try:
        return model.model_validate(file.value)
    except ValidationError as error:
        for fault in error.errors():
            file.problems.append(_problem_of(file, model, dict(fault)))
        return None


_FORMS = {
    r"^[^/\s]+/\S+$": "tool's address; write `server/tool`, or `own/tool` for one of the agent's",
    r"^[A-Za-z0-9][A-Za-z0-9_.-]*$": "name; write letters, digits, `_`, `.` and `-`",
}
"""What a pattern of the formats asks for, in words."""


def _problem_of(file: YamlFile, model: type[BaseModel], fault: dict[str, Any]) -> Problem:
    path = _known_path(file, fault["loc"])
    task, where = _named_place(file, path)
    return file.problem_at(path, f"{task}{_fault_message(model, fault, path, where)}")


def _named_place(file: YamlFile, path: ValuePath) -> tuple[str, str]:
    """Which task of a suite a path leads into, by its name, and the place in it; of another file,
    the place in the file."""
    task: Any = None
    if path[:1] == ("tasks",) and len(path) > 1:
        tasks = file.value["tasks"]
        task = tasks[path[1]] if isinstance(tasks, list) and isinstance(path[1], int) else None
    name = task.get("task") if isinstance(task, dict) else None
    if isinstance(name, str):
        return f"task `{name[:80]}`: ", ".".join(map(str, path[2:])) or "the task"
    return "", ".".join(map(str, path)) or "the file"


def _fault_message(
    model: type[BaseModel], fault: dict[str, Any], path: ValuePath, where: str
) -> str:
    if fault["type"] == "extra_forbidden":
        key = str(path[-1])
        around = _models_along(model, path[:-1])
        elsewhere = _right_place(around, path[:-1], key)
        if elsewhere is not None:
            return f"`{key}` does not belong here; {elsewhere}"
        return f"`{key}` is not a known key{did_you_mean(key, _keys_of(around[-1]))}"
    if fault["type"] == "missing":
        return f"`{fault['loc'][-1]}` is missing"
    wanted_form = _FORMS.get((fault.get("ctx") or {}).get("pattern", ""))
    if wanted_form is not None:
        return f"`{fault.get('input')}` is not a {wanted_form}"
    message = str(fault["msg"]).removeprefix("Value error, ")
    found = fault.get("input")
    shown = f" (found {found!r})" if isinstance(found, str | int | float | bool) else ""
    message = f"{message[0].lower()}{message[1:]}{shown}"
    return message if where in ("the task", "the file") else f"`{where}`: {message}"


def _known_path(file: YamlFile, loc: tuple[str | int, ...]) -> ValuePath:
    """The part of Pydantic's location that the file really has (unions add words of their own)."""
    path: ValuePath = ()
    for step in loc:
        # Pydantic puts the names of a union's members into the location too.
        if (*path, step) in file.places:
            path = (*path, step)
    return path


def _models_along(model: type[BaseModel], path: ValuePath) -> list[type[BaseModel] | None]:
    """The model of the file and of each step of a path, as far as the types tell."""
    along: list[type[BaseModel] | None] = [model]
    for step in path:
        around = along[-1]
        # The items of a list are of the model that the list's own key tells.
        along.append(_model_of(around, step) if isinstance(step, str) and around else around)
    return along


def _keys_of(model: type[BaseModel] | None) -> list[str]:
    return [f.alias or name for name, f in model.model_fields.items()] if model else []


def _right_place(around: Sequence[type[BaseModel] | None], path: ValuePath, key: str) -> str | None:
    """Where a key belongs that stands one level too high, or too low."""
    here = around[-1]
    if here is None:
        return None
    for name, info in here.model_fields.items():
        if key in _keys_of(_first_model(info.annotation)):
            return f"put it under `{info.alias or name}`"
    for depth in range(len(path) - 1, -1, -1):
        outer = around[depth]
        if outer is not here and key in _keys_of(outer) and isinstance(path[depth], str):
            return f"put it beside `{path[depth]}`"
    return None


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
