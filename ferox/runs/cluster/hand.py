"""A hand: what carries out a run's trials in one process of a cluster.

It is made by the first trial that the process is given, keeps the agents warm, and lives until the
run's worker lets it go or is not heard of any more.
"""

from __future__ import annotations

import asyncio
import logging
import threading
from contextlib import suppress
from pathlib import Path
from typing import Any
from uuid import uuid4

from distributed import Client, Queue, get_client, get_worker

from ferox.gateway.holding import HoldDecision, HoldRule
from ferox.processes.memory import keep_heap_small
from ferox.processes.starting import adopt_orphans
from ferox.runs.cluster.hand_keeper import EVERY_S, AskedTurns, HandKeeper, Outbox
from ferox.runs.cluster.letters import GONE, UnreadableLetter, read_letter
from ferox.runs.cluster.parcel import Parcel, has_parcel, open_parcel, unpack_parcel
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial_host import TrialHost
from ferox.runs.trial_order import TrialOrder
from ferox.workspace.vault import Vault, use_vault

SILENCE_S = 60.0
"""Seconds without a word of the run's worker after which a hand ends."""
END = b""
"""The letter by which a hand ends its own look for letters."""
ENDING_S = 10.0
"""Seconds that trials may take to end when the hand is let go."""
SEND_S = 120.0
"""Seconds that a letter may wait for room in the worker's inbox."""

logger = logging.getLogger("distributed.worker.ferox")
"""Among Dask's own lines, where those look who run the machine."""
_hands: dict[str, Hand] = {}
_making = threading.Lock()


def carry_out_trial(run: str, order: dict[str, Any]) -> str:
    """Carry out a trial in this process of the cluster: what Dask is given to do.

    `run` names the run among all that share the cluster. What comes of the trial has been sent when
    this returns; returns the name of the hand.
    """
    with _making:
        hand = _hands.get(run)
        if hand is None or hand.is_over:
            keep_heap_small()
            hand = _hands[run] = Hand(run, get_client(), get_worker().address)
    hand.carry_out(TrialOrder(**order))
    return hand.name


def inbox_name(run: str) -> str:
    """The queue of letters to a run's worker."""
    return f"{run}-worker"


