"""The tool seam: MCP, served with the official SDK, in front of one trial's server."""

from __future__ import annotations

import asyncio
from contextlib import AbstractAsyncContextManager
from typing import Any

import mcp_types as types
from mcp.server.context import ServerRequestContext
from mcp.server.lowlevel.server import Server
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from mcp.shared.exceptions import MCPError
from starlette.types import Receive, Scope, Send

from ferox.core.story import fits_any
from ferox.formats.trace import OfferedTool
from ferox.gateway.recorder import Recorder
from ferox.servers.mock import Answered, MockServer


class ToolSeam:
    """One server as one trial's agent sees it.

    Every protocol version that the SDK speaks is served at one address. `offer` is
    "all" or globs of tool names; what is not offered does not exist here.
    """

    def __init__(self, mock: MockServer, offer: str | list[str], recorder: Recorder) -> None:
        self.mock = mock
        self._recorder = recorder
        self._tools = {
            name: tool
            for name, tool in mock.tools.items()
            if offer == "all" or fits_any(name, list(offer))
        }
        self._listed = [self._definition(name) for name in self._tools]
        server: Server[Any] = Server(
            mock.name, version="1", on_list_tools=self._list, on_call_tool=self._call
        )
        self._manager = StreamableHTTPSessionManager(server)

    def run(self) -> AbstractAsyncContextManager[None]:
        """Serve while the context is open."""
        return self._manager.run()

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one HTTP request."""
        await self._manager.handle_request(scope, receive, send)

    def offered(self) -> dict[str, OfferedTool]:
        """Address → the tool as the agent is offered it."""
        return {
            f"{self.mock.name}/{name}": {"input": tool.input, "description": tool.description}
            for name, tool in self._tools.items()
        }

    def _definition(self, name: str) -> types.Tool:
        tool = self._tools[name]
        return types.Tool(
            name=name,
            title=tool.title,
            description=tool.description or None,
            input_schema={"type": "object", **tool.input},
            output_schema=tool.output,
            annotations=types.ToolAnnotations.model_validate(tool.annotations)
            if tool.annotations
            else None,
        )

    async def _list(
        self, context: ServerRequestContext[Any], params: types.PaginatedRequestParams | None
    ) -> types.ListToolsResult:
        return types.ListToolsResult(tools=self._listed)

    async def _call(
        self, context: ServerRequestContext[Any], params: types.CallToolRequestParams
    ) -> types.CallToolResult:
        args = params.arguments or {}
        address = f"{self.mock.name}/{params.name}"
        event = self._recorder.begin(
            "call",
            "c",
            seam="tool",
            tool=address,
            args=args,
            result=None,
            error=None,
            fault=None,
            proposal=self._recorder.take_proposal(address, args),
        )
        if params.name not in self._tools:
            message = f"Unknown tool: {params.name}"
            error = {"kind": "protocol_error", "message": message, "code": types.INVALID_PARAMS}
            self._recorder.finish(event, error=error)
            raise MCPError(types.INVALID_PARAMS, message)
        answered = self.mock.call(params.name, args)
        if answered.wait_s:
            await asyncio.sleep(answered.wait_s)
        self._finish(event, answered)
        structured = answered.structured if self._tools[params.name].output else None
        return types.CallToolResult.model_validate(
            {
                "content": answered.content,
                "structuredContent": structured,
                "isError": answered.is_error,
            }
        )

    def _finish(self, event: Any, answered: Answered) -> None:
        if answered.is_error:
            message = str(answered.content[0].get("text", ""))
            self._recorder.finish(event, error={"kind": "tool_error", "message": message})
        else:
            self._recorder.finish(event, result=answered.value)
