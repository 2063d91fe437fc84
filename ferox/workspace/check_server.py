"""Checks of a tool server's file: its reach, its recording, its mock and its wording."""

from __future__ import annotations

import json
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any

from ferox.core.expressions import ExpressionError, check_expressions
from ferox.core.json_paths import PathError
from ferox.core.json_schema import definition_fault, foreign_references
from ferox.core.matcher import MatcherError
from ferox.core.matchers import compile_matcher
from ferox.core.openapi import OpenApiError, Operation, operations_of
from ferox.core.rewording import wording_problems
from ferox.formats.base import Secret
from ferox.formats.preparing import Step
from ferox.formats.server import NOT_RECORDED, Mock, MockAnswer, MockTool, Reach, ServerFile
from ferox.intake.files import read_text
from ferox.intake.limits import GivenUp, IntakeError
from ferox.intake.yaml_text import ValuePath
from ferox.recordings.recording import RecordingError, read_recording
from ferox.workspace.modes import LIVE, MOCK, RECORDED, reach_for_mode
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

Definition = dict[str, Any]
"""A tool as the protocol writes it, as far as it is known."""


def known_tools(
    server: ServerFile, root: Path, mode: str | None = None
) -> dict[str, Definition] | None:
    """The tools that a server is known to offer in one mode; without one, in any.

    None when nobody can tell without asking a live server.
    """
    found: dict[str, Definition] = {}
    if mode in (None, RECORDED) and server.recording:
        try:
            recording = read_recording(root / server.recording)
        except RecordingError:
            return None
        found |= {t["name"]: t for t in recording.tools}
        called = (c.tool for c in recording.calls if c.tool and c.tool not in found)
        found |= {name: {"name": name} for name in called}
    if mode in (None, MOCK) and server.mock:
        found |= {t.name: t.definition() for t in server.mock.tools}
    if mode not in (None, RECORDED, MOCK):
        return _described_tools(reach_for_mode(server, mode), root)
    if mode is None and (server.live or server.variants):
        return None
    return found


def _described_tools(reach: Reach | None, root: Path) -> dict[str, Definition] | None:
    """The tools of a live interface, by its document in the workspace; None if nobody can tell."""
    try:
        operations = _operations_in(reach, root)
    except (OSError, IntakeError, OpenApiError):
        return None
    if operations is None:
        return None
    return {one.tool["name"]: one.definition() for one in operations}


def check_server(file: YamlFile, server: ServerFile, root: Path) -> Iterator[Problem]:
    """Everything in a server's file that its schema cannot tell."""
    if server.live:
        yield from _check_reach(file, server.live, ("live",))
        yield from _check_document(file, server.live, root, ("live",))
    for name, reach in server.variants.items():
        if name in ("live", RECORDED, MOCK):
            yield file.problem_at(
                ("variants", name), f"`{name}` is a mode of its own; take another name"
            )
        yield from _check_reach(file, reach, ("variants", name))
        yield from _check_document(file, reach, root, ("variants", name))
    yield from _check_memory(file, server, root)
    yield from _check_recording(file, server, root)
    if server.mock:
        yield from check_mock(file, server.mock)
    known = known_tools(server, root)
    if known:
        for path, problem in wording_problems(known, server.wording):
            yield file.problem_at(("wording", *path), problem)


def _check_reach(file: YamlFile, reach: Reach, at: ValuePath) -> Iterator[Problem]:
    if reach.openapi is not None and (reach.url is None or reach.command is not None):
        message = "`openapi` goes with `url`, the address of the interface that it describes"
        yield file.problem_at((*at, "openapi"), message)
    elif (reach.command is None) == (reach.url is None):
        yield file.problem_at(at, "give either `command` or `url`")
    elif reach.command == []:
        yield file.problem_at((*at, "command"), "`command` is empty")
    elif reach.command and isinstance(reach.command[0], Secret):
        yield file.problem_at((*at, "command", 0), "the program itself is not a secret")


def _check_memory(file: YamlFile, server: ServerFile, root: Path) -> Iterator[Problem]:
    """How a live server is prepared, restored and looked at."""
    keys = [key for key in ("prepare", "restore", "state", "separate") if getattr(server, key)]
    if keys and not (server.live or server.variants):
        message = f"`{keys[0]}` is about a live server, and there is none: a mock begins afresh"
        yield file.problem_at((keys[0],), message)
        return
    known = known_tools(server, root, LIVE) or known_tools(server, root, MOCK)
    steps = [(("prepare", i), step) for i, step in enumerate(server.prepare)]
    steps += [(("restore", i), step) for i, step in enumerate(server.restore)]
    named: list[tuple[ValuePath, str]] = [((*at, "tool"), s.tool) for at, s in steps if s.tool]
    if server.state is not None:
        named.append((("state", "tool"), server.state.tool))
    for path, tool in named:
        if "/" in tool:
            message = f"`{tool}`: in a server's own file a tool stands by its name alone"
            yield file.problem_at(path, message)
        elif known and tool not in known:
            yield file.problem_at(path, f"`{tool}`: no such tool{did_you_mean(tool, known)}")
    for at, step in steps:
        yield from check_step(file, step, at)


def check_step(file: YamlFile, step: Step, at: ValuePath) -> Iterator[Problem]:
    """The templates of a step."""
    yield from _check_expressions(file, step.args, (*at, "args"))


def _check_document(file: YamlFile, reach: Reach, root: Path, at: ValuePath) -> Iterator[Problem]:
    """An OpenAPI document in the workspace that cannot be used."""
    try:
        _operations_in(reach, root)
    except (OSError, IntakeError, OpenApiError) as error:
        yield file.problem_at((*at, "openapi"), f"`{reach.openapi}`: {error}")


