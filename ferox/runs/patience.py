"""Time limits that stand still while a person, or a turn at a model, is being waited for."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterator
from contextlib import AsyncExitStack, asynccontextmanager, contextmanager
from typing import Any

from ferox.formats.workspace import ModelSource
from ferox.gateway.answering_questions import AnsweredQuestion, QuestionTaker
from ferox.gateway.holding import Hold, HoldDecision
from ferox.gateway.model_seam.turns import ModelTurns
from ferox.servers.sources.source import ServerQuestion


class Patience:
    """A trial's time limits. While something is held by hand, none of them runs on."""

    def __init__(self) -> None:
        self._running: set[asyncio.Timeout] = set()
        self._left: dict[asyncio.Timeout, float] = {}
        self._still = 0

    @asynccontextmanager
    async def limit_time(self, seconds: float) -> AsyncIterator[None]:
        """As `asyncio.timeout`, but for the time in which something is held.

        Raises:
            TimeoutError: the time is up.
        """
        async with asyncio.timeout(None if self._still else seconds) as timeout:
            if self._still:
                self._left[timeout] = seconds
            self._running.add(timeout)
            try:
                yield
            finally:
                self._running.discard(timeout)
                self._left.pop(timeout, None)

    @contextmanager
    def stand_still(self) -> Iterator[None]:
        """Have every limit stand still while the context is open."""
        self._still += 1
        # Holds may overlap; only the first stops the clocks and only the last starts them again.
        if self._still == 1:
            now = asyncio.get_running_loop().time()
            for timeout in self._running:
                when = timeout.when()
                if when is not None and not timeout.expired():
                    self._left[timeout] = max(0.0, when - now)
                    timeout.reschedule(None)
        try:
            yield
        finally:
            self._still -= 1
            if self._still == 0:
                now = asyncio.get_running_loop().time()
                for timeout, left in self._left.items():
                    timeout.reschedule(now + left)
                self._left.clear()


class PatientHold:
    """Holds as another does, while the trial's time stands still."""

    def __init__(self, hold: Hold, patience: Patience) -> None:
        self._hold, self._patience = hold, patience
        self.wants_call = hold.wants_call

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Wait until a person decides."""
        with self._patience.stand_still():
            return await self._hold.wait_for_decision(address, args)


class PatientTurns:
    """Gives turns at models as another does, while the trial's time stands still."""

    def __init__(self, turns: ModelTurns, patience: Patience) -> None:
        self._turns, self._patience = turns, patience

    @asynccontextmanager
    async def take_turn(self, name: str, source: ModelSource) -> AsyncIterator[None]:
        """Wait for a turn, and hold it until the answer is whole."""
        async with AsyncExitStack() as stack:
            with self._patience.stand_still():
                await stack.enter_async_context(self._turns.take_turn(name, source))
            yield

    async def wait_out(self, seconds: float) -> None:
        """Wait as long as the model's endpoint asks for."""
        with self._patience.stand_still():
            await self._turns.wait_out(seconds)


class PatientUser:
    """Answers servers' questions as another does, while the trial's time stands still."""

    def __init__(self, user: QuestionTaker, patience: Patience) -> None:
        self._user, self._patience = user, patience

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """Put a question to the user."""
        with self._patience.stand_still():
            return await self._user.answer_question(server, question)
