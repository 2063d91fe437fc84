"""What passes to and from live servers and models in a run, kept beside its results."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ferox.core.masking import Masker
from ferox.formats.server import ServerFile
from ferox.recordings.capture import Capture
from ferox.recordings.model_recording import ModelCapture
from ferox.runs.records import captures_folder
from ferox.runs.snapshot import Snapshot
from ferox.servers.connection.tap import Direction, LineListener
from ferox.servers.opening import capture_of
from ferox.workspace.environment import secrets_of
from ferox.workspace.modes import LIVE, MOCK, RECORDED


def is_captured(server: ServerFile, mode: str) -> bool:
    """Whether what passes to and from a server in a mode is kept: a live server may answer."""
    return mode != MOCK and (mode != RECORDED or server.replay.miss == "live")


class Captures:
    """The captures of one run: a file for each live server and model; of a server, a session
    for each trial."""

    def __init__(self, root: Path, run: int, snapshot: Snapshot) -> None:
        self._folder = captures_folder(root, run)
        self._servers = snapshot.servers
        self._sources = snapshot.models
        self._models: dict[str, ModelCapture] = {}
        self._open: dict[str, Capture] = {}
        self._sessions: dict[str, int] = {}

    def line_listener(self, server: str, mode: str) -> LineListener | None:
        """Who is told of one trial's messages to and from a server; None if it is not live."""
        if not is_captured(self._servers[server], mode):
            return None
        session = self._sessions[server] = self._sessions.get(server, 0) + 1

        def note(dir: Direction, message: dict[str, Any]) -> None:
            self._server_capture(server, mode).note_message(session, dir, message)

        return note

    def _server_capture(self, server: str, mode: str) -> Capture:
        if server not in self._open:
            live = LIVE if mode == RECORDED else mode
            path = self._free_path(server)
            self._open[server] = capture_of(self._servers[server], live, path)
        return self._open[server]

    def model_capture(self, name: str) -> ModelCapture | None:
        """Who takes what passes to and from a model; None if it is a stand-in."""
        source = self._sources[name]
        if source.stand_in:
            return None
        if name not in self._models:
            known = secrets_of(source)
            model_name = source.name or name
            path = self._free_path(f"model-{name}")
            self._models[name] = ModelCapture(path, model_name, Masker(known, names=False))
        return self._models[name]

    def _free_path(self, name: str) -> Path:
        path = self._folder / f"{name}.jsonl"
        count = 1
        while path.exists():  # a run that was taken up again
            count += 1
            path = self._folder / f"{name}-{count}.jsonl"
        return path

    def close(self) -> None:
        """End the files."""
        for capture in self._open.values():
            capture.close()
        for model in self._models.values():
            model.close()
