"""A small live tool server for the tests: `tides.py stdio | http PORT | sse PORT`."""

import asyncio
import os
import sys

from mcp.server.mcpserver import Context, MCPServer
from pydantic import BaseModel

server = MCPServer("tides", instructions="Times are UTC.")


@server.tool()
def high_water(day: str) -> str:
    """Times of high water on one day."""
    return f"14:31 on {day}"


@server.tool()
def environment() -> list[str]:
    """Names of the variables that this server got."""
    return sorted(os.environ)


class Berth(BaseModel):
    """An answer to the question below."""

    berth: str


@server.tool()
async def sound(steps: int, ctx: Context) -> str:
    """Sound the channel, step by step."""
    for step in range(steps):
        await ctx.report_progress(step + 1, steps, f"sounding {step + 1}")
        await asyncio.sleep(0.1)
    return f"{steps} soundings"


@server.tool()
async def book(ctx: Context) -> str:
    """Book the berth that the client names when asked."""
    answer = await ctx.elicit("Which berth?", Berth)
    return f"Booked {answer.data.berth}." if answer.action == "accept" else "Nothing was booked."


@server.resource("tides://table")
def table() -> str:
    """The table."""
    return "14:31"


@server.prompt()
def ask(day: str) -> str:
    """Ask for a day's tides."""
    return f"When is high water on {day}?"


if __name__ == "__main__":
    match sys.argv[1:]:
        case ["http", port]:
            server.run("streamable-http", port=int(port))
        case ["sse", port]:
            server.run("sse", port=int(port))
        case _:
            server.run()
