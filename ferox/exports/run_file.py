"""A run as a file that `ferox gather` puts together with others: what it used, then its traces."""

from __future__ import annotations

from typing import Any, TextIO

from ferox.exports.finished import OnTrial, finished_trials
from ferox.exports.results import json_line
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.ledger import read_setups
from ferox.store.runs import count_trials, get_run

VERSION = 1


def write_run(
    session: Session, run: int, numbers: list[int], *, file: TextIO, done: OnTrial
) -> None:
    """A header, then a line for each trial: its trace, and when it began."""
    record = get_run(session, run)
    setups = read_setups(session, run)
    header: dict[str, Any] = {
        "ferox_run": VERSION,
        "title": record.title,
        "seed": record.seed,
        "repeats": record.repeats,
        "at_once": record.at_once,
        "created_at": record.created_at,
        "started_at": record.started_at,
        "finished_at": record.finished_at,
        "overrides": record.overrides,
        "plan": record.plan,
        "shard": record.shard,
        "planned": count_trials(session, run).total,
        "setups": [{"suite": s, "agent": a, "setup": body} for (s, a), body in setups.items()],
        "snapshot": snapshot_of(session, run).document(),
    }
    file.write(json_line(header))
    for trial in finished_trials(session, numbers):
        file.write(json_line({**trial.trace, "started_at": trial.line.started_at}))
        done()
