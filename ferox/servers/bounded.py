"""Answers of a web server, cut off when they grow beyond what anybody can use."""

from __future__ import annotations

from collections.abc import AsyncIterator
from typing import cast

import httpx2

LARGEST_ANSWER = 16 * 1024 * 1024
"""Bytes of one answer; an event stream has this limit for each event instead."""


class Bounded(httpx2.AsyncBaseTransport):
    """A transport whose answers end in an error when they are too large."""

    def __init__(self, inner: httpx2.AsyncBaseTransport) -> None:
        self._inner = inner

    async def handle_async_request(self, request: httpx2.Request) -> httpx2.Response:
        """Pass a request on; bound what comes back unless it is an event stream."""
        response = await self._inner.handle_async_request(request)
        if "event-stream" not in response.headers.get("content-type", ""):
            response.stream = _Cut(cast(httpx2.AsyncByteStream, response.stream))
        return response

    async def aclose(self) -> None:
        """Close what lies below."""
        await self._inner.aclose()


class _Cut(httpx2.AsyncByteStream):
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
