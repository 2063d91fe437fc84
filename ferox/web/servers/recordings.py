"""The interface of recordings: browsed, cut, edited, merged, and held against the live server."""

from __future__ import annotations

import asyncio
from dataclasses import dataclass, field
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask_openapi3.openapi import OpenAPI

from ferox.formats.server import ServerFile
from ferox.recordings.recording import Exchange, Recording, RecordingError, read_recording
from ferox.servers.by_hand.open_servers import Desk
from ferox.servers.connection.diagnosis import OutOfReach, plain
from ferox.servers.drift import Drift, find_drift
from ferox.store.database import folder
from ferox.web.responses import NotThere, as_json
from ferox.web.servers import recording_shapes as shapes
from ferox.web.servers.relays import keep_recording
from ferox.web.servers.routes import chosen_way, server_file
from ferox.web.servers.shapes import FileShape, ListChangeShape, ServerPath
from ferox.web.shapes import Fault
from ferox.workspace.load import within
from ferox.workspace.write import WriteError, place

PAGE = 200
"""Exchanges in one answer."""


def recording_path(root: Path, file: str) -> Path:
    """A recording's path: one of the workspace's, or one captured in a run.

    Raises:
        NotThere: there is none, or it is none.
    """
    try:
        path = within(root, file)
    except ValueError as error:
        raise NotThere(str(error)) from None
    allowed = (root / "recordings", folder(root) / "captures")
    if path.suffix != ".jsonl" or not any(path.is_relative_to(a.resolve()) for a in allowed):
        raise NotThere(f"`{file}` is no recording of this workspace")
    if not path.is_file():
        raise NotThere(f"there is no recording {file}")
    return path


def _line(root: Path, path: Path, used: str | None) -> shapes.RecordingLine:
    file = str(path.relative_to(root))
    told: dict[str, Any] = {
        "file": file,
        "captured": not file.startswith("recordings/"),
        "used": used is not None and (root / used).resolve() == path.resolve(),
    }
    try:
        found = read_recording(path)
    except RecordingError as error:
        return shapes.RecordingLine(
            server="", captured_at="", calls=0, messages=0, problem=str(error), **told
        )
    return shapes.RecordingLine(
        server=found.header.server,
        captured_at=found.header.captured_at,
        calls=len(found.calls),
        messages=len(found.lines),
        **told,
    )


def _exchange(exchange: Exchange) -> shapes.ExchangeShape:
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
        exchanges=[_exchange(e) for e in found.exchanges[start : start + PAGE]],
    )


def add_recordings(app: OpenAPI, root: Path, desk: Desk) -> None:
    """Routes of recordings."""

    @app.get("/api/servers/<server>/recordings", responses={200: shapes.RecordingList})
    def recordings(path: ServerPath) -> Any:
        """A server's recordings, and what was captured of it in runs."""
        server, _ = server_file(root, path.server)
        paths = [*(root / "recordings").glob("*.jsonl")]
        paths += (folder(root) / "captures").glob("*/*.jsonl")
        lines = [_line(root, p, server.recording) for p in sorted(paths)]
        kept = [x for x in lines if x.server == path.server or x.used or x.problem]
        return as_json(shapes.RecordingList(recordings=kept))

    @app.get("/api/recording", responses={200: shapes.RecordingShape, 404: Fault})
    def recording(query: shapes.RecordingQuery) -> Any:
        """A page of a recording."""
        found = read_recording(recording_path(root, query.file))
        return as_json(recording_shape(query.file, found, max(0, query.start)))

    @app.post("/api/recording/cut", responses={200: FileShape, 422: Fault})
    def cut(body: shapes.CutRequest) -> Any:
        """A new recording with only some of the exchanges."""
        found = read_recording(recording_path(root, body.file))
        return as_json(_kept(root, found.cut(body.keep), body.name))

    @app.post("/api/recording/edit", responses={200: shapes.RecordingShape, 422: Fault})
    def edit(body: shapes.EditRequest) -> Any:
        """Another answer to one exchange, in the file itself."""
        path = recording_path(root, body.file)
        place(root, body.file)  # what was captured in a run stays as it was
        found = read_recording(path).edited(body.number, body.answer)
        found.write(path)
        return as_json(recording_shape(body.file, found, body.number - body.number % PAGE))

    @app.post("/api/recording/merge", responses={200: FileShape, 422: Fault})
    def merge(body: shapes.MergeRequest) -> Any:
        """A new recording of two."""
        one = read_recording(recording_path(root, body.file))
        other = read_recording(recording_path(root, body.other))
        return as_json(_kept(root, one.merged(other), body.name))

    _drifts(app, root, desk)


def _kept(root: Path, found: Recording, name: str) -> FileShape:
    if not found.lines:
        raise WriteError("nothing would be left of the recording")
    return keep_recording(root, found, name)


@dataclass
class _Job:
    """A recording being held against the live server."""

    id: str
    drift: Drift = field(default_factory=Drift)
    state: str = "running"
    message: str | None = None
    task: asyncio.Task[None] | None = None

    def shape(self) -> shapes.DriftShape:
        return shapes.DriftShape(
            id=self.id,
            state=self.state,
            message=self.message,
            total=self.drift.total,
            tools=[ListChangeShape.model_validate(c) for c in self.drift.tools],
            calls=[shapes.AskedShape.model_validate(vars(c)) for c in self.drift.calls],
        )


def _drifts(app: OpenAPI, root: Path, desk: Desk) -> None:
    jobs: dict[str, _Job] = {}

    async def look(
        job: _Job, server: ServerFile, mode: str, found: Recording, also: list[str]
    ) -> None:
        def listener(drift: Drift) -> None:
            job.drift = drift

        try:
            hand = await desk.hand(server, mode, root)
            job.drift = await find_drift(found, hand.client, also, listener)
            job.state = "done"
        except asyncio.CancelledError:
            job.state = "stopped"
        except OutOfReach as error:
            job.state, job.message = "failed", str(error)
        except Exception as error:
            job.state, job.message = "failed", plain(error)

    @app.post("/api/servers/<server>/drift", responses={200: shapes.DriftShape, 404: Fault})
    def begin_drift(path: ServerPath, body: shapes.DriftRequest) -> Any:
        """Ask the live server the recorded calls again that only read."""
        server, _ = server_file(root, path.server)
        mode = chosen_way(server, body.mode)
        found = read_recording(recording_path(root, body.file))
        job = _Job(token_urlsafe(6))
        jobs[job.id] = job
        while len(jobs) > 20:
            jobs.pop(next(iter(jobs)))

        async def start() -> None:
            job.task = asyncio.create_task(look(job, server, mode, found, body.also))
            await asyncio.wait({job.task}, timeout=0.3)

        desk.run(start())
        return as_json(job.shape())

    def _job(number: str) -> _Job:
        if number not in jobs:
            raise NotThere("this comparison is not known any more; begin it again")
        return jobs[number]

    @app.get("/api/drifts/<drift>", responses={200: shapes.DriftShape, 404: Fault})
    def watch_drift(path: shapes.DriftPath) -> Any:
        """How far the comparison has come."""
        return as_json(_job(path.drift).shape())

    @app.post("/api/drifts/<drift>/stop", responses={200: shapes.DriftShape, 404: Fault})
    def stop_drift(path: shapes.DriftPath) -> Any:
        """Stop asking."""
        job = _job(path.drift)

        async def end() -> None:
            if job.task:
                job.task.cancel()
                await asyncio.wait({job.task}, timeout=2)

        desk.run(end())
        return as_json(job.shape())
