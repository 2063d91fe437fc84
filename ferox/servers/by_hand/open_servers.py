"""Servers that stay open between requests.

Connections stay open while they are used, so that a server's state, its notifications and
a call that takes long are all there when the screen asks again.
"""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ferox.formats.server import ServerFile
from ferox.servers.by_hand.open_server import CallByHand, OpenServer, opened_by_hand
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.keeper import KeptConnection
from ferox.workspace.modes import RECORDED

IDLE_S = 600.0
"""Seconds after which a connection that nobody used is closed."""
CLOSING_S = 10.0


class ServerBusy(RuntimeError):
    """A call of this server is going on already."""


@dataclass
class _Connection:
    """A connection, and the file it was made from."""

    stamp: tuple[Any, ...]
    kept: KeptConnection[OpenServer]
    server: OpenServer


class OpenServers:
    """Every server that is open in this process. All of it happens in one event loop."""

    def __init__(self) -> None:
        self._connections: dict[tuple[str, str], _Connection] = {}
        self._connecting = asyncio.Lock()
        self._closing_idle: asyncio.Task[None] | None = None

    async def open(
        self, server: ServerFile, mode: str, folder: Path, *, afresh: bool = False
    ) -> OpenServer:
        """The server in one of its modes, connected again if its file changed or `afresh`.

        Raises:
            ServerUnreachable: a live server cannot be reached.
            RecordingError: the recording cannot be read.
        """
        if self._closing_idle is None:
            self._closing_idle = asyncio.create_task(self._close_idle())
        key, stamp = (server.server, mode), _connection_stamp(server, mode, folder)
        # One at a time: two screens that ask for a server at once get the same connection.
        async with self._connecting:
            found = self._connections.get(key)
            if found and (afresh or found.stamp != stamp or found.kept.is_over):
                await self._close_connection(key)
                found = None
            if found is None:
                kept = KeptConnection(opened_by_hand(server, mode, folder))
                found = _Connection(stamp, kept, await kept.enter())
                self._connections[key] = found
        return found.server

    async def _close_connection(self, key: tuple[str, str]) -> None:
        connection = self._connections.pop(key)
        with suppress(TimeoutError):
            await asyncio.wait_for(connection.kept.close(), CLOSING_S)

    async def close(self) -> None:
        """Close every connection."""
        if self._closing_idle is not None:
            self._closing_idle.cancel()
        for key in list(self._connections):
            await self._close_connection(key)

    async def _close_idle(self) -> None:
        while True:
            await asyncio.sleep(IDLE_S / 10)
            now = time.monotonic()
            for key, connection in list(self._connections.items()):
                if now - connection.server.used > IDLE_S and not connection.server.is_busy:
                    await self._close_connection(key)

    async def if_open(self, server: str, mode: str) -> OpenServer | None:
        """The server if it is open; it is not opened."""
        connection = self._connections.get((server, mode))
        if connection is None:
            return None
        broken = connection.kept.broken
        connection.server.lost = None if broken is None else plain_error(broken)
        return connection.server

    async def begin_call(
        self,
        server: ServerFile,
        mode: str,
        folder: Path,
        *,
        tool: str,
        args: dict[str, Any],
        ended: Callable[[CallByHand], object] | None = None,
    ) -> CallByHand:
        """Begin a call by hand. `ended` is given it once it is over.

        Raises:
            ServerBusy: another call of this server is going on.
            ServerUnreachable: a live server cannot be reached.
        """
        open_server = await self.open(server, mode, folder)
        if open_server.is_busy:
            raise ServerBusy("another call of this server is going on; cancel it, or wait for it")
        return open_server.begin_call(tool, args, ended)


def _connection_stamp(server: ServerFile, mode: str, folder: Path) -> tuple[Any, ...]:
    """What a connection depends on: another stamp, another connection."""
    recording: tuple[int, ...] = ()
    if mode == RECORDED and server.recording:
        with suppress(OSError):
            stat = (folder / server.recording).stat()
            recording = (stat.st_mtime_ns, stat.st_size)
    return (server.model_dump_json(), *recording)
