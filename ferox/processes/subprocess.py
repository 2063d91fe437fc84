"""A command that Ferox speaks with over its standard input and output.

A watchman stands above it, so that whatever it starts ends with it.
"""

from __future__ import annotations

import asyncio
from asyncio.subprocess import Process
from collections import deque
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from ferox.processes.last_words import last_words
from ferox.processes.starting import ask_to_end, end_watched, start_watched, wait_until_gone

LOG_LINES = 200
LONGEST_LOG_LINE = 2000
"""Bytes of a line of the log that are kept."""
CHUNK = 256 * 1024
START_OF_LINE = 300
"""Bytes that are kept of a line that is too long."""
# A guess: pipes are read at once, but a process that just ended may not have been yet.
LAST_WORDS_S = 0.5
"""Seconds that what a process wrote may take to arrive once it is gone."""


class OutputLine(NamedTuple):
    """A line of standard output. `whole` is None if it was longer than is taken; `start` and
    `size` are then all that is known of it."""

    start: bytes
    size: int
    whole: bytes | None


class Subprocess:
    """A started command: its input, its output line by line, the end of its log, its own end."""

    def __init__(self, process: Process, longest_line: int) -> None:
        self._process, self._longest_line = process, longest_line
        self.log: deque[str] = deque(maxlen=LOG_LINES)
        # One line waits at a time: a command that nobody listens to is held up by its pipe.
        self._lines: asyncio.Queue[OutputLine | None] = asyncio.Queue(1)
        # Not `process.wait()`: it waits for the pipes too, which a grandchild may hold open.
        self._over = asyncio.create_task(wait_until_gone(process))
        self._reading = asyncio.create_task(self._read_output())
        self._logging = asyncio.create_task(self._read_log())

    @classmethod
    async def start(
        cls, command: Sequence[str], cwd: Path, env: Mapping[str, str], *, longest_line: int
    ) -> Subprocess:
        """Start a command with exactly this environment.

        Raises:
            OSError: it cannot be started.
        """
        return cls(await start_watched(command, cwd, env), longest_line)

    @property
    def alive(self) -> bool:
        """Whether it still runs."""
        return self._process.returncode is None

    @property
    def pid(self) -> int:
        """The number of the watchman above it."""
        return self._process.pid

    def last_words(self, most: int) -> str:
        """What the log says last, in at most so many lines."""
        return last_words(self.log, most)

    async def write(self, line: bytes) -> None:
        """Write a line to its input.

        Raises:
            ConnectionError: it reads no more.
        """
        assert self._process.stdin
        try:
            self._process.stdin.write(line + b"\n")
            await self._process.stdin.drain()
        except RuntimeError as error:  # how asyncio says that the transport is closed
            raise ConnectionError(str(error)) from None

    async def read_line(self) -> OutputLine | None:
        """The next line of its output; None once it has ended."""
        line = await self._lines.get()
        if line is None:
            self._lines.put_nowait(None)  # for whoever asks again
        return line

    async def keep_output_in_log(self) -> None:
        """Take its output into the log too: it speaks no protocol there."""
        while (line := await self.read_line()) is not None:
            self._add_to_log(line.start if line.whole is None else line.whole)

    async def wait(self) -> int:
        """Its status once it is gone and its log was read."""
        status = await wait_until_gone(self._process)
        await asyncio.wait({self._logging}, timeout=2 * LAST_WORDS_S)
        return status

    async def end(self, grace_s: float) -> None:
        """Close its input, give it a moment, ask it to end, and then end it."""
        if self._process.stdin:
            self._process.stdin.close()
        with suppress(TimeoutError):
            await asyncio.wait_for(wait_until_gone(self._process), grace_s)
        if self.alive:
            ask_to_end(self._process)
            with suppress(TimeoutError):
                await asyncio.wait_for(wait_until_gone(self._process), grace_s)
        await self.kill()

    async def kill(self) -> None:
        """End it and everything it started."""
        await end_watched(self._process)
        tasks = (self._over, self._reading, self._logging)
        for task in tasks:
            task.cancel()
        await asyncio.gather(*tasks, return_exceptions=True)

    def _add_to_log(self, line: bytes) -> None:
        self.log.append(line[:LONGEST_LOG_LINE].decode(errors="replace"))

    async def _read_log(self) -> None:
        assert self._process.stderr
        rest = b""
        while chunk := await self._read_pipe(self._process.stderr):
            *lines, rest = (rest + chunk).split(b"\n")
            # A log without line ends must not fill the memory.
            rest = rest[-2 * LONGEST_LOG_LINE :]
            for line in lines:
                self._add_to_log(line)
        if rest:
            self._add_to_log(rest)

    async def _read_output(self) -> None:
        assert self._process.stdout
        parts: list[bytes] = []
        start, size = b"", 0
        while chunk := await self._read_pipe(self._process.stdout):
            *lines, rest = chunk.split(b"\n")
            for line in lines:
                await self._lines.put(self._make_line([*parts, line], start, size + len(line)))
                parts, start, size = [], b"", 0
            start = start or (b"".join(parts) + rest)[:START_OF_LINE]
            size += len(rest)
            # Of a line that is too long nothing but its start is kept while it goes on.
            parts = [*parts, rest] if size <= self._longest_line else []
        if size:
            await self._lines.put(self._make_line(parts, start, size))
        await self._lines.put(None)

    async def _read_pipe(self, pipe: asyncio.StreamReader) -> bytes:
        """What comes next on a pipe; nothing soon after the command is gone, even if something
        else still holds the pipe."""
        read = asyncio.ensure_future(pipe.read(CHUNK))
        try:
            await asyncio.wait({read, self._over}, return_when=asyncio.FIRST_COMPLETED)
            if not read.done():
                await asyncio.wait({read}, timeout=LAST_WORDS_S)
            return read.result() if read.done() else b""
        finally:
            read.cancel()

    def _make_line(self, parts: Sequence[bytes], start: bytes, size: int) -> OutputLine:
        if size > self._longest_line:
            return OutputLine(start or parts[-1][:START_OF_LINE], size, None)
        whole = b"".join(parts)
        return OutputLine(whole[:START_OF_LINE], size, whole)
