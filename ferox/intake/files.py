"""Files read and written whole: only ordinary ones, within a size, never half."""

from __future__ import annotations

import os
import stat
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO, TextIO

from ferox.intake.limits import FILE, IntakeError


@contextmanager
def open_ordinary_file(path: Path) -> Iterator[BinaryIO]:
    """An ordinary file, to be read. A pipe or a device would be waited for without end.

    Raises:
        OSError: it cannot be opened.
        IntakeError: it is not an ordinary file.
    """
    # Opened first and looked at then: between a look and an opening the file could be replaced.
    descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    if not stat.S_ISREG(os.fstat(descriptor).st_mode):
        os.close(descriptor)
        raise IntakeError("it is not an ordinary file")
    with os.fdopen(descriptor, "rb") as file:
        yield file


def read_bytes(path: Path, max_bytes: int = FILE.max_bytes) -> bytes:
    """All of a file.

    Raises:
        OSError: it cannot be read.
        IntakeError: it is not an ordinary file, or too large.
    """
    with open_ordinary_file(path) as file:
        body = file.read(max_bytes + 1)
    if len(body) > max_bytes:
        raise IntakeError(f"larger than {max_bytes:,} bytes")
    return body


def read_text(path: Path, max_bytes: int = FILE.max_bytes) -> str:
    """All of a file as text.

    Raises:
        OSError: it cannot be read.
        IntakeError: it is not an ordinary file, too large, or not UTF-8.
    """
    try:
        return read_bytes(path, max_bytes).decode()
    except UnicodeDecodeError as error:
        raise IntakeError(f"not UTF-8 at byte {error.start + 1}") from None


def write_whole(path: Path, write: Callable[[TextIO], object]) -> None:
    """Put a file in place once all of it is on disk; on any failure nothing has changed.

    Raises:
        OSError: it cannot be written.
    """
    # In the same folder: only within one file system is a rename all or nothing.
    part = path.with_name(f".{path.name}.part")
    try:
        path.parent.mkdir(exist_ok=True)
        with part.open("w", encoding="utf-8") as file:
            write(file)
            file.flush()
            # Without it a power cut may leave the new name with nothing in it.
            os.fsync(file.fileno())
        part.replace(path)
    except BaseException:
        with suppress(OSError):
            part.unlink(missing_ok=True)
        raise
