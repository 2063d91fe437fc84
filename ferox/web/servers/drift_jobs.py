"""Recordings held against their live servers, and how far that is."""

from __future__ import annotations

import asyncio
from dataclasses import dataclass, field

from ferox.formats.server import ServerFile
from ferox.recordings.recording import Recording, read_recording
from ferox.servers.by_hand.watched import Watched
from ferox.servers.connection.diagnosis import ServerUnreachable, plain_error
from ferox.servers.drift import Drift, find_drift
from ferox.web.routing import Routes
from ferox.web.servers import recording_shapes as shapes
from ferox.web.servers.recordings import recording_path
from ferox.web.servers.routes import chosen_mode, server_file
from ferox.web.servers.shapes import ListChangeShape, ServerPath
from ferox.web.site import site

AT_ONCE_S = 0.3
"""Seconds that the first answer waits: most comparisons are over by then."""
STOPPING_S = 2.0

routes = Routes("drift")


@dataclass(eq=False)
class DriftJob(Watched):
    """A recording being held against the live server."""

    drift: Drift = field(default_factory=Drift)
    state: str = "running"
    message: str | None = None
    task: asyncio.Task[None] | None = None

    def __post_init__(self) -> None:
        super().__init__()

    async def carry_out(
        self, server: ServerFile, mode: str, recording: Recording, also: list[str]
    ) -> None:
        """Ask the recorded calls again; whatever happens is kept in `state`."""

        def on_progress(drift: Drift) -> None:
            self.drift = drift
            self.note_change()

        try:
            open_server = await site.servers.open(server, mode, site.root)
            self.drift = await find_drift(recording, open_server.client, also, on_progress)
            self.state = "done"
        except asyncio.CancelledError:
            self.state = "stopped"
        except ServerUnreachable as error:
            self.state, self.message = "failed", str(error)
        except Exception as error:
            self.state, self.message = "failed", plain_error(error)
        self.note_change(over=True)

    async def stop(self) -> None:
        """Ask no further call."""
        if self.task:
            self.task.cancel()
            await asyncio.wait({self.task}, timeout=STOPPING_S)

    def shape(self, number: str) -> shapes.DriftShape:
        """The comparison as the screen shows it."""
        return shapes.DriftShape(
            id=number,
            state=self.state,
            message=self.message,
            total=self.drift.total,
            tools=[ListChangeShape.model_validate(c) for c in self.drift.tools],
            calls=[shapes.RepeatedCallShape.model_validate(vars(c)) for c in self.drift.calls],
        )


@routes.post("/api/servers/<server>/drift")
def start_drift(path: ServerPath, body: shapes.DriftRequest) -> shapes.DriftShape:
    """Ask the live server the recorded calls again that only read."""
    server, _ = server_file(site.root, path.server)
    mode = chosen_mode(server, body.mode)
    recording = read_recording(recording_path(site.root, body.file))

    async def start() -> DriftJob:
        job = DriftJob()
        job.task = asyncio.create_task(job.carry_out(server, mode, recording, body.also))
        await asyncio.wait({job.task}, timeout=AT_ONCE_S)
        return job

    job = site.loop.run(start())
    return job.shape(site.drifts.add(job))


@routes.get("/api/drifts/<drift>")
def drift_now(path: shapes.DriftPath) -> shapes.DriftShape:
    """How far the comparison has come."""
    return site.drifts.find(path.drift).shape(path.drift)


@routes.post("/api/drifts/<drift>/stop")
def stop_drift(path: shapes.DriftPath) -> shapes.DriftShape:
    """Stop asking."""
    job = site.drifts.find(path.drift)
    site.loop.run(job.stop())
    return job.shape(path.drift)
