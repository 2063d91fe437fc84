"""Standing addresses: where a running service finds Ferox's seams, whatever trial is on.

A service is told them once. The trial that is on writes down where its own seams are, and
`gateway.standing_addresses` leads there; one trial at a time holds an agent's addresses, over
all processes of the workspace.
"""

from __future__ import annotations

import asyncio
import fcntl
import json
import os
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import asdict, dataclass
from pathlib import Path

from ferox.agents.links.link import AgentSetup

SEAMS = "FEROX_SEAMS"
"""The variable in which what Ferox starts finds its standing addresses, as JSON."""
LOOK_EVERY_S = 0.1


@dataclass(frozen=True)
class AddressHolder:
    """Where the seams of the trial that holds an agent's addresses are."""

    servers: dict[str, str]
    models: dict[str, str]
    pid: int

    def as_json(self) -> str:
        """What an agent is told of them."""
        return json.dumps({"servers": self.servers, "models": self.models})


def standing_addresses(
    port: int, agent: str, servers: list[str], models: list[str]
) -> AddressHolder:
    """What a service is told once: by server, and by the agent's name of a model."""
    root = f"http://127.0.0.1:{port}/a/{agent}"
    model_urls = {m: f"{root}/model/v1" if m == "main" else f"{root}/models/{m}/v1" for m in models}
    return AddressHolder({s: f"{root}/{s}/mcp" for s in servers}, model_urls, 0)


def _holder_file(folder: Path, agent: str, kind: str) -> Path:
    path = folder / "standing"
    path.mkdir(parents=True, exist_ok=True)
    return path / f"{agent}.{kind}"


@asynccontextmanager
async def hold_addresses(folder: Path, agent: str) -> AsyncIterator[None]:
    """Hold an agent's standing addresses, waiting for a trial that holds them now."""
    # A file's lock, and not one of asyncio's: a service serves all processes of the workspace.
    with _holder_file(folder, agent, "lock").open("w") as file:
        while True:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                await asyncio.sleep(LOOK_EVERY_S)
        yield


def point_addresses(folder: Path, agent: str, setup: AgentSetup) -> None:
    """Have an agent's standing addresses lead to a trial's seams."""
    models = {name: model["base_url"] for name, model in setup.models.items()}
    holder = AddressHolder(setup.servers, models, os.getpid())
    path = _holder_file(folder, agent, "json")
    # Replaced whole: the door may be reading it in another process.
    aside = path.with_suffix(".new")
    aside.write_text(json.dumps(asdict(holder)))
    aside.replace(path)


def release_addresses(folder: Path, agent: str) -> None:
    """Have an agent's standing addresses lead nowhere."""
    _holder_file(folder, agent, "json").unlink(missing_ok=True)


def address_holder(folder: Path, agent: str) -> AddressHolder | None:
    """Who holds an agent's standing addresses; None if no trial of a living process does."""
    try:
        found = AddressHolder(**json.loads((folder / "standing" / f"{agent}.json").read_text()))
        # A process that was killed leaves its file behind; signal 0 only asks whether it lives.
        os.kill(found.pid, 0)
    except (OSError, ValueError, TypeError):
        return None
    return found
