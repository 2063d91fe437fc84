"""The interface of models: what agents think with, made, changed and looked at."""

from __future__ import annotations

from pathlib import Path

from ferox.formats.base import Secret
from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.endpoint import EndpointUnreachable
from ferox.gateway.model_seam.model_check import (
    LOCAL_PORTS,
    find_local_endpoints,
    list_model_names,
)
from ferox.web.files.routes import write_checked
from ferox.web.models import shapes
from ferox.web.models.looking import RunningLook
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.shapes import ProblemShape
from ferox.web.site import site
from ferox.workspace import Workspace
from ferox.workspace.load import load_loosely
from ferox.workspace.models import with_model, without_model
from ferox.workspace.stand_ins import manner_names
from ferox.workspace.vault import UnsetSecret, address_origin, current_vault
from ferox.workspace.write import SETTINGS, read_text

routes = Routes("models")


def model_source(source: ModelSource) -> str:
    """What stands behind a model, in a few words."""
    if source.stand_in:
        return f"stand-in (simulated), {source.manner}"
    if source.recording:
        live = f", else {source.base_url}" if source.miss == "live" else ""
        return f"replayed from {source.recording}{live}"
    return f"{source.name or ''} at {source.base_url}".strip()


def _kind_of(source: ModelSource) -> shapes.ModelKind:
    if source.stand_in:
        return "stand-in"
    return "recording" if source.recording else "endpoint"


def _secret_of(source: ModelSource) -> str | None:
    return source.api_key.secret if isinstance(source.api_key, Secret) else None


def _model_list() -> shapes.ModelList:
    workspace, problems = load_loosely(site.root)
    return shapes.ModelList(
        models=[
            _model_line(workspace, name, source)
            for name, source in workspace.settings.models.items()
        ],
        stand_ins=_stand_in_lines(workspace),
        recordings=_model_recordings(site.root),
        problems=[ProblemShape(**vars(p)) for p in problems if p.file == SETTINGS],
    )


def _model_line(workspace: Workspace, name: str, source: ModelSource) -> shapes.ModelLine:
    secret = _secret_of(source)
    # A key that stands in the file itself is not shown.
    shown = {"api_key": None} if isinstance(source.api_key, str) else {}
    return shapes.ModelLine(
        name=name,
        kind=_kind_of(source),
        behind=model_source(source),
        simulated=bool(source.stand_in),
        source=source.model_copy(update=shown),
        agents=[a for a, file in workspace.agents.items() if name in file.thinks_with.values()],
        secret_set=secret in current_vault().secret_values() if secret else None,
    )


def _stand_in_lines(workspace: Workspace) -> list[shapes.StandInLine]:
    files = sorted(p.name for p in (site.root / "stand_ins").glob("*.yaml"))
    lines = []
    for file in (f"stand_ins/{name}" for name in files):
        lines.append(shapes.StandInLine(file=file, manners=manner_names(workspace, file)))
    return lines


def _model_recordings(root: Path) -> list[str]:
    """The recordings that are of models: their first line says so."""
    found = []
    for path in sorted((root / "recordings").glob("*.jsonl")):
        with path.open("rb") as file:
            if b"ferox_model_recording" in file.readline(4096):
                found.append(f"recordings/{path.name}")
    return found


def _find_model(name: str) -> ModelSource:
    workspace, _ = load_loosely(site.root)
    if name not in workspace.settings.models:
        raise NotThere(f"there is no model `{name}`")
    return workspace.settings.models[name]


@routes.get("/api/models")
def list_models() -> shapes.ModelList:
    """Every model of the workspace."""
    return _model_list()


@routes.put("/api/models/<model>")
def write_model(path: shapes.ModelPath, body: shapes.ModelRequest) -> shapes.ModelList:
    """Write a model into `ferox.yaml`, whose comments stay; its key goes into `.env`."""
    secret = _secret_of(body.source)
    if body.key and secret is None:
        raise RequestRefused(422, "name the secret under which the key is kept")
    text, stamp = read_text(site.root, SETTINGS)
    written = body.source.model_dump(mode="json", by_alias=True, exclude_unset=True)
    source = {key: value for key, value in written.items() if value is not None}
    write_checked(SETTINGS, with_model(text, path.model, source), stamp)
    if body.key and secret:
        current_vault().keep_secrets({secret: body.key})
        # Whoever types a key for an address has agreed that it goes there.
        current_vault().agree_use(secret, address_origin(body.source.base_url or ""))
    return _model_list()


@routes.post("/api/models/<model>/remove")
def remove_model(path: shapes.ModelPath) -> shapes.ModelList:
    """Take a model out of `ferox.yaml`."""
    _find_model(path.model)
    if any(line.name == path.model and line.agents for line in _model_list().models):
        message = f"agents think with `{path.model}`: give them another model first"
        raise RequestRefused(409, message)
    text, stamp = read_text(site.root, SETTINGS)
    write_checked(SETTINGS, without_model(text, path.model), stamp)
    return _model_list()


@routes.post("/api/models/<model>/look")
def look_at(path: shapes.ModelPath) -> shapes.LookShape:
    """Begin to look at a model: is it there, does it take tools, how much does it read?"""
    source = _find_model(path.model)

    async def start() -> RunningLook:
        return RunningLook(path.model, source)

    running = site.loop.run(start())
    return running.shape(site.looks.add(running))


@routes.get("/api/looks/<number>")
def look_now(path: shapes.LookPath) -> shapes.LookShape:
    """A look at a model as it is now."""
    return site.looks.find(path.number).shape(path.number)


@routes.post("/api/looks/<number>/stop")
def stop_look(path: shapes.LookPath) -> shapes.LookShape:
    """End a look at a model."""
    look = site.looks.find(path.number)

    async def stop() -> None:
        look.stop()

    site.loop.run(stop())
    return look.shape(path.number)


@routes.post("/api/models/names")
def endpoint_names(body: shapes.ModelRequest) -> shapes.EndpointNames:
    """The names of the models that an endpoint lists; it need not be written yet."""
    source, secret = body.source, _secret_of(body.source)
    if not source.base_url or not source.base_url.startswith(("http://", "https://")):
        raise RequestRefused(422, "give its address: it starts with http:// or https://")
    if body.key and secret:
        # Typed here for this address, and not kept yet.
        source = source.model_copy(update={"api_key": body.key})
    try:
        return shapes.EndpointNames(names=site.loop.run(list_model_names(source)))
    except (EndpointUnreachable, UnsetSecret) as error:
        raise RequestRefused(502, str(error)) from None


@routes.post("/api/models/local")
def local_endpoints() -> shapes.LocalEndpoints:
    """Ask this machine's usual ports for models."""
    found = site.loop.run(find_local_endpoints())
    return shapes.LocalEndpoints(
        found=[shapes.LocalEndpoint(**vars(one)) for one in found], asked=list(LOCAL_PORTS)
    )
