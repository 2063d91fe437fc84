"""A live server over standard input and output, as a transport of the SDK's kind.

A line that is not a message is handed on as an error, and none is kept beyond its limit.
"""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterator, Mapping, Sequence
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import Any

import anyio
from mcp.shared.message import SessionMessage

from ferox.processes.subprocess import OutputLine, Subprocess
from ferox.servers.connection.incoming import LARGEST_ANSWER, error_in_place, read_message

GRACE_S = 2.0
"""Seconds that a server has to end after its input was closed."""

Streams = tuple[Any, Any]
"""The SDK's pair of streams: messages from the server, messages to it."""


class NotAMessage(ValueError):
    """A line of a server that is not a message of the protocol."""


def _messages_of(line: OutputLine) -> Iterator[SessionMessage | Exception]:
    """What a line of the server says: usually one message, nothing if it is empty."""
    if line.whole is None:
        why = f"a message of {line.size:,} bytes, more than {LARGEST_ANSWER:,}"
        yield from _unusable_line(line.start, why)
    elif line.whole.strip():
        try:
            yield SessionMessage(read_message(line.whole))
        except ValueError as error:
            yield from _unusable_line(line.whole, str(error))


def _unusable_line(line: bytes, why: str) -> Iterator[SessionMessage | Exception]:
    """What stands for a line that cannot be used: a remark, and an error for who waits for it."""
    yield NotAMessage(why)
    error = error_in_place(line, why)
    if error is not None:
        yield SessionMessage(error)


@asynccontextmanager
async def start_server(
    command: Sequence[str], cwd: Path, env: Mapping[str, str]
) -> AsyncIterator[tuple[Subprocess, Streams]]:
    """Start a command with exactly this environment; the streams end when it does.

    Raises:
        OSError: it cannot be started.
    """
    process = await Subprocess.start(command, cwd, env, longest_line=LARGEST_ANSWER)
    into, read = anyio.create_memory_object_stream[SessionMessage | Exception](0)
    write, out = anyio.create_memory_object_stream[SessionMessage](0)

    async def reader() -> None:
        async with into:
            with suppress(anyio.BrokenResourceError, anyio.ClosedResourceError):
                while (line := await process.read_line()) is not None:
                    for message in _messages_of(line):
                        await into.send(message)

    async def writer() -> None:
        with suppress(ConnectionError, anyio.ClosedResourceError):
            async for message in out:
                text = message.message.model_dump_json(by_alias=True, exclude_unset=True)
                await process.write(text.encode())

    tasks = [asyncio.ensure_future(work) for work in (reader(), writer())]
    try:
        yield process, (read, write)
    finally:
        write.close()
        read.close()
        # Shielded: the command has to be ended even if whoever used it was cancelled.
        with anyio.CancelScope(shield=True):
            await process.end(GRACE_S)
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)
        into.close()
        out.close()
