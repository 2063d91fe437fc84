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
        middleware=[tell_the_model],
        checkpointer=InMemorySaver(),
    )
    config = {"configurable": {"thread_id": trial.id}}

    async def say(text):
        state = await agent.ainvoke({"messages": [("user", text)]}, config)
        return state["messages"][-1].text

    yield say
