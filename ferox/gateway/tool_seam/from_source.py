"""The last step: the server, or what stands in its place."""

from __future__ import annotations

import asyncio

from ferox.gateway.tool_seam.step import ToolCall
from ferox.servers.sources.source import Definition, Source, ToolOutput


class FromSource:
    """Asks a source, and waits as long as its answer is to take."""

    def __init__(self, source: Source) -> None:
        self._source = source

    @property
    def tools(self) -> dict[str, Definition]:
        """What the server offers."""
        return self._source.tools

    async def call(self, call: ToolCall) -> ToolOutput:
        """The server's answer."""
        given = await self._source.call(call.tool, call.args, call.caller)
        if given.wait_s:
            await asyncio.sleep(given.wait_s)
        return given
