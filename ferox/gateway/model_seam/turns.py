"""Turns at a model: no more requests at once, and in a minute, than its file allows.

The limits belong to the model, whoever asks it: all trials of a run wait in one row.
"""

from __future__ import annotations

import asyncio
import time
from collections import deque
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, AsyncExitStack, asynccontextmanager
from typing import Protocol

from ferox.formats.workspace import ModelSource

MINUTE_S = 60.0


class ModelTurns(Protocol):
    """Who says when a model may be asked."""

    def take_turn(self, name: str, source: ModelSource) -> AbstractAsyncContextManager[None]:
        """Wait for a turn, and hold it until the answer is whole."""

    async def wait_out(self, seconds: float) -> None:
        """Wait as long as the model's endpoint asks for."""


class _Row:
    """The row in which requests to one model wait."""

    def __init__(self, at_once: int | None, per_minute: int | None) -> None:
        self._places = asyncio.Semaphore(at_once) if at_once else None
        self._most = per_minute
        self._begun: deque[float] = deque()
        self._lock = asyncio.Lock()

    @asynccontextmanager
    async def take_turn(self) -> AsyncIterator[None]:
        async with AsyncExitStack() as stack:
            if self._places:
                await stack.enter_async_context(self._places)
            if self._most is not None:
                await self._wait_for_pace(self._most)
            yield

    async def _wait_for_pace(self, most: int) -> None:
        # Waiting under the lock keeps the others in their order behind it.
        async with self._lock:
            now = time.monotonic()
            while self._begun and now - self._begun[0] > MINUTE_S:
                self._begun.popleft()
            if len(self._begun) >= most:
                await asyncio.sleep(MINUTE_S - (now - self._begun[0]))
                self._begun.popleft()
            self._begun.append(time.monotonic())


class OwnTurns:
    """Turns among the requests of this process."""

    def __init__(self) -> None:
        self._rows: dict[tuple[object, ...], _Row] = {}

    @asynccontextmanager
    async def take_turn(self, name: str, source: ModelSource) -> AsyncIterator[None]:
        """Wait for a turn, and hold it until the answer is whole."""
        if not source.is_limited:
            yield
            return
        limits = source.at_once, source.per_minute
        # Two names of one model share its limits.
        key = (source.base_url, source.name or name, *limits)
        row = self._rows.setdefault(key, _Row(*limits))
        async with row.take_turn():
            yield

    async def wait_out(self, seconds: float) -> None:
        """Wait as long as the model's endpoint asks for."""
        await asyncio.sleep(seconds)


OWN_TURNS = OwnTurns()
"""The turns of this process."""
