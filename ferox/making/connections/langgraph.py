"""An agent built with LangGraph, as Ferox drives it."""

from contextlib import asynccontextmanager

from langchain.agents import create_agent
from langchain_mcp_adapters.client import MultiServerMCPClient
from langchain_openai import ChatOpenAI
from langgraph.checkpoint.memory import InMemorySaver


@asynccontextmanager
async def open_desk(trial):
    places = {
        n: {"url": s["url"], "transport": "streamable_http"} for n, s in trial.servers.items()
    }
    model = trial.models["main"]
    agent = create_agent(
        ChatOpenAI(model=model["name"], base_url=model["base_url"], api_key=model["api_key"]),
        tools=await MultiServerMCPClient(places).get_tools(),
        system_prompt=trial.instructions or None,
        checkpointer=InMemorySaver(),
    )
    thread = {"configurable": {"thread_id": trial.id}}

    async def say(text):
        state = await agent.ainvoke({"messages": [("user", text)]}, thread)
        return state["messages"][-1].text

    yield say
