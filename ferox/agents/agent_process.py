"""An agent's process: messages of the link protocol, a line each."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from ferox.agents.link_messages import LONGEST_LINE, BrokenProtocol, link_message
from ferox.processes.subprocess import Subprocess

LAST_LINES = 3
"""Lines of the log that say why it ended."""


class AgentEnded(Exception):
    """The process ended, or its channel is beyond use."""


class AgentProcess:
    """A running process that speaks the link protocol."""

    def __init__(self, process: Subprocess) -> None:
        self._process = process
        self.log = process.log
        self.unreadable_lines = 0
        """Lines that were not messages."""
        self.repaired_messages = 0
        """Messages in which half characters were replaced."""
        self.pid = process.pid
        """The number of the watchman above the process."""
        self.keep_output_in_log = process.keep_output_in_log
        self.kill = process.kill
        self.wait = process.wait

    @classmethod
    async def start(cls, command: Sequence[str], cwd: Path, env: Mapping[str, str]) -> AgentProcess:
        """Start a command with exactly this environment.

        Raises:
            OSError: it cannot be started.
        """
        return cls(await Subprocess.start(command, cwd, env, longest_line=LONGEST_LINE))

    @property
    def alive(self) -> bool:
        """Whether the process still runs."""
        return self._process.alive

    def last_words(self) -> str:
        """What its log says last."""
        return self._process.last_words(LAST_LINES)

    async def send(self, message: dict[str, Any]) -> None:
        """Send one message.

        Raises:
            AgentEnded: nobody reads any more.
        """
        try:
            await self._process.write(json.dumps(message).encode())
        except ConnectionError as error:
            raise AgentEnded(str(error)) from None

    async def receive(self) -> dict[str, Any]:
        """The next message; a line that is none is kept in the log and counted.

        Raises:
            AgentEnded: the process ended, sent a line without end, or broke the protocol.
        """
        while True:
            line = await self._process.read_line()
            if line is None:
                ended = f"the process ended with status {await self._process.wait()}"
                words = self.last_words()
                raise AgentEnded(f"{ended}: {words}" if words else ended)
            if line.whole is None:
                raise AgentEnded(f"a message of more than {LONGEST_LINE} bytes")
            try:
                message, mended = link_message(line.whole)
            except BrokenProtocol as error:
                raise AgentEnded(str(error)) from None
            self.repaired_messages += mended
            if message is not None:
                return message
            # Some library printed to the channel. That is no reason to lose the trial.
            self.unreadable_lines += 1
            self.log.append(line.whole[:2000].decode(errors="replace"))
