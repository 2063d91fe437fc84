"""Whether the machines of a cluster can carry a run out: looked at on each of them."""

from __future__ import annotations

import asyncio
import platform
import socket
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import ferox
from ferox.core.matcher import MatchContext
from ferox.formats.agent import AgentFile
from ferox.processes.starting import find_program
from ferox.runs.cluster.connecting import Machine
from ferox.runs.cluster.parcel import Parcel, UnpackedParcel, open_parcel, unpack_parcel
from ferox.runs.cluster.places import agent_resource, offered_resources
from ferox.runs.preparing import live_servers
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial_seams import NOT_OPENED
from ferox.servers.opening import TrialContext, open_source
from ferox.workspace.vault import use_vault

ANSWER_S = 10.0
"""Seconds in which an interpreter or a service has to answer."""


@dataclass(frozen=True)
class Finding:
    """What was found of one thing. `ok`: None if it could not be looked at."""

    about: str
    ok: bool | None
    message: str


async def check_machine(
    hashed: str, packed: bytes, versions: dict[str, str], resources: dict[str, float]
) -> list[dict[str, Any]]:
    """What a machine has of what a run needs; called there. `resources`: what it says it has."""

    def look() -> list[Finding]:
        return asyncio.run(_look(Parcel(hashed, packed), versions, resources))

    # The machine's own loop goes on meanwhile: else it would be taken for lost.
    return [asdict(found) for found in await asyncio.to_thread(look)]


def versions_here() -> dict[str, str]:
    """The versions that all machines have to have alike."""
    return {"Ferox": ferox.__version__, "Python": ".".join(platform.python_version_tuple()[:2])}


async def _look(
    parcel: Parcel, versions: dict[str, str], resources: dict[str, float]
) -> list[Finding]:
    found = list(_versions(versions))
    try:
        unpack_parcel(parcel)
        unpacked = open_parcel(parcel.hash)
    except (OSError, ValueError) as error:
        return [*found, Finding("parcel", False, str(error))]
    use_vault(unpacked.vault())
    found += _secrets(unpacked)
    for agent in unpacked.snapshot.agents.values():
        found.append(await _agent(agent, unpacked.folder, resources))
    found += [_modules(folder) for folder in unpacked.modules]
    for name, mode in sorted(_live_servers(unpacked.snapshot)):
        found.append(await _server(unpacked, name, mode))
    return found


def _versions(versions: dict[str, str]) -> Iterator[Finding]:
    here = versions_here()
    for name, wanted in versions.items():
        same = here[name] == wanted
        message = here[name] if same else f"{here[name]}, where the run starts it is {wanted}"
        yield Finding(name, same, message)


def _secrets(unpacked: UnpackedParcel) -> Iterator[Finding]:
    there = unpacked.vault().secret_values()
    for secret in sorted({use.secret for use in unpacked.snapshot.secret_uses()}):
        is_set = secret in there
        message = "set" if is_set else "not set in the environment of `dask worker`"
        yield Finding(f"secret {secret}", is_set, message)


async def _agent(agent: AgentFile, folder: Path, resources: dict[str, float]) -> Finding:
    about = f"agent {agent.agent}"
    if agent.uses_standing_addresses and agent_resource(agent.agent) not in resources:
        return Finding(about, None, "stands elsewhere: this machine does not say that it has it")
    if agent.url and not agent.command:
        return await asyncio.to_thread(_service, about, agent.url)
    if agent.link == "python":
        words = [str(folder / (agent.python or "")), "--version"]
        return await _interpreter(about, words)
    if agent.command:
        there = find_program(agent.command[0], folder / (agent.cwd or ".")) is not None
        message = "its command is there" if there else f"no `{agent.command[0]}` here"
        return Finding(about, there, message)
    return Finding(about, True, "needs nothing of the machine")


def _modules(folder: Path) -> Finding:
    there = folder.is_dir()
    message = "are there" if there else "are missing: install them there, as where the run starts"
    return Finding(f"modules in {folder}", there, message)


def _service(about: str, url: str) -> Finding:
    parts = urlsplit(url)
    port = parts.port or (443 if parts.scheme == "https" else 80)
    try:
        with socket.create_connection((parts.hostname or "", port), ANSWER_S):
            return Finding(about, True, f"something listens at {url}")
    except OSError as error:
        return Finding(about, False, f"nothing listens at {url}: {error}")


async def _interpreter(about: str, words: list[str]) -> Finding:
    try:
        process = await asyncio.create_subprocess_exec(
            *words, stdout=asyncio.subprocess.PIPE, stderr=asyncio.subprocess.STDOUT
        )
        said, _ = await asyncio.wait_for(process.communicate(), ANSWER_S)
    except (OSError, TimeoutError) as error:
        return Finding(about, False, f"its interpreter `{words[0]}` does not start: {error}")
    version = said.decode(errors="replace").strip()[:200]
    return Finding(about, process.returncode == 0, f"its interpreter starts: {version}")


def _live_servers(snapshot: Snapshot) -> set[tuple[str, str]]:
    return {
        (server, suite.servers[server])
        for view in snapshot.views()
        for suite in view.suites.values()
        for server in live_servers(suite)
    }


async def _server(unpacked: UnpackedParcel, name: str, mode: str) -> Finding:
    snapshot = unpacked.snapshot
    suite = next(iter(snapshot.suites.values()))
    context = TrialContext(
        folder=unpacked.folder,
        seed=0,
        match_context=MatchContext(snapshot.clock_of(suite)),
        recording=snapshot.find_recording,
    )
    try:
        async with open_source(snapshot.servers[name], mode, context) as source:
            return Finding(f"server {name}", True, f"answers, with {len(source.tools)} tools")
    except NOT_OPENED as error:
        return Finding(f"server {name}", False, str(error))


def missing_everywhere(snapshot: Snapshot, machines: list[Machine]) -> Iterator[str]:
    """What no machine of the cluster says that it has, though trials need it."""
    offered = offered_resources(machines)
    for agent in snapshot.agents.values():
        name = agent_resource(agent.agent)
        if agent.uses_standing_addresses and name not in offered:
            yield (
                f"`{agent.agent}` finds the seams at standing addresses, so its trials go to the "
                f'machine where it is: start one there with `dask worker … --resources "{name}=1"`'
            )
