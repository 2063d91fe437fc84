"""A connection kept open by a task of its own, so that its breaking cancels nobody else."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, asynccontextmanager, suppress
from typing import TypeVar

Held = TypeVar("Held")


@asynccontextmanager
async def kept(context: AbstractAsyncContextManager[Held]) -> AsyncIterator[Held]:
    """What the context gives, entered and left in another task.

    What goes wrong on entering is raised here; what goes wrong in it later is not: the
    connection's own calls say so.
    """
    loop = asyncio.get_running_loop()
    given: asyncio.Future[Held] = loop.create_future()
    over = asyncio.Event()

    # The SDK's transports hold anyio cancel scopes, which only the task that entered them may
    # leave; and a scope that breaks cancels the task that it is in, so it is in nobody else's.
    async def keep() -> None:
        try:
            async with context as held:
                if not given.done():
                    given.set_result(held)
                await over.wait()
        except BaseException as error:
            if not given.done():
                given.set_exception(error)
            if isinstance(error, KeyboardInterrupt | SystemExit):
                raise

    task = asyncio.create_task(keep())
    try:
        yield await given
    finally:
        over.set()
        if not given.done():
            task.cancel()
        with suppress(asyncio.CancelledError, Exception):
            await task
