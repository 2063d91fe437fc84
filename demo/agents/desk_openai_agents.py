"""The duty desk, built with the OpenAI Agents SDK as its own users would build it."""

from contextlib import AsyncExitStack, asynccontextmanager

from agents import (
    Agent,
    ModelSettings,
    OpenAIChatCompletionsModel,
    Runner,
    set_tracing_disabled,
)
from agents.mcp import MCPServerStreamableHttp
from openai import AsyncOpenAI

set_tracing_disabled(True)  # its traces would go to a service elsewhere


@asynccontextmanager
async def open_desk(trial):
    """Connect to the trial's servers and model, and yield the conversation."""
    model = trial.models["main"]
    async with AsyncExitStack() as stack:
        servers = [
            await stack.enter_async_context(
                MCPServerStreamableHttp(
                    {"url": server["url"]}, name=name, client_session_timeout_seconds=10
                )
            )
            for name, server in trial.servers.items()
        ]
        client = AsyncOpenAI(base_url=model["base_url"], api_key=model["api_key"])
        agent = Agent(
            name="Duty desk",
            instructions=trial.instructions or None,
            model=OpenAIChatCompletionsModel(model["name"], client),
            model_settings=ModelSettings(temperature=trial.params.get("temperature", 0)),
            mcp_servers=servers,
        )
        history = []

        async def say(text):
            asked = [*history, {"role": "user", "content": text}]
            result = await Runner.run(agent, asked, max_turns=20)
            history[:] = result.to_input_list()
            return result.final_output

        yield say
