"""Where a run may be carried out: the address of a cluster's scheduler, or `local:N`."""

from __future__ import annotations

import re

LOCAL = r"local:([1-9][0-9]?)"
SCHEDULER = r"(tcp|tls|ws|wss|ucx)://[^\s/]+:\d+"


class ClusterError(Exception):
    """A cluster that cannot be used; the message says why, and what to do."""


class AddressError(ValueError):
    """Not the address of a cluster."""


def check_address(on: str) -> None:
    """See that a run may be carried out there.

    Raises:
        AddressError: it is no such place.
    """
    if not re.fullmatch(f"{LOCAL}|{SCHEDULER}", on):
        raise AddressError(
            f"`{on}` is no cluster: write the address of a scheduler, as in tcp://host:8786, or "
            "local:4 for four processes on this machine"
        )


def local_processes(on: str) -> int | None:
    """How many processes of this machine `local:N` asks for; None if it is somewhere else."""
    found = re.fullmatch(LOCAL, on)
    return int(found[1]) if found else None


def is_local(on: str) -> bool:
    """Whether it is a cluster that is made on this machine for the run."""
    return local_processes(on) is not None
