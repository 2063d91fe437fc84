"""The interface of the Servers place: what a server offers, and how it is reached."""

from __future__ import annotations

import json
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path
from typing import Any

from ferox.core.definitions import description_of, properties_of, required_of, sound_schema
from ferox.core.listing import list_changes
from ferox.core.rewording import Rewording
from ferox.core.wording import Tool, WordingRemark, look_alikes, token_cost, wording_remarks
from ferox.formats.server import Reach, ServerFile
from ferox.recordings.recording import RecordingError
from ferox.servers.connection.diagnosis import SecretNotAgreed, ServerUnreachable
from ferox.store.by_hand import keep_look, seen_before
from ferox.store.database import Engine
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.secrets.shapes import AgreeRequest
from ferox.web.servers import shapes
from ferox.web.shapes import ProblemShape
from ferox.web.site import site
from ferox.workspace import Workspace
from ferox.workspace.environment import resolve_variables
from ferox.workspace.load import file_of, load_loosely
from ferox.workspace.modes import modes_of, reach_for_mode
from ferox.workspace.vault import UnsetSecret, shown_words

TOOLS_AT_ONCE = 500
"""Tools on a page of the list."""
LONGEST_DESCRIPTION = 300
"""Characters of a description that a list shows."""
MOST_ARGUMENTS = 30
MOST_RESOURCES = 500
MOST_REMARKS = 400

routes = Routes("servers")

NOTHING: dict[str, Any] = {
    "protocol": None,
    "server_info": None,
    "instructions": None,
    "tools": [],
    "resources": [],
    "prompts": [],
}


def server_file(root: Path, name: str) -> tuple[ServerFile, Workspace]:
    """A server's file, and its workspace as far as it loads."""
    workspace, _ = load_loosely(root)
    if name not in workspace.servers:
        raise NotThere(f"there is no server `{name}`, or its file does not load")
    return workspace.servers[name], workspace


def chosen_mode(file: ServerFile, mode: str | None) -> str:
    """The way that a request names, or the first there is."""
    known = modes_of(file)
    if mode is not None and mode not in known:
        raise NotThere(f"`{file.server}` has no `{mode}`; it has {', '.join(known)}")
    if not known:
        raise NotThere(f"`{file.server}` has neither a live server, a recording nor a mock")
    return mode or known[0]


def _variable_shapes(to: Reach | None) -> list[shapes.VariableShape]:
    if to is None or not to.command:
        return []
    try:
        return [shapes.VariableShape.model_validate(v) for v in resolve_variables(to.env)]
    except UnsetSecret:
        return []  # the diagnosis tells it


def _target_of(to: Reach | None) -> str | None:
    if to is None:
        return None
    if to.url and to.openapi:
        return f"{to.url}, as {to.openapi} describes it"
    return to.url or " ".join(shown_words(to))


def _list_changes(
    engine: Engine, file: ServerFile, mode: str, tools: list[dict[str, Any]]
) -> tuple[float | None, list[shapes.ListChangeShape]]:
    """When the tools were last seen, and what changed; what is seen now is kept."""
    before = seen_before(engine, file.server, mode)
    changes = list_changes(before[1], tools) if before else []
    if before is None or changes:
        keep_look(engine, file.server, mode, tools)
    at = before[0] if before else None
    return at, [shapes.ListChangeShape.model_validate(c) for c in changes]


def _reading_list(file: ServerFile, tools: list[Tool]) -> list[Tool]:
    """Each tool as agents read it."""
    wording = Rewording(file.wording)
    return [wording.shown_definition(tool) for tool in tools]


@lru_cache(maxsize=32)
def _wording_of(tools: str, own: tuple[str, ...]) -> shapes.WordingShape:
    """How definitions read, told by the servers' own names; thousands take a second."""
    read = json.loads(tools)
    alike = look_alikes(read)
    names = dict(zip((t["name"] for t in read), own, strict=True))
    found = wording_remarks(read)
    return shapes.WordingShape(
        remarks=[
            shapes.RemarkShape(tool=names[r.tool], message=r.message) for r in found[:MOST_REMARKS]
        ],
        more_remarks=max(0, len(found) - MOST_REMARKS),
        order=list(alike.order),
        matrix=[[round(x, 2) for x in row] for row in alike.matrix],
        pairs=[shapes.PairShape.model_validate(p) for p in alike.pairs],
        tools=alike.tools,
        alike=alike.alike,
    )


