"""The writer: one for each process, in batches, so that events are on disk within a second."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable, Iterable
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import Connection, Engine
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from ferox.core.json_values import compact_json, holds_at_most
from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.store.database import StoreError, explain_failure, move_log, open_unwaiting
from ferox.store.pieces import compress_piece
from ferox.store.results import keep_result
from ferox.store.tables import EventRow, JsonText, ModelRequest, Piece, WireMessages
from ferox.store.traces import BesideTrace, RawMessages, forget_rows, gather_rows

# Soon enough for a screen that follows; each commit keeps other processes from writing.
EVERY_S = 0.25
YOUNG_S = 0.65
"""How long a trial's first events wait: most trials of simulated models are over by then, and what
they did is written once, whole."""
FEW, SMALL = 64, 40_000
"""Rows, and signs of them or of a trace, that are kept in a few milliseconds."""
MOVE_LOG_S = 10.0
MOST_KNOWN = 20_000
"""Pieces that a writer remembers to have kept; one that it forgot is offered again in vain."""

Work = Callable[[Session], Any]


@dataclass
class _Batch:
    """What is committed together."""

    events: dict[int, dict[int, Event]] = field(default_factory=dict)
    beside: dict[int, BesideTrace] = field(default_factory=dict)
    """What is kept beside the events, by trial."""
    pieces: list[dict[str, Any]] = field(default_factory=list)
    work: list[Work] = field(default_factory=list)
    large: bool = False
    """It holds work that takes more than a few milliseconds."""

    def beside_of(self, trial: int) -> BesideTrace:
        return self.beside.setdefault(trial, BesideTrace())

    def trials(self) -> set[int]:
        """The trials of which it holds rows."""
        return self.events.keys() | self.beside.keys()

    def is_empty(self) -> bool:
        return not (self.events or self.beside or self.pieces or self.work)

    def take_out(self, trials: Iterable[int]) -> _Batch:
        """What it holds of some trials, and no longer here."""
        taken = _Batch()
        for trial in trials:
            if trial in self.events:
                taken.events[trial] = self.events.pop(trial)
            if trial in self.beside:
                taken.beside[trial] = self.beside.pop(trial)
        return taken

    def put_before(self, later: _Batch) -> None:
        """Take what came later; of one event, the newer form stands."""
        for trial, events in later.events.items():
            self.events.setdefault(trial, {}).update(events)
        for trial, beside in later.beside.items():
            own = self.beside_of(trial)
            own.wire |= beside.wire
            own.requests |= beside.requests
        self.pieces += later.pieces
        self.work += later.work
        self.large |= later.large


# Made once: to make a statement takes far longer than to carry it out.
_EVENT = insert(EventRow)
_NEWER_EVENT = _EVENT.on_conflict_do_update(
    index_elements=["trial_id", "n"], set_={"body": _EVENT.excluded.body}
)
_ADD = {
    table: insert(table).on_conflict_do_nothing() for table in (Piece, WireMessages, ModelRequest)
}


class _Rows:
    """The rows of a batch. Their text is made at once: an event may go on changing while another
    thread stores it."""

    def __init__(self, batch: _Batch) -> None:
        self._events = [
            {"trial_id": trial, "n": n, "body": JsonText(compact_json(event))}
            for trial, events in batch.events.items()
            for n, event in events.items()
        ]
        self._wire = [
            {"trial_id": trial, "call": call, "request": raw.request, "answer": raw.answer}
            for trial, beside in batch.beside.items()
            for call, raw in beside.wire.items()
        ]
        self._requests = [
            {"trial_id": trial, "event": event, "body": JsonText(compact_json(body))}
            for trial, beside in batch.beside.items()
            for event, body in beside.requests.items()
        ]
        self._pieces = batch.pieces

    def are_few(self) -> bool:
        """Whether to keep them takes a few milliseconds, as what a short trial leaves does."""
        rows = [*self._events, *self._wire, *self._requests, *self._pieces]
        texts = (value for row in rows for value in row.values() if isinstance(value, str | bytes))
        return len(rows) <= FEW and sum(map(len, texts)) <= SMALL

    def keep(self, session: Session) -> None:
        """Keep them; of an event, this form from now on."""
        connection = session.connection()
        if self._events:
            connection.execute(_NEWER_EVENT, self._events)
        kept = ((Piece, self._pieces), (WireMessages, self._wire), (ModelRequest, self._requests))
        for table, rows in kept:
            if rows:
                connection.execute(_ADD[table], rows)


class Writer:
    """Takes events and other work, and commits them together, in order."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._due = _Batch()
        self._known_pieces: set[str] = set()
        self._first_at: dict[int, float] = {}
        """When something was first taken of each trial that goes on, by the monotonic clock."""
        self._with_rows: set[int] = set()
        """Trials of which a batch was committed while they went on."""
        self._failed: dict[Work, Exception] = {}
        """Work that failed by itself, until somebody asks."""
        self._turn = asyncio.Lock()
        self._task: asyncio.Task[None] | None = None
        self._unwaiting: Connection | None = None

    async def __aenter__(self) -> Writer:
        self._unwaiting = open_unwaiting(self._engine)
        self._task = asyncio.create_task(self._keep_on())
        return self

    async def __aexit__(self, *_: object) -> None:
        if self._task:
            self._task.cancel()
            with suppress(asyncio.CancelledError):
                await self._task
        try:
            await self.flush()
        finally:
            if self._unwaiting is not None:
                self._unwaiting.close()
                self._unwaiting = None

    def keep_event(self, trial: int, n: int, event: Event) -> None:
        """Keep an event, or its newer form."""
        self._note_trial(trial)
        # Made text once, when its batch is due.
        self._due.events.setdefault(trial, {})[n] = event

    def keep_wire(self, trial: int, call: str, request: str, answer: str) -> None:
        """Keep the raw messages of a call."""
        self._note_trial(trial)
        self._due.beside_of(trial).wire[call] = RawMessages(request, answer)

    def keep_piece(self, hashed: str, text: str) -> None:
        """Keep a piece of what models were shown, if it is not there yet."""
        if hashed in self._known_pieces:
            return
        if len(self._known_pieces) >= MOST_KNOWN:
            self._known_pieces.clear()
        self._known_pieces.add(hashed)
        self._due.pieces.append({"hash": hashed, "body": compress_piece(text)})

    def keep_model_request(self, trial: int, event: str, body: dict[str, Any]) -> None:
        """Keep a request to a model; its pieces are kept by themselves."""
        self._note_trial(trial)
        self._due.beside_of(trial).requests[event] = body

    def _note_trial(self, trial: int) -> None:
        self._first_at.setdefault(trial, time.monotonic())

    async def keep_result(
        self, trial: int, trace: Trace, result: Result, script: str, *, alone: bool = False
    ) -> None:
        """Keep a finished trial at once, with all that was kept of it while it went on; `alone`:
        without that.

        Raises:
            StoreError: the database did not take it.
        """
        # What is due needs no rows: the whole trace is here.
        self._due.events.pop(trial, None)
        due = self._due.beside.pop(trial, None) or BesideTrace()

        def keep(session: Session) -> None:
            beside = due
            if trial in self._with_rows:
                beside = gather_rows(session, trial)
                beside.wire |= due.wire
                beside.requests |= due.requests
            if alone:
                beside = BesideTrace()
            keep_result(session, trial, trace, result=result, script=script, beside=beside)

        self._due.large |= not holds_at_most(trace, SMALL)
        await self.do_now(keep)
        self._leave_trial(trial)

    async def forget(self, trial: int) -> None:
        """Forget at once what was kept of a trial while it went on.

        Raises:
            StoreError: the database did not take it.
        """
        self._due.events.pop(trial, None)
        self._due.beside.pop(trial, None)
        await self.do_now(lambda session: forget_rows(session, [trial]))
        self._leave_trial(trial)

    def _leave_trial(self, trial: int) -> None:
        self._with_rows.discard(trial)
        self._first_at.pop(trial, None)

    def do_later(self, work: Work) -> None:
        """Do something in the next batch, after the events so far."""
        self._due.work.append(work)

    async def do_now(self, work: Work) -> None:
        """Do something at once, after all that is due.

        Raises:
            StoreError: the database did not take it.
            Exception: what the work itself raised; nothing else is harmed.
        """
        self.do_later(work)
        await self._commit_due()
        failure = self._failed.pop(work, None)
        if failure is not None:
            raise failure

    async def flush(self) -> None:
        """Commit everything taken so far.

        Raises:
            StoreError: the database took none of it; it is kept for the next try.
        """
        self._first_at = dict.fromkeys(self._first_at, 0.0)
        await self._commit_due()

    async def _commit_due(self) -> None:
        """Commit what is due: everything but what young trials did."""
        async with self._turn:
            batch = self._due
            self._due = batch.take_out(self._young_trials())
            if batch.is_empty():
                return
            self._with_rows |= batch.trials()
            rows = _Rows(batch)
            try:
                is_small = not batch.large and len(batch.work) <= FEW and rows.are_few()
                if not (is_small and self._commit_at_once(rows, batch.work)):
                    await asyncio.to_thread(self._commit_all, rows, batch.work)
            except DatabaseError as error:
                batch.put_before(self._due)
                self._due = batch
                raise StoreError(explain_failure(error)) from None

    def _young_trials(self) -> list[int]:
        since = time.monotonic() - YOUNG_S
        return [trial for trial, at in self._first_at.items() if at > since]

    def _commit_at_once(self, rows: _Rows, work: list[Work]) -> bool:
        """Commit a small batch on the event loop, if nobody else writes and all goes well; whether
        it was.

        A thread takes several times as long: it and the loop hand the interpreter to each other
        at each statement and each message.
        """
        if self._unwaiting is None:
            return False
        try:
            self._commit_batch(rows, work, self._unwaiting)
        except Exception:
            return False  # whatever it is, a thread meets it again, and tells
        return True

    def _commit_all(self, rows: _Rows, work: list[Work]) -> None:
        """Commit a batch; if a piece of work in it fails by itself, the others without it."""
        try:
            self._commit_batch(rows, work)
        except DatabaseError:
            raise
        except Exception:
            # The events first: a fault in one trial's work must not cost another's events.
            self._commit_batch(rows, [])
            for one in work:
                try:
                    self._commit_batch(None, [one])
                except DatabaseError:
                    raise
                except Exception as error:
                    self._failed[one] = error

    def _commit_batch(
        self, rows: _Rows | None, work: list[Work], on: Connection | None = None
    ) -> None:
        with Session(on or self._engine) as session, session.begin():
            if rows:
                rows.keep(session)
            for one in work:
                one(session)

    async def _keep_on(self) -> None:
        moved_at = time.monotonic()
        while True:
            await asyncio.sleep(EVERY_S)
            if time.monotonic() - moved_at > MOVE_LOG_S:
                await asyncio.to_thread(move_log, self._engine)
                moved_at = time.monotonic()
            with suppress(StoreError):  # kept, and tried again; the end of a trial reports it
                await self._commit_due()
