"""An agent's process: its channel, its log, and its end.

The process leads a group of its own, so that whatever it starts ends with it.
"""

from __future__ import annotations

import asyncio
import json
import os
import signal
from collections import deque
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

from ferox.agents.link_messages import LONGEST_LINE, BrokenProtocol, link_message

LOG_LINES = 200


class Ended(Exception):
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
        process = await asyncio.create_subprocess_exec(
            *command,
            cwd=cwd,
            env=dict(env),
            stdin=asyncio.subprocess.PIPE,
            stdout=asyncio.subprocess.PIPE,
            stderr=asyncio.subprocess.PIPE,
            limit=LONGEST_LINE,
            start_new_session=True,
        )
        return cls(process)

    @property
    def alive(self) -> bool:
        """Whether the process still runs."""
        return self._process.returncode is None

    @property
    def pid(self) -> int:
        """The process's number, which is also its group's."""
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
            raise Ended(str(error)) from None

    async def receive(self) -> dict[str, Any]:
        """The next message; what is none is kept in the log and counted.

        Raises:
            Ended: the process ended, sent a line without end, or broke the protocol.
        """
        assert self._process.stdout
        while True:
            try:
                line = await self._process.stdout.readline()
            except ValueError:
                raise Ended(f"a message of more than {LONGEST_LINE} bytes") from None
            if not line:
                with suppress(TimeoutError):
                    await asyncio.wait_for(asyncio.shield(self._drain), 1)
                code = await self._process.wait()
                told = f"the process ended with status {code}"
                raise Ended(f"{told}: {self.last_words()}" if self.last_words() else told)
            try:
                message, mended = link_message(line)
            except BrokenProtocol as error:
                raise Ended(str(error)) from None
            self.mended += mended
            if message is not None:
                return message
            self.rubbish += 1
            self.log.append(line[:2000].decode(errors="replace").rstrip("\n"))

    async def absorb(self) -> None:
        """Take its standard output into the log too: it speaks no protocol there."""
        assert self._process.stdout
        while line := await self._process.stdout.read(65536):
            self.log.extend(text[-2000:] for text in line.decode(errors="replace").splitlines())

    async def kill(self) -> None:
        """End the process and everything it started."""
        with suppress(ProcessLookupError, PermissionError):
            os.killpg(self._process.pid, signal.SIGKILL)
        await self._process.wait()
        self._drain.cancel()
