"""What every link offers: open a conversation, take turns, close it."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Iterable
from contextlib import AbstractAsyncContextManager
from dataclasses import dataclass, field
from typing import Any, Protocol


@dataclass(frozen=True)
class AgentSetup:
    """What an agent is told of a trial when it opens."""

    trial: str
    now: str
    servers: dict[str, str]
    models: dict[str, dict[str, str]]
    instructions: str
    params: dict[str, Any] = field(default_factory=dict)

    def open_message(self) -> dict[str, Any]:
        """The `open` message of the link protocol."""
        servers = {n: {"url": url, "transport": "http"} for n, url in self.servers.items()}
        return {
            "op": "open",
            "trial": self.trial,
            "now": self.now,
            "servers": servers,
            "models": self.models,
            "instructions": self.instructions,
            "params": self.params,
        }


@dataclass(frozen=True)
class AgentReply:
    """The agent's words at the end of a turn, and perhaps a structured answer.

    `of`: what was given in the words' place, by its type, if it was not text.
    """

    text: str
    data: Any = None
    of: str | None = None


@dataclass(frozen=True)
class ApprovalDecision:
    """What came of an approval; `args` are all arguments as edited, or None."""

    approved: bool
    args: dict[str, Any] | None = None


@dataclass(frozen=True)
class AgentHooks:
    """What an agent may report or ask during a turn."""

    ask: Callable[[str, str, dict[str, Any]], Awaitable[ApprovalDecision]]
    local_call: Callable[[dict[str, Any]], None]
    partial: Callable[[str], None] = lambda text: None
    """The words of the reply so far."""


class AgentDidNotStart(Exception):
    """The agent could not be opened; the message says why and what to try."""


class AgentCrashed(Exception):
    """The agent ended with an error of its own, or its process died."""


class Conversation(Protocol):
    """An agent that has been opened for one trial."""

    log: Iterable[str] = ()
    """The last lines of the agent's own log, if it has one that Ferox sees."""
    unreadable_lines: int = 0
    """Lines so far that were not messages of the link."""
    repaired_messages: int = 0
    """Messages so far in which half characters were replaced."""

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        """Say something and wait for the reply.

        Raises:
            AgentCrashed: the turn ended in an error of the agent's own.
        """

    async def close(self) -> bool:
        """End the conversation; never raises, and leaves nothing of it running.

        Gives whether the agent heeded it; one that does not is ended.
        """


class Link(Protocol):
    """How one agent is driven."""

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        """A place to run in, held for a trial; waiting for one is not the agent's time."""

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        """Open a conversation within `start_s` seconds, in a place that is held.

        Raises:
            AgentDidNotStart: it could not be opened.
        """

    async def shut_down(self) -> None:
        """Let go of everything that was kept warm."""
