"""Servers and mocks made from what a person has at hand: pasted words, documents, recordings."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from ferox.core.naming import free_name
from ferox.making.mocks import MakingError, from_list, from_recording, in_few_words
from ferox.making.pasted import parse_pasted
from ferox.recordings.recording import read_recording
from ferox.web.bounded_process import run_apart
from ferox.web.files.routes import write_checked
from ferox.web.files.shapes import FileShape
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.servers import shapes
from ferox.web.servers.routes import chosen_mode, server_file
from ferox.web.site import site
from ferox.workspace.load import file_of, path_within
from ferox.workspace.vault import current_vault
from ferox.workspace.write import as_yaml, edit_document, read_text, workspace_file, yaml_text

MOST_PASTED_SECRETS = 50

routes = Routes("making")


def _with_mock(root: Path, name: str, mock: dict[str, Any]) -> tuple[str, str]:
    """The server's file with another mock, and the stamp of the file as it is."""
    text, stamp = read_text(root, name)

    def put(document: Any) -> None:
        document["mock"] = as_yaml(mock)

    return edit_document(text, put), stamp


@routes.post("/api/pasted")
def paste_servers(body: shapes.PasteRequest) -> shapes.PastedList:
    """The servers in pasted words, as files that are not written yet."""
    found = parse_pasted(body.text, current_vault().secret_values())
    taken = {path.stem for path in (site.root / "servers").glob("*.yaml")}
    for server in found:
        server.name = free_name(server.name, taken)
        taken.add(server.name)
        site.pasted_secrets.update(server.secrets)
    while len(site.pasted_secrets) > MOST_PASTED_SECRETS:
        site.pasted_secrets.pop(next(iter(site.pasted_secrets)))
    servers = [
        shapes.PastedShape(
            name=server.name,
            file=f"servers/{server.name}.yaml",
            text=yaml_text(server.document()),
            notes=server.notes,
        )
        for server in found
    ]
    return shapes.PastedList(servers=servers)


@routes.post("/api/mocks")
def new_mock(body: shapes.NewMockRequest) -> shapes.MadeShape:
    """A mocked server from an OpenAPI document or a few words; not yet written."""
    if body.openapi is not None:
        title, mock, notes = run_apart("from_openapi", body.openapi)
    else:
        tool = in_few_words(body.tool, body.description, body.arguments, body.answer)
        title, mock, notes = "", {"tools": [tool]}, []
    document = {"ferox": 1, "server": body.server, **({"title": title} if title else {})}
    text = yaml_text({**document, "mock": mock})
    name = f"servers/{body.server}.yaml"
    workspace_file(site.root, name)
    return shapes.MadeShape(name=name, text=text, stamp=None, notes=notes)


@routes.post("/api/servers/<server>/mock")
def mock_of(path: shapes.ServerPath, body: shapes.MockRequest) -> shapes.MadeShape:
    """A server's file with a mock made for it; not yet written."""
    server, workspace = server_file(site.root, path.server)
    notes: list[str] = []
    try:
        if body.source == "openapi":
            _, mock, notes = run_apart("from_openapi", body.text or "")
        elif body.source == "recording":
            mock = from_recording(read_recording(path_within(site.root, body.recording or "")))
        else:
            mode = chosen_mode(server, body.mode)

            async def look() -> dict[str, Any]:
                return await (await site.servers.open(server, mode, workspace.root)).read_offer()

            mock = from_list(site.loop.run(look())["tools"])
            notes = ["each answer is a sample: put in what the server really gives"]
    except (MakingError, ValueError) as error:
        raise RequestRefused(422, str(error)) from None
    name = file_of(workspace, "servers", "server", server.server).name
    text, stamp = _with_mock(site.root, name, mock)
    return shapes.MadeShape(name=name, text=text, stamp=stamp, notes=notes)


@routes.post("/api/servers/<server>/tool")
def add_tool(path: shapes.ServerPath, body: shapes.WordsRequest) -> FileShape:
    """Add a tool in a few words to a server's mock, and write it."""
    tool = in_few_words(body.tool, body.description, body.arguments, body.answer)

    def put(document: Any) -> None:
        mock = document.setdefault("mock", {})
        mock.setdefault("tools", []).append(as_yaml(tool))

    return _write_edited(path.server, put)


@routes.post("/api/servers/<server>/wording")
def reword_tool(path: shapes.ServerPath, body: shapes.WordingRequest) -> FileShape:
    """Change what the agent reads of a tool, in the server's file."""

    def put(document: Any) -> None:
        wording = document.setdefault("wording", {})
        if body.wording:
            wording[body.tool] = as_yaml(body.wording)
        else:
            wording.pop(body.tool, None)
        if not wording:
            del document["wording"]

    return _write_edited(path.server, put)


def _write_edited(server: str, change: Callable[[Any], None]) -> FileShape:
    """Change a server's file, comments and order kept, and write it if it then loads."""
    _, workspace = server_file(site.root, server)
    name = file_of(workspace, "servers", "server", server).name
    text, stamp = read_text(site.root, name)
    return write_checked(name, edit_document(text, change), stamp)
