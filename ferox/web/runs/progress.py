"""Progress of runs as server-sent events: each run is read once for all who follow it."""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import AsyncIterator, Callable
from pathlib import Path

from sse_starlette import ServerSentEvent

from ferox.store.board import keep_counts, read_cells
from ferox.store.database import Engine, read_session
from ferox.store.runs import GOING, find_run
from ferox.web.runs import from_store, shapes

EVERY_S = 0.3
LOOK_BACK_S = 2.0
"""Batches are committed a little after the times they carry."""
MOST_WAITING = 20
"""Messages kept for a screen that does not take them; it then starts over."""


def read_progress(engine: Engine, root: Path, run: int, since: float) -> shapes.Progress | None:
    """How far a run is, with the cells that changed since a time; None if there is no such run."""
    keep_counts(engine, [run])
    with read_session(engine) as session:
        record = find_run(session, run)
        if record is None:
            return None
        return shapes.Progress(
            run=from_store.run_shape(session, root, record),
            cells=[from_store.cell_shape(c) for c in read_cells(session, run, since)],
            calls=from_store.newest_calls(session, run),
            held=from_store.held_shapes(session, run),
        )


class RunProgress:
    """The runs that somebody follows."""

    def __init__(self, engine: Engine, root: Path) -> None:
        self._engine, self._root = engine, root
        self._followed: dict[int, _FollowedRun] = {}

    def is_there(self, run: int) -> bool:
        """Whether there is such a run."""
        with read_session(self._engine) as session:
            return find_run(session, run) is not None

    async def follow(self, run: int) -> AsyncIterator[ServerSentEvent]:
        """Everything about a run, then what changes; the last event says that it is over."""
        followed = self._followed.get(run)
        if followed is None or followed.over:
            followed = self._followed[run] = _FollowedRun(
                lambda since: self._read_changes(run, since)
            )
        queue = followed.join()
        try:
            first = await followed.read_whole()
            if first is None:
                return
            yield ServerSentEvent(first.model_dump_json(), event="change")
            if first.run.state not in GOING:
                yield ServerSentEvent(json.dumps(first.run.state), event="over")
                return
            while (event := await queue.get()) is not None:
                yield event
        finally:
            followed.leave(queue)
            if not followed.queues and self._followed.get(run) is followed:
                followed.close()
                del self._followed[run]

    def _read_changes(self, run: int, since: float) -> shapes.Progress | None:
        return read_progress(self._engine, self._root, run, since)


class _FollowedRun:
    """One run, read again and again while anybody follows it."""

    def __init__(self, read: Callable[[float], shapes.Progress | None]) -> None:
        self._read = read
        self.queues: set[asyncio.Queue[ServerSentEvent | None]] = set()
        self.over = False
        self._reading = asyncio.Lock()
        self._whole: tuple[float, shapes.Progress | None] | None = None
        self._task = asyncio.create_task(self._keep_on())

    async def read_whole(self) -> shapes.Progress | None:
        """Everything about the run, read once for all who come at the same time."""
        async with self._reading:
            if self._whole is None or time.monotonic() - self._whole[0] > EVERY_S:
                progress = await asyncio.to_thread(self._read, 0.0)
                self._whole = time.monotonic(), progress
            return self._whole[1]

    def join(self) -> asyncio.Queue[ServerSentEvent | None]:
        """What is said from now on."""
        queue: asyncio.Queue[ServerSentEvent | None] = asyncio.Queue(MOST_WAITING)
        self.queues.add(queue)
        return queue

    def leave(self, queue: asyncio.Queue[ServerSentEvent | None]) -> None:
        """Hear no more."""
        self.queues.discard(queue)

    def close(self) -> None:
        """Read no more."""
        self._task.cancel()

    def _send_event(self, event: ServerSentEvent | None) -> None:
        for queue in list(self.queues):
            if queue.full():  # it is not listened to: it ends, and the screen starts over
                queue.get_nowait()
                queue.put_nowait(None)
                self.queues.discard(queue)
            else:
                queue.put_nowait(event)

    async def _keep_on(self) -> None:
        since, last = time.time() - LOOK_BACK_S, ""
        while True:
            await asyncio.sleep(EVERY_S)
            now = time.time()
            progress = await asyncio.to_thread(self._read, since)
            if progress is None:
                break
            # The same cells may be read twice; the screen takes the newer state of each.
            since = now - LOOK_BACK_S
            text = progress.model_dump_json()
            if text != last:
                self._send_event(ServerSentEvent(text, event="change"))
            last = text
            if progress.run.state not in GOING:
                self._send_event(ServerSentEvent(json.dumps(progress.run.state), event="over"))
                break
        self.over = True
        self._send_event(None)
