"""Cross-checks: do the files of a workspace fit each other?"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from ferox.core.clock import Clock
from ferox.core.json_values import PathError
from ferox.core.matchers import MatcherError, compile_matcher
from ferox.core.script import compile_script
from ferox.formats.agent import OWN, SERVICES, AgentFile
from ferox.formats.suite import Suite, Task
from ferox.stand_in.manners import MANNERS
from ferox.workspace.check_server import check_server, known_tools
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.ways import ways
from ferox.workspace.yaml_files import Path_, YamlFile

if TYPE_CHECKING:
    from ferox.workspace.load import Workspace


def check_workspace(workspace: Workspace, complete: bool) -> list[Problem]:
    """Problems between files. `complete`: every file loaded by itself.

    If not, names that are missing may stand in a file that did not load, so only
    what a file says of itself is checked.
    """
    problems: list[Problem] = []
    for file in workspace.files.values():
        folder, value = file.name.split("/")[0], file.value
        if not isinstance(value, dict) or file.problems:
            continue
        if folder == "servers" and value.get("server") in workspace.servers:
            server = workspace.servers[value["server"]]
            problems += check_server(file, server, workspace.root)
        elif folder == "agents" and value.get("agent") in workspace.agents:
            problems += check_agent(workspace, file, workspace.agents[value["agent"]], complete)
        elif folder == "tasks" and value.get("suite") in workspace.suites:
            problems += _suite(workspace, file, workspace.suites[value["suite"]], complete)
        elif file.name == "ferox.yaml" and complete:
            problems += _models(workspace, file)
    return problems


def _models(workspace: Workspace, file: YamlFile) -> Iterator[Problem]:
    for name, model in workspace.settings.models.items():
        beyond = model.base_url is not None or model.recording is not None
        if (model.stand_in is not None) == beyond:
            told = f"`{name}` needs either `stand_in`, or `base_url`, or `recording`"
            yield file.at(("models", name), told)
        if model.recording and not (workspace.root / model.recording).is_file():
            yield file.at(("models", name, "recording"), f"`{model.recording}`: no such file")
        if model.miss == "live" and not (model.recording and model.base_url):
            told = "`miss: live` needs a `recording`, and the `base_url` that is asked instead"
            yield file.at(("models", name, "miss"), told)
        if model.base_url is not None and not model.base_url.startswith(("http://", "https://")):
            told = f"`{model.base_url}` is no address; it starts with http:// or https://"
            yield file.at(("models", name, "base_url"), told)
        document = workspace.stand_ins.get(model.stand_in or "")
        known = {*MANNERS, *(document.manners if document else ())}
        if document and model.manner not in known:
            yield file.at(
                ("models", name, "manner"),
                f"`{model.manner}`: no such manner{did_you_mean(model.manner, known)}",
            )


def check_agent(
    workspace: Workspace, file: YamlFile, agent: AgentFile, complete: bool
) -> Iterator[Problem]:
    """Problems of an agent's file. `complete`: names of models and servers are checked too."""
    if agent.link == "process" and not agent.command:
        yield file.at((), "`command` is missing: a process link needs it")
    if agent.link in ("chat", "a2a") and not agent.url:
        yield file.at((), f"`url` is missing: the {agent.link} link needs the service's address")
    if agent.link == "tool" and not (agent.url or agent.command):
        yield file.at((), "the tool link needs `url` or `command`")
    if agent.url and not agent.url.startswith(("http://", "https://")):
        told = f"`{agent.url}` is no address; it starts with http:// or https://"
        yield file.at(("url",), told)
    if agent.link not in SERVICES and agent.model is None:
        yield file.at((), f"`model` is missing: a {agent.link} link needs it")
    if agent.model is None and agent.models:
        yield file.at(("models",), "an agent with `models` needs a `model` too")
    if agent.link == "python":
        for key in ("python", "entry"):
            if getattr(agent, key) is None:
                yield file.at((), f"`{key}` is missing: a python link needs it")
        if agent.entry and ".py:" not in agent.entry:
            yield file.at(("entry",), f"`{agent.entry}` must be FILE.py:FACTORY")
        elif agent.entry and not (workspace.root / agent.entry.split(":")[0]).is_file():
            yield file.at(("entry",), f"`{agent.entry.split(':')[0]}`: no such file")
    if not complete:
        return
    models = workspace.settings.models
    if agent.model is not None and agent.model not in models:
        yield file.at(
            ("model",), f"`{agent.model}`: no such model{did_you_mean(agent.model, models)}"
        )
    for name, model in agent.models.items():
        if model not in models:
            told = did_you_mean(model, models)
            yield file.at(("models", name), f"`{model}`: no such model{told}")
    for server, tools in (agent.offer or {}).items():
        if server not in workspace.servers:
            told = did_you_mean(server, workspace.servers)
            yield file.at(("offer", server), f"`{server}`: no such server{told}")
            continue
        known = known_tools(workspace.servers[server], workspace.root)
        for i, tool in enumerate(tools if isinstance(tools, list) else ()):
            if known is not None and "*" not in tool and tool not in known:
                told = did_you_mean(tool, known)
                yield file.at(("offer", server, i), f"`{server}/{tool}`: no such tool{told}")


