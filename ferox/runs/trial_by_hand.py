"""Talking to an agent by hand: a trial whose user is a person, kept as any other."""

from __future__ import annotations

import time
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Engine, update
from sqlalchemy.orm import Session

from ferox.core.scoring import score
from ferox.core.script import compile_script
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace
from ferox.runs.overrides import OverrideError, Overrides
from ferox.runs.records import RunError
from ferox.runs.results import keep_result
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot, script_hash, take_snapshot
from ferox.runs.trial import TrialRun
from ferox.store import tables
from ferox.workspace import Workspace
from ferox.workspace.modes import LIVE, MOCK, RECORDED, modes_of

BY_HAND = "by hand"
"""The title of runs that are conversations by hand; the board does not show them."""
SUITE, TASK = "by-hand", "talk"


async def _deny(tool: str, args: dict[str, Any]) -> tuple[bool, dict[str, Any] | None]:
    return False, None


@dataclass
class TrialByHand(TrialRun):
    """A trial whose user's words, and approvals, come from a person.

    `listen` gives the next words after a reply, the first after None; None ends it.
    """

    listen: Callable[[str | None], Awaitable[str | None]] = field(kw_only=True)
    decide: Callable[[str, dict[str, Any]], Awaitable[tuple[bool, dict[str, Any] | None]]] = _deny

    async def _first_words(self, part: int) -> tuple[str | None, int | None]:
        return await self._listen(None), None

    async def _next_words(self, part: int, reply: str) -> tuple[str | None, int | None]:
        return await self._listen(reply), None

    async def _listen(self, reply: str | None) -> str | None:
        with self.patience.still():  # a person thinks as long as they like
            return await self.listen(reply)

    async def _approval(
        self, tool: str, args: dict[str, Any]
    ) -> tuple[bool, dict[str, Any] | None]:
        with self.patience.still():
            return await self.decide(tool, args)


def first_way(server: ServerFile) -> str:
    """How a server is reached by hand unless another way is chosen: mocked, recorded, live."""
    there = modes_of(server)
    return next((w for w in (MOCK, RECORDED, LIVE) if w in there), there[0])


def snapshot_by_hand(workspace: Workspace, agent: str, overrides: Overrides) -> Snapshot:
    """What a conversation with an agent uses: the servers it is offered, each in one way.

    A server is mocked if it can be, else recorded, else live, unless `overrides` say
    otherwise.
    The clock is that of the first suite that uses one of them, else now.

    Raises:
        RunError: no such agent, or a mode, model or set of faults that is not there.
    """
    try:
        overrides.check(workspace)
    except OverrideError as error:
        raise RunError(str(error)) from None
    if agent not in workspace.agents:
        known = ", ".join(sorted(workspace.agents))
        raise RunError(f"`{agent}`: no such agent; there is {known}")
    offer = workspace.agents[agent].offer
    servers = {}
    for name, file in workspace.servers.items():
        if (offer is None or offer.get(name)) and modes_of(file):
            servers[name] = first_way(file)
    body: dict[str, Any] = {"ferox": 1, "suite": SUITE, "servers": servers}
    first = next((s for s in workspace.suites.values() if s.servers.keys() & servers.keys()), None)
    if first is not None:
        body |= {"clock": first.clock, "zone": first.zone}
    else:
        body["clock"] = datetime.now(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")
    body["tasks"] = [{"task": TASK, "say": "…", "expect": {}}]
    suite = Suite.model_validate(body)
    held = Workspace(**{**vars(workspace), "suites": {SUITE: suite}})
    return take_snapshot(held, [SUITE], [agent], overrides)


def begin_by_hand(engine: Engine, snapshot: Snapshot, agent: str, lock: RunLock) -> int:
    """Keep the beginning of a conversation, its run claimed by `lock`; its trial's number."""
    now = time.time()
    with Session(engine) as session, session.begin():
        run = tables.Run(
            title=BY_HAND, state="running", seed=1, repeats=1, at_once=1,
            created_at=now, started_at=now,
        )  # fmt: skip
        session.add(run)
        session.flush()
        lock.claim(run.id)
        session.add(tables.StoredSnapshot(run_id=run.id, body=snapshot.text()))
        trial = tables.Trial(
            run_id=run.id, suite=SUITE, task=TASK, agent=agent, number=1, place=0,
            state="running", started_at=now, changed_at=now,
        )  # fmt: skip
        session.add(trial)
        session.flush()
        return trial.id


def end_by_hand(engine: Engine, snapshot: Snapshot, trial: int, trace: Trace) -> None:
    """Keep a conversation that is over, as any other trial."""
    suite = snapshot.suites[SUITE]
    result = score(compile_script(suite, suite.tasks[0]), trace)
    with Session(engine) as session, session.begin():
        keep_result(session, trial, trace, result, script_hash(suite, suite.tasks[0]))
        run = session.get_one(tables.Trial, trial).run_id
        session.execute(
            update(tables.Run)
            .where(tables.Run.id == run)
            .values(state="done", finished_at=time.time())
        )
