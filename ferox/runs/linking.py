"""The links of a run's agents."""

from __future__ import annotations

import asyncio
from pathlib import Path

from ferox.agents.link import Link
from ferox.agents.links import make_link
from ferox.runs.snapshot import Snapshot
from ferox.runs.standing import addresses
from ferox.store.database import folder


def link_of(
    snapshot: Snapshot, agent: str, root: Path, starts: asyncio.Semaphore | None = None
) -> Link:
    """The link that drives an agent of a run, in the workspace at `root`."""
    file = snapshot.agents[agent]
    return make_link(file, root, folder(root), addresses(snapshot, file), starts)
