"""A live server over standard input and output, as a transport of the SDK's kind.

A watchman stands above the process, so that whatever it starts ends with it; a line
that is no message is handed on as an error, and none is kept beyond its limit.
"""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator, Iterator, Mapping, Sequence
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import Any

import anyio
from mcp.shared.message import SessionMessage

from ferox.processes.starting import ask_to_end, end_watched, gone, start_watched
from ferox.servers.connection.incoming import HEAD, LARGEST_ANSWER, error_in_place, read_message

LOG_LINES = 200
LAST_WORDS_S = 0.5
"""Seconds that what a server wrote may take to arrive once it is gone."""
GRACE_S = 2.0
"""Seconds that a server has to end after its input was closed."""

Streams = tuple[Any, Any]
"""The SDK's pair of streams: messages from the server, messages to it."""


class NotAMessage(ValueError):
    """A line of a server that is no message of the protocol."""


class ServerProcess:
    """A started server and the last lines of its log."""

    def __init__(self, process: asyncio.subprocess.Process) -> None:
        self.process = process
        self.log: deque[str] = deque(maxlen=LOG_LINES)

    def last_lines(self, count: int = 6) -> str:
        """The last lines of the log that say something."""
        lines = [line.strip() for line in self.log if line.strip()]
        return " | ".join(lines[-count:])

    async def read_log(self) -> None:
        """Keep the last lines of standard error."""
        assert self.process.stderr
        rest = b""
        while chunk := await self.process.stderr.read(65536):
            *lines, rest = (rest + chunk).split(b"\n")
            rest = rest[-4096:]
            self.log.extend(line[-2000:].decode(errors="replace") for line in lines)
        if rest:
            self.log.append(rest.decode(errors="replace"))

    async def messages(self) -> AsyncIterator[SessionMessage | Exception]:
        """What the server writes, a line at a time, until it ends."""
        assert self.process.stdout
        parts: list[bytes] = []
        head, size = b"", 0
        while chunk := await self.process.stdout.read(262144):
            *lines, rest = chunk.split(b"\n")
            for line in lines:
                whole = b"".join([*parts, line])
                total, start = size + len(line), head or whole[:HEAD]
                parts, head, size = [], b"", 0
                if total > LARGEST_ANSWER:
                    why = f"a message of {total:,} bytes, more than {LARGEST_ANSWER:,}"
                    for message in _unusable(start, why):
                        yield message
                elif whole.strip():
                    for message in _messages(whole):
                        yield message
            head = head or (b"".join(parts) + rest)[:HEAD]
            size += len(rest)
            parts = [*parts, rest] if size <= LARGEST_ANSWER else []

    async def end(self) -> None:
        """Close the server's input, give it a moment, and end all that it started."""
        if self.process.stdin:
            self.process.stdin.close()
        with suppress(TimeoutError):
            await asyncio.wait_for(gone(self.process), GRACE_S)
        if self.process.returncode is None:
            ask_to_end(self.process)
            with suppress(TimeoutError):
                await asyncio.wait_for(gone(self.process), GRACE_S)
        await end_watched(self.process)


def _messages(line: bytes) -> Iterator[SessionMessage | Exception]:
    try:
        yield SessionMessage(read_message(line))
    except ValueError as error:
        yield from _unusable(line, str(error))


def _unusable(line: bytes, why: str) -> Iterator[SessionMessage | Exception]:
    """What stands for a line that cannot be used: a remark, and an error for who waits for it."""
    yield NotAMessage(why)
    error = error_in_place(line, why)
    if error is not None:
        yield SessionMessage(error)


@asynccontextmanager
async def started(
    command: Sequence[str], cwd: Path, env: Mapping[str, str]
) -> AsyncIterator[tuple[ServerProcess, Streams]]:
    """Start a command with exactly this environment; the streams end when it does.

    Raises:
        OSError: it cannot be started.
    """
    child = await start_watched(command, cwd, env)
    process = ServerProcess(child)
    into, read = anyio.create_memory_object_stream[SessionMessage | Exception](0)
    write, out = anyio.create_memory_object_stream[SessionMessage](0)

    async def reader() -> None:
        async with into:
            with suppress(anyio.BrokenResourceError, anyio.ClosedResourceError):
                async for message in process.messages():
                    await into.send(message)

    async def writer() -> None:
        assert child.stdin
        with suppress(ConnectionError, RuntimeError, anyio.ClosedResourceError):
            async for message in out:
                text = message.message.model_dump_json(by_alias=True, exclude_unset=True)
                child.stdin.write(text.encode() + b"\n")
                await child.stdin.drain()

    tasks = [asyncio.ensure_future(work) for work in (reader(), writer(), process.read_log())]

    async def close_when_gone() -> None:
        """End the streams with the server, even if something else holds its pipe."""
        await gone(child)
        await asyncio.wait(tasks[:1], timeout=LAST_WORDS_S)
        tasks[0].cancel()

    tasks.append(asyncio.ensure_future(close_when_gone()))
    try:
        yield process, (read, write)
    finally:
        write.close()
        read.close()
        with anyio.CancelScope(shield=True):
            await process.end()
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)
        into.close()
        out.close()