def _operations_in(reach: Reach | None, root: Path) -> tuple[Operation, ...] | None:
    """The operations of a live interface whose document lies in the workspace; None if it does
    not.

    Raises:
        OSError, IntakeError, OpenApiError: it cannot be read, or is no such document.
    """
    if reach is None or reach.openapi is None or "://" in reach.openapi:
        return None
    path = (root / reach.openapi).resolve()
    if not path.is_relative_to(root.resolve()):
        raise OSError("it leaves the workspace")
    return operations_of(read_text(path))


def _check_recording(file: YamlFile, server: ServerFile, root: Path) -> Iterator[Problem]:
    if server.recording is not None:
        path = (root / server.recording).resolve()
        if not path.is_relative_to(root.resolve()):
            yield file.problem_at(("recording",), f"`{server.recording}` leaves the workspace")
            return
        try:
            read_recording(path)
        except RecordingError as error:
            yield file.problem_at(("recording",), str(error))
    if server.replay.miss == "mock" and not server.mock:
        yield file.problem_at(("replay", "miss"), "`miss: mock` needs a `mock`")
    if server.replay.miss == "live" and not server.live:
        yield file.problem_at(("replay", "miss"), "`miss: live` needs a `live`")


def check_mock(file: YamlFile, mock: Mock) -> Iterator[Problem]:
    """The schemas, expressions and matchers of a mock."""
    seen: set[str] = set()
    for i, tool in enumerate(mock.tools):
        at: ValuePath = ("mock", "tools", i)
        if tool.name in seen:
            yield file.problem_at((*at, "name"), f"tool `{tool.name}` stands here twice")
        seen.add(tool.name)
        yield from _check_schemas(file, tool, at)
        if tool.answers and all((a.error or "").startswith(NOT_RECORDED) for a in tool.answers):
            never_called = (
                f"`{tool.name}` was not called in the recording that this mock was made from: it "
                "only fails until an answer stands here"
            )
            yield file.problem_at((*at, "answers"), never_called, note=True)
        for j, answer in enumerate(tool.answers):
            yield from check_answer(file, answer, (*at, "answers", j))
    for i, resource in enumerate(mock.resources):
        if resource.uriTemplate and (fault := _template_fault(resource.uriTemplate)):
            yield file.problem_at(("mock", "resources", i, "uriTemplate"), fault)
        yield from _check_expressions(file, resource.text, ("mock", "resources", i, "text"))
    for i, prompt in enumerate(mock.prompts):
        for j, message in enumerate(prompt.messages):
            where: ValuePath = ("mock", "prompts", i, "messages", j, "content")
            yield from _check_expressions(file, message.content, where)


def _template_fault(template: str) -> str | None:
    # The SDK takes a second to import, and few mocks have resource templates.
    from mcp.shared.uri_template import InvalidUriTemplate, UriTemplate

    try:
        UriTemplate.parse(template)
    except InvalidUriTemplate as error:
        return str(error)
    return None


def _check_schemas(file: YamlFile, tool: MockTool, at: ValuePath) -> Iterator[Problem]:
    for key, schema in (("input", tool.input), ("output", tool.output)):
        if schema is None:
            continue
        fault = _schema_fault(json.dumps(schema))
        if fault:
            where = (*at, key, *fault[0])
            yield file.problem_at(where, f"`{key}` is not JSON Schema: {fault[1]}")
        if schema.get("type", "object") != "object":
            yield file.problem_at((*at, key, "type"), f"`{key}` of a tool is a schema of an object")


@lru_cache(maxsize=4096)
def _schema_fault(text: str) -> tuple[ValuePath, str] | None:
    """Where a schema is none, and why; a schema is looked at once, not at every load."""
    definition = json.loads(text)
    try:
        fault = definition_fault(definition)
    except GivenUp as error:
        return (), str(error)
    foreign = foreign_references(definition)
    if fault is None and foreign:
        return (), f"`{foreign[0]}` leads out of it, and no such reference is followed"
    return fault


def check_answer(file: YamlFile, answer: MockAnswer, at: ValuePath) -> Iterator[Problem]:
    """One rule: exactly one thing given, and everything in it parses."""
    given = {"give", "give_in_turn", "content", "error"} & answer.model_fields_set
    if len(given) != 1:
        known = ", ".join(f"`{g}`" for g in sorted(given)) or "none of them"
        yield file.problem_at(
            at, f"an answer has one of give, give_in_turn, content, error; here: {known}"
        )
    if answer.give_in_turn == []:
        yield file.problem_at((*at, "give_in_turn"), "`give_in_turn` is empty")
    if answer.if_ is not None:
        try:
            check_expressions(answer.if_, condition=True)
        except ExpressionError as error:
            yield file.problem_at((*at, "if"), str(error))
    for name, spec in (answer.when or {}).items():
        try:
            compile_matcher(spec)
        except (MatcherError, PathError) as error:
            yield file.problem_at((*at, "when", name), str(error))
    for key in ("give", "give_in_turn", "content", "error"):
        yield from _check_expressions(file, getattr(answer, key), (*at, key))
    for i, change in enumerate(answer.change):
        yield from _check_expressions(file, change.path, (*at, "change", i, "path"))
        yield from _check_expressions(file, change.value, (*at, "change", i, "value"))


def _check_expressions(file: YamlFile, value: Any, at: ValuePath) -> Iterator[Problem]:
    if isinstance(value, dict):
        for key, item in value.items():
            yield from _check_expressions(file, item, (*at, key))
    elif isinstance(value, list):
        for i, item in enumerate(value):
            yield from _check_expressions(file, item, (*at, i))
    elif isinstance(value, str):
        try:
            check_expressions(value)
        except ExpressionError as error:
            yield file.problem_at(at, str(error))
