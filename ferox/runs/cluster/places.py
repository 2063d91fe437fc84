"""Where the trials of a run may be carried out on a cluster, and how many at once."""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager

from ferox.runs.cluster.connecting import Machine
from ferox.runs.preparing import live_servers
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial_order import TrialOrder


def agent_resource(agent: str) -> str:
    """What a machine says it has where an agent stands that runs there already."""
    return f"agent:{agent}"


def server_resource(server: str) -> str:
    """What a machine says it has that alone reaches a live server."""
    return f"server:{server}"


def offered_resources(machines: Iterable[Machine]) -> set[str]:
    """What machines say that they have, all together."""
    return {resource for machine in machines for resource in machine.resources}


def needed_resources(
    snapshot: Snapshot, order: TrialOrder, machines: Iterable[Machine], local: bool
) -> dict[str, float]:
    """What a machine has to have for a trial, by Dask's resources.

    An agent that finds the seams at standing addresses is on one machine only. A live server is
    taken to be everywhere, unless a machine says that it has it.
    """
    if local:
        return {}
    found: dict[str, float] = {}
    agent = snapshot.agents[order.agent]
    if agent.uses_standing_addresses:
        found[agent_resource(agent.agent)] = 1
    offered = offered_resources(machines)
    suite = snapshot.of_arm(order.agent).suites[order.suite]
    found |= {server_resource(s): 1 for s in live_servers(suite) if server_resource(s) in offered}
    return found


class PlacesTaken:
    """So many places, of which the number may change while some are taken."""

    def __init__(self) -> None:
        self._size = self._taken = 0
        self._waiting: deque[asyncio.Future[None]] = deque()
        self._failure: BaseException | None = None

    @asynccontextmanager
    async def take(self) -> AsyncIterator[None]:
        """Wait for a place, and hold it.

        Raises:
            BaseException: what `fail` was given.
        """
        turn = asyncio.get_running_loop().create_future()
        self._waiting.append(turn)
        self._hand_over()
        try:
            await turn
            yield
        finally:
            if turn.done() and not turn.cancelled() and turn.exception() is None:
                self._taken -= 1
                self._hand_over()

    def set_size(self, size: int) -> None:
        """Have so many places from now on."""
        self._size = size
        self._hand_over()

    def fail(self, failure: BaseException) -> None:
        """Have all who wait, and all who come, fail."""
        self._failure = failure
        self._hand_over()

    def _hand_over(self) -> None:
        while self._waiting and (self._failure or self._taken < self._size):
            turn = self._waiting.popleft()
            if turn.done():
                continue
            if self._failure:
                turn.set_exception(self._failure)
            else:
                self._taken += 1
                turn.set_result(None)
