"""Files of traces: what is whole is read, and the rest is named by its line."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, BinaryIO

from pydantic import ValidationError

from ferox.bringing.conversations import Conversation, sort_conversations
from ferox.bringing.spans import LoggedEvent, Span, SpanError, holds_spans, read_spans
from ferox.formats.base import validation_fault
from ferox.formats.trace import Trace, trace_adapter
from ferox.intake.files import open_ordinary_file
from ferox.intake.json_text import read_json
from ferox.intake.limits import MESSAGE, IntakeError

LARGEST_FILE = 1024 * 1024 * 1024
"""Bytes of the largest file that is read, line by line."""
MOST_FAULTS = 1_000
"""Faults that are kept; the rest is counted."""


@dataclass
class ReadTraces:
    """What stood in files: Ferox's traces, conversations of spans, and what could not be read."""

    traces: list[tuple[str, Trace]] = field(default_factory=list)
    """Each with its place."""
    conversations: list[Conversation] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)
    """By file and line, and what to do."""
    more_faults: int = 0

    def note_fault(self, fault: str) -> None:
        """Keep a fault, or count it."""
        if len(self.faults) < MOST_FAULTS:
            self.faults.append(fault)
        else:
            self.more_faults += 1


def read_trace_files(paths: list[Path]) -> ReadTraces:
    """Read files of Ferox's traces and of OTLP/JSON: one document, or one on each line."""
    read, spans = ReadTraces(), list[Span | LoggedEvent]()
    for path in paths:
        try:
            with open_ordinary_file(path) as file:
                _read_file(str(path), file, read, spans)
        except OSError as error:
            read.note_fault(f"{path}: {error.strerror}")
        except IntakeError as error:
            read.note_fault(f"{path}: {error}")
    read.conversations = sort_conversations(spans)
    return read


def _read_file(
    name: str, file: BinaryIO, read: ReadTraces, spans: list[Span | LoggedEvent]
) -> None:
    for place, text in _documents_of(name, file):
        try:
            document = read_json(text)
        except IntakeError as error:
            read.note_fault(f"{place}: {error.message}")
            continue
        for one in document if isinstance(document, list) else [document]:
            try:
                _take_document(place, one, read, spans)
            except (SpanError, IntakeError) as error:
                read.note_fault(f"{place}: {error}")


def _documents_of(name: str, file: BinaryIO) -> Iterator[tuple[str, bytes]]:
    """The lines of a file, each with its place; a file whose first line is no document by itself
    is one document.

    Raises:
        IntakeError: a line, or the file, is too long.
    """
    first = file.readline(MESSAGE.max_bytes + 1)
    if not _is_document(first):
        rest = file.read(MESSAGE.max_bytes + 1)
        if first.strip() or rest.strip():
            yield name, first + rest
        return
    yield f"{name}:1", first
    number, total = 1, len(first)
    while line := file.readline(MESSAGE.max_bytes + 1):
        number, total = number + 1, total + len(line)
        if total > LARGEST_FILE:
            raise IntakeError(f"more than {LARGEST_FILE:,} bytes; bring it in parts")
        if line.strip():
            yield f"{name}:{number}", line


def _is_document(line: bytes) -> bool:
    """Whether a line begins and ends like a document of its own; whether it is one shows when it
    is read."""
    shown = line.strip()
    return shown[:1] + shown[-1:] in (b"{}", b"[]") and len(shown) > 2


def _take_document(
    place: str, document: Any, read: ReadTraces, spans: list[Span | LoggedEvent]
) -> None:
    if holds_spans(document):
        spans.extend(read_spans(document))
        return
    if isinstance(document, dict) and "ferox_run" in document:
        return  # the head of a run's file, whose traces follow
    if not isinstance(document, dict) or "ferox_trace" not in document:
        raise IntakeError("neither a trace of Ferox's (`ferox_trace`) nor OTLP (`resourceSpans`)")
    try:
        read.traces.append((place, trace_adapter().validate_python(document)))
    except ValidationError as error:
        raise IntakeError(validation_fault(error)) from None
