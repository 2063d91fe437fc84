"""The duty desk, built with Pydantic AI as its own users would build it."""

from contextlib import AsyncExitStack, asynccontextmanager
from dataclasses import dataclass
from typing import Any

from pydantic_ai import Agent
from pydantic_ai.mcp import MCPToolset
from pydantic_ai.models.openai import OpenAIChatModel
from pydantic_ai.providers.openai import OpenAIProvider
from pydantic_ai.toolsets import WrapperToolset
from pydantic_ai.usage import UsageLimits

ASKS_FIRST = {"send_notice": "notices/send_notice"}
"""Tools that the harbour master has to let go."""


@dataclass
class AskFirst(WrapperToolset):
    """A call that needs a go-ahead is put to a person, who may edit it."""

    trial: Any = None

    async def call_tool(self, name, tool_args, ctx, tool):
        """Ask, and call as approved."""
        if name in ASKS_FIRST:
            approved, args = await self.trial.ask_approval(ASKS_FIRST[name], tool_args)
            if not approved:
                return "Error: denied by the harbour master"
            tool_args = args or tool_args
        return await self.wrapped.call_tool(name, tool_args, ctx, tool)


@asynccontextmanager
async def open_desk(trial):
    """Connect to the trial's servers and model, and yield the conversation."""
    model = trial.models["main"]
    provider = OpenAIProvider(base_url=model["base_url"], api_key=model["api_key"])
    agent = Agent(
        OpenAIChatModel(model["name"], provider=provider),
        instructions=trial.instructions or None,
        toolsets=[AskFirst(MCPToolset(s["url"]), trial) for s in trial.servers.values()],
        model_settings={"temperature": trial.params.get("temperature", 0)},
    )
    async with AsyncExitStack() as stack:
        await stack.enter_async_context(agent)
        history = []

        async def say(text):
            limits = UsageLimits(request_limit=20)
            result = await agent.run(text, message_history=history, usage_limits=limits)
            history[:] = result.all_messages()
            return result.output

        yield say
