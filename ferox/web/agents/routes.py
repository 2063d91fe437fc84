"""The interface of the Agents place: what an agent is, how one is connected, and its probe."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from ferox.core.clock import REAL
from ferox.core.story import fits_any
from ferox.formats.agent import SERVICES, AgentFile
from ferox.formats.base import offered_of
from ferox.making.connecting import CONNECTIONS, Connection, connection_files
from ferox.runs.standing_addresses import agent_addresses, known_tools
from ferox.runs.trial_by_hand import first_mode, suite_of_servers
from ferox.web.agents import shapes
from ferox.web.files.routes import write_checked
from ferox.web.models.routes import model_source
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.servers.shapes import VariableShape
from ferox.web.shapes import ProblemShape
from ferox.web.site import site
from ferox.workspace import Workspace
from ferox.workspace.environment import resolve_variables
from ferox.workspace.load import load_loosely
from ferox.workspace.modes import modes_of
from ferox.workspace.vault import UnsetSecret
from ferox.workspace.write import (
    WriteError,
    as_yaml,
    edit_document,
    read_text,
    workspace_file,
    write_text,
)

routes = Routes("agents")


def _agent_line(workspace: Workspace, agent: AgentFile, file: str) -> shapes.AgentLine:
    models = workspace.settings.models
    simulated = any(models[m].stand_in for m in agent.thinks_with.values() if m in models)
    return shapes.AgentLine(
        agent=agent.agent,
        title=agent.title,
        link=agent.link,
        model=agent.model,
        simulated=simulated,
        file=file,
        problems=[],
    )


def _agent_lines(root: Path) -> list[shapes.AgentLine]:
    workspace, problems = load_loosely(root)
    lines = []
    for name, file in sorted(workspace.files.items()):
        if not name.startswith("agents/"):
            continue
        found = [ProblemShape(**vars(p)) for p in problems if p.file == name]
        given = file.value.get("agent") if isinstance(file.value, dict) else None
        agent = workspace.agents.get(str(given))
        if agent is not None:
            line = _agent_line(workspace, agent, name)
            lines.append(line.model_copy(update={"problems": found}))
        else:
            lines.append(
                shapes.AgentLine(
                    agent=Path(name).stem,
                    title=None,
                    link=None,
                    model=None,
                    simulated=False,
                    file=name,
                    problems=found,
                )
            )
    return lines


def _is_reached(agent: AgentFile) -> str:
    match agent.link:
        case "plain":
            return "Ferox's own loop"
        case "python":
            return f"{agent.entry} in {agent.python}"
    command = " ".join(agent.command or ())
    return f"{agent.url} (started by {command})" if agent.url and command else agent.url or command


def _offered_servers(workspace: Workspace, agent: AgentFile) -> list[shapes.OfferedShape]:
    shown = []
    for name, file in workspace.servers.items():
        offer = offered_of(agent.offer, name)
        known = known_tools(file, workspace.root)
        if not modes_of(file):
            continue
        offered = [t for t in known or {} if offer == "all" or fits_any(t, list(offer))]
        shown.append(
            shapes.OfferedShape(
                server=name,
                modes=modes_of(file),
                mode=first_mode(file),
                tools=offered,
                left_out=[t for t in known or {} if t not in offered],
                unknown=known is None and bool(offer),
            )
        )
    return shown


def _variable_shapes(agent: AgentFile) -> tuple[list[VariableShape], str | None]:
    if agent.link == "plain" or not (agent.command or agent.python):
        return [], None
    try:
        found = resolve_variables(agent.env)
    except UnsetSecret as error:
        return [], str(error)
    return [VariableShape(name=v.name, shown=v.shown, origin=v.origin) for v in found], None


def _standing_shapes(addresses: Mapping[str, str], what: str) -> list[shapes.AddressShape]:
    return [shapes.AddressShape(name=f"{what} {name}", url=url) for name, url in addresses.items()]


def standing_shapes(workspace: Workspace, agent: AgentFile) -> list[shapes.AddressShape]:
    """The standing addresses of an agent, if it is a running service."""
    if not agent.uses_standing_addresses:
        return []
    seams = agent_addresses(workspace, agent)
    return [*_standing_shapes(seams.servers, "server"), *_standing_shapes(seams.models, "model")]


def _agent_detail(workspace: Workspace, line: shapes.AgentLine) -> shapes.AgentDetail:
    agent, models = workspace.agents[line.agent], workspace.settings.models
    given, unset = _variable_shapes(agent)
    return shapes.AgentDetail(
        line=line,
        reached=_is_reached(agent),
        instructions=workspace.instructions.get(agent.agent, ""),
        models=[
            shapes.ModelShape(
                called=called,
                model=model,
                simulated=bool(models[model].stand_in),
                behind=model_source(models[model]),
            )
            for called, model in agent.thinks_with.items()
            if model in models
        ],
        servers=_offered_servers(workspace, agent),
        own_tools=agent.own_tools,
        params=agent.params,
        limits={**agent.limits.model_dump(), **agent.timeouts.model_dump()},
        processes=agent.processes,
        variables=given,
        unset=unset,
        standing=standing_shapes(workspace, agent),
        standing_command=agent.uses_standing_addresses and bool(agent.command),
        all_models=list(models),
        fault_sets=list(workspace.settings.faults),
        clock=_clock_of(workspace, agent),
    )


def _clock_of(workspace: Workspace, agent: AgentFile) -> shapes.ClockShape:
    """Which day it would be for an agent in a conversation by hand."""
    offered = [s for s, file in workspace.servers.items()
               if modes_of(file) and offered_of(agent.offer, s)]  # fmt: skip
    suite = suite_of_servers(workspace, offered)
    if suite is None or suite.clock == REAL:
        return shapes.ClockShape(now=None, zone=suite.zone if suite else "UTC", suite=None)
    return shapes.ClockShape(now=suite.clock, zone=suite.zone, suite=suite.suite)


def _line_of(name: str) -> shapes.AgentLine:
    found = next((line for line in _agent_lines(site.root) if line.agent == name), None)
    if found is None:
        raise NotThere(f"there is no agent `{name}`")
    return found


@routes.get("/api/agents")
def list_agents() -> shapes.AgentList:
    """Every agent, also those whose files do not load."""
    return shapes.AgentList(agents=_agent_lines(site.root))


@routes.get("/api/agents/<agent>")
def agent_detail(path: shapes.AgentPath) -> shapes.AgentDetail:
    """What an agent's file tells of it."""
    workspace, _ = load_loosely(site.root)
    if path.agent not in workspace.agents:
        raise NotThere(f"there is no agent `{path.agent}`, or its file does not load")
    return _agent_detail(workspace, _line_of(path.agent))


