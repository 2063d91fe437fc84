"""The links of a run's agents."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from ferox.agents.links.choosing import make_link
from ferox.agents.links.link import Link
from ferox.gateway.gateway import Gateway
from ferox.runs.snapshot import Snapshot
from ferox.runs.standing_addresses import agent_addresses, serve_standing_addresses
from ferox.store.database import results_folder


def link_of(
    snapshot: Snapshot, agent: str, root: Path, starts: asyncio.Semaphore | None = None
) -> Link:
    """The link that drives an agent of a run, in the workspace at `root`."""
    file = snapshot.agents[agent]
    return make_link(
        file, root, results_folder(root), seams=agent_addresses(snapshot, file), starts=starts
    )


@asynccontextmanager
async def open_link(
    snapshot: Snapshot, agent: str, root: Path
) -> AsyncIterator[tuple[Gateway, Link]]:
    """Seams, and a link with a place held for one agent outside any run."""
    link = link_of(snapshot, agent, root)
    try:
        async with (
            Gateway().serve() as gateway,
            serve_standing_addresses(root, snapshot),
            link.hold_place(),
        ):
            yield gateway, link
    finally:
        await link.shut_down()