class Hand:
    """Carries out trials of one run in this process, on a thread and an event loop of its own."""

    def __init__(self, run: str, client: Client, address: str) -> None:
        self.name = uuid4().hex[:12]
        self._run, self._address = run, address
        self._inbox = Queue(inbox_name(run), client=client)
        self._letters = Queue(f"{run}-{self.name}", client=client)
        self._ready = threading.Event()
        self._failure: BaseException | None = None
        self.is_over = False
        self._is_let_go = False
        threading.Thread(target=self._live, name=f"ferox {run}", daemon=True).start()

    def carry_out(self, order: TrialOrder) -> None:
        """Carry out a trial from another thread.

        Raises:
            Exception: the hand could not begin, or was let go.
        """
        self._ready.wait()
        if self._failure is not None:
            raise self._failure
        going = asyncio.run_coroutine_threadsafe(self._carry_out(order), self._loop)
        going.result()

    async def _carry_out(self, order: TrialOrder) -> None:
        use_vault(self._vault)  # called from another thread, which has a context of its own
        going = asyncio.ensure_future(self._host.carry_out(order))
        self._going[order.trial] = going
        try:
            await going
            if self._host.stop.is_set():
                # It may not have begun. Of one that ended before, nobody waits any more.
                self._outbox.put("left", order.trial)
                await self._outbox.send_now()
        except asyncio.CancelledError:
            if not going.cancelled():
                raise
        finally:
            if self._going.get(order.trial) is going:
                del self._going[order.trial]

    def _live(self) -> None:
        try:
            asyncio.run(self._main())
        except BaseException as error:
            logger.exception("hand %s of %s could not go on", self.name, self._run)
            self._failure = error
        finally:
            self.is_over = True
            self._failure = self._failure or RuntimeError("the run is over")
            self._ready.set()

    async def _main(self) -> None:
        self._loop = asyncio.get_running_loop()
        self._outbox = Outbox(self._send)
        self._going: dict[int, asyncio.Future[None]] = {}
        self._came: asyncio.Queue[bytes] = asyncio.Queue()
        listening = asyncio.create_task(self._listen())
        try:
            self._outbox.put("hello", self.name, self._address)
            await self._outbox.send_now()
            ((_, welcome),) = read_letter(await self._hear())
            folder, snapshot, self._vault = await self._fetch_workspace(welcome)
            use_vault(self._vault)
            self._keeper = HandKeeper(snapshot, self._outbox, self.name)
            self._take_rule(welcome["rule"])
            self._turns = AskedTurns(self._keeper, self._outbox)
            self._host = TrialHost(snapshot, welcome["seed"], folder, self._keeper, self._turns)
            async with self._host.serve():
                await self._live_on()
        finally:
            # Nothing else ends a look into a queue; and the thread that looks is waited for.
            with suppress(*GONE):
                await asyncio.to_thread(self._letters.put, END)
                await asyncio.wait([listening], timeout=ENDING_S)
                self._letters.close()
                self._outbox.put("gone", self.name)
                await self._outbox.send_now()
                self._inbox.close()
            listening.cancel()

    async def _live_on(self) -> None:
        """Take trials until the run's worker lets this hand go, or falls silent."""
        sending = asyncio.create_task(self._keep_sending())
        self._ready.set()
        try:
            while not self._is_let_go:
                letter = await self._hear()
                with suppress(UnreadableLetter):  # a parcel that another process had as well
                    for kind, *rest in read_letter(letter):
                        self._heed(kind, rest)
        except TimeoutError:
            pass
        finally:
            self._host.stop.set()
            if self._going:
                await asyncio.wait(list(self._going.values()), timeout=ENDING_S)
            sending.cancel()

    async def _send(self, letter: bytes) -> None:
        await asyncio.to_thread(self._inbox.put, letter, timeout=SEND_S)

    async def _listen(self) -> None:
        """Take letters as they come."""
        while True:
            try:
                letter = await asyncio.to_thread(self._letters.get)
            except GONE as error:
                logger.warning("no more letters to hand %s of %s: %s", self.name, self._run, error)
                letter = END
            self._came.put_nowait(letter)
            if letter == END:
                return

    async def _hear(self) -> bytes:
        """The next letter.

        Raises:
            TimeoutError: the run's worker was not heard of any more.
        """
        async with asyncio.timeout(SILENCE_S):
            letter = await self._came.get()
        if letter == END:
            raise TimeoutError("the cluster's scheduler was not heard of any more")
        return letter

    async def _fetch_workspace(self, welcome: dict[str, Any]) -> tuple[Path, Snapshot, Vault]:
        """The workspace here, the snapshot, and where secrets are from."""
        if welcome["folder"] is not None:  # a process of the very machine
            adopt_orphans()
            folder = Path(welcome["folder"])
            return folder, Snapshot.model_validate(welcome["snapshot"]), Vault(folder)
        hashed = welcome["parcel"]
        if not has_parcel(hashed):
            self._outbox.put("send parcel", self.name)
            await self._outbox.send_now()
            while not has_parcel(hashed):
                parcel = Parcel(hashed, await self._hear())
                if parcel.is_whole:  # else a letter that came between
                    await asyncio.to_thread(unpack_parcel, parcel)
        unpacked = await asyncio.to_thread(open_parcel, hashed)
        return unpacked.folder, unpacked.snapshot, unpacked.vault()

    async def _keep_sending(self) -> None:
        while True:
            await asyncio.sleep(EVERY_S)
            self._keeper.put_events()
            await self._outbox.send_now()

    def _heed(self, kind: str, rest: list[Any]) -> None:
        match kind, rest:
            case "rule", [rule]:
                self._take_rule(rule)
            case "decided", [ticket, do, value]:
                settle(self._keeper.decisions.get(ticket), HoldDecision(do, value))
            case "turn", [ticket]:
                settle(self._turns.given.get(ticket), None)
            case "drop", [trial]:
                if (going := self._going.get(trial)) is not None:
                    going.cancel()
            case "stop", []:
                self._host.stop.set()
            case "over", []:
                self._is_let_go = True

    def _take_rule(self, rule: dict[str, Any] | None) -> None:
        self._keeper.rule = HoldRule(**rule) if rule else None


def settle(future: asyncio.Future[Any] | None, value: Any) -> None:
    """Give a future its value, if anybody waits for it still."""
    if future is not None and not future.done():
        future.set_result(value)
