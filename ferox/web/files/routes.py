"""The interface of files: read, checked, written; servers and mocks made from what is at hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask_openapi3.openapi import OpenAPI
from sqlalchemy import Engine

from ferox.core.naming import free_name
from ferox.formats.agent import AgentFile
from ferox.formats.reference import schemas
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.making.mocks import MakingError, from_list, from_recording, in_few_words
from ferox.making.pasted import PasteError, pasted
from ferox.recordings.recording import read_recording
from ferox.servers.by_hand.open_servers import Desk
from ferox.web.bounded_process import apart
from ferox.web.files.parsed import parsed
from ferox.web.responses import NotThere, as_json
from ferox.web.servers import shapes
from ferox.web.servers.routes import chosen_way, server_file
from ferox.web.shapes import Fault, ProblemShape
from ferox.web.tasks.routes import seen_tools
from ferox.workspace.check import check_agent
from ferox.workspace.check_server import check_server
from ferox.workspace.check_suite import Around, check_suite
from ferox.workspace.load import file_of, load_loosely, load_servers, within
from ferox.workspace.problems import first_of
from ferox.workspace.vault import vault
from ferox.workspace.write import as_yaml, edited, place, read_text, write_text, yaml_text

MOST_PENDING = 50


def problems_in(root: Path, name: str, text: str, engine: Engine) -> list[ProblemShape]:
    """What is wrong with a text, if it stood in that file.

    Raises:
        WriteError: it is no file of a workspace.
    """
    place(root, name)
    if not name.endswith(".yaml"):
        return []
    file, document = parsed(name, text)
    found = list(file.problems)
    if isinstance(document, ServerFile):
        found += first_of(check_server(file, document, root))
    elif isinstance(document, AgentFile):
        workspace, problems = load_loosely(root)
        found += check_agent(
            workspace, file, document, complete=all(p.file == name for p in problems)
        )
    elif isinstance(document, Suite):
        servers = load_servers(root)
        around = Around(servers, root, seen_tools(engine, servers))
        found += first_of(check_suite(file, document, around))
    return [ProblemShape(**vars(p)) for p in sorted(set(found))]


def _refused(root: Path, name: str, text: str, engine: Engine) -> str | None:
    """Why a text is not written: what is wrong with it, in one line."""
    problems = [p for p in problems_in(root, name, text, engine) if not p.note]
    if not problems:
        return None
    first, more = problems[0], len(problems) - 1
    told = f"{first.file}:{first.line}:{first.column}: {first.message}"
    return f"not saved: {told}" + (f" (and {more} more)" if more else "")


def _write(root: Path, name: str, text: str, stamp: str | None, engine: Engine) -> Any:
    refused = _refused(root, name, text, engine)
    if refused:
        return as_json(Fault(message=refused), 422)
    return as_json(
        shapes.FileShape(name=name, text=text, stamp=write_text(root, name, text, stamp))
    )


def _with_mock(root: Path, name: str, mock: dict[str, Any]) -> tuple[str, str]:
    """The server's file with another mock, and the stamp of the file as it is."""
    text, stamp = read_text(root, name)

    def put(document: Any) -> None:
        document["mock"] = as_yaml(mock)

    return edited(text, put), stamp


def add_files(app: OpenAPI, root: Path, engine: Engine, desk: Desk) -> None:
    """Routes of files."""
    pending: dict[str, str] = {}  # credentials of pasted servers that are not written yet

    @app.get("/api/formats/<format>", responses={200: shapes.FormatShape, 404: Fault})
    def format_schema(path: shapes.FormatPath) -> Any:
        """The JSON Schema of one of the workspace's formats."""
        known = schemas()
        if path.format not in known:
            raise NotThere(f"no format `{path.format}`; there is {', '.join(sorted(known))}")
        return as_json(shapes.FormatShape(format=path.format, definition=known[path.format]))

    @app.get("/api/file", responses={200: shapes.FileShape, 409: Fault})
    def file(query: shapes.FileQuery) -> Any:
        """A file's text."""
        text, stamp = read_text(root, query.name)
        return as_json(shapes.FileShape(name=query.name, text=text, stamp=stamp))

    @app.put("/api/file", responses={200: shapes.FileShape, 409: Fault, 422: Fault})
    def save(body: shapes.FileRequest) -> Any:
        """Write a file that loads, unless it changed on disk meanwhile.

        Credentials that were pasted and that it names go into the workspace's `.env`.
        """
        answer = _write(root, body.name, body.text, body.stamp, engine)
        if answer.status_code == 200 and body.name.startswith("servers/"):
            named = {n: pending.pop(n) for n in list(pending) if f"secret: {n}" in body.text}
            vault().keep(named)
        return answer

    @app.get("/api/file/stamp", responses={200: shapes.StampShape, 409: Fault})
    def stamp_of(query: shapes.FileQuery) -> Any:
        """What tells the state of a file on disk; asked again and again while it is edited."""
        return as_json(shapes.StampShape(stamp=read_text(root, query.name)[1]))

    @app.post("/api/file/format", responses={200: shapes.TextShape, 409: Fault})
    def tidy(body: shapes.CheckRequest) -> Any:
        """A text with its indentation set right; comments and order stay."""
        place(root, body.name)
        return as_json(shapes.TextShape(text=apart("tidied", body.text)))

    @app.post("/api/file/check", responses={200: shapes.ProblemList, 409: Fault})
    def check(body: shapes.CheckRequest) -> Any:
        """What is wrong with a text."""
        return as_json(shapes.ProblemList(problems=problems_in(root, body.name, body.text, engine)))

    @app.post("/api/pasted", responses={200: shapes.PastedList, 422: Fault})
    def paste(body: shapes.PasteRequest) -> Any:
        """The servers in pasted words, as files that are not written yet."""
        try:
            found = pasted(body.text, vault().values())
        except PasteError as error:
            return as_json(Fault(message=str(error)), 422)
        taken = {path.stem for path in (root / "servers").glob("*.yaml")}
        for server in found:
            server.name = free_name(server.name, taken)
            taken.add(server.name)
            pending.update(server.secrets)
        while len(pending) > MOST_PENDING:
            pending.pop(next(iter(pending)))
        told = [
            shapes.PastedShape(
                name=server.name,
                file=f"servers/{server.name}.yaml",
                text=yaml_text(server.document()),
                notes=server.notes,
            )
            for server in found
        ]
        return as_json(shapes.PastedList(servers=told))

    _making(app, root, engine, desk)


