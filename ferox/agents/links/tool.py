"""The tool link: an agent that is offered as a tool of an MCP server."""

from __future__ import annotations

import json
from contextlib import AsyncExitStack
from typing import Any

from mcp import Client
from mcp.shared.exceptions import MCPError

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.agents.links.service import ServiceLink
from ferox.core.definitions import properties_of, required_of
from ferox.formats.server import Reach
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.diagnosis import ServerUnreachable, plain_error
from ferox.servers.sources.live import every_page
from ferox.servers.sources.source import plain_value

OPEN = "FEROX_OPEN"
"""The variable in which a command finds the link protocol's `open` message."""
SESSION_ARGUMENTS = ("session", "session_id", "conversation", "conversation_id", "thread_id")
"""Arguments that are taken to name the conversation, if the tool has one of them."""


class ToolLink(ServiceLink):
    """Calls the agent's tool with the user's words, once a turn.

    Without a `url` its `command` is started for each trial, as an MCP server over stdio, and
    told of the trial in `FEROX_OPEN`; at a `url` it is a service like others.
    """

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        if self.agent.url:
            return await super().open_conversation(setup, start_s)
        return await self.begin_conversation(setup, start_s)

    async def begin_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        agent, stack = self.agent, AsyncExitStack()
        if agent.url:
            to = Reach(url=agent.url, headers=agent.headers)
        else:
            env = {**agent.env, OPEN: json.dumps(setup.open_message())}
            to = Reach(command=agent.command, cwd=agent.cwd, env=env)
        try:
            client = await stack.enter_async_context(connect_client(to, self.workspace, start_s))
            tools = {t["name"]: t for t in await every_page(client.list_tools, "tools")}
            return _ToolConversation(stack, client, self._find_call(tools, setup.trial))
        except ServerUnreachable as error:
            await stack.aclose()
            raise AgentDidNotStart(str(error)) from None
        except BaseException:
            await stack.aclose()
            raise

    def _find_call(self, tools: dict[str, Any], trial: str) -> tuple[str, str, dict[str, Any]]:
        """The tool, the argument that takes the words, and the other arguments.

        Raises:
            AgentDidNotStart: there is no such tool, or no telling which argument takes the words.
        """
        name = self.agent.tool or (next(iter(tools)) if len(tools) == 1 else "")
        if name not in tools:
            known = ", ".join(sorted(tools)) or "none"
            raise AgentDidNotStart(f"`tool`: the server has no `{name}`; it offers {known}")
        schema = tools[name].get("inputSchema")
        properties = properties_of(schema)
        words = self.agent.argument or _argument_for_words(properties, required_of(schema))
        if words is None or words not in properties:
            known = ", ".join(sorted(properties)) or "none"
            raise AgentDidNotStart(
                f"`argument`: say which argument takes the words; there is {known}"
            )
        named = {a: trial for a in SESSION_ARGUMENTS if a in properties and a != words}
        return name, words, named


def _argument_for_words(properties: dict[str, Any], required: list[str]) -> str | None:
    """The one argument that takes a text."""
    texts = [
        n for n, p in properties.items() if p.get("type") == "string" and n not in SESSION_ARGUMENTS
    ]
    needed = [n for n in texts if n in required]
    found = needed or texts
    return found[0] if len(found) == 1 else None


class _ToolConversation(Conversation):
    def __init__(
        self, stack: AsyncExitStack, client: Client, call: tuple[str, str, dict[str, Any]]
    ) -> None:
        self._stack, self._client = stack, client
        self._tool, self._words, self._named = call

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        said = ""

        async def progress(progress: float, total: float | None, message: str | None) -> None:
            nonlocal said
            if message:
                said = f"{said}\n{message}".strip()
                hooks.partial(said)

        args = {**self._named, self._words: text}
        try:
            result = await self._client.call_tool(self._tool, args, progress_callback=progress)
        except MCPError as error:
            raise AgentCrashed(f"the agent's tool answered with an error: {error}") from None
        except Exception as error:
            raise AgentCrashed(f"the agent's tool: {plain_error(error)}") from None
        content = [c.model_dump(mode="json", by_alias=True) for c in result.content]
        words = "\n".join(c["text"] for c in content if c.get("type") == "text")
        if result.is_error:
            raise AgentCrashed(f"the agent's tool says that it failed: {words}")
        data = result.structured_content
        if isinstance(data, dict) and list(data) == ["result"] and data["result"] == words:
            data = None  # the SDK's wrapping of a plain text
        if data is None and isinstance(value := plain_value(content, None), dict):
            data = value
        return AgentReply(words, data)

    async def close(self) -> bool:
        await self._stack.aclose()
        return True
