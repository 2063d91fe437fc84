"""Loading a workspace: every file by its schema, then all of them against each other."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import NamedTuple, TypeVar

from ferox.formats.agent import AgentFile
from ferox.formats.base import Document
from ferox.formats.plan import PlanFile
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite
from ferox.formats.workspace import WorkspaceFile
from ferox.intake.files import read_text
from ferox.workspace.check import check_workspace
from ferox.workspace.check_stand_in import check_stand_in
from ferox.workspace.problems import Problem, WorkspaceError, first_of
from ferox.workspace.yaml_files import YamlFile, read_yaml, validate_file

Doc = TypeVar("Doc", bound=Document)
NAME_KEYS = {
    "servers": "server",
    "agents": "agent",
    "tasks": "suite",
    "plans": "plan",
    "stand_ins": "stand_in",
}
"""The key by which a file of each folder says its own name."""


@dataclass
class Workspace:
    """A loaded workspace. `files` keeps each file's text positions for later messages."""

    root: Path
    settings: WorkspaceFile
    agents: dict[str, AgentFile] = field(default_factory=dict)
    servers: dict[str, ServerFile] = field(default_factory=dict)
    suites: dict[str, Suite] = field(default_factory=dict)
    plans: dict[str, PlanFile] = field(default_factory=dict)
    stand_ins: dict[str, StandInFile] = field(default_factory=dict)
    files: dict[str, YamlFile] = field(default_factory=dict)
    instructions: dict[str, str] = field(default_factory=dict)
    unloaded_servers: Mapping[str, str] = field(default_factory=dict)
    """Servers whose files do not load, with these, where what is to run does not need them."""
    notes: list[Problem] = field(default_factory=list)
    """What may be meant so, and is more likely not; it keeps nothing from running."""


def path_within(root: Path, relative: str) -> Path:
    """A path of the workspace.

    Raises:
        ValueError: the path leaves the workspace.
    """
    path = (root / relative).resolve()
    if not path.is_relative_to(root.resolve()):
        raise ValueError(f"`{relative}` leaves the workspace")
    return path


def load_workspace(root: Path) -> Workspace:
    """Load and cross-check every file of a workspace.

    Raises:
        WorkspaceError: with every problem of every file, not only the first.
    """
    workspace, problems = load_loosely(root)
    if problems:
        raise WorkspaceError(problems)
    return workspace


def load_loosely(root: Path) -> tuple[Workspace, list[Problem]]:
    """Whatever of a workspace loads, and every problem of what does not.

    Raises:
        WorkspaceError: there is no workspace at all.
    """
    root = root.absolute()
    if not root.is_dir():
        message = "no such folder; give the folder that holds `ferox.yaml`"
        raise WorkspaceError([Problem(str(root), 1, 1, message)])
    top = read_yaml(root / "ferox.yaml", "ferox.yaml")
    if any(p.message == "no such file" for p in top.problems):
        message = "no such file; a workspace has one at its root: `ferox new FOLDER` makes one"
        raise WorkspaceError([Problem("ferox.yaml", 1, 1, message)])
    settings = validate_file(top, WorkspaceFile)
    problems = list(top.problems)
    workspace = Workspace(root, settings or WorkspaceFile(ferox=1, name=root.name))
    workspace.files["ferox.yaml"] = top
    workspace.agents = dict(
        _read_folder(workspace, "agents", AgentFile, key="agent", problems=problems)
    )
    workspace.servers = dict(
        _read_folder(workspace, "servers", ServerFile, key="server", problems=problems)
    )
    workspace.suites = dict(_read_folder(workspace, "tasks", Suite, key="suite", problems=problems))
    workspace.plans = dict(
        _read_folder(workspace, "plans", PlanFile, key="plan", problems=problems)
    )
    _stand_ins(workspace, problems)
    _read_instructions(workspace, problems)
    # Where a file does not load, what names something in it may well be right.
    problems += check_workspace(workspace, complete=not problems)
    workspace.notes = sorted({p for p in problems if p.note})
    return workspace, sorted({p for p in problems if not p.note})


class NeededWorkspace(NamedTuple):
    """A workspace of which all that is needed loads, and the problems of what was left out."""

    workspace: Workspace
    left_out: list[Problem]


def load_needed(
    root: Path,
    *,
    agents: Iterable[str] | None = None,
    suites: Iterable[str] | None = None,
    plan: PlanFile | str | None = None,
) -> NeededWorkspace:
    """Load what some agents and suites need; files that they do not need may be faulty.

    Without `agents` or `suites` all that load are meant. A `plan`, or one of the workspace's by
    its name, needs its own, and every server: it may vary them.

    Raises:
        WorkspaceError: with every problem of what is needed.
    """
    workspace, problems = load_loosely(root)
    if not problems:
        return NeededWorkspace(workspace, [])
    names = {
        "agents": {*(workspace.agents if agents is None else agents)},
        "tasks": {*(workspace.suites if suites is None else suites)},
    }
    if isinstance(plan, str):
        names["plans"] = {plan}
        plan = workspace.plans.get(plan)
    if plan is not None:
        names["agents"] |= {*plan.agents}
        names["tasks"] |= {*plan.suites_used}
    names["servers"] = {
        server
        for name in names["tasks"]
        if (suite := workspace.suites.get(name))
        for server in suite.servers
    }
    if plan is not None:
        names["servers"] = {*_described(workspace, "servers")}
    stand_ins = _stand_ins_of(workspace, names["agents"])
    needed = {"ferox.yaml", *_files_of(workspace, names), *stand_ins}
    own = [p for p in problems if p.file in needed]
    workspace.unloaded_servers = {
        server: file
        for server, file in _described(workspace, "servers").items()
        if server not in workspace.servers
    }
    # Where all that is needed loads, what names something that is nowhere is wrong.
    own = own or [p for p in check_workspace(workspace, complete=True, only=needed) if not p.note]
    if own:
        raise WorkspaceError(sorted({*own}))
    return NeededWorkspace(workspace, [p for p in problems if p.file not in needed])


