"""The interface of the Agents place: what an agent is, how one is connected, and its probe."""

from __future__ import annotations

import asyncio
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask_openapi3.openapi import OpenAPI

from ferox.core.story import fits_any
from ferox.formats.agent import AgentFile
from ferox.formats.workspace import ModelSource
from ferox.making.connecting import CONNECTIONS, Connection, files
from ferox.runs.overrides import Overrides
from ferox.runs.probe import Probe
from ferox.runs.standing_addresses import addresses, known_tools
from ferox.runs.trial_by_hand import first_way, talk_snapshot
from ferox.servers.by_hand.open_servers import Desk
from ferox.web.agents import shapes
from ferox.web.responses import NotThere, as_json
from ferox.web.servers.shapes import VariableShape
from ferox.web.shapes import Fault, OverridesShape, ProblemShape, WorthKnowing
from ferox.workspace import Workspace, load_workspace
from ferox.workspace.environment import variables
from ferox.workspace.load import load_loosely
from ferox.workspace.modes import ways
from ferox.workspace.vault import UnsetSecret
from ferox.workspace.write import WriteError, place, write_text

WAIT_S = 10.0
MOST_PROBES = 50


def behind(source: ModelSource) -> str:
    """What stands behind a model, in a few words."""
    if source.stand_in:
        return f"stand-in (simulated), {source.manner}"
    if source.recording:
        live = f", else {source.base_url}" if source.miss == "live" else ""
        return f"replayed from {source.recording}{live}"
    return f"{source.name or ''} at {source.base_url}".strip()


def _line(workspace: Workspace, agent: AgentFile, file: str) -> shapes.AgentLine:
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


