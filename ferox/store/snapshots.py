"""Snapshots: everything that a run used, its parts stored once however many runs used them."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ferox.core.json_values import compact_json
from ferox.store.pieces import bring_back, put_away
from ferox.store.tables import StoredSnapshot

BY_NAME = (
    "agents",
    "instructions",
    "servers",
    "suites",
    "stand_ins",
    "recordings",
    "model_recordings",
)
"""Parts of a snapshot that hold something by its name."""


def keep_snapshot(session: Session, run: int, snapshot: dict[str, Any]) -> None:
    """Keep what a run uses."""
    body = put_away(session, snapshot, whole=("fork",), by_entry=BY_NAME)
    session.add(StoredSnapshot(run_id=run, body=body))


def snapshot_key(session: Session, run: int) -> str:
    """What is equal for runs that used the same."""
    query = select(StoredSnapshot.body).where(StoredSnapshot.run_id == run)
    return compact_json(session.scalars(query).one())


def read_snapshot(session: Session, run: int) -> dict[str, Any]:
    """What a run used."""
    return bring_back(session, [session.get_one(StoredSnapshot, run).body])[0]