@routes.put("/api/agents/<agent>/offer")
def change_offer(path: shapes.AgentPath, body: shapes.OfferRequest) -> shapes.AgentDetail:
    """Change what an agent is offered, in its file, whose comments stay."""
    name = _line_of(path.agent).file
    text, stamp = read_text(site.root, name)

    def put(document: Any) -> None:
        if body.offer is None:
            document.pop("offer", None)
        else:
            document["offer"] = as_yaml(dict(body.offer))

    write_checked(name, edit_document(text, put), stamp)
    workspace, _ = load_loosely(site.root)
    return _agent_detail(workspace, _line_of(path.agent))


@routes.get("/api/connections")
def list_connections(query: shapes.ConnectionQuery) -> shapes.ConnectionList:
    """How an agent is connected, by link and framework."""
    workspace, _ = load_loosely(site.root)
    templates = [_connection_template(workspace, c, query.agent, query.model) for c in CONNECTIONS]
    return shapes.ConnectionList(connections=templates)


@routes.post("/api/agents", status=201)
def new_agent(body: shapes.NewAgentRequest) -> shapes.AgentList:
    """Write a new agent's files; none of them may be there already."""
    for file in body.files:
        if not file.name.startswith("agents/"):
            raise WriteError(f"`{file.name}` is not in agents/")
        if workspace_file(site.root, file.name).exists():
            raise WriteError(f"{file.name} is there already; take another name")
    for file in reversed(body.files):  # the agent's own file last: it names the others
        write_text(site.root, file.name, file.text, None)
    return shapes.AgentList(agents=_agent_lines(site.root))


def _connection_template(
    workspace: Workspace, found: Connection, agent: str, model: str
) -> shapes.ConnectionTemplate:
    standing = []
    if found.link in SERVICES:
        url = "http://127.0.0.1:9000"
        like = AgentFile(ferox=1, agent=agent, link="chat", url=url, model=model or None)
        standing = standing_shapes(workspace, like)
    return shapes.ConnectionTemplate(
        name=found.name,
        title=found.title,
        link=found.link,
        needs=found.needs,
        particular=found.particular,
        files=[
            shapes.FileText(name=name, text=text)
            for name, text in connection_files(found, agent, model).items()
        ],
        standing=standing,
    )
