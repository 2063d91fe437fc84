"""Takes what comes of trials on a machine of a cluster, and sends it to the run's worker."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from itertools import count
from typing import Any

from ferox.core.masking import Masker
from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.formats.workspace import ModelSource
from ferox.gateway.holding import Hold, HoldDecision, HoldRule
from ferox.recordings.model_recording import ExchangeListener
from ferox.runs.captures import is_captured
from ferox.runs.cluster.letters import Note, write_letter
from ferox.runs.snapshot import Snapshot
from ferox.servers.connection.tap import Direction, LineListener
from ferox.servers.sources.source import Definition
from ferox.workspace.environment import known_secrets, secrets_of

EVERY_S = 0.5
"""Seconds between letters while trials go on; each goes through the scheduler."""

SendLetter = Callable[[bytes], Awaitable[None]]


class Outbox:
    """Collects notes, and sends them together, in order."""

    def __init__(self, send: SendLetter) -> None:
        self._send = send
        self._due: list[Note] = []
        self._turn = asyncio.Lock()

    def put(self, *note: Any) -> None:
        """Send a note with the next letter."""
        self._due.append(list(note))

    async def send_now(self) -> None:
        """Send all notes so far; when this returns, they have left this machine."""
        async with self._turn:
            if self._due:
                due, self._due = self._due, []
                await self._send(write_letter(due))


class HandKeeper:
    """Sends what comes of trials to the run's worker. `hand` is the name of this process there."""

    def __init__(self, snapshot: Snapshot, outbox: Outbox, hand: str) -> None:
        self._snapshot, self._outbox, self._hand = snapshot, outbox, hand
        self.rule: HoldRule | None = None
        """Which calls are held, as the worker last said."""
        self.decisions: dict[str, asyncio.Future[HoldDecision]] = {}
        """Held calls that wait, by their tickets."""
        self._tries: dict[int, str] = {}
        self._events: dict[int, dict[int, Event]] = {}
        self._known_pieces: set[str] = set()
        self._tickets = count(1)
        self._tried = count(1)
        self._sessions = count(1)

    def new_ticket(self) -> str:
        """A name for something that the worker is asked, its own among all hands."""
        return f"{self._hand}.{next(self._tickets)}"

    def put_events(self) -> None:
        """Have the events so far sent with the next letter."""
        for trial, events in self._events.items():
            for n, event in events.items():
                self._note(trial, "event", n, event)
        self._events.clear()

    def _note(self, trial: int, kind: str, *rest: Any) -> None:
        # The try tells what comes late of a trial that was given to another machine meanwhile.
        if (tried := self._tries.get(trial)) is not None:  # of one that ended nothing more is taken
            self._outbox.put(kind, trial, tried, *rest)

    def begin(self, trial: int, at: float) -> None:
        """A trial begins."""
        self._tries[trial] = f"{self._hand}#{next(self._tried)}"
        self._note(trial, "begin", at)

    def keep_event(self, trial: int, n: int, event: Event) -> None:
        """Keep an event, or its newer form."""
        # Sent with the next letter only: the trace of a trial that ends before has it.
        self._events.setdefault(trial, {})[n] = event

    def keep_wire(self, trial: int, call: str, request: str, answer: str) -> None:
        """Keep the raw messages of a call."""
        self._note(trial, "wire", call, request, answer)

    def keep_piece(self, hashed: str, text: str) -> None:
        """Keep a piece of what models were shown."""
        if hashed not in self._known_pieces:
            self._known_pieces.add(hashed)
            self._outbox.put("piece", hashed, text)

    def keep_model_request(self, trial: int, event: str, body: dict[str, Any]) -> None:
        """Keep a request to a model."""
        self._note(trial, "request", event, body)

    async def keep_result(self, trial: int, trace: Trace, result: Result, script: str) -> None:
        """Send a finished trial; when this returns, it has left this machine."""
        self._events.pop(trial, None)
        self._note(trial, "end", trace, result, script)
        del self._tries[trial]
        await self._outbox.send_now()

    def note_missing_server(self, server: str, reason: str) -> None:
        """A trial went without a server."""
        self._outbox.put("missing", server, reason)

    def line_listener(self, server: str, mode: str) -> LineListener | None:
        """Who is told of one trial's messages to and from a server; None if it is not live."""
        if not is_captured(self._snapshot.servers[server], mode):
            return None
        session = f"{self._hand}-{next(self._sessions)}"
        # Here, for the worker does not know this machine's secrets.
        masker = Masker(known_secrets())

        def note(dir: Direction, message: dict[str, Any]) -> None:
            self._outbox.put("line", server, mode, session, dir, masker.mask(message))

        return note

    def model_capture(self, model: str) -> ExchangeListener | None:
        """Who is told of what passes to and from a model; None if it is a stand-in."""
        source = self._snapshot.models[model]
        if source.stand_in:
            return None
        return _SentExchanges(self._outbox, model, Masker(secrets_of(source), names=False))

    def hold_of(self, trial: int) -> Hold:
        """Who may hold the calls of a trial."""
        return _AskedHold(self, self._outbox, trial)


class _SentExchanges:
    """Sends what passes to and from a model."""

    def __init__(self, outbox: Outbox, model: str, masker: Masker) -> None:
        self._outbox, self._model, self._masker = outbox, model, masker

    def note_exchange(
        self,
        path: str,
        request: dict[str, Any],
        status: int,
        answer: str,
        s: float,
        first_s: float | None,
    ) -> None:
        """Send one exchange, its credentials masked."""
        mask = self._masker.mask
        exchange = [path, mask(request), status, mask(answer), s, first_s]
        self._outbox.put("exchange", self._model, *exchange)


class _AskedHold:
    """Holds calls until the run's worker says what a person decided."""

    def __init__(self, keeper: HandKeeper, outbox: Outbox, trial: int) -> None:
        self._keeper, self._outbox, self._trial = keeper, outbox, trial

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Whether a call is to be held now."""
        rule = self._keeper.rule
        return rule is not None and rule.wants_call(address, tool, first)

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Wait until a person decides."""
        ticket = self._keeper.new_ticket()
        future: asyncio.Future[HoldDecision] = asyncio.get_running_loop().create_future()
        self._keeper.decisions[ticket] = future
        self._outbox.put("hold", self._trial, ticket, address, args)
        self._keeper.put_events()
        try:
            await self._outbox.send_now()
            return await future
        finally:
            del self._keeper.decisions[ticket]
            self._outbox.put("unhold", ticket)


class AskedTurns:
    """Turns at models that the run's worker gives, so that their limits hold over all machines."""

    def __init__(self, keeper: HandKeeper, outbox: Outbox) -> None:
        self._keeper, self._outbox = keeper, outbox
        self.given: dict[str, asyncio.Future[None]] = {}
        """Requests that wait for a turn, by their tickets."""

    @asynccontextmanager
    async def take_turn(self, name: str, source: ModelSource) -> AsyncIterator[None]:
        """Wait for a turn, and hold it until the answer is whole."""
        if not source.is_limited:
            yield
            return
        ticket = self._keeper.new_ticket()
        future = asyncio.get_running_loop().create_future()
        self.given[ticket] = future
        self._outbox.put("turn", name, ticket)
        try:
            await self._outbox.send_now()
            await future
            yield
        finally:
            del self.given[ticket]
            self._outbox.put("turned", ticket)
            await asyncio.shield(self._outbox.send_now())

    async def wait_out(self, seconds: float) -> None:
        """Wait as long as the model's endpoint asks for."""
        await asyncio.sleep(seconds)
