"""The links of a run's agents."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager
from pathlib import Path

from ferox.agents.links.choosing import STARTS_AT_ONCE, make_link
from ferox.agents.links.link import Link
from ferox.gateway.gateway import Gateway
from ferox.runs.snapshot import Snapshot
from ferox.runs.standing_addresses import agent_addresses, serve_standing_addresses
from ferox.store.database import results_folder

PER_TRIAL = {"model", "models", "instructions", "offer", "params"}
"""What an agent's process is given with each trial: arms that differ in nothing else share it."""


def links_of(snapshot: Snapshot, root: Path) -> dict[str, Link]:
    """The link of every agent or arm of a run: one for all arms that the same process serves."""
    starts = asyncio.Semaphore(STARTS_AT_ONCE)
    by_process: dict[str, Link] = {}
    links = {}
    for name, file in snapshot.agents.items():
        process = file.model_dump_json(exclude=PER_TRIAL)
        if process not in by_process:
            by_process[process] = link_of(snapshot, name, root, starts)
        links[name] = by_process[process]
    return links


def link_of(
    snapshot: Snapshot, agent: str, root: Path, starts: asyncio.Semaphore | None = None
) -> Link:
    """The link that drives an agent of a run, in the workspace at `root`."""
    file = snapshot.agents[agent]
    if agent in snapshot.arms:  # other arms may be offered more
        file = file.model_copy(update={"offer": None})
    return make_link(
        file, root, results_folder(root), seams=agent_addresses(snapshot, file), starts=starts
    )


@asynccontextmanager
async def serve_links(
    links: Iterable[Link], snapshot: Snapshot, root: Path
) -> AsyncIterator[Gateway]:
    """Seams for the agents of some links while the context is open; then these are shut down."""
    try:
        async with Gateway().serve() as gateway, serve_standing_addresses(root, snapshot):
            yield gateway
    finally:
        for link in set(links):
            await link.shut_down()


@asynccontextmanager
async def open_link(
    snapshot: Snapshot, agent: str, root: Path
) -> AsyncIterator[tuple[Gateway, Link]]:
    """Seams, and a link with a place held for one agent outside any run."""
    link = link_of(snapshot, agent, root)
    async with serve_links([link], snapshot, root) as gateway, link.hold_place():
        yield gateway, link
