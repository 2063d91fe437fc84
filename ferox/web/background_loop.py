"""An event loop in a thread of its own, for what lives longer than a request."""

from __future__ import annotations

import asyncio
import threading
from collections.abc import Callable, Coroutine
from concurrent.futures import Future
from contextlib import AbstractAsyncContextManager
from typing import Any, TypeVar

Result = TypeVar("Result")
ENDING_S = 5.0


class BackgroundLoop:
    """Runs coroutines for the threads that answer requests."""

    def __init__(self) -> None:
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._run_forever, name="background", daemon=True)
        self._thread.start()
        self._at_close: list[Callable[[], Coroutine[Any, Any, None]]] = []

    def _run_forever(self) -> None:
        asyncio.set_event_loop(self._loop)
        self._loop.run_forever()

    def submit(self, work: Coroutine[Any, Any, Result]) -> Future[Result]:
        """Begin work from any thread. It runs in the caller's context, and so sees its `site`."""
        return asyncio.run_coroutine_threadsafe(work, self._loop)

    def run(self, work: Coroutine[Any, Any, Result]) -> Result:
        """Have work done, and wait for it."""
        return self.submit(work).result()

    def at_close(self, work: Callable[[], Coroutine[Any, Any, None]]) -> None:
        """Have something done before the loop is closed."""
        self._at_close.append(work)

    def keep_open(self, make: Callable[[], AbstractAsyncContextManager[None]]) -> None:
        """Enter a context, and keep it open until the loop is closed."""
        entered = asyncio.Event()

        async def hold() -> None:
            async with make():
                entered.set()
                await asyncio.Event().wait()

        async def begin() -> asyncio.Task[None]:
            task = asyncio.create_task(hold())
            # A context that fails to enter ends its task, and never sets the event.
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
        """Do what is to be done at the close, and end the loop."""
        if self._thread.is_alive():
            for work in self._at_close:
                self.run(work())
            self._loop.call_soon_threadsafe(self._loop.stop)
            self._thread.join(ENDING_S)
            if not self._thread.is_alive():
                self._loop.close()
