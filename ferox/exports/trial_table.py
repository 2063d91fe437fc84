"""Trials as a table: a line each, with columns that stay the same."""

from __future__ import annotations

import csv
from datetime import UTC, datetime
from typing import Any, TextIO

from ferox.exports.finished import OnTrial, finished_lines
from ferox.formats.result import FAMILIES
from ferox.intake.visible import visible_text
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.runs import MEASURED
from ferox.store.tables import Trial

COLUMNS = (
    *("run", "trial_id", "suite", "task", "agent", "number", "model", "simulated", "version"),
    *("started_at", "verdict", "reason", "went_wrong", "failed", "calls"),
    *FAMILIES,
    *MEASURED,
)
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


def write_table(session: Session, numbers: list[int], file: TextIO, done: OnTrial) -> None:
    """A header, then a line for each trial; what is not known or not tested is empty."""
    writer = csv.DictWriter(file, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for line in finished_lines(session, numbers):
        writer.writerow(
            {key: _harmless_text(value) for key, value in _row_of(session, line).items()}
        )
        done()


def _row_of(session: Session, line: Trial) -> dict[str, Any]:
    snapshot = snapshot_of(session, line.run_id)
    began = line.started_at
    return {
        "run": line.run_id,
        "trial_id": line.id,
        "suite": line.suite,
        "task": line.task,
        "agent": line.agent,
        "number": line.number,
        "model": snapshot.agents[line.agent].model,
        "simulated": "yes" if snapshot.is_simulated(line.agent) else "no",
        "version": snapshot.ferox,
        "started_at": datetime.fromtimestamp(began, UTC).isoformat() if began else None,
        "verdict": line.verdict,
        "reason": line.reason,
        "went_wrong": line.went_wrong,
        "failed": " ".join(line.failed or ()),
        "calls": line.calls,
        **{family: getattr(line, f"score_{family}") for family in FAMILIES},
        **{name: getattr(line, name) for name in MEASURED},
    }


def _harmless_text(value: Any) -> Any:
    """A text that no spreadsheet runs and no terminal obeys."""
    if not isinstance(value, str):
        return value
    shown = visible_text(value)
    return f"'{shown}" if shown.startswith(_FORMULA) else shown
