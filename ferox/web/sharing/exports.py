"""Exports for the screens: written beside the results, followed, and then kept by the browser."""

from __future__ import annotations

from pathlib import Path

from flask import Response, send_file

from ferox.exports.sending import SendingError, send_trials
from ferox.exports.writing import SUFFIXES, export_to_file
from ferox.store.database import Engine, read_session
from ferox.store.trials import finished_numbers
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.runs.routes import the_run
from ferox.web.runs.shapes import RunPath
from ferox.web.sharing import shapes
from ferox.web.sharing.job import Job
from ferox.web.sharing.kept_files import fresh_path
from ferox.web.site import site

FOLDER = "exports"
"""Beside the results, for files that a browser has not fetched yet."""

routes = Routes("exports")


class RunningExport(Job):
    """A run's trials being written, or sent to a collector."""

    FAILURES = (SendingError,)

    def __init__(
        self, engine: Engine, root: Path, run: int, request: shapes.ExportRequest, trials: int
    ) -> None:
        super().__init__()
        self._engine, self._run, self._request = engine, run, request
        self.total = trials
        suffix = SUFFIXES[request.format]
        self.name = f"run-{run}-{request.format}.{suffix}"
        self.path = fresh_path(root, FOLDER, suffix)

    def work(self) -> None:
        """Write or send them, in the session of this thread."""
        with read_session(self._engine) as session:
            numbers = finished_numbers(session, self._run)
            if self._request.to is not None:
                taken = send_trials(session, numbers, self._request.to, self.step)
                self.message = f"{taken:,} spans taken"
                return
            export_to_file(
                session,
                self._run,
                self.path,
                self._request.format,
                numbers=numbers,
                each_trial=self._request.each_trial,
                done=self.step,
            )

    def shape(self, number: str) -> shapes.ExportShape:
        """The export as the screen shows it."""
        return shapes.ExportShape(
            id=number,
            version=self.version,
            run=self._run,
            format=self._request.format,
            name=self.name,
            state=self.state,
            done=self.done,
            total=self.total,
            message=self.message,
        )


@routes.post("/api/runs/<int:run>/exports", status=201)
def start_export(path: RunPath, body: shapes.ExportRequest) -> shapes.ExportShape:
    """Begin to write a run's trials in a format, or to send them to a collector."""
    if body.to is not None and body.format != "otlp":
        raise RequestRefused(422, "only spans are sent: choose the format otlp")
    with read_session(site.engine) as session:
        the_run(session, path.run)
        trials = len(finished_numbers(session, path.run))
    if not trials:
        raise RequestRefused(409, f"run {path.run} has no finished trial to write")

    async def start() -> RunningExport:
        export = RunningExport(site.engine, site.root, path.run, request=body, trials=trials)
        await export.start()
        return export

    export = site.loop.run(start())
    return export.shape(site.exports.add(export))


@routes.get("/api/exports/<number>")
def export_now(path: shapes.JobPath) -> shapes.ExportShape:
    """How far an export is."""
    return site.exports.find(path.number).shape(path.number)


@routes.post("/api/exports/<number>/stop")
def stop_export(path: shapes.JobPath) -> shapes.ExportShape:
    """Write no further; there is then no file."""
    export = site.exports.find(path.number)
    export.stop()
    return export.shape(path.number)


def export_file(number: str) -> Response:
    """The file of an export that is done."""
    export = site.exports.find(number)
    if not export.path.is_file():
        raise NotThere("this export has no file: start it again")
    return send_file(
        export.path, mimetype="application/octet-stream", as_attachment=True,
        download_name=export.name, max_age=0,
    )  # fmt: skip
