"""Answers of a web server: cut off when they grow too large, and read before the SDK reads them."""

from __future__ import annotations

from collections.abc import AsyncIterator
from typing import cast

import httpx2
from mcp_types import RequestId

from ferox.intake.json_text import read_json
from ferox.servers.connection.incoming import LARGEST_ANSWER, error_in_place, read_message

EVENT_STREAM, JSON = "event-stream", "application/json"


class BoundedTransport(httpx2.AsyncBaseTransport):
    """A transport whose answers end in an error when they are too large, and whose messages are
    replaced by an error that says why when they are none.

    An event stream has the limit for each event instead.
    """

    def __init__(self, inner: httpx2.AsyncBaseTransport) -> None:
        self._inner = inner

    async def handle_async_request(self, request: httpx2.Request) -> httpx2.Response:
        """Pass a request on; bound and read what comes back."""
        request.headers["Accept-Encoding"] = "identity"  # what is compressed cannot be looked at
        response = await self._inner.handle_async_request(request)
        kind = response.headers.get("content-type", "").lower()
        inner = cast(httpx2.AsyncByteStream, response.stream)
        id = _id_of(request)
        if "content-encoding" in response.headers:
            response.stream = _BoundedStream(inner)
        elif EVENT_STREAM in kind:
            response.stream = _BoundedEvents(inner, id)
        elif JSON in kind and response.status_code < 400 and request.method == "POST":
            response.stream = _BoundedBody(inner, id)
            # The body may be replaced, and is then of another length.
            response.headers.pop("content-length", None)
        else:
            response.stream = _BoundedStream(inner)
        return response

    async def aclose(self) -> None:
        """Close what lies below."""
        await self._inner.aclose()


def _id_of(request: httpx2.Request) -> RequestId | None:
    """The id of the request of the protocol that an HTTP request carries, if it does."""
    try:
        message = read_json(request.content)
    except (ValueError, httpx2.RequestNotRead):
        return None
    id = message.get("id") if isinstance(message, dict) and "method" in message else None
    return id if isinstance(id, int | str) else None


def _usable_message(data: bytes, id: RequestId | None) -> bytes:
    """A message as the SDK may read it: itself, or an error in its place."""
    try:
        message = read_message(data)
        # Only an escape can hold half a character; a message with none goes on byte for byte.
        if b"\\ud" not in data.lower():
            return data
        return message.model_dump_json(by_alias=True, exclude_unset=True).encode()
    except ValueError as error:
        replacement = error_in_place(data, str(error), id)
        return data if replacement is None else replacement.model_dump_json(by_alias=True).encode()


class _BoundedStream(httpx2.AsyncByteStream):
    """The bytes as they come, up to the limit."""

    def __init__(self, inner: httpx2.AsyncByteStream) -> None:
        self._inner = inner

    async def __aiter__(self) -> AsyncIterator[bytes]:
        size = 0
        async for part in self._inner:
            size += len(part)
            if size > LARGEST_ANSWER:
                raise httpx2.StreamError(f"an answer of more than {LARGEST_ANSWER} bytes")
            yield part

    async def aclose(self) -> None:
        await self._inner.aclose()


class _BoundedBody(_BoundedStream):
    """One message."""

    def __init__(self, inner: httpx2.AsyncByteStream, id: RequestId | None) -> None:
        super().__init__(inner)
        self._id = id

    async def __aiter__(self) -> AsyncIterator[bytes]:
        parts = [part async for part in super().__aiter__()]
        body = b"".join(parts)
        yield _usable_message(body, self._id) if body.strip() else body


class _BoundedEvents(_BoundedStream):
    """Messages in an event stream, each looked at when it is complete."""

    def __init__(self, inner: httpx2.AsyncByteStream, id: RequestId | None) -> None:
        super().__init__(inner)
        self._id = id

    async def __aiter__(self) -> AsyncIterator[bytes]:
        waiting = b""
        async for part in self._inner:
            *events, waiting = _line_ends(waiting + part)
            for event in events:
                yield self._bound_event(event)
            if len(waiting) > LARGEST_ANSWER:
                # Without this an event that never ends would be gathered until memory is gone.
                raise httpx2.StreamError(f"an event of more than {LARGEST_ANSWER} bytes")
        if waiting:
            yield waiting

    def _bound_event(self, event: bytes) -> bytes:
        """An event with its data replaced if it is not a message; what has none stays as it is."""
        lines = event.splitlines()
        data = b"\n".join(x[5:].removeprefix(b" ") for x in lines if x.startswith(b"data:"))
        if not data.lstrip().startswith(b"{"):
            return event
        kept = [x for x in lines if x and not x.startswith(b"data:")]
        return b"\n".join([*kept, b"data: " + _usable_message(data, self._id), b"", b""])


def _line_ends(text: bytes) -> list[bytes]:
    """The events of a text, each with its blank line, and the beginning of the next."""
    normal = text.replace(b"\r\n", b"\n")
    *events, rest = normal.split(b"\n\n")
    return [*(event + b"\n\n" for event in events), rest]
