"""The tools a script may name: of mocks and recordings, and of live servers once seen."""

from __future__ import annotations

from ferox.core.definitions import properties_of, required_of, sound_schema
from ferox.formats.server import ServerFile
from ferox.store.by_hand import seen_before
from ferox.store.database import Engine
from ferox.web.tasks import shapes
from ferox.workspace.check_server import Definition


def seen_tools(engine: Engine, servers: dict[str, ServerFile]) -> dict[str, dict[str, Definition]]:
    """The tools that live servers were seen to offer, by server."""
    seen = {}
    for name, server in servers.items():
        for mode in ("live", *server.variants):
            last_seen = seen_before(engine, name, mode)
            if last_seen is not None:
                seen[name] = {tool["name"]: tool for tool in last_seen[1]}
                break
    return seen


def tool_shape(server: str, tool: Definition) -> shapes.KnownTool:
    """A tool as the editor completes it."""
    schema = tool.get("inputSchema")
    required = required_of(schema)
    return shapes.KnownTool(
        tool=f"{server}/{tool['name']}",
        description=str(tool.get("description") or ""),
        arguments=[
            shapes.OfferedArgument(
                name=name,
                type=str(declared.get("format") or declared.get("type") or "any"),
                description=str(declared.get("description") or ""),
                required=name in required,
                choices=list(map(str, sound_schema(declared)[0].get("enum") or ())),
            )
            for name, declared in properties_of(schema).items()
            if isinstance(declared, dict)
        ],
    )
