"""The standing addresses of a workspace's running services, served while something needs them."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Mapping
from contextlib import AsyncExitStack, asynccontextmanager
from pathlib import Path

from ferox.agents import standing_addresses as standing
from ferox.core.rewording import Rewording
from ferox.core.story import fits_any
from ferox.formats.agent import AgentFile
from ferox.formats.server import ServerFile
from ferox.gateway.standing_addresses import StandingAddresses
from ferox.recordings.recording import RecordingError, read_recording
from ferox.runs.snapshot import Snapshot
from ferox.servers.sources.recorded import RecordedServer
from ferox.servers.sources.source import Definition
from ferox.store.database import results_folder
from ferox.workspace import Workspace

AGAIN_S = 0.5
"""Seconds between looks at whether the port is free."""


def known_tools(file: ServerFile, root: Path) -> dict[str, Definition] | None:
    """The tools that a server's mock or recording tells of, as agents read them; None if
    only the live server knows."""
    if file.mock is not None:
        tools = {t.name: t.definition() for t in file.mock.tools}
    elif file.recording is not None:
        try:
            recording = read_recording(root / file.recording)
        except RecordingError:
            return None
        tools = dict(RecordedServer(file.server, recording, file.replay).tools)
    else:
        return None
    wording = Rewording(file.wording)
    return {name: wording.shown_definition(tool) for name, tool in tools.items()}


def _tools_offered(
    files: Snapshot | Workspace, root: Path, agent: str, server: str
) -> Mapping[str, Definition] | None:
    """The tools that an agent will be offered by a server, as far as files tell them."""
    offer = files.agents[agent].offer if agent in files.agents else {}
    wanted = "all" if offer is None else offer.get(server)
    file = files.servers.get(server)
    if not wanted or file is None:
        return None
    tools = known_tools(file, root) or {}
    return {n: t for n, t in tools.items() if wanted == "all" or fits_any(n, list(wanted))}


def agent_addresses(files: Snapshot | Workspace, agent: AgentFile) -> standing.AddressHolder:
    """The standing addresses of an agent: of the servers it is offered, and of its models."""
    servers = [s for s in files.servers if agent.offer is None or agent.offer.get(s)]
    models = list(agent.thinks_with)
    return standing.standing_addresses(_standing_port(files), agent.agent, servers, models)


@asynccontextmanager
async def serve_standing_addresses(root: Path, files: Snapshot | Workspace) -> AsyncIterator[None]:
    """Serve the standing addresses while the context is open, if any agent needs them.

    One process of a workspace does so at a time; another takes over when it ends.
    """
    if not any(agent.uses_standing_addresses for agent in files.agents.values()):
        yield
        return
    port = _standing_port(files)

    def leads(agent: str, what: str) -> str | None:
        found = standing.address_holder(results_folder(root), agent)
        if found is None:
            return None
        if what.startswith("model/"):
            return found.models.get(what.removeprefix("model/"))
        return found.servers.get(what)

    ready = asyncio.Event()

    async def keep() -> None:
        while True:
            door = StandingAddresses(
                leads, lambda agent, server: _tools_offered(files, root, agent, server)
            )
            async with AsyncExitStack() as stack:
                try:
                    await stack.enter_async_context(door.serve(port))
                except OSError:
                    ready.set()  # another process has it
                    await asyncio.sleep(AGAIN_S)
                    continue
                ready.set()
                await asyncio.Event().wait()

    task = asyncio.create_task(keep())
    try:
        await ready.wait()
        yield
    finally:
        task.cancel()
        await asyncio.gather(task, return_exceptions=True)


def _standing_port(files: Snapshot | Workspace) -> int:
    if isinstance(files, Snapshot):
        return files.standing_port
    return files.settings.defaults.standing_port
