"""Traces brought in on the screens: a file comes in pieces, and is then judged."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

from ferox.bringing.bringing import BringingError, BringingOptions, BringingOutcome, bring_files
from ferox.runs.records import RunError
from ferox.store.database import Engine
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.sharing import shapes
from ferox.web.sharing.job import Job
from ferox.web.sharing.kept_files import fresh_path
from ferox.web.site import site
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed

FOLDER = "brought"
"""Beside the results, for files until they are read."""
LARGEST_FILE = 256 * 1024 * 1024
"""Bytes of a file that a screen sends; `ferox bring` takes larger ones."""
MOST_LINES = 200
"""Lines that are shown of what was left out."""

routes = Routes("bringings")


class RunningBringing(Job):
    """A file being sent, and then brought in."""

    FAILURES = (BringingError, RunError, WorkspaceError)

    def __init__(self, engine: Engine, root: Path, name: str) -> None:
        super().__init__()
        self._engine, self._root, self.name = engine, root, name
        self._path = fresh_path(root, FOLDER, "traces")
        self._path.touch()
        self.size = 0
        self.options = BringingOptions()
        self.outcome = BringingOutcome()

    def add_piece(self, text: str) -> None:
        """Take the next piece of the file.

        Raises:
            RequestRefused: it is begun already, or too large.
        """
        if self.state != "waiting":
            raise RequestRefused(409, "this file is read already; drop it again")
        piece = text.encode("utf-8", "replace")
        if self.size + len(piece) > LARGEST_FILE:
            self.forget_file()
            raise RequestRefused(
                413, f"larger than {LARGEST_FILE:,} bytes: bring it in by `ferox bring`"
            )
        with self._path.open("ab") as file:
            file.write(piece)
        self.size += len(piece)

    def forget_file(self) -> None:
        """Leave nothing of the file."""
        with suppress(OSError):
            self._path.unlink()

    def work(self) -> None:
        """Read the file, judge what is whole, and keep it as a run."""
        try:
            workspace = load_needed(self._root, agents=()).workspace
            self.outcome = bring_files(
                self._engine, workspace, [self._path], self.options, on_trial=self.step
            )
        except (BringingError, RunError) as error:
            raise type(error)(self._with_own_name(str(error))) from None
        finally:
            self.forget_file()

    def _with_own_name(self, text: str) -> str:
        """A message in which the file has the name that it was sent by."""
        return text.replace(str(self._path), self.name)

    def shape(self, number: str) -> shapes.BringingShape:
        """The bringing in as the screen shows it."""
        outcome = self.outcome
        return shapes.BringingShape(
            id=number,
            version=self.version,
            name=self.name,
            bytes=self.size,
            state=self.state,
            done=self.done,
            total=self.total,
            message=self.message,
            run=outcome.run,
            trials=outcome.trials,
            passes=outcome.passes,
            judged=outcome.judged,
            by_words=outcome.by_words[:MOST_LINES],
            left_out=[self._with_own_name(line) for line in outcome.left_out[:MOST_LINES]],
        )


@routes.post("/api/bringings", status=201)
def begin_bringing(body: shapes.BringingRequest) -> shapes.BringingShape:
    """Begin to send a file of traces."""
    bringing = RunningBringing(site.engine, site.root, body.name)
    return bringing.shape(site.bringings.add(bringing))


@routes.post("/api/bringings/<number>/pieces")
def send_piece(path: shapes.JobPath, body: shapes.PieceRequest) -> shapes.BringingShape:
    """Send the next piece of a file."""
    bringing = site.bringings.find(path.number)
    bringing.add_piece(body.text)
    return bringing.shape(path.number)


@routes.post("/api/bringings/<number>/start")
def start_bringing(path: shapes.JobPath, body: shapes.BringingStart) -> shapes.BringingShape:
    """Read a file that has come whole, and keep its traces as a run."""
    bringing = site.bringings.find(path.number)
    if bringing.state != "waiting":
        raise RequestRefused(409, "this file is read already; drop it again")
    bringing.options = BringingOptions(body.agent or None, body.task or None, body.clock or None)

    async def start() -> None:
        await bringing.start()

    site.loop.run(start())
    return bringing.shape(path.number)


@routes.get("/api/bringings/<number>")
def bringing_now(path: shapes.JobPath) -> shapes.BringingShape:
    """How far a file is brought in."""
    return site.bringings.find(path.number).shape(path.number)


@routes.post("/api/bringings/<number>/stop")
def stop_bringing(path: shapes.JobPath) -> shapes.BringingShape:
    """Bring nothing of a file in."""
    bringing = site.bringings.find(path.number)
    bringing.stop()
    if bringing.state == "waiting":
        bringing.forget_file()
    return bringing.shape(path.number)
