"""Tools in other words than the server's: the agent reads one name, the server gets its own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ferox.core.rewording import Rewording
from ferox.formats.server import ToolWording
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.servers.sources.source import Definition, ToolOutput


class Reworded:
    """Changes what the agent reads, and changes its calls back."""

    def __init__(self, behind: ToolStep, wording: Mapping[str, ToolWording]) -> None:
        self._behind = behind
        self._wording = Rewording(wording)

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools as the agent reads them, by the server's own names."""
        return {
            name: self._wording.shown_definition(tool) for name, tool in self._behind.tools.items()
        }

    async def call(self, call: ToolCall) -> ToolOutput:
        """Pass a call on by the server's own names."""
        tool = self._wording.own_name(call.sent_name)
        args = self._wording.own_args(tool, call.sent_args)
        return await self._behind.call(replace(call, tool=tool, args=args))
