"""The plain link: Ferox's own minimal loop of model, instructions and tools."""

from __future__ import annotations

import asyncio
from contextlib import AbstractAsyncContextManager, AsyncExitStack, nullcontext
from typing import Any

import httpx2
from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError
from mcp_types import CONNECTION_CLOSED, CallToolResult

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.intake.json_text import read_json
from ferox.servers.connection.tls import TLS

BREAKING_S = 0.5
"""Seconds that a connection takes to end at the most, once a call has failed for it."""


class _ServerConnection:
    """A server's client, on a task of its own: a connection that breaks takes the SDK's whole
    client with it, and would take the loop too."""

    def __init__(self, url: str, http: httpx2.AsyncClient) -> None:
        self._url, self._http = url, http
        self._task: asyncio.Task[None] | None = None

    async def open(self) -> Client:
        """The client; connected once more if the connection broke.

        Raises:
            Exception: the server cannot be reached.
        """
        if self._task is None or self._task.done():
            self._over = asyncio.Event()
            self._opened: asyncio.Future[Client] = asyncio.get_running_loop().create_future()
            self._task = asyncio.create_task(self._live())
        either: list[asyncio.Future[Any]] = [self._task, self._opened]
        await asyncio.wait(either, return_when=asyncio.FIRST_COMPLETED)
        if not self._opened.done():
            await self._task
        return self._opened.result()

    async def _live(self) -> None:
        async with Client(streamable_http_client(self._url, http_client=self._http)) as client:
            self._opened.set_result(client)
            await self._over.wait()

    async def call_tool(self, name: str, args: dict[str, Any]) -> CallToolResult:
        """A call's result.

        Raises:
            MCPError: the server answered with an error.
            Exception: the connection broke.
        """
        client = await self.open()
        assert self._task is not None
        call = asyncio.ensure_future(client.call_tool(name, args))
        try:
            await asyncio.wait({call, self._task}, return_when=asyncio.FIRST_COMPLETED)
            if not call.done():
                await self._task  # raises what broke it
            return await call
        except MCPError as error:
            # A server may use this code, too; what broke a connection is a moment later.
            if error.code == CONNECTION_CLOSED:
                await asyncio.wait({self._task}, timeout=BREAKING_S)
            if not self._task.done():
                raise
            raise ConnectionError("the connection broke") from None
        finally:
            call.cancel()
            await asyncio.gather(call, return_exceptions=True)

    async def close(self) -> None:
        """Close the connection, if it did not break."""
        if self._task is not None:
            self._over.set()
            if not self._opened.done():  # a server that never answers would keep it waiting
                self._task.cancel()
            await asyncio.gather(self._task, return_exceptions=True)


class _PlainConversation(Conversation):
    def __init__(self, setup: AgentSetup) -> None:
        self._setup = setup
        self._stack = AsyncExitStack()
        self._clients: dict[str, tuple[_ServerConnection, str]] = {}
        self._tools: list[dict[str, Any]] = []
        self._messages: list[dict[str, Any]] = []
        if setup.instructions:
            self._messages.append({"role": "system", "content": setup.instructions})

    async def connect_servers(self) -> None:
        """Connect to every server and list its tools."""
        http = httpx2.AsyncClient(timeout=None, verify=TLS)
        self._http = await self._stack.enter_async_context(http)
        for name, url in self._setup.servers.items():
            connection = _ServerConnection(url, self._http)
            self._stack.push_async_callback(connection.close)
            listed = await (await connection.open()).list_tools()
            for tool in listed.tools:
                # A tool of the same name on two servers is offered under both names.
                offered = f"{name}_{tool.name}" if tool.name in self._clients else tool.name
                self._clients[offered] = (connection, tool.name)
                self._tools.append(_function_of(offered, tool.description, tool.input_schema))

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        self._messages.append({"role": "user", "content": text})
        while True:
            message = await self._ask_model()
            self._messages.append(message)
            calls = message.get("tool_calls") or []
            if not calls:
                return AgentReply(message.get("content") or "")
            for call in calls:
                result = await self._call_tool(call["function"])
                self._messages.append(
                    {"role": "tool", "tool_call_id": call["id"], "content": result}
                )

    async def _ask_model(self) -> dict[str, Any]:
        model = self._setup.models["main"]
        body = {"model": model["name"], "messages": self._messages, **self._setup.params}
        if self._tools:
            body["tools"] = self._tools
        response = await self._http.post(
            f"{model['base_url']}/chat/completions",
            json=body,
            headers={"Authorization": f"Bearer {model['api_key']}"},
        )
        if response.status_code != 200:
            raise AgentCrashed(f"the model answered {response.status_code}: {response.text[:300]}")
        message: dict[str, Any] = read_json(response.content)["choices"][0]["message"]
        return message

    async def _call_tool(self, function: dict[str, Any]) -> str:
        name = function["name"]
        if name not in self._clients:
            return f"Error: there is no tool named {name}"
        try:
            args = read_json(function["arguments"] or "{}")
        except ValueError as error:
            return f"Error: the arguments are not JSON: {error}"
        try:
            connection, real = self._clients[name]
            result = await connection.call_tool(real, args)
        except MCPError as error:
            return f"Error: {error}"
        except Exception:  # whatever the SDK makes of a connection that broke
            return "Error: the connection to the server was lost"
        text = "\n".join(c.text for c in result.content if c.type == "text")
        return f"Error: {text}" if result.is_error else text

    async def close(self) -> bool:
        await self._stack.aclose()
        return True


def _function_of(name: str, description: str | None, schema: Any) -> dict[str, Any]:
    function = {"name": name, "description": description or "", "parameters": schema}
    return {"type": "function", "function": function}


class PlainLink:
    """Drives the plain loop, in this process."""

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        return nullcontext()

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        conversation = _PlainConversation(setup)
        try:
            await conversation.connect_servers()
        except BaseException as error:  # Stop may come while it connects
            await conversation.close()
            if isinstance(error, Exception):
                raise AgentDidNotStart(f"{type(error).__name__}: {error}") from None
            raise
        return conversation

    async def shut_down(self) -> None:
        return None
