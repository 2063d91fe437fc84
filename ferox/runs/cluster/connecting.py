"""Reaching a cluster: one that runs somewhere, or one that is made on this machine."""

from __future__ import annotations

import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import NamedTuple

import dask
from distributed import Client, LocalCluster, Nanny

from ferox.runs.cluster.address import ClusterError, check_address, local_processes

QUIET = {
    "distributed.worker.profile.enabled": False,
    "distributed.admin.system-monitor.interval": "10s",
    "distributed.admin.system-monitor.disk": False,
    "distributed.admin.system-monitor.gil.enabled": False,
    "distributed.admin.log-length": 100,
    "distributed.admin.low-level-log-length": 100,
    "distributed.diagnostics.computations.max-history": 1,
}
"""What Dask measures and remembers of itself for its own screens, which a local cluster does not
have."""
CONNECT_S = 15.0
"""Seconds in which a scheduler has to answer."""


class Machine(NamedTuple):
    """One worker process of a cluster, by its address; `resources` are what it says it has."""

    address: str
    name: str
    threads: int
    resources: dict[str, float]


@asynccontextmanager
async def open_cluster(on: str, at_once: int | None = None) -> AsyncIterator[Client]:
    """A client of a cluster while the context is open; one of `local:N` lives as long.

    `at_once`: trials that a local cluster takes side by side.

    Raises:
        ClusterError: nothing answers at that address.
    """
    check_address(on)
    if processes := local_processes(on):
        with (
            tempfile.TemporaryDirectory(prefix="ferox-cluster-") as folder,
            dask.config.set(QUIET),
        ):
            async with (
                LocalCluster(
                    n_workers=processes, threads_per_worker=-(-(at_once or processes) // processes),
                    processes=True, asynchronous=True, dashboard_address=None,
                    local_directory=folder, worker_class=Nanny, memory_limit=0,
                ) as cluster,
                Client(cluster, asynchronous=True) as client,
            ):  # fmt: skip
                yield client
        return
    try:
        client = await Client(on, asynchronous=True, timeout=CONNECT_S)
    except (OSError, TimeoutError, ValueError) as error:
        raise ClusterError(
            f"no scheduler answers at {on}: start one with `dask scheduler`, or correct the "
            f"address ({error})"
        ) from None
    async with client:
        yield client


async def list_machines(client: Client) -> list[Machine]:
    """The worker processes that a cluster has now."""
    assert client.scheduler is not None
    found = await client.scheduler.identity(n_workers=-1)
    return [
        Machine(address, str(one["name"]), int(one["nthreads"]), dict(one.get("resources") or {}))
        for address, one in found["workers"].items()
    ]
