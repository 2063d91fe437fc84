"""The live server as a source: what an agent asks is asked of it, what it says is passed on."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

import mcp_types as types
from mcp import Client
from mcp.client.context import ClientRequestContext
from mcp.shared.exceptions import MCPError
from pydantic import BaseModel, ConfigDict

from ferox.formats.server import Reach
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.tap import LineListener
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    ServerQuestion,
    SilentCaller,
    ToolOutput,
    breaks_own_schema,
    output_of_result,
)

MOST_PAGES = 200
MOST_LISTED = 5_000
"""Tools, resources or prompts that are taken of one server."""


class _RawResult(BaseModel):
    """A result as it came."""

    model_config = ConfigDict(extra="allow")


_REQUESTS: dict[str, type[types.Request[Any, Any]]] = {
    "resources/list": types.ListResourcesRequest,
    "resources/templates/list": types.ListResourceTemplatesRequest,
    "resources/read": types.ReadResourceRequest,
    "prompts/list": types.ListPromptsRequest,
    "prompts/get": types.GetPromptRequest,
    "completion/complete": types.CompleteRequest,
    "logging/setLevel": types.SetLevelRequest,
}


async def every_page(method: Any, key: str) -> list[dict[str, Any]]:
    """Every page of a list, as the protocol writes its items; at most `MOST_LISTED` of them."""
    found: list[dict[str, Any]] = []
    cursor = None
    for _ in range(MOST_PAGES):
        page = await method(cursor=cursor)
        found += [
            item.model_dump(mode="json", by_alias=True, exclude_none=True)
            for item in getattr(page, key)
        ]
        cursor = page.next_cursor
        if not cursor or len(found) >= MOST_LISTED:
            break
    return found[:MOST_LISTED]


class LiveServer:
    """A connected live server. One call at a time hears its questions and its log."""

    state = None

    def __init__(self, name: str, client: Client, tools: list[Definition]) -> None:
        self.name = name
        self._client = client
        info = client.server_info
        self.info = info.model_dump(exclude_none=True) if info else {"name": name}
        self.instructions = client.instructions
        self.tools = {tool["name"]: tool for tool in tools}
        self.caller: Caller = SilentCaller()

    @property
    def methods(self) -> frozenset[str]:
        """What the server says it can do besides tools."""
        can = self._client.server_capabilities
        found: set[str] = set()
        if can.resources:
            found |= {"resources/list", "resources/templates/list", "resources/read"}
        if can.prompts:
            found |= {"prompts/list", "prompts/get"}
        if can.completions:
            found.add("completion/complete")
        if can.logging:
            found.add("logging/setLevel")
        return frozenset(found)

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """Have the live server answer a call.

        Raises:
            ProtocolRefusal: it answers with a protocol error, or the connection is gone.
        """
        # The protocol does not say to which call a question belongs; the newest is the best guess.
        self.caller = caller

        async def pass_on_progress(
            progress: float, total: float | None, message: str | None
        ) -> None:
            await caller.progress(progress, total, message)

        try:
            result = await self._client.call_tool(tool, args, progress_callback=pass_on_progress)
        except MCPError as error:
            raise ProtocolRefusal(error.code, str(error)) from None
        # The SDK raises these when what came back is not a result of the protocol.
        except (RuntimeError, ValueError) as error:
            raise ProtocolRefusal(
                types.INTERNAL_ERROR, f"the result is not valid: {error}"
            ) from None
        given = output_of_result(result.model_dump(mode="json", by_alias=True, exclude_none=True))
        broken = breaks_own_schema(self.tools.get(tool, {}), given)
        if broken:
            raise ProtocolRefusal(types.INTERNAL_ERROR, f"the result is not valid: {broken}")
        return given

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """Have the live server answer a call of Ferox's own.

        Raises:
            ProtocolRefusal: it answers with a protocol error.
        """
        return await self.call(tool, args, SilentCaller())

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """Pass another request on.

        Raises:
            ProtocolRefusal: the server answers with a protocol error.
        """
        request = _REQUESTS[method].model_validate({"method": method, "params": params})
        try:
            # Read loosely: what the client sees should be what the server sent, odd or not.
            result = await self._client.session.send_request(request, _RawResult)
        except MCPError as error:
            raise ProtocolRefusal(error.code, str(error)) from None
        return result.model_dump(mode="json")


def question_of(params: types.ElicitRequestParams) -> ServerQuestion:
    """What a live server asks."""
    schema = getattr(params, "requested_schema", None) or {}
    return ServerQuestion(params.message, dict(schema), getattr(params, "url", None))


@asynccontextmanager
async def live_source(
    name: str, to: Reach, folder: Path, heard: LineListener | None = None
) -> AsyncIterator[LiveServer]:
    """A live server, connected while the context is open.

    Raises:
        ServerUnreachable: with a diagnosis.
    """
    server: LiveServer | None = None

    def caller() -> Caller:
        return server.caller if server else SilentCaller()

    async def elicit(
        context: ClientRequestContext, params: types.ElicitRequestParams
    ) -> types.ElicitResult:
        asked = await caller().ask_question(question_of(params))
        # The server has to be answered, and a client that takes no questions has declined nothing.
        if asked.action == "not_asked":
            return types.ElicitResult(action="cancel")
        return types.ElicitResult.model_validate(
            {"action": asked.action, "content": asked.content or None}
        )

    async def sample(
        context: ClientRequestContext, params: types.CreateMessageRequestParams
    ) -> types.CreateMessageResult | types.ErrorData:
        given = params.model_dump(mode="json", by_alias=True, exclude_none=True)
        try:
            return types.CreateMessageResult.model_validate(await caller().sample(given))
        except ProtocolRefusal as error:
            return types.ErrorData(code=error.code, message=error.message)

    async def log(params: types.LoggingMessageNotificationParams) -> None:
        await caller().log(params.level, params.data, params.logger)

    callbacks: dict[str, Any] = {
        "elicitation_callback": elicit,
        "sampling_callback": sample,
        "logging_callback": log,
    }
    async with connect_client(to, folder, heard=heard, **callbacks) as client:
        has_tools = client.server_capabilities.tools
        tools = await every_page(client.list_tools, "tools") if has_tools else []
        server = LiveServer(name, client, tools)
        yield server
