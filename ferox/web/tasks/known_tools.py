"""The tools that a script may name, as the editor completes them."""

from __future__ import annotations

from ferox.core.definitions import properties_of, required_of, sound_schema
from ferox.web.tasks import shapes
from ferox.workspace.check_server import Definition


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
