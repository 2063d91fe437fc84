"""Looking at a cluster before a run does."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import NamedTuple

from distributed import Client

from ferox.runs.cluster.address import ClusterError
from ferox.runs.cluster.connecting import Machine, list_machines, open_cluster
from ferox.runs.cluster.machine_check import (
    Finding,
    check_machine,
    missing_everywhere,
    versions_here,
)
from ferox.runs.cluster.parcel import make_parcel
from ferox.runs.snapshot import Snapshot


class MachineReport(NamedTuple):
    """What one machine has of what a run needs."""

    machine: Machine
    findings: list[Finding]


class ClusterReport(NamedTuple):
    """What all machines have, and what none of them has."""

    machines: list[MachineReport]
    missing: list[str]

    @property
    def is_ready(self) -> bool:
        """Whether a run would find all that it needs on every machine."""
        found = [one.ok for report in self.machines for one in report.findings]
        return not self.missing and False not in found


async def look_at_cluster(on: str, snapshot: Snapshot, root: Path) -> ClusterReport:
    """Ask every machine of a cluster what it has of what a run of this snapshot needs.

    Raises:
        ClusterError: the cluster cannot be reached, or has no machines.
        ParcelTooLarge: the agents' files are too much to be sent.
    """
    parcel = await asyncio.to_thread(make_parcel, snapshot, root)
    async with open_cluster(on) as client:
        machines = await list_machines(client)
        if not machines:
            raise ClusterError(f"{on} has no machines: start some with `dask worker {on}`")
        looks = (_look_at(client, machine, parcel.hash, parcel.packed) for machine in machines)
        reports = await asyncio.gather(*looks)
    return ClusterReport(list(reports), list(missing_everywhere(snapshot, machines)))


async def _look_at(client: Client, machine: Machine, hashed: str, packed: bytes) -> MachineReport:
    try:
        answers = await client.run(
            check_machine, hashed, packed, versions_here(), machine.resources,
            workers=[machine.address],
        )  # fmt: skip
        findings = [Finding(**one) for one in answers[machine.address]]
    except Exception as error:  # whatever a machine that lacks Ferox answers with
        message = f"Ferox cannot be asked there ({type(error).__name__}: {error}); install it, and"
        findings = [Finding("Ferox", False, f"{message} the same version on all machines")]
    return MachineReport(machine, findings)
