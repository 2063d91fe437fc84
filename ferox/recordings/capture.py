"""Capture: messages written to a recording as they pass, credentials masked."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, TextIO

from ferox.core.masking import Masker
from ferox.formats.recording import RecordingHeader
from ferox.recordings.recording import Line, Recording, header_text, protocol_of

HEADER_WAITS = 12
"""Messages that wait at most for the header's facts; a session tells them in its first few."""


class Capture:
    """Writes a recording while it is made; what passed is on disk at once.

    `listener` hears of each line. The file is complete at every moment but for its
    header's facts, which are known once a session has begun.
    """

    def __init__(
        self,
        path: Path,
        server: str,
        transport: str,
        masker: Masker,
        listener: Callable[[Line], None] = lambda line: None,
    ) -> None:
        self.path = path
        self.count = 0
        self._masker = masker
        self._listener = listener
        self._begun = time.perf_counter()
        at = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
        self._header = RecordingHeader(
            ferox_recording=1, server=server, captured_at=at, transport=transport
        )
        self._waiting: list[Line] = []
        self._file: TextIO | None = None

    def note(self, session: int, dir: str, msg: dict[str, Any]) -> None:
        """Write one message."""
        t = round(time.perf_counter() - self._begun, 6)
        line = Line(t, session, dir, self._masker.mask(msg))
        self.count += 1
        if self._file is None:
            self._waiting.append(line)
            self._learn()
        else:
            self._write([line])
        self._listener(line)

    def _learn(self) -> None:
        facts = {k: v for k, v in protocol_of(self._waiting) if v is not None}
        self._header = self._header.model_copy(update=facts)
        if {"protocol", "server_info"} <= facts.keys() or len(self._waiting) >= HEADER_WAITS:
            self._open()

    def _open(self) -> None:
        self.path.parent.mkdir(parents=True, exist_ok=True)
        self._file = self.path.open("w", encoding="utf-8")
        self._file.write(header_text(self._header) + "\n")
        self._write(self._waiting)
        self._waiting = []

    def _write(self, lines: list[Line]) -> None:
        assert self._file
        self._file.writelines(line.text() + "\n" for line in lines)
        self._file.flush()

    def close(self) -> Recording | None:
        """End the file; None, and no file, if nothing passed."""
        if self._file is None and not self._waiting:
            return None
        if self._file is None:
            self._open()
        assert self._file
        self._file.close()
        return Recording.read(self.path)
