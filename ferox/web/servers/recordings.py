"""Recordings: browsed, cut, edited, merged."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ferox.recordings.recording import Exchange, Recording, RecordingError, read_recording
from ferox.store.database import results_folder
from ferox.web.files.shapes import FileShape
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.servers import recording_shapes as shapes
from ferox.web.servers.relays import keep_recording
from ferox.web.servers.routes import server_file
from ferox.web.servers.shapes import ServerPath
from ferox.web.site import site
from ferox.workspace.load import path_within
from ferox.workspace.write import WriteError, workspace_file

PAGE = 200
"""Exchanges in one answer."""

routes = Routes("recordings")


def recording_path(root: Path, file: str) -> Path:
    """A recording's path: one of the workspace's, or one captured in a run.

    Raises:
        NotThere: there is none, or it is none.
    """
    try:
        path = path_within(root, file)
    except ValueError as error:
        raise NotThere(str(error)) from None
    allowed = (root / "recordings", results_folder(root) / "captures")
    if path.suffix != ".jsonl" or not any(path.is_relative_to(a.resolve()) for a in allowed):
        raise NotThere(f"`{file}` is not a recording of this workspace")
    if not path.is_file():
        raise NotThere(f"there is no recording {file}")
    return path


def _recording_line(root: Path, path: Path, used: str | None) -> shapes.RecordingLine:
    file = str(path.relative_to(root))
    shown: dict[str, Any] = {
        "file": file,
        "captured": not file.startswith("recordings/"),
        "used": used is not None and (root / used).resolve() == path.resolve(),
    }
    try:
        found = read_recording(path)
    except RecordingError as error:
        return shapes.RecordingLine(
            server="", captured_at="", calls=0, messages=0, problem=str(error), **shown
        )
    return shapes.RecordingLine(
        server=found.header.server,
        captured_at=found.header.captured_at,
        calls=len(found.calls),
        messages=len(found.lines),
        **shown,
    )


def _exchange_shape(exchange: Exchange) -> shapes.ExchangeShape:
    answer: dict[str, Any] | None = None
    if exchange.error is not None:
        answer = {"error": exchange.error}
    elif exchange.result is not None:
        answer = {"result": exchange.result}
    return shapes.ExchangeShape(
        number=exchange.number,
        session=exchange.session,
        t=exchange.t,
        s=exchange.s,
        method=exchange.method,
        params=exchange.params,
        answer=answer,
    )


def recording_shape(file: str, found: Recording, start: int) -> shapes.RecordingShape:
    """A page of a recording."""
    return shapes.RecordingShape(
        file=file,
        header=found.header.model_dump(mode="json"),
        messages=len(found.lines),
        sessions=len({line.session for line in found.lines}),
        left_open=found.left_open(),
        total=len(found.exchanges),
        start=start,
        exchanges=[_exchange_shape(e) for e in found.exchanges[start : start + PAGE]],
    )


@routes.get("/api/servers/<server>/recordings")
def list_recordings(path: ServerPath) -> shapes.RecordingList:
    """A server's recordings, and what was captured of it in runs."""
    server, _ = server_file(site.root, path.server)
    paths = [*(site.root / "recordings").glob("*.jsonl")]
    paths += (results_folder(site.root) / "captures").glob("*/*.jsonl")
    lines = [_recording_line(site.root, p, server.recording) for p in sorted(paths)]
    kept = [x for x in lines if x.server == path.server or x.used or x.problem]
    return shapes.RecordingList(recordings=kept)


@routes.get("/api/recording")
def show_recording(query: shapes.RecordingQuery) -> shapes.RecordingShape:
    """A page of a recording."""
    found = read_recording(recording_path(site.root, query.file))
    return recording_shape(query.file, found, max(0, query.start))


@routes.post("/api/recording/cut")
def cut_recording(body: shapes.CutRequest) -> FileShape:
    """A new recording with only some of the exchanges."""
    found = read_recording(recording_path(site.root, body.file))
    return _keep_recording(site.root, found.cut(body.keep), body.name)


@routes.post("/api/recording/edit")
def edit_recording(body: shapes.EditRequest) -> shapes.RecordingShape:
    """Another answer to one exchange, in the file itself."""
    path = recording_path(site.root, body.file)
    workspace_file(site.root, body.file)  # what was captured in a run stays as it was
    found = read_recording(path).edited(body.number, body.answer)
    found.write(path)
    return recording_shape(body.file, found, body.number - body.number % PAGE)


@routes.post("/api/recording/merge")
def merge_recordings(body: shapes.MergeRequest) -> FileShape:
    """A new recording of two."""
    one = read_recording(recording_path(site.root, body.file))
    other = read_recording(recording_path(site.root, body.other))
    return _keep_recording(site.root, one.merged(other), body.name)


def _keep_recording(root: Path, found: Recording, name: str) -> FileShape:
    if not found.lines:
        raise WriteError("nothing would be left of the recording")
    return keep_recording(root, found, name)
