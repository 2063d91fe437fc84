"""A cluster as the crew of a run: sends trials to its machines, and keeps what comes of them.

Every trial is kept exactly once. A machine that is lost takes its trials with it: Dask gives them
to another, what had come of them is forgotten, and what still comes of the lost try is dropped.
"""

from __future__ import annotations

import asyncio
import time
from collections.abc import AsyncIterator, Awaitable
from contextlib import AsyncExitStack, asynccontextmanager, suppress
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any
from uuid import uuid4

from distributed import Client, Future, KilledWorker, Queue

from ferox.core.naming import counted_noun
from ferox.formats.trace import end_of
from ferox.gateway.model_seam.turns import OwnTurns
from ferox.runs.cluster.address import ClusterError, is_local
from ferox.runs.cluster.connecting import Machine, list_machines, open_cluster
from ferox.runs.cluster.hand import carry_out_trial, inbox_name, settle
from ferox.runs.cluster.letters import GONE, Note, UnreadableLetter, read_letter, write_letter
from ferox.runs.cluster.parcel import Parcel, make_parcel
from ferox.runs.cluster.places import PlacesTaken, needed_resources, offered_resources
from ferox.runs.run_keeper import RunKeeper
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial import failed_trace
from ferox.runs.trial_host import TrialJudge, make_job
from ferox.runs.trial_order import TrialOrder
from ferox.servers.connection.tap import LineListener

MOST_LETTERS = 200
"""Letters that wait in the worker's inbox before the hands wait with theirs."""
LOOK_EVERY_S = 1.0
"""Seconds between looks at the machines, in which their number may change."""
WORD_EVERY_S = 10.0
"""Seconds between words to the hands, by which they know that the run goes on."""
NOBODY_S = 60.0
"""Seconds without any machine after which the run ends, and can be resumed."""
STOP_S = 15.0
"""Seconds that trials may take to end when the run is stopped."""
A_MACHINE = "a machine of the cluster"
"""What is said where a trial did not begin, so that nobody knows on which."""
MOST_AT_ONCE = 256
"""Trials that are given out at once unless the run says how many."""


@dataclass
class _Given:
    """A trial that was given to the cluster. `tried` is the try that goes on, on `machine`."""

    order: TrialOrder
    kept: asyncio.Future[None]
    tried: str | None = None
    machine: str | None = None
    lost: list[str] = field(default_factory=list)
    work: Future[str] | None = None


@dataclass
class _HandAtWork:
    """A hand that said hello: its machine's address, and the queue of letters to it."""

    machine: str
    letters: Queue
    turns: dict[str, asyncio.Event] = field(default_factory=dict)
    """What ends the turns at models that it holds or waits for, by ticket."""
    held: dict[str, asyncio.Task[None]] = field(default_factory=dict)
    """Calls that a person is asked about, by ticket."""


