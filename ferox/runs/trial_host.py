"""Where trials are carried out: the seams, links and scripts of one process."""

from __future__ import annotations

import asyncio
import time
import traceback
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import replace
from pathlib import Path
from typing import Protocol

from ferox.core.chance import draw
from ferox.core.json_values import brief_json
from ferox.core.masking import Masker
from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.gateway.holding import Hold
from ferox.gateway.model_seam.turns import ModelTurns
from ferox.recordings.model_recording import ExchangeListener
from ferox.runs.fork.behind_fork import open_fork
from ferox.runs.fork.fork_user import ForkUser
from ferox.runs.kept_requests import RequestKeeper, requests_to
from ferox.runs.linking import links_of, serve_links
from ferox.runs.scripted_user import ScriptedUser
from ferox.runs.snapshot import Snapshot, script_hash
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.runs.trial_order import TrialOrder
from ferox.runs.trial_seams import SeamTaps
from ferox.servers.connection.tap import LineListener
from ferox.store.database import StoreError


class TrialKeeper(RequestKeeper, Protocol):
    """Takes what comes of trials, and says what their run wants of them."""

    def begin(self, trial: int, at: float) -> None:
        """A trial begins."""

    def keep_event(self, trial: int, n: int, event: Event) -> None:
        """Keep an event, or its newer form."""

    def keep_wire(self, trial: int, call: str, request: str, answer: str) -> None:
        """Keep the raw messages of a call."""

    async def keep_result(self, trial: int, trace: Trace, result: Result, script: str) -> None:
        """Keep a finished trial; when this returns, it is kept.

        Raises:
            StoreError: it cannot be kept.
        """

    def note_missing_server(self, server: str, reason: str) -> None:
        """A trial went without a server."""

    def line_listener(self, server: str, mode: str) -> LineListener | None:
        """Who is told of one trial's messages to and from a server; None if it is not live."""

    def model_capture(self, model: str) -> ExchangeListener | None:
        """Who is told of what passes to and from a model; None if it is a stand-in."""

    def hold_of(self, trial: int) -> Hold | None:
        """Who may hold the calls of a trial."""


def trial_seed(run_seed: int, suite: str, task: str, agent: str, number: int) -> int:
    """A trial's own seed: the same whenever and beside whatever it runs, and for all arms of an
    agent (common random numbers), so that they meet the same luck."""
    return int(draw(run_seed, suite, task, agent, number) * 2**48)


def make_job(snapshot: Snapshot, run_seed: int, order: TrialOrder) -> TrialJob:
    """The trial of an order."""
    agent = snapshot.agent_name(order.agent)
    seed = trial_seed(run_seed, order.suite, order.task, agent=agent, number=order.number)
    return TrialJob(
        snapshot, order.suite, order.task, agent=order.agent, number=order.number, seed=seed
    )


class TrialJudge:
    """Judges the finished trials of a run."""

    def __init__(self, snapshot: Snapshot) -> None:
        self._snapshot = snapshot
        self._scripts: dict[tuple[str, str, str], tuple[Script, str]] = {}

    def judge(self, order: TrialOrder, trace: Trace) -> tuple[Result, str]:
        """A trial's result, and the hash of the script that gave it."""
        script, hashed = self._compiled_script(order)
        return score_trial(script, trace), hashed

    def _compiled_script(self, order: TrialOrder) -> tuple[Script, str]:
        """A task's compiled script and its hash, made once for all its trials. The hash is the
        same for all arms: what they are held against is, and only their faults may differ."""
        key = (order.suite, order.task, order.agent)
        if key not in self._scripts:
            met = self._snapshot.of_arm(order.agent).script_of(order.suite, order.task)
            own = self._snapshot.script_of(order.suite, order.task)
            self._scripts[key] = compile_script(*met), script_hash(*own)
        return self._scripts[key]


class TrialHost:
    """Carries out trials of a run in this process. `folder` is the workspace."""

    def __init__(
        self, snapshot: Snapshot, seed: int, folder: Path, keeper: TrialKeeper, turns: ModelTurns
    ) -> None:
        self._snapshot, self._seed, self._folder = snapshot, seed, folder
        self._keeper, self._turns = keeper, turns
        self.stop = asyncio.Event()
        """Set to end all trials at once."""
        self._masker = Masker(snapshot.secret_values(), names=False)
        self._judge = TrialJudge(snapshot)
        self._links = links_of(snapshot, folder)

    @asynccontextmanager
    async def serve(self) -> AsyncIterator[None]:
        """Take trials while the context is open; then the agents are shut down."""
        links = self._links.values()
        async with serve_links(links, self._snapshot, self._folder) as self._gateway:
            yield

    async def carry_out(self, order: TrialOrder) -> None:
        """Carry out a trial, and judge and keep it; one that Stop kept from beginning goes on
        waiting.

        Raises:
            StoreError: it cannot be kept.
        """
        link = self._links[order.agent]
        async with link.hold_place():
            # Waiting for a place may take minutes, and Stop may have come meanwhile.
            if self.stop.is_set():
                return
            self._keeper.begin(order.trial, time.time())
            running = self._make_run(order)
            if order.unprepared is not None:
                await self._keep(order, running.failed_trace(order.unprepared))
                return
            try:
                await self._keep(order, await running.carry_out())
            # Without the database no trial can be kept: the whole run ends.
            except (StoreError, asyncio.CancelledError):
                raise
            except Exception as error:  # a fault in one trial never ends another
                traceback.print_exc()
                reason = f"Ferox itself failed: {type(error).__name__}: "
                reason += brief_json(str(error), 300)
                await self._keep(order, running.failed_trace(reason))

    def _make_run(self, order: TrialOrder) -> TrialRun:
        keeper, trial = self._keeper, order.trial
        job = make_job(self._snapshot, self._seed, order)
        met = self._snapshot.of_arm(order.agent)
        suite = met.suites[order.suite]
        keeps_none = self._snapshot.keep == "none"
        taps = SeamTaps(
            capture=lambda server: keeper.line_listener(server, suite.servers[server]),
            model_capture=keeper.model_capture,
            wire=None if keeps_none else lambda *messages: keeper.keep_wire(trial, *messages),
            requests=None if keeps_none else requests_to(keeper, trial, self._masker),
        )
        fork = None
        if self._snapshot.fork is not None:
            # Its past comes about by the parent's chance; what follows has chance of its own.
            fork = open_fork(self._snapshot.fork, order, job.seed, self._masker)
            job = replace(job, seed=self._snapshot.fork.seed)
        surroundings = TrialSurroundings(
            gateway=self._gateway,
            link=self._links[order.agent],
            folder=self._folder,
            listener=lambda n, event: keeper.keep_event(trial, n, event),
            stop=self.stop,
            taps=taps,
            prepared=order.prepared,
            note_missing_server=keeper.note_missing_server,
            turns=self._turns,
            behind=fork,
        )
        task = met.find_task(order.suite, order.task)
        script = ScriptedUser(task, keeper.hold_of(trial), met.clock_of(suite))
        if fork is None:
            return TrialRun(job, surroundings, script)
        running = TrialRun(job, surroundings, ForkUser(script, fork))
        fork.use_recorder(running.recorder)
        return running

    async def _keep(self, order: TrialOrder, trace: Trace) -> None:
        """Judge a finished trial and keep it. Judging may be long work, so others go on."""
        result, hashed = await asyncio.to_thread(self._judge.judge, order, trace)
        await self._keeper.keep_result(order.trial, trace, result=result, script=hashed)
