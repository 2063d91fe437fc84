"""A small live tool server for the tests: `tides.py stdio | http PORT | sse PORT`."""

import os
import sys

from mcp.server.mcpserver import MCPServer

server = MCPServer("tides", instructions="Times are UTC.")


@server.tool()
def high_water(day: str) -> str:
    """Times of high water on one day."""
    return f"14:31 on {day}"


@server.tool()
def environment() -> list[str]:
    """Names of the variables that this server got."""
    return sorted(os.environ)


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
