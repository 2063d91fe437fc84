"""The door: the standing addresses of running services, and where each leads now.

`/a/AGENT/SERVER/mcp` and `/a/AGENT/model/v1/…` lead to the seams of the trial that holds
the agent. When none does, the tools are listed all the same, for a service may connect long
before its first trial, and every call is refused.
"""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import AsyncExitStack, asynccontextmanager
from typing import Any

import httpx2
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from starlette.requests import Request
from starlette.responses import JSONResponse, StreamingResponse
from starlette.types import Receive, Scope, Send

from ferox.gateway.listening import from_here, listen_on
from ferox.servers.offering import Offering
from ferox.servers.sources.source import Caller, Definition, ProtocolRefusal, ToolOutput

IDLE = "no trial is going on at this address; start one in Ferox, and ask again"
_HOP = {"host", "content-length", "connection", "transfer-encoding", "keep-alive"}
"""Headers of one connection, which are not passed on to the next."""

Leads = Callable[[str, str], str | None]
"""Agent, and a server or `model/NAME` → the address where that seam is now, or None."""
Idle = Callable[[str, str], Mapping[str, Definition] | None]
"""Agent and server → the tools that it will be offered; None if there is no such server."""


class _IdleServer:
    """A server between trials: its tools are known, and nothing answers."""

    state = None
    instructions = None
    methods: frozenset[str] = frozenset()

    def __init__(self, name: str, tools: Mapping[str, Definition]) -> None:
        self.name, self.tools = name, dict(tools)
        self.info = {"name": name, "version": "1"}

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """Refuse."""
        raise ProtocolRefusal(-32000, IDLE)

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """Refuse."""
        raise ProtocolRefusal(-32000, IDLE)

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """Refuse."""
        raise ProtocolRefusal(-32000, IDLE)


class StandingAddresses:
    """Serves the standing addresses of a workspace's agents."""

    def __init__(self, leads: Leads, idle: Idle) -> None:
        self._leads, self._idle = leads, idle
        self._http = httpx2.AsyncClient(timeout=httpx2.Timeout(10, read=None))

    @asynccontextmanager
    async def serve(self, port: int) -> AsyncIterator[str]:
        """Listen while the context is open.

        Raises:
            OSError: the port is taken.
        """
        async with self._http, listen_on(self._handle_request, port) as base:
            yield base

    async def _handle_request(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        if not from_here(scope):
            await _refusal_of(403, "only this machine may call this")(scope, receive, send)
            return
        match scope["path"].split("/"):
            case ["", "a", agent, "model", "v1", *rest]:
                await self._handle_model(agent, "main", rest, scope, receive, send)
            case ["", "a", agent, "models", name, "v1", *rest]:
                await self._handle_model(agent, name, rest, scope, receive, send)
            case ["", "a", agent, server, "mcp"]:
                to = self._leads(agent, server)
                if to is not None:
                    await self._pass_on(to, scope, receive, send)
                else:
                    await self._at_rest(agent, server, scope, receive=receive, send=send)
            case _:
                await _refusal_of(404, "no such address")(scope, receive, send)

    async def _handle_model(
        self, agent: str, name: str, rest: list[str], scope: Scope, receive: Receive, send: Send
    ) -> None:
        to = self._leads(agent, f"model/{name}")
        if to is None:
            await _refusal_of(503, IDLE)(scope, receive, send)
            return
        await self._pass_on("/".join([to, *rest]), scope, receive, send)

    async def _at_rest(
        self, agent: str, server: str, scope: Scope, receive: Receive, send: Send
    ) -> None:
        tools = self._idle(agent, server)
        if tools is None:
            await _refusal_of(404, "this agent is offered no such server")(scope, receive, send)
            return
        # Made for each request: at rest nothing is kept, and requests are few.
        manager = StreamableHTTPSessionManager(
            Offering(_IdleServer(server, tools)).server, stateless=True
        )
        async with manager.run():
            await manager.handle_request(scope, receive, send)

    async def _pass_on(self, to: str, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on to the trial that holds the agent, and its answer back as it comes."""
        request = Request(scope, receive)
        headers = {k: v for k, v in request.headers.items() if k not in _HOP}
        body = await request.body()
        async with AsyncExitStack() as stack:
            try:
                answer = await stack.enter_async_context(
                    self._http.stream(request.method, to, content=body, headers=headers)
                )
            except httpx2.HTTPError:
                await _refusal_of(503, IDLE)(scope, receive, send)
                return
            kept_headers = {k: v for k, v in answer.headers.items() if k not in _HOP}
            response = StreamingResponse(answer.aiter_raw(), answer.status_code, kept_headers)
            await response(scope, receive, send)


def _refusal_of(status: int, message: str) -> JSONResponse:
    error = {"message": message, "type": "no_trial", "code": None}
    return JSONResponse({"error": error}, status)
