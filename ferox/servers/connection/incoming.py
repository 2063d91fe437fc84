"""Messages of live servers where they come in: read within limits, and never lost in silence.

An answer that is not a message of the protocol is replaced by an error under the same id, so that
whoever asked hears why.
"""

from __future__ import annotations

import json
import re
from collections.abc import AsyncIterable

from mcp_types import (
    INTERNAL_ERROR,
    ErrorData,
    JSONRPCError,
    JSONRPCMessage,
    RequestId,
    jsonrpc_message_adapter,
)

from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError, Limits

LARGEST_ANSWER = 16 * 1024 * 1024
"""Bytes of the longest message taken from a server."""
LIMITS = Limits(max_bytes=LARGEST_ANSWER)
HEAD = 300
"""Bytes of a message in which its id is looked for."""
_ID = re.compile(rb'"id"\s*:\s*(-?\d{1,18}|"(?:[^"\\]|\\.){0,200}")')


def read_message(data: bytes) -> JSONRPCMessage:
    """A message of the protocol, fit to be stored.

    Raises:
        ValueError: it is none, or beyond the limits; the message says why.
    """
    value = read_json(data, LIMITS)
    try:
        return jsonrpc_message_adapter.validate_python(value, by_name=False)
    except ValueError:
        raise ValueError(f"no message of the protocol: {_begins_with(data)}") from None


def error_in_place(data: bytes, why: str, id: RequestId | None = None) -> JSONRPCError | None:
    """An error for whoever waits for an answer that cannot be read; None if nobody is known to.

    `data` is the answer, or its first bytes; `id` is its request's, if that is known.
    """
    if id is None:
        found = _ID.search(data[:HEAD]) or _ID.search(data[-HEAD:])
        if found is None or b'"method"' in data[:HEAD]:
            return None
        id = json.loads(found[1])
    error = ErrorData(code=INTERNAL_ERROR, message=f"the server's answer cannot be used: {why}")
    return JSONRPCError(jsonrpc="2.0", id=id, error=error)


def _begins_with(data: bytes) -> str:
    return data[:200].decode(errors="replace")


async def read_whole(pieces: AsyncIterable[bytes]) -> bytes:
    """The body of an answer that comes in pieces.

    Raises:
        IntakeError: it is too large.
    """
    body = bytearray()
    async for piece in pieces:
        body += piece
        if len(body) > LARGEST_ANSWER:
            raise IntakeError(f"larger than {LARGEST_ANSWER >> 20} MB")
    return bytes(body)
