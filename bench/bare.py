"""The bounds: a bare SDK server, a bare model endpoint, and nothing of Ferox."""

from __future__ import annotations

import asyncio
import json
import socket
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, nullcontext
from typing import Any

import mcp_types as types
import uvicorn
from mcp.server.lowlevel.server import Server
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from starlette.requests import Request
from starlette.responses import JSONResponse
from starlette.types import Receive, Scope, Send

CALLS = 5
TOOL = types.Tool(
    name="high_water",
    description="Times of high water on one day.",
    input_schema={"type": "object", "properties": {"day": {"type": "string"}}},
)
CONSTANT = types.CallToolResult.model_validate(
    {"content": [{"type": "text", "text": '{"at": "14:31"}'}]}
)


async def _list(context: Any, params: Any) -> types.ListToolsResult:
    return types.ListToolsResult(tools=[TOOL])


async def _call(context: Any, params: Any) -> types.CallToolResult:
    return CONSTANT


async def _complete(request: Request) -> JSONResponse:
    """Proposes the same call until the history holds as many results as there should be."""
    body = json.loads(await request.body())
    made = sum(m["role"] == "tool" for m in body["messages"])
    message: dict[str, Any] = {"role": "assistant", "content": "At 14:31."}
    if made < CALLS:
        function = {"name": TOOL.name, "arguments": '{"day": "2031-03-14"}'}
        call = {"id": f"p{made}", "type": "function", "function": function}
        message = {"role": "assistant", "content": None, "tool_calls": [call]}
    return JSONResponse({"choices": [{"index": 0, "message": message}]})


@asynccontextmanager
async def bare_servers() -> AsyncIterator[str]:
    """Serve both on one port; yields the base address: `/mcp` and `/model/v1`."""
    manager = StreamableHTTPSessionManager(Server("bare", on_list_tools=_list, on_call_tool=_call))

    async def app(scope: Scope, receive: Receive, send: Send) -> None:
        if scope["path"] == "/mcp":
            await manager.handle_request(scope, receive, send)
        else:
            await (await _complete(Request(scope, receive)))(scope, receive, send)

    with socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP) as sock:
        sock.bind(("127.0.0.1", 0))
        config = uvicorn.Config(app, log_level="error", lifespan="off", access_log=False)
        server = uvicorn.Server(config)
        server.capture_signals = nullcontext  # type: ignore[method-assign, assignment]
        async with manager.run():
            task = asyncio.create_task(server.serve(sockets=[sock]))
            while not server.started:
                await asyncio.sleep(0.005)
            yield f"http://127.0.0.1:{sock.getsockname()[1]}"
            server.should_exit = server.force_exit = True
            await task
