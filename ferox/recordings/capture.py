"""Capture: messages written to a recording as they pass, credentials masked."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, TextIO

from ferox.core.masking import Masker
from ferox.formats.recording import RecordingHeader
from ferox.recordings.recording import RecordedLine, Recording, header_text, protocol_of

HEADER_WAITS = 12
"""Messages that are looked at for the header's facts; a session tells them in its first few."""


class Capture:
    """Writes a recording while it is made; what passed is on disk at once.

    `listener` hears of each line. The file is complete at every moment; its header gets
    the facts that are known once a session has begun.
    """

    def __init__(
        self,
        path: Path,
        server: str,
        transport: str,
        masker: Masker,
        listener: Callable[[RecordedLine], None] = lambda line: None,
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
        self._first: list[RecordedLine] = []
        self._learning = True
        self._file: TextIO | None = None

    def note_message(self, session: int, dir: str, msg: dict[str, Any]) -> None:
        """Write one message."""
        t = round(time.perf_counter() - self._begun, 6)
        line = RecordedLine(t, session, dir, self._masker.mask(msg))
        self.count += 1
        if self._learning:
            self._first.append(line)
            self._learn_header()
        if self._file is None:
            self._open_file()
        assert self._file
        self._file.write(line.text() + "\n")
        # At once: whoever makes the capture may be killed at any moment.
        self._file.flush()
        self._listener(line)

    def _open_file(self) -> None:
        self.path.parent.mkdir(parents=True, exist_ok=True)
        self._file = self.path.open("a", encoding="utf-8")
        # A file that is there goes on; the header stands in it already.
        if self._file.tell() == 0:
            self._file.write(header_text(self._header) + "\n")

    def _learn_header(self) -> None:
        """Look whether the first messages tell the header's facts."""
        facts = {key for key, value in protocol_of(self._first) if value is not None}
        if {"protocol", "server_info"} <= facts or len(self._first) >= HEADER_WAITS:
            self._write_header(self._first[:-1])

    def _write_header(self, written: list[RecordedLine]) -> None:
        """Put what is known into the header, and the file that is there again."""
        # The header is the first line, so the little that was written so far is written again.
        facts = {k: v for k, v in protocol_of(self._first) if v is not None}
        self._header = self._header.model_copy(update=facts)
        self._learning = False
        if self._file is not None:
            self._file.close()
            self._file = None
            Recording(self._header, written).write(self.path)

    def close(self) -> Recording | None:
        """End the file; None, and no file, if nothing passed."""
        if self._learning and self._first:
            self._write_header(self._first)
        if self._file is not None:
            self._file.close()
        elif not self.count:
            return None
        return Recording.read(self.path)
