"""A connection kept open by a task of its own, so that its breaking cancels nobody else."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from typing import Generic, TypeVar

Held = TypeVar("Held")


class KeptConnection(Generic[Held]):
    """A context that another task enters and leaves; to be made in an event loop.

    The SDK's transports hold anyio cancel scopes, which only the task that entered them may
    leave; and a scope that breaks cancels the task that it is in, so it is in nobody else's.
    """

    def __init__(self, context: AbstractAsyncContextManager[Held]) -> None:
        self._context = context
        self._entered: asyncio.Future[Held] = asyncio.get_running_loop().create_future()
        self._over = asyncio.Event()
        self.broken: BaseException | None = None
        """What went wrong once it was entered, if anything did."""
        self._task = asyncio.create_task(self._keep())

    async def enter(self) -> Held:
        """What the context gives. What goes wrong on entering is raised here."""
        return await self._entered

    @property
    def is_over(self) -> bool:
        """Whether the context has been left."""
        return self._task.done()

    async def close(self) -> None:
        """Have the context left. What goes wrong then is `broken`."""
        self._over.set()
        if not self._entered.done() or self._entered.cancelled():
            self._task.cancel()  # whoever waited for it to be entered gave up
        await asyncio.gather(self._task, return_exceptions=True)

    async def _keep(self) -> None:
        try:
            async with self._context as held:
                if not self._entered.done():
                    self._entered.set_result(held)
                await self._over.wait()
        except BaseException as error:
            if self._entered.done():
                self.broken = error
            else:
                self._entered.set_exception(error)
            if isinstance(error, KeyboardInterrupt | SystemExit):
                raise


@asynccontextmanager
async def keep_open(context: AbstractAsyncContextManager[Held]) -> AsyncIterator[Held]:
    """What the context gives, entered and left in another task.

    What goes wrong on entering is raised here; what goes wrong in it later is not: the
    connection's own calls say so.
    """
    kept = KeptConnection(context)
    try:
        yield await kept.enter()
    finally:
        await kept.close()
