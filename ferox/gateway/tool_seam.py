"""The tool seam: MCP, served with the official SDK, in front of one trial's server."""

from __future__ import annotations

import asyncio
import copy
import json
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from typing import Any

import mcp_types as types
from mcp.server.context import ServerRequestContext
from mcp.server.lowlevel.server import NotificationOptions, Server
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from mcp.shared.exceptions import MCPError
from starlette.requests import Request
from starlette.types import Receive, Scope, Send

from ferox.core.story import fits_any
from ferox.formats.trace import Event, OfferedTool
from ferox.gateway.broken_wire import (
    WIRE_FAULTS,
    BrokenWire,
    Exchange,
    is_call,
    lost_session,
    replay,
    session_of,
)
from ferox.gateway.recorder import Recorder
from ferox.servers.faults import FaultPlan, Struck
from ferox.servers.mock import Answered, MockServer

STRUCK = "ferox.struck"
"""Where a request's scope holds the fault that strikes its call."""
PLANTED = "note"
"""The key under which a planted text stands in a structured result."""


class _Announcing(Server[Any]):
    """A server that says beforehand that its list of tools may change."""

    def get_capabilities(
        self, notification_options: NotificationOptions | None = None, *args: Any, **kwargs: Any
    ) -> types.ServerCapabilities:
        options = notification_options or NotificationOptions(tools_changed=True)
        options.tools_changed = True
        return super().get_capabilities(options, *args, **kwargs)


class ToolSeam:
    """One server as one trial's agent sees it.

    Every protocol version that the SDK speaks is served at one address. `offer` is
    "all" or globs of tool names; what is not offered does not exist here.
    """

    def __init__(
        self,
        mock: MockServer,
        offer: str | list[str],
        recorder: Recorder,
        faults: FaultPlan | None = None,
    ) -> None:
        self.mock = mock
        self._recorder = recorder
        self._faults = faults or FaultPlan([], 0)
        self._tools = {
            name: tool
            for name, tool in mock.tools.items()
            if (offer == "all" or fits_any(name, list(offer)))
            and not self._faults.hidden(mock.name, name)
        }
        self._offered = dict(self._tools)
        self._over = asyncio.Event()
        self._wire = BrokenWire(self._over)
        server = _Announcing(
            mock.name, version="1", on_list_tools=self._list, on_call_tool=self._call
        )
        self._manager = StreamableHTTPSessionManager(server)

    @asynccontextmanager
    async def run(self) -> AsyncIterator[None]:
        """Serve while the context is open."""
        async with self._manager.run():
            try:
                yield
            finally:
                self._over.set()

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one HTTP request, or let a fault do it."""
        if session_of(scope) in self._wire.lost:
            await lost_session()(scope, receive, send)
            return
        if not self._faults.faults or scope["method"] != "POST":
            await self._manager.handle_request(scope, receive, send)
            return
        body = await Request(scope, receive).body()
        receive = replay(body, receive)
        message: Any = None
        with suppress(ValueError):
            message = json.loads(body)
        struck = None
        if is_call(message):
            struck = self._faults.next(self.mock.name, message["params"]["name"])
        if struck and struck.fault.do in WIRE_FAULTS:
            await self._break(struck, message, scope, receive, send)
            return
        scope[STRUCK] = struck
        await self._manager.handle_request(scope, receive, send)

    async def _break(
        self, struck: Struck, message: Any, scope: Scope, receive: Receive, send: Send
    ) -> None:
        params = message["params"]
        event = self._begin(params["name"], params.get("arguments") or {}, struck)

        def finish(**fields: Any) -> None:
            self._recorder.finish(event, **fields)

        await self._wire.answer(struck.fault, Exchange(message, scope, receive, send, finish))

    def offered(self) -> dict[str, OfferedTool]:
        """Address → the tool as the agent is offered it at the start."""
        return {
            f"{self.mock.name}/{name}": {"input": tool.input, "description": tool.description}
            for name, tool in self._offered.items()
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
        return types.ListToolsResult(tools=[self._definition(name) for name in self._tools])

    def _begin(self, tool: str, args: dict[str, Any], struck: Struck | None) -> Event:
        address = f"{self.mock.name}/{tool}"
        place = {} if struck is None else {"fault_n": struck.place}
        return self._recorder.begin(
            "call",
            "c",
            seam="tool",
            tool=address,
            args=args,
            result=None,
            error=None,
            fault=struck.fault.do if struck else None,
            proposal=self._recorder.take_proposal(address, args),
            **place,
        )

    async def _call(
        self, context: ServerRequestContext[Any], params: types.CallToolRequestParams
    ) -> types.CallToolResult:
        args = params.arguments or {}
        struck: Struck | None = context.request.scope.get(STRUCK) if context.request else None
        event = self._begin(params.name, args, struck)
        fault = struck.fault if struck else None
        if params.name not in self._tools or (fault and fault.do == "missing_tool"):
            self._refuse(event, types.INVALID_PARAMS, f"Unknown tool: {params.name}")
        if fault and fault.do == "protocol_error":
            self._refuse(event, fault.code, fault.text or "Internal error")
        if fault and fault.do == "tool_error":
            block = {"type": "text", "text": fault.text or "The tool failed."}
            answered = Answered([block], is_error=True)
        else:
            answered = self.mock.call(params.name, args)
        wait = answered.wait_s + ((fault.ms or 0) / 1000 if fault and fault.do == "slow" else 0)
        if wait:
            await asyncio.sleep(wait)
        if fault and fault.do == "planted_text":
            answered = planted(answered, fault.text or "")
        self._finish(event, answered)
        if fault and fault.do == "tools_changed":
            del self._tools[params.name]
            await context.session.send_tool_list_changed()
        structured = answered.structured if self._offered[params.name].output else None
        return types.CallToolResult.model_validate(
            {
                "content": answered.content,
                "structuredContent": structured,
                "isError": answered.is_error,
            }
        )

    def _refuse(self, event: Event, code: int, message: str) -> None:
        error = {"kind": "protocol_error", "message": message, "code": code}
        self._recorder.finish(event, error=error)
        raise MCPError(code, message)

    def _finish(self, event: Event, answered: Answered) -> None:
        if answered.is_error:
            error = {"kind": "tool_error", "message": answered.error}
            self._recorder.finish(event, error=error)
        else:
            self._recorder.finish(event, result=answered.value)


def planted(answered: Answered, text: str) -> Answered:
    """An answer with a text added to its words and to its structure: some agents read one only."""
    structured = answered.structured
    if isinstance(structured, dict):
        structured = {**copy.deepcopy(structured), PLANTED: text}
        blocks = [{"type": "text", "text": json.dumps(structured, ensure_ascii=False)}]
    else:
        blocks = [*answered.content, {"type": "text", "text": text}]
    return Answered(blocks, structured, answered.is_error, answered.wait_s)
