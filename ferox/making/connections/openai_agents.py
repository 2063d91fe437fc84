"""An agent built with the OpenAI Agents SDK, as Ferox drives it."""

from contextlib import AsyncExitStack, asynccontextmanager

from agents import Agent, OpenAIResponsesModel, Runner, set_tracing_disabled
from agents.mcp import MCPServerStreamableHttp
from openai import AsyncOpenAI

set_tracing_disabled(True)


@asynccontextmanager
async def open_desk(trial):
    model = trial.models["main"]
    client = AsyncOpenAI(base_url=model["base_url"], api_key=model["api_key"])
    async with AsyncExitStack() as stack:
        servers = []
        for name, server in trial.servers.items():
            there = MCPServerStreamableHttp({"url": server["url"]}, name=name)
            servers.append(await stack.enter_async_context(there))
        agent = Agent(
            name="desk",
            instructions=trial.instructions or None,
            model=OpenAIResponsesModel(model["name"], client),
            mcp_servers=servers,
        )
        history = []

        async def say(text):
            result = await Runner.run(agent, [*history, {"role": "user", "content": text}])
            history[:] = result.to_input_list()
            return result.final_output

        yield say
