"""An agent's process: its channel, its log, and its end.

A watchman stands above the process, so that whatever it starts ends with it.
"""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

from ferox.agents.link_messages import LONGEST_LINE, BrokenProtocol, link_message
from ferox.processes.starting import end_watched, gone, start_watched

LOG_LINES = 200
LAST_WORDS_S = 0.5
"""Seconds that what a process wrote may take to arrive once it is gone."""


class AgentEnded(Exception):
    """The process ended, or its channel is beyond use."""


class AgentProcess:
    """A running process that speaks the link protocol."""

    def __init__(self, process: asyncio.subprocess.Process) -> None:
        self._process = process
        self.log: deque[str] = deque(maxlen=LOG_LINES)
        self.rubbish = 0
        self.mended = 0
        """Messages in which half characters were replaced."""
        self._drain = asyncio.create_task(self._read_log())

    @classmethod
    async def start(cls, command: Sequence[str], cwd: Path, env: Mapping[str, str]) -> AgentProcess:
        """Start a command with exactly this environment.

        Raises:
            OSError: it cannot be started.
        """
        return cls(await start_watched(command, cwd, env, LONGEST_LINE))

    @property
    def alive(self) -> bool:
        """Whether the process still runs."""
        return self._process.returncode is None

    @property
    def pid(self) -> int:
        """The number of the watchman above the process."""
        return self._process.pid

    def last_words(self) -> str:
        """The last lines of the log that say something."""
        lines = [line for line in self.log if line.strip()]
        return " | ".join(lines[-3:])

    async def _read_log(self) -> None:
        assert self._process.stderr
        rest = b""
        while chunk := await self._process.stderr.read(65536):
            *lines, rest = (rest + chunk).split(b"\n")
            rest = rest[-4096:]
            self.log.extend(line[-2000:].decode(errors="replace") for line in lines)
        if rest:
            self.log.append(rest.decode(errors="replace"))

    async def send(self, message: dict[str, Any]) -> None:
        """Send one message.

        Raises:
            Ended: nobody reads any more.
        """
        assert self._process.stdin
        try:
            self._process.stdin.write((json.dumps(message) + "\n").encode())
            await self._process.stdin.drain()
        except (ConnectionError, RuntimeError) as error:
            raise AgentEnded(str(error)) from None

    async def receive(self) -> dict[str, Any]:
        """The next message; what is none is kept in the log and counted.

        Raises:
            Ended: the process ended, sent a line without end, or broke the protocol.
        """
        assert self._process.stdout
        while True:
            try:
                line = await self._line()
            except ValueError:
                raise AgentEnded(f"a message of more than {LONGEST_LINE} bytes") from None
            if not line:
                with suppress(TimeoutError):
                    await asyncio.wait_for(asyncio.shield(self._drain), 1)
                code = await gone(self._process)
                told = f"the process ended with status {code}"
                raise AgentEnded(f"{told}: {self.last_words()}" if self.last_words() else told)
            try:
                message, mended = link_message(line)
            except BrokenProtocol as error:
                raise AgentEnded(str(error)) from None
            self.mended += mended
            if message is not None:
                return message
            self.rubbish += 1
            self.log.append(line[:2000].decode(errors="replace").rstrip("\n"))

    async def _line(self) -> bytes:
        """The next line; empty at the end, and soon after the process is gone, whoever may still
        hold its pipe."""
        assert self._process.stdout
        line = asyncio.ensure_future(self._process.stdout.readline())
        over = asyncio.ensure_future(gone(self._process))
        try:
            await asyncio.wait({line, over}, return_when=asyncio.FIRST_COMPLETED)
            if not line.done():
                await asyncio.wait({line}, timeout=LAST_WORDS_S)
            return await line if line.done() else b""
        finally:
            line.cancel()
            over.cancel()

    async def absorb(self) -> None:
        """Take its standard output into the log too: it speaks no protocol there."""
        assert self._process.stdout
        while line := await self._process.stdout.read(65536):
            self.log.extend(text[-2000:] for text in line.decode(errors="replace").splitlines())

    async def kill(self) -> None:
        """End the process and everything it started."""
        await end_watched(self._process)
        self._drain.cancel()
