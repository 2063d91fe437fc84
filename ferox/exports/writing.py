"""A run written in one of the formats, whole or not at all."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Literal, TextIO, get_args

from ferox.exports.finished import OnTrial
from ferox.exports.junit import write_junit
from ferox.exports.otlp import write_otlp
from ferox.exports.results import write_brief_results, write_results, write_traces
from ferox.exports.run_file import write_run
from ferox.exports.trial_table import write_table
from ferox.intake.files import write_whole
from ferox.store.database import Session

ExportFormat = Literal["traces", "results", "baseline", "csv", "junit", "otlp", "run"]
FORMATS: tuple[ExportFormat, ...] = get_args(ExportFormat)
WRITERS: dict[str, Callable[[Session, list[int], TextIO, OnTrial], None]] = {
    "traces": write_traces,
    "results": write_results,
    "csv": write_table,
    "otlp": write_otlp,
}
"""Formats that are written trial by trial."""
SUFFIXES: dict[ExportFormat, str] = {
    "traces": "jsonl",
    "results": "jsonl",
    "baseline": "jsonl",
    "csv": "csv",
    "junit": "xml",
    "otlp": "jsonl",
    "run": "jsonl",
}


def write_export(
    session: Session,
    run: int,
    file: TextIO,
    form: ExportFormat,
    *,
    numbers: Sequence[int],
    each_trial: bool = False,
    done: OnTrial = lambda: None,
) -> None:
    """Write trials of a run. Of cells, where a format is about these: JUnit, unless it is to have
    a case for `each_trial`, and a baseline."""
    if form == "junit":
        write_junit(session, run, file, done, trials=numbers if each_trial else None)
    elif form == "run":
        write_run(session, run, list(numbers), file=file, done=done)
    elif form == "baseline":
        write_brief_results(session, run, file)
    else:
        WRITERS[form](session, list(numbers), file, done)


def export_to_file(
    session: Session,
    run: int,
    path: Path,
    form: ExportFormat,
    *,
    numbers: Sequence[int],
    each_trial: bool = False,
    done: OnTrial = lambda: None,
) -> None:
    """The same into a file, which is there when all of it is, or not at all.

    Raises:
        OSError: it cannot be written.
    """
    write_whole(
        path.absolute(),
        lambda file: write_export(
            session, run, file, form, numbers=numbers, each_trial=each_trial, done=done
        ),
    )
