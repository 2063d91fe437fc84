"""A tap on a transport: every message both ways is heard, none is changed."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import AbstractAsyncContextManager, asynccontextmanager, suppress
from typing import Any, Literal

import anyio
from mcp.shared.message import SessionMessage

from ferox.servers.connection.stdio import Streams

Direction = Literal["to_server", "to_client"]
LineListener = Callable[[Direction, dict[str, Any]], None]
"""Told of each message, as JSON, before it is handed on."""


def as_json(message: SessionMessage) -> dict[str, Any]:
    """A message as it stands on the wire."""
    body: dict[str, Any] = message.message.model_dump(
        by_alias=True, mode="json", exclude_unset=True
    )
    return body


@asynccontextmanager
async def tap_streams(
    transport: AbstractAsyncContextManager[Streams], heard: LineListener
) -> AsyncIterator[Streams]:
    """The transport's streams, with `heard` told of what passes."""
    async with transport as (read, write):
        # Without room: nothing is read ahead, so a slow reader slows the sender, as without a tap.
        into, read_end = anyio.create_memory_object_stream[SessionMessage | Exception](0)
        write_end, out = anyio.create_memory_object_stream[SessionMessage](0)
        gone = (anyio.BrokenResourceError, anyio.ClosedResourceError)

        async def inward() -> None:
            async with into:
                with suppress(*gone):
                    async for message in read:
                        if isinstance(message, SessionMessage):
                            heard("to_client", as_json(message))
                        await into.send(message)

        async def outward() -> None:
            async with write:
                with suppress(*gone):
                    async for message in out:
                        heard("to_server", as_json(message))
                        await write.send(message)

        tasks = [asyncio.ensure_future(inward()), asyncio.ensure_future(outward())]
        try:
            yield read_end, write_end
        finally:
            for end in (read_end, write_end):
                end.close()
            # Shielded, for a connection that breaks cancels the task that has to tidy up after it.
            with anyio.CancelScope(shield=True):
                for task in tasks:
                    task.cancel()
                await asyncio.gather(*tasks, return_exceptions=True)
            into.close()
            out.close()
