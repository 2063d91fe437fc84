"""An agent built with Pydantic AI, as Ferox drives it."""

from contextlib import asynccontextmanager

from pydantic_ai import Agent
from pydantic_ai.mcp import MCPToolset
from pydantic_ai.models.openai import OpenAIChatModel
from pydantic_ai.providers.openai import OpenAIProvider


@asynccontextmanager
async def open_desk(trial):
    model = trial.models["main"]
    provider = OpenAIProvider(base_url=model["base_url"], api_key=model["api_key"])
    agent = Agent(
        OpenAIChatModel(model["name"], provider=provider),
        instructions=trial.instructions or None,
        toolsets=[MCPToolset(server["url"]) for server in trial.servers.values()],
    )
    history = []

    async def say(text):
        result = await agent.run(text, message_history=history)
        history[:] = result.all_messages()
        return result.output

    async with agent:
        yield say
