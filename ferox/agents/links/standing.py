"""An agent that finds Ferox's seams at standing addresses, whichever link drives it."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from pathlib import Path

from ferox.agents import standing_addresses as standing
from ferox.agents.links.link import AgentHooks, AgentReply, AgentSetup, Conversation, Link


class StandingLink:
    """Drives an agent as another link does, while its standing addresses lead to its trial.

    It takes one trial at a time. `folder` is the workspace's `.ferox`, where the trials of its
    processes agree on who is next.
    """

    def __init__(self, inner: Link, agent: str, folder: Path) -> None:
        self._inner, self._agent, self._folder = inner, agent, folder
        self.shut_down = inner.shut_down

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        return self._hold_both()

    @asynccontextmanager
    async def _hold_both(self) -> AsyncIterator[None]:
        async with self._inner.hold_place(), standing.hold_addresses(self._folder, self._agent):
            yield

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        # Before the agent is started: it may connect, and list its tools, while it starts.
        standing.point_addresses(self._folder, self._agent, setup)
        try:
            inner = await self._inner.open_conversation(setup, start_s)
        except BaseException:
            standing.release_addresses(self._folder, self._agent)
            raise
        return _StandingConversation(inner, self._agent, self._folder)


class _StandingConversation(Conversation):
    """A conversation while the agent's standing addresses lead to its trial."""

    def __init__(self, inner: Conversation, agent: str, folder: Path) -> None:
        self._inner, self._agent, self._folder = inner, agent, folder
        self.log = inner.log

    @property
    def unreadable_lines(self) -> int:  # type: ignore[override]
        """Those of the conversation itself."""
        return self._inner.unreadable_lines

    @property
    def repaired_messages(self) -> int:  # type: ignore[override]
        """Those of the conversation itself."""
        return self._inner.repaired_messages

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        return await self._inner.send_turn(text, hooks)

    async def close(self) -> bool:
        try:
            return await self._inner.close()
        finally:
            standing.release_addresses(self._folder, self._agent)
