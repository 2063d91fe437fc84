"""The writer: one for each process, in batches, so that events are on disk within a second."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from sqlalchemy import Engine
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from ferox.core.json_values import compact_json
from ferox.formats.trace import Event
from ferox.store.database import StoreError, explain_failure
from ferox.store.pieces import compress_piece
from ferox.store.tables import EventRow, JsonText, ModelRequest, Piece, WireMessages

# Soon enough for a screen that follows; each commit keeps other processes from writing.
EVERY_S = 0.25
MOST_KNOWN = 20_000
"""Pieces that a writer remembers to have kept; one that it forgot is offered again in vain."""

Work = Callable[[Session], Any]


def _as_json_text(value: Any) -> JsonText:
    # Made here, not when it is stored: an event may go on changing while another thread stores it.
    return JsonText(compact_json(value))


class Writer:
    """Takes events and other work, and commits them together, in order."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._events: dict[tuple[int, int], Event] = {}
        self._work: list[Work] = []
        self._known_pieces: set[str] = set()
        self._pieces: list[dict[str, Any]] = []
        self._requests: list[dict[str, Any]] = []
        self._failed: dict[Work, Exception] = {}
        """Work that failed by itself, until somebody asks."""
        self._turn = asyncio.Lock()
        self._task: asyncio.Task[None] | None = None

    async def __aenter__(self) -> Writer:
        self._task = asyncio.create_task(self._keep_on())
        return self

    async def __aexit__(self, *_: object) -> None:
        if self._task:
            self._task.cancel()
            with suppress(asyncio.CancelledError):
                await self._task
        await self.flush()

    def keep_event(self, trial: int, n: int, event: Event) -> None:
        """Keep an event, or its newer form."""
        self._events[trial, n] = event  # made text once, when its batch is due

    def keep_wire(self, trial: int, call: str, request: str, answer: str) -> None:
        """Keep the raw messages of a call."""
        row = {"trial_id": trial, "call": call, "request": request, "answer": answer}
        self.do_later(lambda s: s.execute(insert(WireMessages).on_conflict_do_nothing(), row))

    def keep_piece(self, hashed: str, text: str) -> None:
        """Keep a piece of what models were shown, if it is not there yet."""
        if hashed in self._known_pieces:
            return
        if len(self._known_pieces) >= MOST_KNOWN:
            self._known_pieces.clear()
        self._known_pieces.add(hashed)
        self._pieces.append({"hash": hashed, "body": compress_piece(text)})

    def model_request(self, trial: int, event: str, body: dict[str, Any]) -> None:
        """Keep a request to a model; its pieces are kept by themselves."""
        self._requests.append({"trial_id": trial, "event": event, "body": _as_json_text(body)})

    def do_later(self, work: Work) -> None:
        """Do something in the next batch, after the events so far."""
        self._work.append(work)

    async def do_now(self, work: Work) -> None:
        """Do something at once, after everything taken so far.

        Raises:
            StoreError: the database did not take it.
            Exception: what the work itself raised; nothing else is harmed.
        """
        self.do_later(work)
        await self.flush()
        failure = self._failed.pop(work, None)
        if failure is not None:
            raise failure

    async def flush(self) -> None:
        """Commit everything taken so far.

        Raises:
            StoreError: the database took none of it; it is kept for the next try.
        """
        async with self._turn:
            events, work = self._events, self._work
            pieces, requests = self._pieces, self._requests
            if not (events or work or requests):
                return
            self._events, self._work, self._pieces, self._requests = {}, [], [], []
            rows = [
                {"trial_id": t, "n": n, "body": _as_json_text(e)} for (t, n), e in events.items()
            ]
            try:
                await asyncio.to_thread(self._commit_all, rows, pieces, requests, work)
            except DatabaseError as error:
                # Put back behind what came meanwhile: of one event, the newer form stands.
                self._events = {**events, **self._events}
                self._work = [*work, *self._work]
                self._pieces = [*pieces, *self._pieces]
                self._requests = [*requests, *self._requests]
                raise StoreError(explain_failure(error)) from None

    def _commit_all(
        self,
        rows: list[dict[str, Any]],
        pieces: list[dict[str, Any]],
        requests: list[dict[str, Any]],
        work: list[Work],
    ) -> None:
        """Commit a batch; if a piece of work in it fails by itself, the others without it."""
        try:
            self._commit_batch(rows, pieces, requests, work)
        except DatabaseError:
            raise
        except Exception:
            # The events first: a fault in one trial's work must not cost another's events.
            self._commit_batch(rows, pieces, requests, [])
            for one in work:
                try:
                    self._commit_batch([], [], [], [one])
                except DatabaseError:
                    raise
                except Exception as error:
                    self._failed[one] = error

    def _commit_batch(
        self,
        rows: list[dict[str, Any]],
        pieces: list[dict[str, Any]],
        requests: list[dict[str, Any]],
        work: list[Work],
    ) -> None:
        with Session(self._engine) as session, session.begin():
            if rows:
                statement = insert(EventRow)
                session.execute(
                    statement.on_conflict_do_update(
                        index_elements=["trial_id", "n"],
                        set_={"body": statement.excluded.body},
                    ),
                    rows,
                )
            if pieces:
                session.execute(insert(Piece).on_conflict_do_nothing(), pieces)
            if requests:
                session.execute(insert(ModelRequest).on_conflict_do_nothing(), requests)
            for one in work:
                one(session)

    async def _keep_on(self) -> None:
        while True:
            await asyncio.sleep(EVERY_S)
            with suppress(StoreError):  # kept, and tried again; the end of a trial reports it
                await self.flush()
