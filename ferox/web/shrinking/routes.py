"""Shrinking a failing trial: begun, watched, stopped, and kept as a task."""

from __future__ import annotations

import asyncio
from dataclasses import dataclass, field
from pathlib import Path

from ferox.making.drafted_user import Inference
from ferox.making.drafting import TaskDraft
from ferox.runs.records import RunError
from ferox.runs.shrink.shrink_run import Shrinking, ShrinkWish, Shrunk
from ferox.runs.stored_snapshots import snapshot_of
from ferox.servers.by_hand.watched import Watched
from ferox.servers.connection.diagnosis import plain_error
from ferox.store.database import Engine, read_session
from ferox.store.traces import read_trace
from ferox.store.trials import get_trial
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.shapes import TrialPath
from ferox.web.shrinking import shapes
from ferox.web.site import site
from ferox.web.tasks.drafts import add_to_file
from ferox.web.tasks.shapes import DraftRequest, DraftShape
from ferox.workspace.write import yaml_text

routes = Routes("shrinking")
STOPPING_S = 5.0


@dataclass(eq=False)
class RunningShrink(Watched):
    """A trial that is being shrunk."""

    shrinking: Shrinking
    trial: int
    message: str | None = None
    failed: bool = False
    stop: asyncio.Event = field(default_factory=asyncio.Event)
    task: asyncio.Task[None] | None = None

    def __post_init__(self) -> None:
        super().__init__()

    async def carry_out(self) -> None:
        """Shrink it; whatever happens is kept."""
        try:
            await self.shrinking.carry_out(lambda shrunk: self.note_change(), self.stop)
        except Exception as error:
            self.failed, self.message = True, plain_error(error)
        self.note_change(over=True)

    async def end(self) -> None:
        """End it with what is left by now."""
        self.stop.set()
        if self.task:
            await asyncio.wait({self.task}, timeout=STOPPING_S)

    @property
    def shrunk(self) -> Shrunk:
        """How far it is."""
        return self.shrinking.shrunk

    def shape(self, number: str) -> shapes.ShrinkShape:
        """It as the screen shows it."""
        shrunk = self.shrunk
        kept = {*shrunk.kept}
        return shapes.ShrinkShape(
            id=number,
            trial=self.trial,
            state="failed" if self.failed else shrunk.state,
            message=self.message,
            check=shrunk.check,
            sentence=shrunk.sentence if shrunk.of else "",
            tried=shrunk.tried,
            budget=shrunk.budget,
            failed=shrunk.failed,
            of=shrunk.of,
            pieces=[
                shapes.ShrinkPiece(kind=piece.kind, words=piece.words, kept=piece in kept)
                for piece in shrunk.pieces
            ],
            task=yaml_text({"tasks": [shrunk.task]}),
        )


async def _begin(engine: Engine, root: Path, wish: ShrinkWish) -> RunningShrink:
    running = RunningShrink(Shrinking(engine, root, wish), wish.trial)
    running.task = asyncio.create_task(running.carry_out())
    return running


@routes.post("/api/trials/<int:trial>/shrink", status=201)
def start_shrinking(path: TrialPath, body: shapes.ShrinkRequest) -> shapes.ShrinkShape:
    """Begin to leave out of a failing trial what it fails without."""
    wish = ShrinkWish(path.trial, body.check, body.repeats, body.at_least, body.budget)
    running = site.loop.run(_begin(site.engine, site.root, wish))
    return running.shape(site.shrinks.add(running))


@routes.get("/api/shrinks/<shrinking>")
def shrinking_now(path: shapes.ShrinkPath) -> shapes.ShrinkShape:
    """How far it is."""
    return site.shrinks.find(path.shrinking).shape(path.shrinking)


@routes.post("/api/shrinks/<shrinking>/stop")
def stop_shrinking(path: shapes.ShrinkPath) -> shapes.ShrinkShape:
    """End it with what is left by now."""
    running = site.shrinks.find(path.shrinking)
    site.loop.run(running.end())
    return running.shape(path.shrinking)


@routes.post("/api/shrinks/<shrinking>/draft")
def keep_as_task(path: shapes.ShrinkPath, body: DraftRequest) -> DraftShape:
    """What is left as a task of a suite's file, to be reviewed; not yet written."""
    running = site.shrinks.find(path.shrinking)
    shrunk = running.shrunk
    with read_session(site.engine) as session:
        trial = get_trial(session, running.trial)
        suite = snapshot_of(session, trial.run_id).suites[trial.suite]
        trace = read_trace(session, trial.id)
    if trace is None:
        raise NotThere(f"trial {running.trial} is no longer there")
    if not shrunk.gone:
        raise RunError("nothing was left out, so the task is the one that there is")
    made = TaskDraft({**shrunk.task, "task": body.task})
    made.reasons = [Inference("task", f"the smallest found: {shrunk.sentence}")]
    lines = shrunk.needed_lines
    if lines is not None:
        needed = f"only “{' '.join(lines)}”" if lines else "none of them"
        made.reasons.append(Inference("instructions", f"needed of the agent's: {needed}"))
    return add_to_file(site.root, body.file, made, trace=trace, suite=suite)
