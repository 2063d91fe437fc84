"""What a server offers, read whole, and one call of a tool tried by hand."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import jsonpatch
from mcp import Client
from mcp.shared.exceptions import MCPError

from ferox.core.clock import Clock
from ferox.core.matchers import Situation
from ferox.formats.server import ServerFile
from ferox.servers.live import OutOfReach, reach
from ferox.servers.mock import MockServer, UnknownTool

NOW = "2031-03-14T06:30:00Z"
"""The clock of a mock that is tried outside any task."""
MOST_PAGES = 200


async def look(server: ServerFile, mode: str, folder: Path) -> dict[str, Any]:
    """Tools, resources and prompts, as the protocol writes them, and who answered.

    Raises:
        OutOfReach: a live server cannot be reached.
    """
    if mode == "mock":
        return _mocked(server)
    async with reach(_reach(server, mode), folder) as client:
        capabilities = client.server_capabilities
        info = client.server_info
        return {
            "protocol": client.protocol_version,
            "server_info": info.model_dump(exclude_none=True) if info else None,
            "instructions": client.instructions,
            "tools": await _all(client.list_tools, "tools") if capabilities.tools else [],
            "resources": await _all(client.list_resources, "resources")
            if capabilities.resources
            else [],
            "prompts": await _all(client.list_prompts, "prompts") if capabilities.prompts else [],
        }


async def _all(method: Any, key: str) -> list[dict[str, Any]]:
    """Every page of a list."""
    found: list[dict[str, Any]] = []
    cursor = None
    for _ in range(MOST_PAGES):
        page = await method(cursor=cursor)
        found += [
            item.model_dump(mode="json", by_alias=True, exclude_none=True)
            for item in getattr(page, key)
        ]
        cursor = page.next_cursor
        if not cursor:
            break
    return found


def _reach(server: ServerFile, mode: str) -> Any:
    to = server.live if mode == "live" else server.variants.get(mode)
    if to is None:
        known = ", ".join(modes(server)) or "none"
        raise OutOfReach("nothing", f"`{server.server}` has no `{mode}`", f"it has {known}")
    return to


def modes(server: ServerFile) -> list[str]:
    """The ways to a server that this version can take."""
    ways = ["live"] if server.live else []
    return [*ways, *server.variants, *(["mock"] if server.mock else [])]


def _mocked(server: ServerFile) -> dict[str, Any]:
    assert server.mock is not None
    tools = [
        {
            "name": tool.name,
            "title": tool.title,
            "description": tool.description,
            "inputSchema": tool.input,
            "outputSchema": tool.output,
            "annotations": tool.annotations,
        }
        for tool in server.mock.tools
    ]
    return {
        "protocol": None,
        "server_info": None,
        "instructions": None,
        "tools": [{k: v for k, v in tool.items() if v is not None} for tool in tools],
        "resources": server.mock.resources,
        "prompts": server.mock.prompts,
    }


async def try_call(
    server: ServerFile, mode: str, folder: Path, tool: str, args: dict[str, Any]
) -> dict[str, Any]:
    """Call a tool once: what came, how long it took, and what it changed in a mock's state.

    Raises:
        OutOfReach: a live server cannot be reached.
    """
    if mode == "mock":
        return _try_mock(server, tool, args)
    async with reach(_reach(server, mode), folder) as client:
        return await _try_live(client, tool, args)


async def _try_live(client: Client, tool: str, args: dict[str, Any]) -> dict[str, Any]:
    begun = time.perf_counter()
    try:
        result = await client.call_tool(tool, args)
    except MCPError as error:
        taken = (time.perf_counter() - begun) * 1000
        told = f"protocol error {error.code}: {error}"
        return _tried([], None, told, taken)
    taken = (time.perf_counter() - begun) * 1000
    content = [c.model_dump(mode="json", by_alias=True, exclude_none=True) for c in result.content]
    said = "\n".join(str(c.get("text", "")) for c in content) if result.is_error else None
    return _tried(content, result.structured_content, said, taken)


def _try_mock(server: ServerFile, tool: str, args: dict[str, Any]) -> dict[str, Any]:
    assert server.mock is not None
    mock = MockServer(server.server, server.mock, 1, Situation(Clock(NOW)))
    before = mock.state
    try:
        answered = mock.call(tool, args)
    except UnknownTool:
        return _tried([], None, f"Unknown tool: {tool}", 0.0)
    tried = _tried(answered.content, answered.structured, answered.error, answered.wait_s * 1000)
    changes = jsonpatch.make_patch(before, mock.state).patch
    return {**tried, "changes": changes, "state": mock.state}


def _tried(content: Any, structured: Any, error: str | None, ms: float) -> dict[str, Any]:
    return {
        "content": content,
        "structured": structured,
        "error": error,
        "ms": round(ms, 3),
        "changes": [],
        "state": None,
    }
