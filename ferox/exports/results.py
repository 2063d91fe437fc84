"""Results as lines: of each trial whole, or of each cell in brief."""

from __future__ import annotations

import json
from typing import Any, TextIO

from ferox.exports.finished import OnTrial, finished_trials
from ferox.formats.result import Result
from ferox.intake.visible import visible_json
from ferox.runs.baseline import baseline_cells
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.tables import Trial


def labelled_result(session: Session, trial: Trial, result: Result | None) -> dict[str, Any]:
    """A trial's result, with what tells it apart from those of other runs.

    In a run without a plan each agent is its own arm.
    """
    snapshot = snapshot_of(session, trial.run_id)
    return {
        "run": trial.run_id,
        "trial_id": trial.id,
        "model": snapshot.agents[trial.agent].model,
        "arm": trial.agent,
        "version": snapshot.ferox,
        **(result or {}),
    }


def write_results(session: Session, numbers: list[int], file: TextIO, done: OnTrial) -> None:
    """A line for each trial: its result, with run, trial_id, model, arm and version."""
    for trial in finished_trials(session, numbers):
        file.write(json_line(labelled_result(session, trial.line, trial.result)))
        done()


def write_brief_results(session: Session, run: int, file: TextIO) -> None:
    """A line for each cell, sorted; a baseline that differs between runs only where they do."""
    for cell in baseline_cells(session, run):
        file.write(json_line(cell.model_dump()))


def write_traces(session: Session, numbers: list[int], file: TextIO, done: OnTrial) -> None:
    """A line for each trial: its trace."""
    for trial in finished_trials(session, numbers):
        file.write(json_line(trial.trace))
        done()


def json_line(value: Any) -> str:
    """A value as a line of JSON, in which nothing steers a terminal."""
    return visible_json(json.dumps(value, ensure_ascii=False)) + "\n"
