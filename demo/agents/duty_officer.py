"""The duty officer, built with LangGraph as its own users would build it."""

from contextlib import asynccontextmanager

from langchain.agents import create_agent
from langchain.agents.middleware import wrap_tool_call
from langchain_core.messages import ToolMessage
from langchain_mcp_adapters.client import MultiServerMCPClient
from langchain_openai import ChatOpenAI
from langgraph.checkpoint.memory import InMemorySaver


@wrap_tool_call
async def tell_the_model(request, handler):
    """A call that raises would end the turn: tell the model of it instead."""
    try:
        return await handler(request)
    except Exception as error:
        text = f"Error: {error}"
        return ToolMessage(text, tool_call_id=request.tool_call["id"], status="error")


ASKS_FIRST = {"send_notice": "notices/send_notice"}
"""Tools that the harbour master has to let go, by the names that the model sees."""


def ask_first(trial):
    """A call that needs a go-ahead is put to a person, who may edit it."""

    @wrap_tool_call
    async def middleware(request, handler):
        call = request.tool_call
        if call["name"] in ASKS_FIRST:
            approved, args = await trial.ask_approval(ASKS_FIRST[call["name"]], call["args"])
            if not approved:
                text = "Error: denied by the harbour master"
                return ToolMessage(text, tool_call_id=call["id"], status="error")
            request = request.override(tool_call={**call, "args": args or call["args"]})
        return await handler(request)

    return middleware


@asynccontextmanager
async def open_desk(trial):
    """Connect to the trial's servers and model, and yield the conversation."""
    client = MultiServerMCPClient(
        {
            name: {"url": server["url"], "transport": "streamable_http"}
            for name, server in trial.servers.items()
        }
    )
    model = trial.models["main"]
    agent = create_agent(
        ChatOpenAI(
            model=model["name"],
            base_url=model["base_url"],
            api_key=model["api_key"],
            temperature=trial.params.get("temperature", 0),
        ),
        tools=await client.get_tools(),
        system_prompt=trial.instructions or None,
        middleware=[ask_first(trial), tell_the_model],
        checkpointer=InMemorySaver(),
    )
    config = {"configurable": {"thread_id": trial.id}}

    async def say(text):
        state = await agent.ainvoke({"messages": [("user", text)]}, config)
        return state["messages"][-1].text

    yield say
