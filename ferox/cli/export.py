"""`ferox digest` and `ferox export`: stored trials as text and as files."""

from __future__ import annotations

import json
from pathlib import Path

import click

from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.digest import summarize_trial
from ferox.intake.visible import visible_json
from ferox.store.database import Session, StoreError, database_path, open_database
from ferox.store.results import read_result
from ferox.store.runs import find_run, newest_run_number
from ferox.store.tables import Trial
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial, finished_of, trials_of_run


def open_results(workspace: Path) -> Session:
    """A session with the results of a workspace; ends the command if there are none."""
    root = workspace.absolute()
    if not database_path(root).is_file():
        fail(WRONG_USE, f"{root} has no results yet; `ferox run` makes some")
    try:
        return Session(open_database(root))
    except StoreError as error:
        fail(COULD_NOT_RUN, error)


def _finished_trials(session: Session, run: int, trial: int | None) -> list[Trial]:
    """The finished trials of a run, or one of them; ends the command if it is not there."""
    if find_run(session, run) is None:
        newest = newest_run_number(session)
        there = f"; the newest is {newest}" if newest else ""
        fail(WRONG_USE, f"there is no run {run}{there}")
    found = trials_of_run(session, run)
    if trial is not None:
        one = find_trial(session, trial)
        if one is None:
            fail(
                WRONG_USE, f"there is no trial {trial}; trials have the numbers of their addresses"
            )
        if one.run_id != run:
            fail(WRONG_USE, f"trial {trial} is of run {one.run_id}, not of run {run}")
        found = [one]
    return finished_of(session, found)


@click.command("digest", cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", type=int)
@click.argument("trial", type=int)
def print_digest(workspace: Path, run: int, trial: int) -> None:
    """Print TRIAL of RUN in plain text, short enough to paste into a message."""
    with open_results(workspace) as session:
        for one in _finished_trials(session, run, trial):
            trace, result = read_trace(session, one.id), read_result(session, one.id)
            if trace is not None and result is not None:
                say(summarize_trial(trace, result), nl=False)
                return
    fail(WRONG_USE, f"trial {trial} is not finished yet")


@click.command("export", cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", type=int)
@click.option(
    "--format", "form", type=click.Choice(["traces"]), default="traces", show_default=True,
    help="traces: JSON lines, one trace each; `ferox score` reads them.",
)  # fmt: skip
@click.option("--trial", type=int, help="Only this trial; left out: all that are finished.")
@click.option(
    "-o", "--out", type=click.Path(path_type=Path), help="Write here; left out: to the output."
)
def export(workspace: Path, run: int, form: str, trial: int | None, out: Path | None) -> None:
    """Write the trials of RUN as files that other programs read."""
    with open_results(workspace) as session:
        chosen = _finished_trials(session, run, trial)
        if not chosen:
            fail(WRONG_USE, f"run {run} has no finished trial to write")
        try:
            with click.open_file(str(out) if out else "-", "w", encoding="utf-8") as file:
                for one in chosen:
                    trace = read_trace(session, one.id)
                    file.write(visible_json(json.dumps(trace, ensure_ascii=False)) + "\n")
        except OSError as error:
            fail(COULD_NOT_RUN, f"{out}: {error.strerror}")
