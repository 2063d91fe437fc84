"""Any agent in Python, as Ferox drives it."""

from contextlib import asynccontextmanager


@asynccontextmanager
async def open_desk(trial):
    # trial.servers: {name: {"url": …}}, the tools over MCP (streamable HTTP)
    # trial.models: {"main": {"base_url": …, "api_key": …, "name": …}}, an OpenAI-style endpoint
    # trial.instructions, trial.now, trial.params, and
    # ok, args = await trial.ask_approval("server/tool", args)
    # trial.report_call("name", args, result=…) for a tool inside the agent
    async def say(text):
        return f"You said: {text}"

    yield say