def _lines(root: Path) -> list[shapes.AgentLine]:
    workspace, problems = load_loosely(root)
    told = []
    for name, file in sorted(workspace.files.items()):
        if not name.startswith("agents/"):
            continue
        found = [ProblemShape(**vars(p)) for p in problems if p.file == name]
        given = file.value.get("agent") if isinstance(file.value, dict) else None
        agent = workspace.agents.get(str(given))
        if agent is not None:
            line = _line(workspace, agent, name)
            told.append(line.model_copy(update={"problems": found}))
        else:
            told.append(
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
    return told


def _reached(agent: AgentFile) -> str:
    match agent.link:
        case "plain":
            return "Ferox's own loop"
        case "python":
            return f"{agent.entry} in {agent.python}"
    command = " ".join(agent.command or ())
    return f"{agent.url} (started by {command})" if agent.url and command else agent.url or command


def _servers(workspace: Workspace, agent: AgentFile) -> list[shapes.OfferedShape]:
    told = []
    for name, file in workspace.servers.items():
        offer = "all" if agent.offer is None else agent.offer.get(name, [])
        known = known_tools(file, workspace.root)
        if not ways(file):
            continue
        offered = [t for t in known or {} if offer == "all" or fits_any(t, list(offer))]
        told.append(
            shapes.OfferedShape(
                server=name,
                modes=ways(file),
                mode=first_way(file),
                tools=offered,
                left_out=[t for t in known or {} if t not in offered],
                unknown=known is None and bool(offer),
            )
        )
    return told


def _variables(agent: AgentFile) -> tuple[list[VariableShape], str | None]:
    if agent.link == "plain" or not (agent.command or agent.python):
        return [], None
    try:
        told = variables(agent.env)
    except UnsetSecret as error:
        return [], str(error)
    return [VariableShape(name=v.name, shown=v.shown, origin=v.origin) for v in told], None


def _standing(told: Mapping[str, str], what: str) -> list[shapes.AddressShape]:
    return [shapes.AddressShape(name=f"{what} {name}", url=url) for name, url in told.items()]


def standing_shapes(workspace: Workspace, agent: AgentFile) -> list[shapes.AddressShape]:
    """The standing addresses of an agent, if it is a running service."""
    if not agent.standing:
        return []
    seams = addresses(workspace, agent)
    return [*_standing(seams.servers, "server"), *_standing(seams.models, "model")]


def _detail(workspace: Workspace, line: shapes.AgentLine) -> shapes.AgentDetail:
    agent, models = workspace.agents[line.agent], workspace.settings.models
    given, unset = _variables(agent)
    return shapes.AgentDetail(
        line=line,
        reached=_reached(agent),
        instructions=workspace.instructions.get(agent.agent, ""),
        models=[
            shapes.ModelShape(
                called=called,
                model=model,
                simulated=bool(models[model].stand_in),
                behind=behind(models[model]),
            )
            for called, model in agent.thinks_with.items()
            if model in models
        ],
        servers=_servers(workspace, agent),
        own_tools=agent.own_tools,
        params=agent.params,
        limits={**agent.limits.model_dump(), **agent.timeouts.model_dump()},
        processes=agent.processes,
        variables=given,
        unset=unset,
        standing=standing_shapes(workspace, agent),
        standing_command=agent.standing and bool(agent.command),
        all_models=list(models),
        fault_sets=list(workspace.settings.faults),
    )


def overrides_from(body: OverridesShape) -> Overrides:
    """What a request does otherwise than the files."""
    return Overrides.model_validate(body.model_dump())


class _Probing:
    """A probe in the desk's loop, and the number of its changes."""

    def __init__(self, probe: Probe) -> None:
        self.probe, self.version = probe, 0
        self.changed = asyncio.Event()
        self.probe.doing = "starting"
        probe.listener = self._note
        self.task = asyncio.create_task(self._carry_out())

    async def _carry_out(self) -> None:
        try:
            await self.probe.carry_out()
        except Exception as error:
            self.probe.doing = None
            self.probe.failed(f"Ferox itself failed: {type(error).__name__}: {error}")
            self._note()

    def _note(self) -> None:
        self.version += 1
        self.changed.set()
        self.changed = asyncio.Event()

    async def wait(self, seen: int) -> None:
        """Wait until it has changed since `seen`."""
        if self.version == seen and self.probe.doing is not None:
            with suppress(TimeoutError):
                await asyncio.wait_for(self.changed.wait(), WAIT_S)

    def shape(self, number: str) -> shapes.ProbeShape:
        """The probe as the screen shows it."""
        probe = self.probe
        return shapes.ProbeShape(
            id=number,
            version=self.version,
            doing=probe.doing,
            steps=[shapes.StepShape(**vars(s)) for s in probe.steps],
            tools=[shapes.SeenToolShape(**vars(t)) for t in probe.tools],
            own_tools=probe.own_tools,
            remarks=[WorthKnowing(kind=r.kind, text=r.text) for r in probe.remarks],
            reply=probe.reply,
            log=probe.log,
        )


def add_agents(app: OpenAPI, root: Path, desk: Desk) -> None:
    """Routes of agents, connections and probes."""
    probes: dict[str, _Probing] = {}

    def line_of(name: str) -> shapes.AgentLine:
        found = next((line for line in _lines(root) if line.agent == name), None)
        if found is None:
            raise NotThere(f"there is no agent `{name}`")
        return found

    @app.get("/api/agents", responses={200: shapes.AgentList})
    def agents() -> Any:
        """Every agent, also those whose files do not load."""
        return as_json(shapes.AgentList(agents=_lines(root)))

    @app.get("/api/agents/<agent>", responses={200: shapes.AgentDetail, 404: Fault})
    def agent_detail(path: shapes.AgentPath) -> Any:
        """What an agent's file tells of it."""
        workspace, _ = load_loosely(root)
        if path.agent not in workspace.agents:
            raise NotThere(f"there is no agent `{path.agent}`, or its file does not load")
        return as_json(_detail(workspace, line_of(path.agent)))

    @app.get("/api/connections", responses={200: shapes.ConnectionList})
    def connections(query: shapes.ConnectionQuery) -> Any:
        """How an agent is connected, by link and framework."""
        workspace, _ = load_loosely(root)
        told = [_connection(workspace, c, query.agent, query.model) for c in CONNECTIONS]
        return as_json(shapes.ConnectionList(connections=told))

    @app.post("/api/agents", responses={201: shapes.AgentList, 409: Fault})
    def new_agent(body: shapes.NewAgentRequest) -> Any:
        """Write a new agent's files; none of them may be there already."""
        for file in body.files:
            if not file.name.startswith("agents/"):
                raise WriteError(f"`{file.name}` is no place for an agent's file")
            if place(root, file.name).exists():
                raise WriteError(f"{file.name} is there already; take another name")
        for file in reversed(body.files):  # the agent's own file last: it names the others
            write_text(root, file.name, file.text, None)
        return as_json(shapes.AgentList(agents=_lines(root)), 201)

    @app.post("/api/agents/<agent>/probe", responses={200: shapes.ProbeShape, 409: Fault})
    def probe(path: shapes.AgentPath, body: shapes.ProbeRequest) -> Any:
        """Begin to probe an agent."""
        snapshot = talk_snapshot(load_workspace(root), path.agent, overrides_from(body.overrides))

        async def begin() -> _Probing:
            return _Probing(Probe(snapshot, path.agent, root.absolute()))

        number = token_urlsafe(6)
        probes[number] = desk.run(begin())
        while len(probes) > MOST_PROBES:
            probes.pop(next(iter(probes)))
        return as_json(probes[number].shape(number))

    @app.get("/api/probes/<number>", responses={200: shapes.ProbeShape, 404: Fault})
    def watch_probe(path: shapes.NumberPath, query: shapes.VersionQuery) -> Any:
        """A probe once there is more of it."""
        if path.number not in probes:
            raise NotThere("this probe is not known any more; probe the agent again")
        found = probes[path.number]
        desk.run(found.wait(query.seen))
        return as_json(found.shape(path.number))


def _connection(
    workspace: Workspace, found: Connection, agent: str, model: str
) -> shapes.WayToConnect:
    told = files(found, agent, model)
    standing = []
    if found.link in ("chat", "a2a", "tool"):
        like = AgentFile(
            ferox=1, agent=agent, link="chat", url="http://127.0.0.1:9000", model=model
        )
        standing = standing_shapes(workspace, like)
    return shapes.WayToConnect(
        name=found.name,
        title=found.title,
        link=found.link,
        needs=found.needs,
        particular=found.particular,
        files=[shapes.FileText(name=name, text=text) for name, text in told.items()],
        standing=standing,
    )
