"""A step of the tool seam's chain, and the call that passes it."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from typing import Any, Protocol

from ferox.formats.trace import CallEvent, HoldEvent
from ferox.gateway.tool_seam.wire import WireExchange
from ferox.servers.sources.source import Caller, Definition, ToolOutput


@dataclass
class ToolCall:
    """A call on its way to the server. `tool` and `args` are by the server's own names.

    `sent_name` and `sent_args` are as the agent wrote them; `announce_change` tells the agent's
    client that the list of tools changed; `wire` is the HTTP exchange, if it came by one.
    """

    tool: str
    args: dict[str, Any]
    caller: Caller
    sent_name: str
    sent_args: dict[str, Any]
    announce_change: Callable[[], Awaitable[None]]
    wire: WireExchange | None = None
    event: CallEvent | None = None
    """How the trace tells of it, once it goes out."""
    hold: HoldEvent | None = None
    """The hold that it went through."""
    by_hand: str | None = None
    """What a person did to it."""
    given_by_hand: ToolOutput | None = None
    """A person's answer in the server's place."""


class ToolStep(Protocol):
    """One step: which tools the agent is told of, and what becomes of a call."""

    @property
    def tools(self) -> dict[str, Definition]:
        """The server's own name → the tool, as this step and those behind it leave it."""

    async def call(self, call: ToolCall) -> ToolOutput:
        """Answer a call, or pass it on.

        Raises:
            ProtocolRefusal: it gets a protocol error.
            AnsweredOnWire: a fault answers it on the wire.
        """
