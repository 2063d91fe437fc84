"""Letters: what a run's worker and the hands of a cluster tell each other.

A letter is a list of notes, each a list that begins with its kind. It travels as compressed JSON
through the cluster's scheduler.
"""

from __future__ import annotations

import json
import zlib
from typing import Any

from ferox.core.json_values import compact_json

Note = list[Any]
GONE = (OSError, TimeoutError, RuntimeError)
"""What sending and hearing raise once the scheduler is gone."""
# Letters are written once and read once: what little more a higher level saves costs more time.
COMPRESSION = 1
LARGEST_LETTER = 256 * 1024 * 1024
"""Bytes of a letter once it is unpacked."""


class UnreadableLetter(ValueError):
    """A letter that is none, or too long."""


def write_letter(notes: list[Note]) -> bytes:
    """A letter of these notes."""
    return zlib.compress(compact_json(notes).encode(errors="replace"), COMPRESSION)


def read_letter(letter: bytes) -> list[Note]:
    """The notes of a letter.

    Raises:
        UnreadableLetter: it is none.
    """
    unpacker = zlib.decompressobj()
    try:
        text = unpacker.decompress(letter, LARGEST_LETTER)
        if unpacker.unconsumed_tail:
            raise UnreadableLetter(f"a letter of more than {LARGEST_LETTER} bytes")
        if not unpacker.eof:
            raise UnreadableLetter("a letter that was cut off")
        notes: list[Note] = json.loads(text)
    except (zlib.error, ValueError, TypeError) as error:
        raise UnreadableLetter(f"no letter: {error}") from None
    return notes