class ClusterCrew:
    """The machines of a cluster. `at_once`: trials at the most, 0: as many as it takes."""

    def __init__(
        self,
        on: str,
        at_once: int,
        snapshot: Snapshot,
        *,
        seed: int,
        folder: Path,
        keeper: RunKeeper,
        turns: OwnTurns,
    ) -> None:
        self._on, self._at_once, self._is_local = on, at_once, is_local(on)
        self.places = MOST_AT_ONCE if self._is_local else at_once or MOST_AT_ONCE
        self._snapshot, self._seed, self._folder = snapshot, seed, folder
        self._keeper, self._turns = keeper, turns
        self._judge = TrialJudge(snapshot)
        self._run = f"ferox-{uuid4().hex[:12]}"
        self._given: dict[int, _Given] = {}
        self._hands: dict[str, _HandAtWork] = {}
        self._machines: dict[str, Machine] = {}
        self._places_taken = PlacesTaken()
        self._sessions: dict[str, LineListener | None] = {}
        self._started: set[asyncio.Task[None]] = set()
        self._stopped = False
        self._failure: BaseException | None = None
        self._parcel: Parcel | None = None

    @asynccontextmanager
    async def serve(self) -> AsyncIterator[None]:
        """Reach the cluster, and take trials while the context is open.

        Raises:
            ClusterError: it cannot be reached, or no machine is left.
        """
        if not self._is_local:
            self._parcel = await asyncio.to_thread(make_parcel, self._snapshot, self._folder)
        async with AsyncExitStack() as stack:
            self._client: Client = await stack.enter_async_context(
                open_cluster(self._on, self._at_once)
            )
            self._inbox = await Queue(
                inbox_name(self._run), client=self._client, maxsize=MOST_LETTERS
            )
            works = (self._receive, self._watch_machines, self._keep_talking)
            tasks = [asyncio.create_task(self._watched(work())) for work in works]
            try:
                yield
            finally:
                with suppress(*GONE):
                    await self._let_go()
                for task in tasks:
                    task.cancel()
                await asyncio.gather(*tasks, return_exceptions=True)
                with suppress(*GONE):
                    self._inbox.close()

    async def _let_go(self) -> None:
        """Have the hands end their agents, and wait until they are gone."""
        await self._tell_all("over")
        with suppress(TimeoutError):
            async with asyncio.timeout(STOP_S):
                while self._hands and self._failure is None:
                    await asyncio.sleep(0.05)

    async def _watched(self, work: Awaitable[None]) -> None:
        """Have the run end with an error if this work does."""
        try:
            await work
        except GONE as error:
            self._fail(ClusterError(f"the scheduler at {self._on} is gone ({error})"))
        except Exception as error:
            self._fail(error)

    def _fail(self, error: BaseException) -> None:
        self._failure = self._failure or error
        for given in self._given.values():
            if not given.kept.done():
                given.kept.set_exception(self._failure)
        self._places_taken.fail(self._failure)

    # Trials.

    async def carry_out(self, order: TrialOrder) -> None:
        """Have a trial carried out, and keep it; one that Stop kept from beginning goes on waiting.

        Raises:
            StoreError: it cannot be kept.
            ClusterError: the cluster is gone.
        """
        async with self._places_taken.take():
            if self._stopped:
                return
            given = _Given(order, asyncio.get_running_loop().create_future())
            self._given[order.trial] = given
            try:
                missing = await self._missing_resources(order)
                if missing:
                    await self._give_up(given, missing)
                elif not self._stopped:
                    self._send(given)
                else:
                    return
                await given.kept
            finally:
                del self._given[order.trial]
                if given.work is not None:
                    given.work.release()

    def _resources(self, order: TrialOrder) -> dict[str, float]:
        machines = self._machines.values()
        return needed_resources(self._snapshot, order, machines, self._is_local)

    async def _missing_resources(self, order: TrialOrder) -> str | None:
        """Why no machine takes a trial, though one that does was waited for; None if one does."""
        since = time.monotonic()
        while True:
            lacking = self._resources(order).keys() - offered_resources(self._machines.values())
            if not lacking or self._stopped:
                return None
            if time.monotonic() - since > NOBODY_S:
                name = min(lacking)
                return (
                    f"no machine of {self._on} says that it has {name}: start one there with "
                    f'`dask worker … --resources "{name}=1"`'
                )
            await asyncio.sleep(LOOK_EVERY_S)

    def _send(self, given: _Given) -> None:
        order, where = given.order, self._resources(given.order)
        given.work = self._client.submit(
            carry_out_trial,
            self._run,
            asdict(order),
            key=f"{self._run}-{order.trial}-{len(given.lost)}",
            pure=False,
            resources=where or None,
        )
        loop = asyncio.get_running_loop()
        given.work.add_done_callback(
            lambda work: loop.call_soon_threadsafe(self._note_over, given, work)
        )

    def _note_over(self, given: _Given, work: Future[str]) -> None:
        """What Dask was given is over: what came of it was sent before, unless that failed."""
        if work.status == "error" and not given.kept.done():
            self._start(self._explain_failure(given, work))

    async def _explain_failure(self, given: _Given, work: Future[str]) -> None:
        error = await work.exception()
        if isinstance(error, KilledWorker):
            await self._give_up(given, self._words_on_losses(given))
            return
        await self._note_loss(given, f"{type(error).__name__}: {error}")
        self._send_again(given)

    async def _take_back(self, given: _Given) -> None:
        """A hand ended without carrying a trial out: the run is stopped, or it lost its way."""
        if self._stopped:
            settle(given.kept, None)
            return
        await self._note_loss(given)
        self._send_again(given)

    def _send_again(self, given: _Given) -> None:
        if not given.kept.done() and not self._stopped:
            if given.work is not None:
                given.work.release()
            self._send(given)

    async def _give_up(self, given: _Given, reason: str) -> None:
        """Keep a trial that could not be carried out."""
        if given.kept.done():
            return
        given.tried = None
        trace = failed_trace(make_job(self._snapshot, self._seed, given.order), reason)
        await self._keep(given, trace, *self._judge.judge(given.order, trace))

    async def _keep(self, given: _Given, trace: Any, result: Any, script: str) -> None:
        try:
            await self._keeper.keep_result(given.order.trial, trace, result=result, script=script)
        except Exception as error:
            if not given.kept.done():
                given.kept.set_exception(error)
        else:
            settle(given.kept, None)

    def _words_on_losses(self, given: _Given, why: str = "") -> str:
        words = f"lost {counted_noun(len(given.lost), 'time')}, on {', '.join(given.lost)}"
        return f"{words}: {why}" if why else words

    async def _note_loss(self, given: _Given, why: str = "") -> None:
        """The machine of a trial was lost while the trial went on, or could not go on with it."""
        machine, given.tried, given.machine = given.machine or A_MACHINE, None, None
        given.lost.append(machine)
        self._keeper.note_loss(given.order.trial, machine)
        await self._keeper.forget(given.order.trial)
        if len(given.lost) > self._snapshot.retries:
            if given.work is not None:
                await given.work.cancel(force=True)
            await self._give_up(given, self._words_on_losses(given, why))

    # Letters.

    async def _receive(self) -> None:
        while True:
            letter = await self._inbox.get()
            with suppress(UnreadableLetter):
                for note in read_letter(letter):
                    await self._heed(note)

    async def _heed(self, note: Note) -> None:
        match note:
            case ["hello", str(hand), str(machine)]:
                await self._welcome(hand, machine)
            case ["gone", str(hand)]:
                if (gone := self._hands.pop(hand, None)) is not None:
                    gone.letters.close()
            case ["send parcel", str(hand)] if self._parcel and hand in self._hands:
                await self._hands[hand].letters.put(self._parcel.packed)
            case ["begin", int(trial), str(tried), float(at)]:
                await self._begin(trial, tried, at)
            case ["left", int(trial)]:
                if (given := self._given.get(trial)) and not given.kept.done():
                    await self._take_back(given)
            case ["piece", str(hashed), str(text)]:
                self._keeper.keep_piece(hashed, text)
            case ["missing", str(server), str(reason)]:
                self._keeper.note_missing_server(server, reason)
            case ["line", str(server), str(mode), str(session), dir, message]:
                self._note_line(server, mode, session, dir=dir, message=message)
            case ["exchange", str(model), *exchange]:
                capture = self._keeper.model_capture(model)
                if capture is not None:
                    capture.note_exchange(*exchange)
            case ["hold", int(trial), str(ticket), str(address), dict(args)]:
                self._hold(trial, ticket, address, args)
            case ["unhold", str(ticket)]:
                self._end_hold(ticket)
            case ["turn", str(model), str(ticket)]:
                self._start(self._give_turn(model, ticket))
            case ["turned", str(ticket)]:
                self._end_turn(ticket)
            case [str(kind), int(trial), str(tried), *rest]:
                given = self._given.get(trial)
                if given is not None and given.tried == tried:
                    await self._heed_trial(kind, given, rest)

    async def _heed_trial(self, kind: str, given: _Given, rest: list[Any]) -> None:
        trial = given.order.trial
        match kind, rest:
            case "event", [int(n), dict(event)]:
                self._keeper.keep_event(trial, n, event)  # type: ignore[arg-type]
            case "wire", [str(call), str(request), str(answer)]:
                self._keeper.keep_wire(trial, call, request, answer)
            case "request", [str(event), dict(body)]:
                self._keeper.keep_model_request(trial, event, body)
            case "end", [dict(trace), dict(result), str(script)]:
                if end_of(trace)["why"] == "stopped" and not self._stopped:  # type: ignore[arg-type]
                    return  # its hand ends, and says next that it was left
                given.tried = None
                # Apart, so that letters are read while it is written.
                self._start(self._keep(given, trace, result, script))

    async def _begin(self, trial: int, tried: str, at: float) -> None:
        hand = self._hands.get(tried.partition("#")[0])
        given = self._given.get(trial)
        if given is None or hand is None or given.kept.done():
            # It was kept already: Dask did again what it had lost.
            if hand is not None:
                await _tell(hand, ["drop", trial])
            return
        if given.tried is not None:
            await self._note_loss(given)
            if given.kept.done():
                await _tell(hand, ["drop", trial])
                return
        given.tried, given.machine = tried, hand.machine
        self._keeper.begin(trial, at)

    async def _welcome(self, hand: str, machine: str) -> None:
        letters = await Queue(f"{self._run}-{hand}", client=self._client)
        self._hands[hand] = _HandAtWork(machine, letters)
        welcome = {
            "seed": self._seed,
            "rule": self._keeper.hold_rule,
            "folder": str(self._folder.absolute()) if self._is_local else None,
            "snapshot": self._snapshot.document() if self._is_local else None,
            "parcel": self._parcel.hash if self._parcel else None,
        }
        await _tell(self._hands[hand], ["welcome", welcome])
        if self._stopped:
            await _tell(self._hands[hand], ["stop"])

    def _note_line(self, server: str, mode: str, session: str, *, dir: Any, message: Any) -> None:
        if session not in self._sessions:
            self._sessions[session] = self._keeper.line_listener(server, mode)
        listener = self._sessions[session]
        if listener is not None:
            listener(dir, message)

    # Holds, and turns at models.

    def _hold(self, trial: int, ticket: str, address: str, args: dict[str, Any]) -> None:
        hand = self._hand_of(ticket)
        if hand is None:
            return

        async def ask() -> None:
            found = await self._keeper.hold_of(trial).wait_for_decision(address, args)
            await _tell(hand, ["decided", ticket, found.do, found.value])

        hand.held[ticket] = self._start(ask())

    def _end_hold(self, ticket: str) -> None:
        hand = self._hand_of(ticket)
        if hand is not None and (task := hand.held.pop(ticket, None)) is not None:
            task.cancel()

    async def _give_turn(self, model: str, ticket: str) -> None:
        hand, source = self._hand_of(ticket), self._snapshot.models.get(model)
        if hand is None or source is None:
            return
        over = hand.turns[ticket] = asyncio.Event()
        async with self._turns.take_turn(model, source):
            if not over.is_set():
                await _tell(hand, ["turn", ticket])
                await over.wait()

    def _end_turn(self, ticket: str) -> None:
        hand = self._hand_of(ticket)
        if hand is not None and (over := hand.turns.pop(ticket, None)) is not None:
            over.set()

    def _hand_of(self, ticket: str) -> _HandAtWork | None:
        return self._hands.get(ticket.partition(".")[0])

    # Machines.

    async def _watch_machines(self) -> None:
        seen_at = time.monotonic()
        while True:
            machines = {m.address: m for m in await list_machines(self._client)}
            gone = self._machines.keys() - machines.keys()
            self._machines = machines
            if gone:
                await self._note_gone(gone)
            if machines:
                seen_at = time.monotonic()
            elif time.monotonic() - seen_at > NOBODY_S:
                raise ClusterError(
                    f"no machine is left at {self._on}: start some with `dask worker {self._on}`"
                )
            # One more for each, so that none waits for its next trial.
            most = sum(m.threads + 1 for m in machines.values())
            # A local cluster has as many threads as trials may go on at once.
            limit = None if self._is_local else self._at_once
            self._places_taken.set_size(min(most, limit or most))
            await asyncio.sleep(LOOK_EVERY_S)

    async def _note_gone(self, gone: set[str]) -> None:
        for name, hand in list(self._hands.items()):
            if hand.machine in gone:
                del self._hands[name]
                for over in hand.turns.values():
                    over.set()
                for task in hand.held.values():
                    task.cancel()
        for given in list(self._given.values()):
            if given.machine in gone and given.tried is not None:
                await self._note_loss(given)

    async def _keep_talking(self) -> None:
        """Tell the hands what is held, whenever it changes, and that the run goes on."""
        known, spoke_at = self._keeper.hold_rule, time.monotonic()
        while True:
            await asyncio.sleep(LOOK_EVERY_S / 2)
            rule = self._keeper.hold_rule
            if rule != known or time.monotonic() - spoke_at > WORD_EVERY_S:
                known, spoke_at = rule, time.monotonic()
                await self._tell_all("rule", rule)

    async def _tell_all(self, *note: Any) -> None:
        for hand in list(self._hands.values()):
            await _tell(hand, list(note))

    async def stop(self) -> None:
        """End all trials at once."""
        self._stopped = True
        self._places_taken.set_size(self.places)  # those who wait go home
        with suppress(*GONE):
            await self._tell_all("stop")
        waiting = [given.kept for given in self._given.values() if not given.kept.done()]
        if waiting:
            await asyncio.wait(waiting, timeout=STOP_S)
        for given in list(self._given.values()):
            settle(given.kept, None)

    def _start(self, work: Awaitable[None]) -> asyncio.Task[None]:
        task: asyncio.Task[None] = asyncio.create_task(self._watched(work))
        # Held here: asyncio itself forgets a task that nobody holds.
        self._started.add(task)
        task.add_done_callback(self._started.discard)
        return task


async def _tell(hand: _HandAtWork, note: Note) -> None:
    await hand.letters.put(write_letter([note]))
