"""The duty desk, built with Pydantic AI as its own users would build it."""

from contextlib import AsyncExitStack, asynccontextmanager

from pydantic_ai import Agent
from pydantic_ai.mcp import MCPToolset
from pydantic_ai.models.openai import OpenAIChatModel
from pydantic_ai.providers.openai import OpenAIProvider
from pydantic_ai.usage import UsageLimits


@asynccontextmanager
async def open_desk(trial):
    """Connect to the trial's servers and model, and yield the conversation."""
    model = trial.models["main"]
    provider = OpenAIProvider(base_url=model["base_url"], api_key=model["api_key"])
    agent = Agent(
        OpenAIChatModel(model["name"], provider=provider),
        instructions=trial.instructions or None,
        toolsets=[MCPToolset(server["url"]) for server in trial.servers.values()],
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
