"""Packing: text compressed against a text that it is like, so that alike trials take little room.

The trials of a cell differ in little but times. The first that is done is packed by itself, the
others with it as their dictionary.
"""

from __future__ import annotations

import zlib

# On traces, a third less room than 3, at twice the time; a trial takes far longer.
COMPRESSION = 6
WINDOW = 32 * 1024
"""Bytes of a dictionary that zlib looks at: the last."""


def pack_text(text: str, like: str | None = None) -> bytes:
    """A text compressed; with `like`, only the same one unpacks it."""
    dictionary = _dictionary(like)
    packer = (
        zlib.compressobj(COMPRESSION, zdict=dictionary)
        if dictionary
        else zlib.compressobj(COMPRESSION)
    )
    return packer.compress(text.encode(errors="replace")) + packer.flush()


def unpack_text(packed: bytes, like: str | None = None) -> str:
    """The text that was packed."""
    dictionary = _dictionary(like)
    unpacker = zlib.decompressobj(zdict=dictionary) if dictionary else zlib.decompressobj()
    return (unpacker.decompress(packed) + unpacker.flush()).decode()


def _dictionary(like: str | None) -> bytes:
    return like.encode(errors="replace")[-WINDOW:] if like else b""
