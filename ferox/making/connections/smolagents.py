"""An agent built with smolagents, as Ferox drives it."""

import asyncio
from contextlib import asynccontextmanager

from smolagents import MCPClient, OpenAIServerModel, ToolCallingAgent


@asynccontextmanager
async def open_desk(trial):
    model = trial.models["main"]
    places = [{"url": s["url"], "transport": "streamable-http"} for s in trial.servers.values()]
    client = await asyncio.to_thread(MCPClient, places, structured_output=True)
    agent = ToolCallingAgent(
        tools=client.get_tools(),
        model=OpenAIServerModel(
            model["name"], api_base=model["base_url"], api_key=model["api_key"]
        ),
        instructions=trial.instructions or None,
    )
    first = True

    async def say(text):
        nonlocal first
        reset, first = first, False
        return str(await asyncio.to_thread(agent.run, text, reset=reset))

    yield say
    client.disconnect()
