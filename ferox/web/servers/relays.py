"""Relays: stand before a live server, see the calls come in, stop, keep."""

from __future__ import annotations

from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from ferox.recordings.recording import Recording
from ferox.store.database import results_folder
from ferox.web.files.shapes import FileShape
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.servers import recording_shapes as shapes
from ferox.web.servers.open_relays import OpenRelay
from ferox.web.servers.routes import chosen_mode, server_file
from ferox.web.servers.shapes import ServerPath
from ferox.web.site import site
from ferox.workspace.load import file_of
from ferox.workspace.modes import MOCK, RECORDED
from ferox.workspace.write import WriteError, edit_document, read_text, workspace_file, write_text

MOST_STANDING = 8

routes = Routes("relays")


@routes.get("/api/relays")
def list_relays() -> shapes.RelayList:
    """Every relay that stands, or waits to be kept."""
    return shapes.RelayList(relays=[relay.shape(n) for n, relay in site.relays.items()])


@routes.post("/api/servers/<server>/relay")
def start_relay(path: ServerPath, body: shapes.RelayRequest) -> shapes.RelayShape:
    """Stand before a live server."""
    file, _ = server_file(site.root, path.server)
    mode = chosen_mode(file, body.mode)
    if mode in (MOCK, RECORDED):
        raise NotThere(f"a relay stands before a live server, and `{mode}` is not one")
    if sum(not relay.over for _, relay in site.relays.items()) >= MOST_STANDING:
        raise RequestRefused(409, f"{MOST_STANDING} relays are running; stop one first")
    relay = OpenRelay(
        file, mode, results_folder(site.root) / "relays" / f"{token_urlsafe(6)}.jsonl"
    )
    site.loop.run(relay.start(site.root))
    return relay.shape(site.relays.add(relay))


@routes.get("/api/relays/<relay>")
def relay_now(path: shapes.RelayPath) -> shapes.RelayShape:
    """A relay as it is now."""
    return site.relays.find(path.relay).shape(path.relay)


@routes.post("/api/relays/<relay>/stop")
def stop_relay(path: shapes.RelayPath) -> shapes.RelayShape:
    """End a relay; its recording waits to be kept."""
    relay = site.relays.find(path.relay)
    site.loop.run(relay.stop())
    return relay.shape(path.relay)


@routes.post("/api/relays/<relay>/keep")
def keep_relay(path: shapes.RelayPath, body: shapes.KeepRequest) -> FileShape:
    """Keep what passed as a recording of the workspace."""
    relay = site.relays.find(path.relay)
    site.loop.run(relay.stop())
    if not relay.path.is_file():
        raise WriteError("nothing passed, so there is nothing to keep")
    kept = keep_recording(site.root, Recording.read(relay.path), body.name)
    if body.use:
        use_recording(site.root, relay.server.server, kept.name)
    site.loop.run(relay.remove())
    site.relays.remove(path.relay)
    return kept


@routes.post("/api/relays/<relay>/drop")
def drop_relay(path: shapes.RelayPath) -> shapes.RelayList:
    """Throw away what passed."""
    site.loop.run(site.relays.find(path.relay).remove())
    site.relays.remove(path.relay)
    return shapes.RelayList(relays=[relay.shape(n) for n, relay in site.relays.items()])


def keep_recording(root: Path, found: Recording, name: str) -> FileShape:
    """Write a new recording into the workspace.

    Raises:
        WriteError: the name is not valid, or taken.
    """
    file = f"recordings/{name}.jsonl"
    path = workspace_file(root, file)
    if path.exists():
        raise WriteError(f"{file} is there already; take another name")
    path.parent.mkdir(exist_ok=True)
    found.write(path)
    return FileShape(name=file, text="", stamp="")


def use_recording(root: Path, server: str, file: str) -> None:
    """Have a server's file name a recording.

    Raises:
        WriteError: the file cannot be written.
    """
    _, workspace = server_file(root, server)
    name = file_of(workspace, "servers", "server", server).name
    text, stamp = read_text(root, name)

    def put(document: Any) -> None:
        document["recording"] = file

    write_text(root, name, edit_document(text, put), stamp)
