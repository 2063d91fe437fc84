"""What an agent is offered of a server's tools: the others do not exist for it."""

from __future__ import annotations

import mcp_types as types

from ferox.core.story import fits_any
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.servers.sources.source import Definition, ProtocolRefusal, ToolOutput


class Offered:
    """Lets through what is offered. `offer` is "all" or globs of the server's own names."""

    def __init__(self, behind: ToolStep, offer: str | list[str]) -> None:
        self._behind = behind
        self._globs = ["*"] if offer == "all" else list(offer)

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools that are offered at the moment."""
        return {n: tool for n, tool in self._behind.tools.items() if fits_any(n, self._globs)}

    async def call(self, call: ToolCall) -> ToolOutput:
        """Pass a call on, or answer as a server does that has no such tool."""
        if call.tool not in self.tools:
            raise ProtocolRefusal(types.INVALID_PARAMS, f"Unknown tool: {call.sent_name}")
        return await self._behind.call(call)
