"""Relays that stand before live servers: what passes, as a screen follows it."""

from __future__ import annotations

import json
import sys
from collections import deque
from dataclasses import dataclass, field
from pathlib import Path

from ferox.formats.server import ServerFile
from ferox.gateway.relay.recording import RelayRecording, standing_before
from ferox.recordings.recording import RecordedLine
from ferox.servers.by_hand.watched import Watched
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.keeper import KeptConnection
from ferox.servers.opening import reach_of
from ferox.web.servers import recording_shapes as shapes

NEWEST = 60
"""Requests that are shown of a relay, the newest."""


@dataclass(eq=False)
class OpenRelay(Watched):
    """A relay of this process: what it stands before, and what passed.

    `recording` is there once it listens.
    """

    server: ServerFile
    mode: str
    path: Path
    recording: RelayRecording | None = None
    messages: int = 0
    calls: deque[shapes.CallLine] = field(default_factory=lambda: deque(maxlen=NEWEST))
    _kept: KeptConnection[RelayRecording] | None = None
    _count: int = 0
    _unanswered: dict[tuple[int, str], shapes.CallLine] = field(default_factory=dict)

    def __post_init__(self) -> None:
        super().__init__()

    async def start(self, root: Path) -> None:
        """Stand before the server, once it has shown that it answers.

        Raises:
            ServerUnreachable: it does not.
        """
        async with connect_client(reach_of(self.server, self.mode), root):
            pass
        standing = standing_before(
            self.server, self.mode, root, self.path, listener=self.on_message
        )
        self._kept = KeptConnection(standing)
        self.recording = await self._kept.enter()

    async def stop(self) -> None:
        """End the relay; what passed is on disk."""
        if self._kept:
            await self._kept.close()
        self.note_change(over=True)

    async def remove(self) -> None:
        """End the relay, and throw away what passed."""
        await self.stop()
        self.path.unlink(missing_ok=True)

    def on_message(self, line: RecordedLine) -> None:
        """Keep a request for the screen, and how it was answered."""
        self.messages += 1
        msg = line.msg
        if line.dir == "to_server" and "method" in msg and "id" in msg:
            params = msg.get("params") or {}
            tool = str(params.get("name")) if msg["method"] == "tools/call" else None
            call = shapes.CallLine(
                number=self._count, session=line.session, t=line.t, method=str(msg["method"]),
                tool=tool, args=params.get("arguments") or {}, s=None, error=None,
            )  # fmt: skip
            self._count += 1
            self.calls.append(call)
            self._unanswered[line.session, json.dumps(msg["id"])] = call
        elif line.dir == "to_client" and "method" not in msg:
            answered = self._unanswered.pop((line.session, json.dumps(msg.get("id"))), None)
            if answered:
                answered.s = round(line.t - answered.t, 6)
                if "error" in msg:
                    answered.error = str((msg["error"] or {}).get("message"))
                elif isinstance(msg.get("result"), dict) and msg["result"].get("isError"):
                    answered.error = "the tool says that it failed"
        self.note_change()

    def shape(self, number: str) -> shapes.RelayShape:
        """The relay as the screen shows it."""
        relay = self.recording.relay if self.recording else None
        address = f"{relay.base}/mcp" if relay else ""
        return shapes.RelayShape(
            id=number,
            server=self.server.server,
            mode=self.mode,
            address=address,
            snippets=client_snippets(self.server.server, address),
            messages=self.messages,
            sessions=relay.open_sessions if relay and not self.over else 0,
            calls=list(self.calls),
            remarks=list(self.recording.remarks) if self.recording else [],
            state="stopped" if self.over else "standing",
        )


def client_snippets(server: str, address: str) -> list[shapes.SnippetShape]:
    """What to paste into a client's configuration so that it comes by the relay."""
    by_url = {"mcpServers": {server: {"url": address}}}
    command = {"command": sys.executable, "args": ["-m", "ferox", "shim", address]}
    by_command = {"mcpServers": {server: command}}
    old = address.removesuffix("/mcp") + "/sse"
    return [
        shapes.SnippetShape(title="Address (streamable HTTP)", text=address),
        shapes.SnippetShape(
            title="Configuration block, by address", text=json.dumps(by_url, indent=2)
        ),
        shapes.SnippetShape(
            title="Configuration block, for clients that only start commands",
            text=json.dumps(by_command, indent=2),
        ),
        shapes.SnippetShape(title="Address of the older event stream", text=old),
    ]
