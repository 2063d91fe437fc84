"""The tools a script may name: of mocks and recordings, and of live servers once seen."""

from __future__ import annotations

from collections.abc import Mapping

from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.store.by_hand import seen_before
from ferox.store.database import Engine
from ferox.workspace import Workspace
from ferox.workspace.check_server import Definition, known_tools


def seen_tools(
    engine: Engine, servers: Mapping[str, ServerFile]
) -> dict[str, dict[str, Definition]]:
    """The tools that live servers were seen to offer, by server."""
    seen = {}
    for name, server in servers.items():
        for mode in ("live", *server.variants):
            last_seen = seen_before(engine, name, mode)
            if last_seen is not None:
                seen[name] = {tool["name"]: tool for tool in last_seen[1]}
                break
    return seen


def tools_of_suite(workspace: Workspace, suite: Suite, engine: Engine) -> dict[str, Definition]:
    """The tools of a suite's servers in the modes that it has them in, by address, as far as files
    or earlier looks tell."""
    servers = {s: workspace.servers[s] for s in suite.servers if s in workspace.servers}
    seen = seen_tools(engine, servers)
    return {
        f"{server}/{tool}": definition
        for server, file in servers.items()
        for tool, definition in (
            known_tools(file, workspace.root, suite.servers[server]) or seen.get(server, {})
        ).items()
    }