def _suite(workspace: Workspace, file: YamlFile, suite: Suite, complete: bool) -> Iterator[Problem]:
    try:
        ZoneInfo(suite.zone)
        _ = Clock(suite.clock, suite.zone).moment
    except (ZoneInfoNotFoundError, ValueError) as error:
        key = "clock" if "date-time" in str(error) else "zone"
        yield file.at((key,), f"`{key}`: {error}")
        return
    for server, mode in suite.servers.items():
        if complete and server not in workspace.servers:
            told = did_you_mean(server, workspace.servers)
            yield file.at(("servers", server), f"`{server}`: no such server{told}")
        elif complete and mode not in ways(workspace.servers[server]):
            told = did_you_mean(mode, ways(workspace.servers[server]))
            yield file.at(("servers", server), f"`{server}` has no `{mode}`{told}")
    seen: set[str] = set()
    for i, task in enumerate(suite.tasks):
        if task.task in seen:
            yield file.at(("tasks", i, "task"), f"task `{task.task}` stands here twice")
        seen.add(task.task)
        yield from _task(workspace, file, suite, task, ("tasks", i), complete)


def _task(
    workspace: Workspace, file: YamlFile, suite: Suite, task: Task, at: Path_, complete: bool
) -> Iterator[Problem]:
    for i, truth in enumerate(task.truth):
        if complete:
            where = (*at, "truth", i, "tool")
            yield from _address(workspace, file, suite, truth.tool, where)
    expect: Path_ = (*at, "expect")
    for i, alternative in enumerate(task.expect.either or ()):
        one = task.model_copy(update={"expect": alternative})
        yield from _expect(workspace, file, suite, one, (*expect, "either", i), complete)
    if task.expect.either and task.expect.model_fields_set != {"either"}:
        yield file.at(
            expect, "beside `either` nothing else may stand: put it into each alternative"
        )
    if not task.expect.either:
        yield from _expect(workspace, file, suite, task, expect, complete)


def _expect(
    workspace: Workspace, file: YamlFile, suite: Suite, task: Task, at: Path_, complete: bool
) -> Iterator[Problem]:
    truths = {t.as_ for t in task.truth}
    calls: set[str] = set()
    for i, call in enumerate(task.expect.calls or []):
        here: Path_ = (*at, "calls", i)
        if call.name in truths | calls:
            yield file.at(here, f"the name `{call.name}` is taken; give another with `as`")
        calls.add(call.name)
        if complete:
            yield from _address(workspace, file, suite, call.tool, (*here, "tool"))
            yield from _arguments(workspace, file, call.tool, call.args, (*here, "args"))
        yield from _matchers(file, call.args, (*here, "args"))
    problems = [
        *_names(file, task, truths, calls, at),
        *_references(file, task, truths | calls, at),
    ]
    yield from problems
    if not problems:
        try:
            compile_script(suite, task)
        except (MatcherError, PathError, KeyError) as error:
            yield file.at(at, str(error))


