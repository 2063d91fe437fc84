"""The plain link: Ferox's own minimal loop of model, instructions and tools."""

from __future__ import annotations

from contextlib import AbstractAsyncContextManager, AsyncExitStack, nullcontext
from typing import Any

import httpx2
from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError

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


class _PlainConversation(Conversation):
    def __init__(self, setup: AgentSetup) -> None:
        self._setup = setup
        self._stack = AsyncExitStack()
        self._clients: dict[str, tuple[Client, str]] = {}
        self._tools: list[dict[str, Any]] = []
        self._messages: list[dict[str, Any]] = []
        if setup.instructions:
            self._messages.append({"role": "system", "content": setup.instructions})

    async def connect_servers(self) -> None:
        """Connect to every server and list its tools."""
        http = httpx2.AsyncClient(timeout=None, verify=TLS)
        self._http = await self._stack.enter_async_context(http)
        for name, url in self._setup.servers.items():
            client = await self._stack.enter_async_context(
                Client(streamable_http_client(url, http_client=self._http))
            )
            listed = await client.list_tools()
            for tool in listed.tools:
                # A tool of the same name on two servers is offered under both names.
                offered = f"{name}_{tool.name}" if tool.name in self._clients else tool.name
                self._clients[offered] = (client, tool.name)
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
            client, real = self._clients[name]
            result = await client.call_tool(real, args)
        except MCPError as error:
            return f"Error: {error}"
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
        except Exception as error:
            await conversation.close()
            raise AgentDidNotStart(f"{type(error).__name__}: {error}") from None
        return conversation

    async def shut_down(self) -> None:
        return None