def _making(app: OpenAPI, root: Path, engine: Engine, desk: Desk) -> None:
    @app.post("/api/mocks", responses={200: shapes.MadeShape, 422: Fault})
    def new_mock(body: shapes.NewMockRequest) -> Any:
        """A mocked server from an OpenAPI document or a few words; not yet written."""
        try:
            if body.openapi is not None:
                title, mock, notes = apart("from_openapi", body.openapi)
            else:
                tool = in_few_words(body.tool, body.description, body.arguments, body.answer)
                title, mock, notes = "", {"tools": [tool]}, []
        except MakingError as error:
            return as_json(Fault(message=str(error)), 422)
        document = {"ferox": 1, "server": body.server, **({"title": title} if title else {})}
        text = yaml_text({**document, "mock": mock})
        name = f"servers/{body.server}.yaml"
        place(root, name)
        return as_json(shapes.MadeShape(name=name, text=text, stamp=None, notes=notes))

    @app.post("/api/servers/<server>/mock", responses={200: shapes.MadeShape, 422: Fault})
    def mock_of(path: shapes.ServerPath, body: shapes.MockRequest) -> Any:
        """A server's file with a mock made for it; not yet written."""
        server, workspace = server_file(root, path.server)
        notes: list[str] = []
        try:
            if body.source == "openapi":
                _, mock, notes = apart("from_openapi", body.text or "")
            elif body.source == "recording":
                mock = from_recording(read_recording(within(root, body.recording or "")))
            else:
                way = chosen_way(server, body.mode)

                async def look() -> dict[str, Any]:
                    return await (await desk.hand(server, way, workspace.root)).look()

                mock = from_list(desk.run(look())["tools"])
                notes = ["each answer is a sample: put in what the server really gives"]
        except (MakingError, ValueError) as error:
            return as_json(Fault(message=str(error)), 422)
        name = file_of(workspace, "servers", "server", server.server).name
        text, stamp = _with_mock(root, name, mock)
        return as_json(shapes.MadeShape(name=name, text=text, stamp=stamp, notes=notes))

    @app.post("/api/servers/<server>/tool", responses={200: shapes.FileShape, 422: Fault})
    def add_tool(path: shapes.ServerPath, body: shapes.WordsRequest) -> Any:
        """Add a tool in a few words to a server's mock, and write it."""
        try:
            tool = in_few_words(body.tool, body.description, body.arguments, body.answer)
        except MakingError as error:
            return as_json(Fault(message=str(error)), 422)

        def put(document: Any) -> None:
            mock = document.setdefault("mock", {})
            mock.setdefault("tools", []).append(as_yaml(tool))

        return _changed(root, path.server, put, engine)

    @app.post("/api/servers/<server>/wording", responses={200: shapes.FileShape, 422: Fault})
    def reword(path: shapes.ServerPath, body: shapes.WordingRequest) -> Any:
        """Change what the agent reads of a tool, in the server's file."""

        def put(document: Any) -> None:
            wording = document.setdefault("wording", {})
            if body.wording:
                wording[body.tool] = as_yaml(body.wording)
            else:
                wording.pop(body.tool, None)
            if not wording:
                del document["wording"]

        return _changed(root, path.server, put, engine)


def _changed(root: Path, server: str, change: Callable[[Any], None], engine: Engine) -> Any:
    _, workspace = server_file(root, server)
    name = file_of(workspace, "servers", "server", server).name
    text, stamp = read_text(root, name)
    return _write(root, name, edited(text, change), stamp, engine)
