"""What passes to and from live servers in a run, kept as recordings beside its results."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ferox.formats.server import ServerFile
from ferox.recordings.capture import Capture
from ferox.runs.records import captures_folder
from ferox.servers.opening import capture_of
from ferox.servers.tap import Direction, Heard
from ferox.workspace.ways import LIVE, MOCK, RECORDED


class Captures:
    """The captures of one run: a file for each live server, a session for each trial."""

    def __init__(self, root: Path, run: int, servers: dict[str, ServerFile]) -> None:
        self._folder = captures_folder(root, run)
        self._servers = servers
        self._open: dict[str, Capture] = {}
        self._sessions: dict[str, int] = {}

    def heard(self, server: str, way: str) -> Heard | None:
        """Who is told of one trial's messages to and from a server; None if it is not live."""
        if way == MOCK or (way == RECORDED and self._servers[server].replay.miss != "live"):
            return None
        session = self._sessions[server] = self._sessions.get(server, 0) + 1

        def note(dir: Direction, message: dict[str, Any]) -> None:
            self._capture(server, way).note(session, dir, message)

        return note

    def _capture(self, server: str, way: str) -> Capture:
        if server not in self._open:
            path = self._folder / f"{server}.jsonl"
            count = 1
            while path.exists():  # a run that was taken up again
                count += 1
                path = self._folder / f"{server}-{count}.jsonl"
            live = LIVE if way == RECORDED else way
            self._open[server] = capture_of(self._servers[server], live, path)
        return self._open[server]

    def close(self) -> None:
        """End the files."""
        for capture in self._open.values():
            capture.close()
