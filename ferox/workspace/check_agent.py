"""Checks of an agent's file that its schema cannot make."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any

from ferox.core.expressions import ExpressionError, names_used
from ferox.core.json_paths import PathError, check_path
from ferox.formats.agent import AgentFile
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.check_server import known_tools
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.load import Workspace

HTTP_NAMES = {"text", "trial", "conversation", "now", "instructions", "params", "taken"}
"""What the templates of the http link may use."""


def _check_http(file: YamlFile, agent: AgentFile) -> Iterator[Problem]:
    """How a turn is sent to a service, and where its answer is."""
    turn = agent.http
    if agent.link != "http":
        if turn is not None:
            yield file.problem_at(("http",), f"`http` is for the http link, not for {agent.link}")
        return
    if turn is None:
        yield file.problem_at((), "`http` is missing: it says how a turn is sent")
        return
    if turn.path and not turn.path.startswith(("/", "?")):
        yield file.problem_at(("http", "path"), f"`{turn.path}` must begin with /")
    if turn.method == "GET" and turn.body is not None:
        yield file.problem_at(("http", "body"), "a GET has no body; put it into `query`")
    used: set[str] = set()
    for key in ("path", "query", "headers", "body"):
        for path, text in _texts_in(getattr(turn, key), ("http", key)):
            try:
                names = names_used(text, getter="")
            except ExpressionError as error:
                yield file.problem_at(path, str(error))
                continue
            used |= names
            for name in sorted(names - HTTP_NAMES):
                hint = did_you_mean(name, HTTP_NAMES)
                yield file.problem_at(path, f"`{name}` is not known here{hint}")
    if "text" not in used:
        yield file.problem_at(("http",), "nothing sends the user's words: put {{ text }} into it")
    paths: list[tuple[ValuePath, str | None]] = [(("reply",), turn.reply), (("data",), turn.data)]
    paths += [(("take", name), path) for name, path in turn.take.items()]
    for place, at in paths:
        try:
            if at is not None:
                check_path(at)
        except PathError as error:
            yield file.problem_at(("http", *place), str(error))


def _texts_in(value: Any, path: ValuePath) -> Iterator[tuple[ValuePath, str]]:
    """The texts of a value, with their places."""
    if isinstance(value, str):
        yield path, value
    elif isinstance(value, dict):
        for key, item in value.items():
            yield from _texts_in(item, (*path, key))
    elif isinstance(value, list):
        for i, item in enumerate(value):
            yield from _texts_in(item, (*path, i))


def check_agent(
    workspace: Workspace, file: YamlFile, agent: AgentFile, complete: bool
) -> Iterator[Problem]:
    """Problems of an agent's file. `complete`: names of models and servers are checked too."""
    if agent.link == "process" and not agent.command:
        yield file.problem_at((), "`command` is missing: a process link needs it")
    if agent.link in ("chat", "a2a", "http") and not agent.url:
        yield file.problem_at(
            (), f"`url` is missing: the {agent.link} link needs the service's address"
        )
    if agent.link == "tool" and not (agent.url or agent.command):
        yield file.problem_at((), "the tool link needs `url` or `command`")
    if agent.url and not agent.url.startswith(("http://", "https://")):
        message = f"`{agent.url}` is not a valid address; it starts with http:// or https://"
        yield file.problem_at(("url",), message)
    if agent.link == "plain" and agent.model is None:
        yield file.problem_at((), "`model` is missing: Ferox's own loop thinks with one")
    yield from _check_http(file, agent)
    if agent.standing and agent.link not in ("python", "process"):
        message = "`standing` is for python and process agents; a service at a `url` has standing"
        yield file.problem_at(("standing",), f"{message} addresses anyway")
    if agent.model is None and agent.models:
        yield file.problem_at(("models",), "an agent with `models` needs a `model` too")
    if agent.link == "python":
        for key in ("python", "entry"):
            if getattr(agent, key) is None:
                yield file.problem_at((), f"`{key}` is missing: a python link needs it")
        if agent.entry and ".py:" not in agent.entry:
            yield file.problem_at(("entry",), f"`{agent.entry}` must be FILE.py:FACTORY")
        elif agent.entry and not (workspace.root / agent.entry.split(":")[0]).is_file():
            yield file.problem_at(("entry",), f"`{agent.entry.split(':')[0]}`: no such file")
    if not complete:
        return
    models = workspace.settings.models
    if agent.model is not None and agent.model not in models:
        yield file.problem_at(
            ("model",), f"`{agent.model}`: no such model{did_you_mean(agent.model, models)}"
        )
    for name, model in agent.models.items():
        if model not in models:
            hint = did_you_mean(model, models)
            yield file.problem_at(("models", name), f"`{model}`: no such model{hint}")
    for server, tools in (agent.offer or {}).items():
        if server in workspace.unloaded_servers:
            continue
        if server not in workspace.servers:
            hint = did_you_mean(server, workspace.servers)
            yield file.problem_at(("offer", server), f"`{server}`: no such server{hint}")
            continue
        known = known_tools(workspace.servers[server], workspace.root)
        for i, tool in enumerate(tools if isinstance(tools, list) else ()):
            if known is not None and "*" not in tool and tool not in known:
                hint = did_you_mean(tool, known)
                yield file.problem_at(
                    ("offer", server, i), f"`{server}/{tool}`: no such tool{hint}"
                )