def _tool_line(tool: Tool, read: Tool, remarked: set[str]) -> shapes.ToolLine:
    required = required_of(tool.get("inputSchema"))
    declared = properties_of(tool.get("inputSchema"))
    words = description_of(read)[:LONGEST_DESCRIPTION]
    return shapes.ToolLine(
        name=tool["name"],
        description=description_of(tool)[:LONGEST_DESCRIPTION],
        required=required[:MOST_ARGUMENTS],
        optional=[n for n in declared if n not in required][:MOST_ARGUMENTS],
        cost=token_cost(read),
        remarked=read["name"] in remarked,
        reads=None if read == tool else shapes.ReadAs(name=read["name"], description=words),
    )


def _tool_page(
    pairs: list[tuple[Tool, Tool]], remarks: Iterable[WordingRemark], *, total: int, start: int = 0
) -> shapes.ToolPage:
    """A page of tools, each as the server gives it and as agents read it."""
    remarked = {remark.tool for remark in remarks}
    lines = [_tool_line(own, shown, remarked) for own, shown in pairs]
    return shapes.ToolPage(total=total, start=start, tools=lines)


def server_shape(
    file: ServerFile, workspace: Workspace, mode: str, *, afresh: bool
) -> shapes.ServerShape:
    """A server read whole; one that cannot be reached has a diagnosis instead of tools."""
    diagnosis = None

    async def look() -> dict[str, Any]:
        server = await site.servers.open(file, mode, workspace.root, afresh=afresh)
        return await server.read_offer()

    try:
        seen = site.loop.run(look())
    except ServerUnreachable as error:
        seen = NOTHING
        agree = None
        if isinstance(error, SecretNotAgreed):
            agree = AgreeRequest(secret=error.secret, to=error.to)
        diagnosis = shapes.DiagnosisShape(
            kind=error.kind, problem=error.problem, advice=error.advice, agree=agree
        )
    except RecordingError as error:
        seen = NOTHING
        advice = "correct the file, or name another in `recording`"
        diagnosis = shapes.DiagnosisShape(kind="unreadable", problem=str(error), advice=advice)
    tools = seen["tools"]
    before, changes = (None, []) if diagnosis else _list_changes(site.engine, file, mode, tools)
    to = reach_for_mode(file, mode)
    read = _reading_list(file, tools)  # what agents read is what is judged
    found = wording_remarks(read)
    resources, prompts = seen["resources"], seen["prompts"]
    more = max(0, len(resources) - MOST_RESOURCES) + max(0, len(prompts) - MOST_RESOURCES)
    return shapes.ServerShape(
        server=file.server,
        title=file.title,
        file=file_of(workspace, "servers", "server", file.server).name,
        mode=mode,
        modes=modes_of(file),
        reached=_target_of(to),
        started=to is not None and to.command is not None,
        variables=_variable_shapes(to),
        recording=file.recording,
        diagnosis=diagnosis,
        protocol=seen["protocol"],
        server_info=seen["server_info"],
        instructions=seen["instructions"],
        tools=_tool_page(
            list(zip(tools, read, strict=True))[:TOOLS_AT_ONCE], found, total=len(tools)
        ),
        tokens=sum(map(token_cost, read)),
        remarks=len(found),
        resources=resources[:MOST_RESOURCES],
        prompts=prompts[:MOST_RESOURCES],
        more_resources=more,
        seen_before=before,
        changes=changes,
    )


