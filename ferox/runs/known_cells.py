"""The cells of a run that are known to fail."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime

from ferox.core.known import known_failure
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.board import Key
from ferox.store.database import Session
from ferox.store.tables import Run


def known_cells(session: Session, run: Run, cells: Iterable[Key]) -> dict[Key, str]:
    """Why cells were known to fail, by the run's own suites, on the day when it began."""
    suites = snapshot_of(session, run.id).suites
    on = day_of(run)
    found = {}
    for suite, task, agent in cells:
        known = known_failure(suites[suite], task, agent, on)
        if known is not None:
            found[suite, task, agent] = known.why
    return found


def day_of(run: Run) -> date:
    """The day (UTC) on which a run was planned."""
    return datetime.fromtimestamp(run.created_at, UTC).date()