def _names(
    file: YamlFile, task: Task, truths: set[str], calls: set[str], at: Path_
) -> Iterator[Problem]:
    """Names of calls, truths and grants that the expectations refer to."""
    expect = task.expect
    for i, chain in enumerate(expect.order):
        for j, name in enumerate(chain):
            if name not in calls:
                told = did_you_mean(name, calls)
                yield file.at((*at, "order", i, j), f"`{name}`: no expected call{told}")
    write = expect.failures.write
    if write is not None and write not in calls:
        told = did_you_mean(write, calls)
        yield file.at((*at, "failures", "write"), f"`{write}`: no expected call{told}")
    for i, call in enumerate(expect.calls or []):
        if call.each is not None and call.each.from_ not in truths | (calls - {call.name}):
            told = did_you_mean(call.each.from_, truths | calls)
            yield file.at((*at, "calls", i, "each"), f"`{call.each.from_}`: no such call{told}")
    for i, state in enumerate(expect.state):
        if state.from_ is not None and state.from_ not in truths:
            told = did_you_mean(state.from_, truths)
            yield file.at((*at, "state", i, "from"), f"`{state.from_}`: no truth{told}")
    grants = {r.grants for r in task.user if r.grants}
    for i, call in enumerate(expect.calls or []):
        if call.after_grant and call.after_grant not in grants:
            told = f"no rule of the user grants `{call.after_grant}`"
            yield file.at((*at, "calls", i, "after_grant"), told)


def _address(
    workspace: Workspace, file: YamlFile, suite: Suite, address: str, at: Path_
) -> Iterator[Problem]:
    server, tool = address.split("/", 1)
    if server == OWN:
        return
    if server not in workspace.servers:
        told = did_you_mean(server, workspace.servers)
        yield file.at(at, f"`{address}`: no such server{told}")
        return
    known = known_tools(workspace.servers[server], workspace.root, suite.servers.get(server))
    if known is not None and tool not in known:
        yield file.at(at, f"`{address}`: no such tool{did_you_mean(tool, known)}")
    elif server not in suite.servers:
        yield file.at(at, f"`{address}`: the suite does not list `{server}` under `servers`")


def _arguments(
    workspace: Workspace, file: YamlFile, address: str, args: dict[str, Any], at: Path_
) -> Iterator[Problem]:
    server, tool = address.split("/", 1)
    tools = (
        known_tools(workspace.servers[server], workspace.root)
        if (server in workspace.servers)
        else None
    )
    known = ((tools or {}).get(tool) or {}).get("properties") or {}
    for name in args:
        if known and name not in known:
            told = did_you_mean(name, known)
            yield file.at((*at, name), f"`{address}` has no argument `{name}`{told}")


def _matchers(file: YamlFile, specs: dict[str, Any], at: Path_) -> Iterator[Problem]:
    for name, spec in specs.items():
        try:
            compile_matcher(spec)
        except (MatcherError, PathError) as error:
            yield file.at((*at, name), str(error))


def _references(file: YamlFile, task: Task, names: set[str], expect: Path_) -> Iterator[Problem]:
    for i, call in enumerate(task.expect.calls or []):
        for name, spec in call.args.items():
            try:
                sources = compile_matcher(spec).sources
            except (MatcherError, PathError):
                continue
            for source, _ in sources:
                if source not in names:
                    told = did_you_mean(source, names)
                    where = (*expect, "calls", i, "args", name)
                    yield file.at(where, f"`from: {source}`: no such call{told}")
    for i, answer in enumerate(task.expect.answer):
        if isinstance(answer.mentions, dict) and answer.mentions.keys() == {"from", "path"}:
            source = answer.mentions["from"]
            if source not in names:
                told = did_you_mean(str(source), names)
                yield file.at((*expect, "answer", i), f"`from: {source}`: no such call{told}")
