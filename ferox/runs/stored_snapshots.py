"""Snapshots of runs that are stored, parsed once for all who ask."""

from __future__ import annotations

from ferox.runs.snapshot import Snapshot
from ferox.store.database import Session
from ferox.store.snapshots import read_snapshot, snapshot_key
from ferox.store.tables import Trial

MOST = 16
"""Snapshots that are kept parsed."""
_parsed: dict[str, Snapshot] = {}


def snapshot_of(session: Session, run: int) -> Snapshot:
    """What a run used. Runs that used the same share it, so it is not to be changed."""
    key = snapshot_key(session, run)
    found = _parsed.get(key)
    if found is None:
        found = Snapshot.model_validate(read_snapshot(session, run))
        while len(_parsed) >= MOST:
            _parsed.pop(next(iter(_parsed)), None)
        _parsed[key] = found
    return found


def snapshot_of_trial(session: Session, trial: Trial) -> Snapshot:
    """What a trial used: its run's snapshot, as its arm met it."""
    return snapshot_of(session, trial.run_id).of_arm(trial.agent)
