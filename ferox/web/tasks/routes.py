"""The interface of suites: listed, read as pictures, tried on stored trials, scored again."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from flask_openapi3.openapi import OpenAPI
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from ferox.core.definitions import properties_of, required_of, sound
from ferox.core.json_paths import PathError
from ferox.core.matchers import MatcherError
from ferox.core.script import compile_script
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite, Task
from ferox.runs.rescoring import rescore, stale, try_script
from ferox.store.by_hand import seen_before
from ferox.web.files.parsed import parsed
from ferox.web.responses import NotThere, as_json
from ferox.web.shapes import Fault
from ferox.web.tasks import shapes
from ferox.web.tasks.pictures import picture
from ferox.workspace.check_server import Definition, known_tools
from ferox.workspace.load import load_loosely, load_servers, load_workspace
from ferox.workspace.write import place
from ferox.workspace.yaml_files import YamlFile

MOST_TRIED = 200
"""Stored trials that are judged anew while somebody types: the newest."""


def _read(name: str, text: str) -> tuple[YamlFile, Suite | None]:
    """A text as a suite."""
    file, suite = parsed(name, text)
    return file, suite if isinstance(suite, Suite) else None


def _places(file: YamlFile, suite: Suite, text: str) -> Iterator[shapes.TaskPlace]:
    starts = [file.at(("tasks", i), "").line for i in range(len(suite.tasks))]
    ends = [*(s - 1 for s in starts[1:]), text.count("\n") + 1]
    for task, line, last in zip(suite.tasks, starts, ends, strict=True):
        yield shapes.TaskPlace(
            task=task.task, title=task.title, tags=task.tags, line=line, last=last
        )


def _reading(body: shapes.SuiteText) -> shapes.SuiteReading:
    file, suite = _read(body.name, body.text)
    if suite is None:
        first = min(file.problems, default=None)
        fault = f"{first.line}: {first.message}" if first else f"{body.name} is not in tasks/"
        return shapes.SuiteReading(tasks=[], picture=None, fault=fault)
    tasks = list(_places(file, suite, body.text))
    here = next((i for i in reversed(range(len(tasks))) if tasks[i].line <= body.line), 0)
    drawn = picture(file, here, suite.tasks[here]) if tasks else None
    return shapes.SuiteReading(tasks=tasks, picture=drawn, fault=None)


def add_suites(app: OpenAPI, root: Path, engine: Engine) -> None:
    """Routes of suites."""

    @app.get("/api/suites", responses={200: shapes.SuiteFileList})
    def suite_files() -> Any:
        """The suites' files."""
        workspace, problems = load_loosely(root)
        told = []
        for path in sorted((root / "tasks").glob("*.yaml")):
            name = f"tasks/{path.name}"
            value = workspace.files[name].value if name in workspace.files else None
            given = value.get("suite") if isinstance(value, dict) else None
            suite = workspace.suites.get(given) if isinstance(given, str) else None
            told.append(
                shapes.SuiteFileShape(
                    file=name,
                    suite=suite.suite if suite else None,
                    title=suite.title if suite else None,
                    tasks=[t.task for t in suite.tasks] if suite else [],
                    problems=sum(p.file == name for p in problems),
                )
            )
        return as_json(shapes.SuiteFileList(files=told, servers=list(workspace.servers)))

    @app.post("/api/suite/read", responses={200: shapes.SuiteReading, 409: Fault})
    def read_suite(body: shapes.SuiteText) -> Any:
        """The tasks of a text, and the picture of the one that the cursor is in."""
        place(root, body.name)
        return as_json(_reading(body))

    @app.get("/api/suite/tools", responses={200: shapes.KnownTools})
    def known() -> Any:
        """The tools that a script may name."""
        found, unknown = [], []
        servers = load_servers(root)
        seen = seen_tools(engine, servers)
        for name, server in servers.items():
            told = known_tools(server, root) or seen.get(name)
            if told is None:
                unknown.append(name)
            found += [_tool(name, tool) for tool in (told or {}).values()]
        return as_json(shapes.KnownTools(tools=found, unknown=unknown))

    _scoring(app, root, engine)


def _scoring(app: OpenAPI, root: Path, engine: Engine) -> None:
    @app.post("/api/suite/try", responses={200: shapes.TriedTrials, 422: Fault})
    def try_it(body: shapes.TryRequest) -> Any:
        """Stored trials of a task as the text in the editor would judge them."""
        place(root, body.name)
        _, suite = _read(body.name, body.text)
        task = next((t for t in suite.tasks if t.task == body.task), None) if suite else None
        if suite is None or task is None:
            return as_json(Fault(message="the text does not load, so nothing can be tried"), 422)
        try:
            script = compile_script(suite, task)
            with Session(engine) as session:
                found = list(try_script(session, script, MOST_TRIED + 1))
        except (MatcherError, PathError, KeyError) as error:
            return as_json(Fault(message=str(error)), 422)
        told = [shapes.TriedTrial.model_validate(t) for t in found[:MOST_TRIED]]
        return as_json(shapes.TriedTrials(trials=told, more=len(found) > MOST_TRIED))

    @app.get("/api/suite/stale", responses={200: shapes.RescoreShape, 404: Fault})
    def how_many(query: shapes.RescoreRequest) -> Any:
        """How many stored trials were last scored under another script than is on disk."""
        suite, tasks = _chosen(root, query)
        with Session(engine) as session:
            left = sum(stale(session, suite, task) for task in tasks)
        return as_json(shapes.RescoreShape(done=0, changed=0, left=left))

    @app.post("/api/suite/rescore", responses={200: shapes.RescoreShape, 404: Fault})
    def score_again(body: shapes.RescoreRequest) -> Any:
        """Score one batch of stored trials under the script on disk; ask again for the next."""
        suite, tasks = _chosen(root, body)
        return as_json(shapes.RescoreShape.model_validate(rescore(engine, suite, tasks)))


def _chosen(root: Path, body: shapes.RescoreRequest) -> tuple[Suite, list[Task]]:
    workspace = load_workspace(root)
    if body.suite not in workspace.suites:
        raise NotThere(f"there is no suite `{body.suite}`")
    suite = workspace.suites[body.suite]
    return suite, [t for t in suite.tasks if not body.tasks or t.task in body.tasks]


def seen_tools(engine: Engine, servers: dict[str, ServerFile]) -> dict[str, dict[str, Definition]]:
    """The tools that live servers were seen to offer, by server."""
    seen = {}
    for name, server in servers.items():
        for way in ("live", *server.variants):
            look = seen_before(engine, name, way)
            if look is not None:
                seen[name] = {tool["name"]: tool for tool in look[1]}
                break
    return seen


def _tool(server: str, tool: Definition) -> shapes.KnownTool:
    schema = tool.get("inputSchema")
    required = required_of(schema)
    return shapes.KnownTool(
        tool=f"{server}/{tool['name']}",
        description=str(tool.get("description") or ""),
        arguments=[
            shapes.OfferedArgument(
                name=name,
                type=str(told.get("format") or told.get("type") or "any"),
                description=str(told.get("description") or ""),
                required=name in required,
                choices=list(map(str, sound(told)[0].get("enum") or ())),
            )
            for name, told in properties_of(schema).items()
            if isinstance(told, dict)
        ],
    )