def _tool_lines(root: Path) -> list[shapes.ServerLine]:
    """Every server's file, those that do not load with their problems."""
    workspace, problems = load_loosely(root)
    by_file: dict[str, list[ProblemShape]] = {}
    for problem in problems:
        by_file.setdefault(problem.file, []).append(ProblemShape(**vars(problem)))
    lines = []
    for name, server in workspace.servers.items():
        file = file_of(workspace, "servers", "server", name).name
        lines.append(
            shapes.ServerLine(
                server=name,
                title=server.title,
                modes=modes_of(server),
                file=file,
                problems=by_file.pop(file, []),
            )
        )
    for file, found in by_file.items():
        if file.startswith("servers/"):
            stem = Path(file).stem
            lines.append(
                shapes.ServerLine(server=stem, title=None, modes=[], file=file, problems=found)
            )
    return lines


@routes.get("/api/servers")
def list_servers() -> shapes.ServerList:
    """The workspace's tool servers and the ways to them."""
    return shapes.ServerList(servers=_tool_lines(site.root))


@routes.post("/api/servers/<server>/reach")
def reach_server(path: shapes.ServerPath, body: shapes.ReachRequest) -> shapes.ServerShape:
    """Connect to a server, and tell what it offers or why it cannot be reached."""
    file, workspace = server_file(site.root, path.server)
    mode = chosen_mode(file, body.mode)
    return server_shape(file, workspace, mode, afresh=body.afresh)


def last_seen(server: str, mode: str | None) -> tuple[list[Tool], list[Tool]]:
    """The tools of a server that has been reached, and as agents read them."""
    file, _ = server_file(site.root, server)
    found = site.loop.run(site.servers.if_open(file.server, chosen_mode(file, mode)))
    if found is None or found.seen is None:
        raise NotThere(f"`{server}` has not been reached yet, or is no longer")
    tools = found.seen["tools"]
    return tools, _reading_list(file, tools)


@routes.get("/api/servers/<server>/tools")
def list_tools(path: shapes.ServerPath, query: shapes.ToolsQuery) -> shapes.ToolPage:
    """A page of the tools that a server offered when it was last looked at."""
    own, read = last_seen(path.server, query.mode)
    wanted, start = query.search.casefold(), max(query.start, 0)
    fitting = [
        (tool, shown)
        for tool, shown in zip(own, read, strict=True)
        if not wanted or wanted in f"{tool['name']} {description_of(tool)}".casefold()
    ]
    page = fitting[start : start + TOOLS_AT_ONCE]
    remarks = wording_remarks([shown for _, shown in page], among=read)
    return _tool_page(page, remarks, total=len(fitting), start=query.start)


@routes.get("/api/servers/<server>/tool")
def show_tool(path: shapes.ServerPath, query: shapes.OneToolQuery) -> shapes.ToolShape:
    """A tool's definition as it was last seen."""
    own, read = last_seen(path.server, query.mode)
    for one, shown in zip(own, read, strict=True):
        if one["name"] == query.tool:
            return shapes.ToolShape(
                definition=one,
                reads=None if shown == one else shown,
                arguments=sound_schema(one.get("inputSchema") or {})[0],
            )
    raise NotThere(f"`{path.server}` offers no tool `{query.tool}`")


@routes.get("/api/servers/<server>/wording")
def show_wording(path: shapes.ServerPath, query: shapes.ModeQuery) -> shapes.WordingShape:
    """How the definitions read that a server was last seen to give."""
    own, read = last_seen(path.server, query.mode)
    return _wording_of(json.dumps(read), tuple(t["name"] for t in own))


@routes.get("/api/servers/<server>/connection")
def show_connection(path: shapes.ServerPath, query: shapes.ModeQuery) -> shapes.ConnectionShape:
    """How a server's connection is doing; none is made."""
    file, _ = server_file(site.root, path.server)
    found = site.loop.run(site.servers.if_open(file.server, chosen_mode(file, query.mode)))
    if found is None:
        return shapes.ConnectionShape(connected=False, list_changed=False, lost=None, messages=[])
    return shapes.ConnectionShape(
        connected=found.lost is None,
        list_changed=found.list_changed,
        lost=found.lost,
        messages=list(found.messages),
    )
