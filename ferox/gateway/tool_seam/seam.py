"""The tool seam: MCP, served with the official SDK, in front of one trial's server."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import partial
from typing import Any

import mcp_types as types
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from starlette.types import Receive, Scope, Send

from ferox.formats.trace import OfferedTool, Traffic
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.chain import SeamSettings, build_chain
from ferox.gateway.tool_seam.step import ToolCall
from ferox.gateway.tool_seam.wire import EXCHANGE, Wire, WireExchange, WireHeard
from ferox.gateway.tool_seam.wire_faults import WIRE_FAULTS, AnsweredOnWire
from ferox.servers.offering import Context, Offering
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    Source,
    ToolOutput,
)


class ToolSeam(Offering):
    """One server as one trial's agent sees it: a chain of steps behind the protocol's server.

    Every protocol version that the SDK speaks is served at one address. `wire` is told the raw
    messages of each call. `standing`: the client is a running service, whose session may be
    older than the trial.
    """

    def __init__(
        self,
        source: Source,
        recorder: Recorder,
        settings: SeamSettings | None = None,
        *,
        standing: bool = False,
        wire: WireHeard | None = None,
    ) -> None:
        super().__init__(source)
        settings = settings or SeamSettings()
        self._chain = build_chain(source, recorder, settings)
        # Kept now, for the trace says what was offered at first: a fault may take a tool away.
        self._at_start = dict(self._chain.tools)
        self._protocols: set[str] = set()
        self._clients: set[str] = set()
        self._lists = 0
        # A running service may bring a session of an earlier trial's seam, which this one would
        # not know: without sessions it is served all the same.
        self._manager = StreamableHTTPSessionManager(self.server, stateless=standing)
        faults = settings.faults.faults if settings.faults else []
        self._wire = Wire(
            self._manager.handle_request,
            may_strike=any(f.do in WIRE_FAULTS for f in faults),
            heard=wire,
        )

    @asynccontextmanager
    async def run(self) -> AsyncIterator[None]:
        """Serve while the context is open."""
        async with self._manager.run():
            try:
                yield
            finally:
                self._wire.end_trial()
                self.close()

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one HTTP request, or let a fault do it."""
        await self._wire.handle(scope, receive, send)

    @property
    def traffic(self) -> Traffic:
        """What passed here besides calls."""
        return {
            "sessions": self._wire.sessions,
            "left_open": self._wire.left_open,
            "lists": self._lists,
            # Versions of the protocol are dates, so the greatest is the newest.
            "protocol": max(self._protocols, default=None),
            "client": ", ".join(sorted(self._clients)) or None,
        }

    def heard_from(self, context: Context) -> None:
        """Note who asks, and by which version of the protocol."""
        session = context.session
        if session.protocol_version:
            self._protocols.add(str(session.protocol_version))
        params = session.client_params
        if params is not None and params.client_info is not None:
            info = params.client_info
            self._clients.add(f"{info.name} {info.version}")

    async def _list(
        self, context: Context, params: types.PaginatedRequestParams | None
    ) -> types.ListToolsResult:
        self._lists += 1
        self.heard_from(context)
        return await super()._list(context, params)

    def offered_tools(self) -> dict[str, OfferedTool]:
        """Address → the tool as the agent is offered it at the start."""
        return {
            f"{self.source.name}/{name}": _offered_tool(name, tool)
            for name, tool in self._at_start.items()
        }

    def list_tools(self) -> list[Definition]:
        """The tools that the agent is told of at the moment."""
        return list(self._chain.tools.values())

    async def answer_call(
        self, context: Context, tool: str, args: dict[str, Any], caller: Caller
    ) -> ToolOutput:
        """What a call gives, by way of the chain.

        Raises:
            ProtocolRefusal: it gets a protocol error.
        """
        exchange: WireExchange | None = None
        if context.request is not None:
            exchange = context.request.scope.get(EXCHANGE)
        if exchange is not None:
            exchange.request_id = context.request_id
        call = ToolCall(
            tool=tool,
            args=args,
            caller=caller,
            sent_name=tool,
            sent_args=args,
            announce_change=partial(self.announce_change, context),
            wire=exchange,
        )
        try:
            return await self._chain.call(call)
        except AnsweredOnWire:
            raise ProtocolRefusal(types.INTERNAL_ERROR, "answered on the wire") from None


def _offered_tool(name: str, tool: Definition) -> OfferedTool:
    offered: OfferedTool = {
        "input": tool.get("inputSchema") or {},
        "description": tool.get("description") or "",
    }
    if tool["name"] != name:
        offered["name"] = tool["name"]
    return offered
