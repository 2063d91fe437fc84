"""Recorded models: what passed to and from an endpoint, found again by the request."""

from __future__ import annotations

import hashlib
from collections import defaultdict
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from pathlib import Path
from typing import Any, Protocol, TextIO

from pydantic import ValidationError

from ferox.core.json_values import canonical_json
from ferox.core.masking import Masker
from ferox.formats.recording import ModelExchange, ModelRecordingHeader
from ferox.intake.json_text import read_json
from ferox.recordings.recording import RecordingError

PASSED_OVER = frozenset(
    {"model", "stream_options", "user", "metadata", "store", "prompt_cache_key"}
    | {"safety_identifier", "service_tier"}
)
"""What of a request has no part in its answer, and may change from run to run."""


def request_key(path: str, body: dict[str, Any]) -> str:
    """A hash of the canonical request (RFC 8785): equal for the same request to any model."""
    asked = {k: v for k, v in body.items() if k not in PASSED_OVER and v is not None}
    if not asked.get("stream"):
        asked.pop("stream", None)
    return hashlib.sha256(canonical_json([path, asked]).encode()).hexdigest()


@dataclass
class ModelRecording:
    """A model's recording in memory; `name` is its path, for messages."""

    name: str
    header: ModelRecordingHeader
    exchanges: list[ModelExchange]

    @classmethod
    def parse(cls, name: str, text: str) -> ModelRecording:
        """Read a recording.

        Raises:
            RecordingError: with the line that is at fault.
        """
        header: ModelRecordingHeader | None = None
        exchanges = []
        for number, line in enumerate(text.splitlines(), 1):
            if not line.strip():
                continue
            try:
                value = read_json(line)
                if header is None:
                    header = ModelRecordingHeader.model_validate(value)
                else:
                    exchanges.append(ModelExchange.model_validate(value))
            except ValidationError as error:
                fault = error.errors()[0]
                where = ".".join(map(str, fault["loc"])) or "line"
                raise RecordingError(f"{name}, line {number}: {where}: {fault['msg']}") from None
            except ValueError as error:
                raise RecordingError(f"{name}, line {number}: {error}") from None
        if header is None:
            raise RecordingError(f"{name} is empty; its first line must be a header")
        return cls(name, header, exchanges)

    @cached_property
    def _by_key(self) -> dict[str, list[ModelExchange]]:
        found: dict[str, list[ModelExchange]] = defaultdict(list)
        for exchange in self.exchanges:
            found[request_key(exchange.path, exchange.request)].append(exchange)
        return found

    def answers(self, key: str) -> list[ModelExchange]:
        """Every recorded answer to a request, in order."""
        return self._by_key.get(key, [])


class ExchangeListener(Protocol):
    """Told of what passes to and from a model."""

    def note_exchange(
        self,
        path: str,
        request: dict[str, Any],
        status: int,
        answer: str,
        s: float,
        first_s: float | None,
    ) -> None:
        """Hear of one exchange."""


class ModelCapture:
    """Writes a model's recording while it is made, credentials masked; each line is on disk
    at once. There is no file until something passes."""

    def __init__(self, path: Path, model: str, masker: Masker) -> None:
        self.path = path
        self._model = model
        self._masker = masker
        self._file: TextIO | None = None

    def note_exchange(
        self,
        path: str,
        request: dict[str, Any],
        status: int,
        answer: str,
        s: float,
        first_s: float | None,
    ) -> None:
        """Keep one exchange."""
        if self._file is None:
            self._open_file()
        exchange = ModelExchange(
            path=path, request=self._masker.mask(request), status=status,
            answer=self._masker.mask(answer), s=s, first_s=first_s,
        )  # fmt: skip
        assert self._file
        self._file.write(exchange.model_dump_json(exclude_none=True) + "\n")
        self._file.flush()

    def _open_file(self) -> None:
        self.path.parent.mkdir(parents=True, exist_ok=True)
        self._file = self.path.open("a", encoding="utf-8")
        at = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
        header = ModelRecordingHeader(ferox_model_recording=1, model=self._model, captured_at=at)
        if self._file.tell() == 0:
            self._file.write(header.model_dump_json() + "\n")

    def close(self) -> None:
        """End the file."""
        if self._file is not None:
            self._file.close()
