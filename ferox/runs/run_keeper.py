"""Keeps what comes of a run's trials: in the database, and in captures beside it."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.recordings.model_recording import ModelCapture
from ferox.runs.captures import Captures
from ferox.runs.run_hold import RunHold, TrialHold
from ferox.runs.snapshot import Snapshot
from ferox.servers.connection.tap import LineListener
from ferox.store.database import Engine, Session
from ferox.store.trials import keep_loss, note_begin
from ferox.store.writer import Writer


class RunKeeper:
    """What a run's worker keeps, wherever its trials are carried out."""

    def __init__(self, engine: Engine, workspace: Path, run: int, snapshot: Snapshot) -> None:
        self._writer = Writer(engine)
        self._hold = RunHold(engine, run)
        self._keep = snapshot.keep
        self._captures = Captures(workspace, run, snapshot)
        self.lost: Counter[str] = Counter()
        """How many trials were lost with each machine of a cluster."""
        self.missing_servers: dict[str, tuple[int, str]] = {}
        """How many trials went without a server, and why the first did."""

    @asynccontextmanager
    async def keep(self) -> AsyncIterator[None]:
        """Write what is taken while the context is open."""
        async with self._writer:
            try:
                yield
            finally:
                self._captures.close()

    def read_hold_rule(self, session: Session) -> None:
        """Read again which calls are held."""
        self._hold.read_rule(session)

    @property
    def hold_rule(self) -> dict[str, str] | None:
        """Which calls are held; None: none are."""
        return vars(self._hold.rule) if self._hold.rule else None

    def begin(self, trial: int, at: float) -> None:
        """A trial begins."""
        self._writer.do_later(lambda session: note_begin(session, trial, at))

    def keep_event(self, trial: int, n: int, event: Event) -> None:
        """Keep an event, or its newer form."""
        self._writer.keep_event(trial, n, event)

    def keep_wire(self, trial: int, call: str, request: str, answer: str) -> None:
        """Keep the raw messages of a call."""
        self._writer.keep_wire(trial, call, request, answer)

    def keep_piece(self, hashed: str, text: str) -> None:
        """Keep a piece of what models were shown."""
        self._writer.keep_piece(hashed, text)

    def keep_model_request(self, trial: int, event: str, body: dict[str, Any]) -> None:
        """Keep a request to a model."""
        self._writer.keep_model_request(trial, event, body)

    async def keep_result(self, trial: int, trace: Trace, result: Result, script: str) -> None:
        """Keep a finished trial; when this returns, it is kept.

        Raises:
            StoreError: it cannot be kept.
        """
        alone = self._keep == "none" or (self._keep == "failing" and result["verdict"] == "pass")
        await self._writer.keep_result(trial, trace, result=result, script=script, alone=alone)

    async def forget(self, trial: int) -> None:
        """Forget what was kept of a trial that was lost while it went on."""
        await self._writer.forget(trial)

    def note_loss(self, trial: int, machine: str) -> None:
        """The machine that carried a trial out was lost meanwhile."""
        self.lost[machine] += 1
        at = time.time()
        self._writer.do_later(lambda session: keep_loss(session, trial, machine, at=at))

    def note_missing_server(self, server: str, reason: str) -> None:
        """A trial went without a server."""
        count, first = self.missing_servers.get(server, (0, reason))
        self.missing_servers[server] = count + 1, first

    def line_listener(self, server: str, mode: str) -> LineListener | None:
        """Who is told of one trial's messages to and from a server; None if it is not live."""
        return self._captures.line_listener(server, mode)

    def model_capture(self, model: str) -> ModelCapture | None:
        """Who takes what passes to and from a model; None if it is a stand-in."""
        return self._captures.model_capture(model)

    def hold_of(self, trial: int) -> TrialHold:
        """Who may hold the calls of a trial."""
        return self._hold.hold_of(trial)