def _described(workspace: Workspace, folder: str) -> dict[str, str]:
    """What the files of a folder describe, whether they load or not: name → file. One that says
    no name is taken to describe what its own name says."""
    return {name or Path(file).stem: file for file, name in _names_said(workspace, folder)}


def _names_said(workspace: Workspace, folder: str) -> Iterator[tuple[str, str | None]]:
    """Each file of a folder, with the name of what it describes, as far as it says one."""
    for file in workspace.files.values():
        if file.name.startswith(f"{folder}/"):
            said = file.value.get(NAME_KEYS[folder]) if isinstance(file.value, dict) else None
            yield file.name, said if isinstance(said, str) else None


def _files_of(workspace: Workspace, names: Mapping[str, set[str]]) -> set[str]:
    """The files that describe things, by folder and name."""
    return {
        file
        for folder, wanted in names.items()
        for name, file in _described(workspace, folder).items()
        if name in wanted
    }


def _stand_ins_of(workspace: Workspace, agents: Iterable[str]) -> set[str]:
    """The stand-ins' files that agents think with."""
    models = workspace.settings.models
    used = (workspace.agents[a].thinks_with.values() for a in agents if a in workspace.agents)
    return {f for names in used for n in names if n in models and (f := models[n].stand_in)}


def load_servers(root: Path) -> dict[str, ServerFile]:
    """The tool servers of a workspace whose files load."""
    workspace = Workspace(root, WorkspaceFile(ferox=1, name=root.name))
    return dict(_read_folder(workspace, "servers", ServerFile, key="server", problems=[]))


def _read_folder(
    workspace: Workspace, folder: str, model: type[Doc], key: str, problems: list[Problem]
) -> Iterator[tuple[str, Doc]]:
    seen: dict[str, str] = {}
    for path in sorted((workspace.root / folder).glob("*.yaml")):
        name = f"{folder}/{path.name}"
        file = read_yaml(path, name)
        workspace.files[name] = file
        document = validate_file(file, model)
        problems += file.problems
        if document is None:
            continue
        given = getattr(document, key)
        # The first by file name keeps the name, so that the same one is kept every time.
        if given in seen:
            problems.append(file.problem_at((key,), f"{key} `{given}` is also in {seen[given]}"))
            continue
        seen[given] = name
        yield given, document


class ListedFile(NamedTuple):
    """A file of a folder: the name of what it describes, as far as it says one, and how many
    problems it has."""

    file: str
    describes: str | None
    problems: int


def listed_files(
    workspace: Workspace, problems: Iterable[Problem], folder: str
) -> list[ListedFile]:
    """The files of a folder, by name, whether they load or not."""
    counts = Counter(problem.file for problem in problems)
    return [ListedFile(file, name, counts[file]) for file, name in _names_said(workspace, folder)]


def file_of(workspace: Workspace, folder: str, key: str, name: str) -> YamlFile:
    """The file that defines an agent, a server or a suite."""
    files: Iterable[YamlFile] = workspace.files.values()
    return next(
        f
        for f in files
        if f.name.startswith(f"{folder}/")
        and isinstance(f.value, dict)
        and f.value.get(key) == name
    )


def _stand_ins(workspace: Workspace, problems: list[Problem]) -> None:
    top = workspace.files["ferox.yaml"]
    for name, model in workspace.settings.models.items():
        if model.stand_in is None or model.stand_in in workspace.stand_ins:
            continue
        place = ("models", name, "stand_in")
        try:
            path = path_within(workspace.root, model.stand_in)
        except ValueError as error:
            problems.append(top.problem_at(place, str(error)))
            continue
        if not path.is_file():
            problems.append(top.problem_at(place, f"`{model.stand_in}`: no such file"))
            continue
        file = read_yaml(path, model.stand_in)
        workspace.files[model.stand_in] = file
        document = validate_file(file, StandInFile)
        problems += file.problems
        if document:
            problems += first_of(check_stand_in(file, document))
            workspace.stand_ins[model.stand_in] = document


def read_instructions(root: Path, given: str) -> str:
    """Instructions: a text, or what stands in the file that it names.

    Raises:
        ValueError: there is no such file in the workspace; the message says so.
    """
    path = given.strip()
    if "\n" in path or not path.endswith((".md", ".txt")):
        return given
    try:
        return read_text(path_within(root, path))
    except OSError:
        raise ValueError(f"`{path}`: no such file") from None
    except ValueError as error:
        raise ValueError(f"`{path}`: {error}") from None


def _read_instructions(workspace: Workspace, problems: list[Problem]) -> None:
    for name, agent in workspace.agents.items():
        try:
            workspace.instructions[name] = read_instructions(workspace.root, agent.instructions)
        except ValueError as error:
            file = file_of(workspace, "agents", "agent", name)
            problems.append(file.problem_at(("instructions",), str(error)))
