"""A desk that is offered as one tool of an MCP server, built with LangGraph.

Started as `tool.py` it speaks over stdio and is told of one trial; as `tool.py PORT` it is
a service, told once where its tools and its model are.
"""

import json
import os
import sys

from langchain.agents import create_agent
from langchain_mcp_adapters.client import MultiServerMCPClient
from langchain_openai import ChatOpenAI
from langgraph.checkpoint.memory import InMemorySaver
from mcp.server.fastmcp import Context, FastMCP

if len(sys.argv) > 1:
    seams = json.loads(os.environ["FEROX_SEAMS"])
    servers, model = seams["servers"], seams["models"]["main"]
    desk = FastMCP("desk", port=int(sys.argv[1]))
else:
    seams = json.loads(os.environ["FEROX_OPEN"])
    servers = {name: s["url"] for name, s in seams["servers"].items()}
    model = seams["models"]["main"]["base_url"]
    desk = FastMCP("desk")
memory = InMemorySaver()


@desk.tool()
async def ask_desk(question: str, session: str, ctx: Context) -> str:
    """Ask the desk something."""
    await ctx.report_progress(0, 1, "Looking it up.")
    places = {n: {"url": url, "transport": "streamable_http"} for n, url in servers.items()}
    agent = create_agent(
        ChatOpenAI(model="desk", base_url=model, api_key="none"),
        tools=await MultiServerMCPClient(places).get_tools(),
        system_prompt="Answer with the tools that you are given.",
        checkpointer=memory,
    )
    config = {"configurable": {"thread_id": session}}
    state = await agent.ainvoke({"messages": [("user", question)]}, config)
    return state["messages"][-1].text


desk.run("streamable-http" if len(sys.argv) > 1 else "stdio")
