"""The desk: servers kept at hand between requests, in a loop of their own.

Connections stay open while they are used, so that a server's state, its notifications and
a call that takes long are all there when the screen asks again.
"""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import Callable, Coroutine
from contextlib import AbstractAsyncContextManager, suppress
from dataclasses import dataclass
from pathlib import Path
from secrets import token_urlsafe
from typing import Any, TypeVar

from mcp_types import ElicitResult

from ferox.formats.server import ServerFile
from ferox.servers.by_hand.open_server import RUNNING, Hand, Try, at_hand
from ferox.workspace.modes import RECORDED

IDLE_S = 600.0
"""Seconds after which a connection that nobody used is closed."""
MOST_TRIES = 200
Given = TypeVar("Given")


class Busy(RuntimeError):
    """A call of this server is going on already."""


@dataclass
class _Open:
    """A connection, the file it was made from, and the task that keeps it."""

    stamp: tuple[Any, ...]
    hand: Hand
    over: asyncio.Event
    task: asyncio.Task[None]


class Desk:
    """Every server that is at hand in this process."""

    def __init__(self) -> None:
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._run, name="desk", daemon=True)
        self._thread.start()
        self._open: dict[tuple[str, str], _Open] = {}
        self._tries: dict[str, tuple[Try, Hand]] = {}
        self._lock: asyncio.Lock | None = None
        self._closing: list[Callable[[], Coroutine[Any, Any, None]]] = []

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        self._loop.call_later(IDLE_S / 10, self._reap)
        self._loop.run_forever()

    def run(self, work: Coroutine[Any, Any, Given]) -> Given:
        """Have work done in the desk's loop, from any thread."""
        return asyncio.run_coroutine_threadsafe(work, self._loop).result()

    def at_close(self, work: Callable[[], Coroutine[Any, Any, None]]) -> None:
        """Have something done before the desk closes."""
        self._closing.append(work)

    def keep(self, make: Callable[[], AbstractAsyncContextManager[None]]) -> None:
        """Enter a context, and keep it open as long as the desk is."""
        entered = asyncio.Event()

        async def hold() -> None:
            async with make():
                entered.set()
                await asyncio.Event().wait()

        async def begin() -> asyncio.Task[None]:
            task = asyncio.create_task(hold())
            waiting = asyncio.create_task(entered.wait())
            await asyncio.wait({task, waiting}, return_when=asyncio.FIRST_COMPLETED)
            waiting.cancel()
            return task

        task = self.run(begin())

        async def end() -> None:
            task.cancel()
            await asyncio.gather(task, return_exceptions=True)

        self.at_close(end)

    def close(self) -> None:
        """Close every connection and end the loop."""
        if self._thread.is_alive():
            for work in self._closing:
                self.run(work())
            self.run(self._close_all())
            self._loop.call_soon_threadsafe(self._loop.stop)
            self._thread.join(5)

    async def hand(self, server: ServerFile, way: str, folder: Path, afresh: bool = False) -> Hand:
        """The server at hand, connected anew if it must be or `afresh`.

        Raises:
            OutOfReach: a live server cannot be reached.
            RecordingError: the recording cannot be read.
        """
        self._lock = self._lock or asyncio.Lock()
        key, stamp = (server.server, way), _stamp(server, way, folder)
        async with self._lock:
            there = self._open.get(key)
            if there and (afresh or there.stamp != stamp or there.task.done()):
                await self._close(key)
                there = None
            if there is None:
                there = await self._connect(server, way, folder, stamp)
                self._open[key] = there
        return there.hand

    async def _connect(
        self, server: ServerFile, way: str, folder: Path, stamp: tuple[Any, ...]
    ) -> _Open:
        given: asyncio.Future[Hand] = self._loop.create_future()
        over = asyncio.Event()

        async def keep() -> None:
            try:
                async with at_hand(server, way, folder) as hand:
                    given.set_result(hand)
                    await over.wait()
            except BaseException as error:
                if given.done():
                    given.result().lost = str(error)
                else:
                    given.set_exception(error)

        task = asyncio.create_task(keep())
        return _Open(stamp, await given, over, task)

    async def _close(self, key: tuple[str, str]) -> None:
        there = self._open.pop(key)
        there.over.set()
        with suppress(asyncio.CancelledError, Exception):
            await asyncio.wait_for(there.task, 10)

    async def _close_all(self) -> None:
        for key in list(self._open):
            await self._close(key)

    def _reap(self) -> None:
        now = time.monotonic()
        for key, there in list(self._open.items()):
            if now - there.hand.used > IDLE_S and not there.hand.busy:
                self._loop.create_task(self._close(key))
        self._loop.call_later(IDLE_S / 10, self._reap)

    async def at_rest(self, server: str, way: str) -> Hand | None:
        """The server's connection if there is one; none is made."""
        there = self._open.get((server, way))
        return there.hand if there and not there.task.done() else None

    async def begin(
        self,
        server: ServerFile,
        way: str,
        folder: Path,
        tool: str,
        args: dict[str, Any],
        ended: Callable[[Try], object] | None = None,
    ) -> tuple[str, Try]:
        """Begin a call by hand; its number, by which it is asked for again. `ended` is told of
        it once it is over.

        Raises:
            Busy: another call of this server is going on.
            OutOfReach: a live server cannot be reached.
        """
        hand = await self.hand(server, way, folder)
        if hand.busy:
            raise Busy("another call of this server is going on; cancel it, or wait for it")
        tried = hand.begin(tool, args, ended)
        number = token_urlsafe(8)
        self._tries[number] = tried, hand
        while len(self._tries) > MOST_TRIES:
            self._tries.pop(next(iter(self._tries)))
        return number, tried

    async def wait(self, number: str, seen: int, most_s: float) -> Try | None:
        """A try once it is over or has changed since `seen`, or when the time is up."""
        found = self._tries.get(number)
        if found is None:
            return None
        tried = found[0]
        end = time.monotonic() + most_s
        while tried.state == RUNNING and tried.version == seen and time.monotonic() < end:
            with suppress(TimeoutError):
                await asyncio.wait_for(tried.changed.wait(), max(0.0, end - time.monotonic()))
        return tried

    async def cancel(self, number: str) -> Try | None:
        """Cancel a try that goes on."""
        found = self._tries.get(number)
        if found is None:
            return None
        tried, hand = found
        if tried.state == RUNNING:
            hand.cancel()
        return await self.wait(number, tried.version, 2.0)

    async def answer(self, number: str, action: str, content: dict[str, Any]) -> Try | None:
        """Answer the question that a try waits for."""
        found = self._tries.get(number)
        if found is None:
            return None
        question = found[0].question
        if question is not None and not question.answer.done():
            told = {"action": action, "content": content if action == "accept" else None}
            question.answer.set_result(ElicitResult.model_validate(told))
        return found[0]


def _stamp(server: ServerFile, way: str, folder: Path) -> tuple[Any, ...]:
    """What a connection depends on: another stamp, another connection."""
    played: tuple[int, ...] = ()
    if way == RECORDED and server.recording:
        with suppress(OSError):
            stat = (folder / server.recording).stat()
            played = (stat.st_mtime_ns, stat.st_size)
    return (server.model_dump_json(), *played)
