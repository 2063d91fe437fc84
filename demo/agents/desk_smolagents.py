"""The duty desk, built with smolagents as its own users would build it."""

import asyncio
from contextlib import AsyncExitStack, asynccontextmanager, contextmanager

from smolagents import CodeAgent, LogLevel, MCPClient, OpenAIServerModel, ToolCallingAgent


@contextmanager
def connected(servers):
    """The tools of every server, while the context is open."""
    places = [{"url": s["url"], "transport": "streamable-http"} for s in servers.values()]
    if not places:
        yield []
        return
    client = MCPClient(places, structured_output=True)
    try:
        yield client.get_tools()
    finally:
        client.disconnect()


@asynccontextmanager
async def open_desk(trial, kind=ToolCallingAgent):
    """Connect to the trial's servers and model, and yield the conversation."""
    model = trial.models["main"]
    async with AsyncExitStack() as stack:
        context = connected(trial.servers)
        tools = await asyncio.to_thread(context.__enter__)
        stack.callback(context.__exit__, None, None, None)
        agent = kind(
            tools=tools,
            model=OpenAIServerModel(
                model["name"],
                api_base=model["base_url"],
                api_key=model["api_key"],
                temperature=trial.params.get("temperature", 0),
            ),
            instructions=trial.instructions or None,
            max_steps=12,
            verbosity_level=LogLevel.ERROR,
        )
        turns = 0

        async def say(text):
            nonlocal turns
            turns += 1
            answer = await asyncio.to_thread(agent.run, text, reset=turns == 1)
            return str(answer)

        yield say


def open_code_desk(trial):
    """The same desk, acting by code that its model writes instead of by tool calls."""
    return open_desk(trial, CodeAgent)
