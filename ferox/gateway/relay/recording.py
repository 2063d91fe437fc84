"""Recording a live server: a relay before it, and a capture of all that passes."""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from pathlib import Path

from ferox.formats.server import ServerFile
from ferox.gateway.relay.relay import Relay
from ferox.recordings.capture import Capture
from ferox.recordings.recording import RecordedLine, Recording
from ferox.servers.connection.connecting import open_streams
from ferox.servers.opening import capture_of, reach_of


@dataclass
class RelayRecording:
    """A relay that stands before a live server; `recording` is there when it is over."""

    relay: Relay
    capture: Capture
    remarks: list[str] = field(default_factory=list)
    recording: Recording | None = None


@asynccontextmanager
async def standing_before(
    server: ServerFile,
    mode: str,
    folder: Path,
    path: Path,
    port: int = 0,
    listener: Callable[[RecordedLine], None] = lambda line: None,
) -> AsyncIterator[RelayRecording]:
    """Stand before a server while the context is open, and write what passes to `path`.

    Raises:
        ServerUnreachable: the file has no such mode.
        OSError: the port is taken.
    """
    to = reach_of(server, mode)
    capture = capture_of(server, mode, path, listener)
    remarks: list[str] = []
    relay = Relay(lambda: open_streams(to, folder), capture.note_message, remarks.append)
    standing = RelayRecording(relay, capture, remarks)
    try:
        async with relay.serve(port):
            yield standing
    finally:
        standing.recording = capture.close()
        if standing.recording:
            for session in standing.recording.left_open():
                remarks.append(f"session {session} has a request that was never answered")
