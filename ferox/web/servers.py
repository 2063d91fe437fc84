"""The interface of the Servers place: read what a server offers, try a call."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import Any

from flask_openapi3.openapi import OpenAPI

from ferox.core.wording import cost, look_alikes, remarks
from ferox.formats.server import Reach, ServerFile
from ferox.servers.live import OutOfReach
from ferox.servers.look import look, modes, try_call
from ferox.web import shapes
from ferox.web.answers import NotThere, as_json
from ferox.workspace import load_workspace
from ferox.workspace.environment import UnsetSecret, variables

NOTHING: dict[str, Any] = {
    "protocol": None,
    "instructions": None,
    "tools": [],
    "resources": [],
    "prompts": [],
}


def _file(root: Path, name: str) -> tuple[ServerFile, Path]:
    workspace = load_workspace(root)
    if name not in workspace.servers:
        raise NotThere(f"there is no server `{name}`")
    return workspace.servers[name], workspace.root


def _way(file: ServerFile, mode: str | None) -> str:
    known = modes(file)
    if mode is not None and mode not in known:
        raise NotThere(f"`{file.server}` has no `{mode}`; it has {', '.join(known)}")
    if mode is None and not known:
        raise NotThere(f"`{file.server}` has neither a live server nor a mock")
    return mode or known[0]


def _reached(file: ServerFile, mode: str) -> Reach | None:
    return file.live if mode == "live" else file.variants.get(mode)


def _variables(to: Reach | None) -> list[shapes.VariableShape]:
    if to is None or not to.command:
        return []
    try:
        return [shapes.VariableShape.model_validate(v) for v in variables(to.env)]
    except UnsetSecret:
        return []  # the diagnosis tells it


def _told(to: Reach | None) -> str | None:
    if to is None:
        return None
    return to.url or " ".join(to.command or ())


def server_shape(file: ServerFile, mode: str, root: Path) -> shapes.ServerShape:
    """A server read whole; one that cannot be reached has a diagnosis instead of tools."""
    diagnosis = None
    try:
        seen = asyncio.run(look(file, mode, root))
    except OutOfReach as error:
        seen = NOTHING
        diagnosis = shapes.DiagnosisShape(kind=error.kind, told=error.told, then=error.then)
    alike = look_alikes(seen["tools"])
    to = _reached(file, mode)
    return shapes.ServerShape(
        server=file.server,
        title=file.title,
        mode=mode,
        modes=modes(file),
        reached=_told(to),
        variables=_variables(to),
        diagnosis=diagnosis,
        protocol=seen["protocol"],
        instructions=seen["instructions"],
        tools=seen["tools"],
        costs=[cost(tool) for tool in seen["tools"]],
        resources=seen["resources"],
        prompts=seen["prompts"],
        remarks=[shapes.RemarkShape.model_validate(r) for r in remarks(seen["tools"])],
        order=list(alike.order),
        matrix=[list(row) for row in alike.matrix],
        pairs=[shapes.PairShape.model_validate(p) for p in alike.pairs],
    )


def add_servers(app: OpenAPI, root: Path) -> None:
    """The routes of the Servers place."""

    @app.get("/api/servers", responses={200: shapes.ServerList})
    def servers() -> Any:
        """The workspace's tool servers and the ways to them."""
        files = load_workspace(root).servers.values()
        lines = [shapes.ServerLine(server=f.server, title=f.title, modes=modes(f)) for f in files]
        return as_json(shapes.ServerList(servers=lines))

    @app.get("/api/servers/<server>", responses={200: shapes.ServerShape, 404: shapes.Fault})
    def server(path: shapes.ServerPath, query: shapes.ModeQuery) -> Any:
        """What a server offers, or why it cannot be reached."""
        file, folder = _file(root, path.server)
        return as_json(server_shape(file, _way(file, query.mode), folder))

    @app.post("/api/servers/<server>/call", responses={200: shapes.TriedShape, 502: shapes.Fault})
    def call(path: shapes.ServerPath, body: shapes.CallRequest) -> Any:
        """Call a tool once, by hand."""
        file, folder = _file(root, path.server)
        mode = _way(file, body.mode)
        try:
            tried = asyncio.run(try_call(file, mode, folder, body.tool, body.args))
        except OutOfReach as error:
            return as_json(shapes.Fault(message=str(error)), 502)
        return as_json(shapes.TriedShape.model_validate(tried))
