"""A run as the command line shows it: progress, the board as a table, the exit status."""

from __future__ import annotations

import subprocess
import time
from pathlib import Path
from typing import Any, NamedTuple

from rich import box
from rich.console import Console
from rich.progress import (
    BarColumn,
    MofNCompleteColumn,
    Progress,
    TextColumn,
    TimeElapsedColumn,
    TimeRemainingColumn,
)
from rich.table import Table

from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, say
from ferox.core.naming import counted_noun
from ferox.exports.results import labelled_result
from ferox.runs.known_cells import known_cells
from ferox.runs.records import stop_run
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.board import Cause, Cell, read_cells
from ferox.store.database import Engine, Session, read_session
from ferox.store.results import read_result
from ferox.store.runs import count_trials, get_run
from ferox.store.trials import trials_of_run

LOOK_EVERY_S = 0.2
SAY_EVERY_S = 15.0
"""Seconds between two lines of progress where there is no terminal to draw a bar on."""


def follow_run(console: Console, engine: Engine, run: int, worker: subprocess.Popen[bytes]) -> None:
    """Show progress until the worker ends; Ctrl-C stops the run and loses nothing."""
    columns = (
        TextColumn("run {task.fields[run]}"),
        BarColumn(),
        MofNCompleteColumn(),
        TextColumn("trials"),
        TimeElapsedColumn(),
        TextColumn("left"),
        TimeRemainingColumn(),
    )
    begun = said = time.monotonic()
    with Progress(*columns, console=console, transient=not console.is_terminal) as progress:
        bar = progress.add_task("", total=None, run=run)
        while True:
            try:
                ended = worker.poll() is not None
                with read_session(engine) as session:
                    counts = count_trials(session, run)  # of more trials after each look
                progress.update(bar, completed=counts.done, total=counts.total)
                if ended:
                    return
                now = time.monotonic()
                if not console.is_terminal and now - said >= SAY_EVERY_S:
                    said = now
                    say(_progress_line(run, counts.done, counts.total, now - begun))
                time.sleep(LOOK_EVERY_S)
            except KeyboardInterrupt:
                stop_run(engine, run)
                console.print("stopping; what is done stays")


def _progress_line(run: int, done: int, total: int, spent_s: float) -> str:
    left = f", about {spent_s / done * (total - done):.0f} s left" if done else ""
    return f"run {run}: {done} of {counted_noun(total, 'trial')} done{left}"


def _cell_text(cell: Cell | None) -> str:
    if cell is None:
        return "–"
    text = f"{cell.passes}/{cell.n}"
    if cell.errors:
        text += f" +{counted_noun(cell.errors, 'error')}"
    if cell.unjudged:
        text = (
            f"{cell.unjudged} not judged" if not cell.n else f"{text} +{cell.unjudged} not judged"
        )
    if cell.waiting:
        text += f" ({cell.waiting} not run)"
    colour = "green" if cell.n and cell.passes == cell.n else "red" if cell.n else "yellow"
    return f"[{colour}]{text}[/]"


def board_table(engine: Engine, root: Path, run: int) -> Table:
    """Tasks against agents: passes / trials."""
    with read_session(engine) as session:
        cells = {c.key: c for c in read_cells(session, run)}
        order = list(snapshot_of(session, run).agents)
    agents = sorted({key[2] for key in cells}, key=order.index)
    several = len({key[0] for key in cells}) > 1
    title = f"Run {run}: passes / trials"
    table = Table(title=title, title_justify="left", box=box.SIMPLE_HEAD)
    table.add_column("task", overflow="ellipsis", no_wrap=True, max_width=40)
    for agent in agents:
        table.add_column(agent, justify="right", overflow="fold")
    for suite, task in sorted({key[:2] for key in cells}):
        row = [_cell_text(cells.get((suite, task, agent))) for agent in agents]
        table.add_row(f"{suite}/{task}" if several else task, *row)
    return table


class RunOutcome(NamedTuple):
    """How a run ended: the exit status without further rules, every result, and what to say."""

    status: int
    results: list[dict[str, Any]]
    message: str | None


def run_outcome(engine: Engine, root: Path, run: int) -> RunOutcome:
    """How a run ended; failures that its suites know of fail nothing."""
    with read_session(engine) as session:
        record = get_run(session, run)
        trials = trials_of_run(session, run)
        results = [
            labelled_result(session, trial, read_result(session, trial.id))
            for trial in trials
            if trial.state == "done"
        ]
        left = sum(t.state != "done" for t in trials)
        errors = [t for t in trials if t.verdict == "error"]
        failed = [(t.suite, t.task, t.agent) for t in trials if t.verdict == "fail"]
        excused = known_cells(session, record, {*failed})
        known = sum(key in excused for key in failed)
        why = record.message
    if left:
        reason = why or "see its log in .ferox"
        missing = counted_noun(left, "trial was", "trials were")
        message = f"{missing} not run ({reason}); `ferox resume {root} {run}` goes on"
        return RunOutcome(COULD_NOT_RUN, results, message)
    if errors:
        message = f"{counted_noun(len(errors), 'trial')} could not run: {errors[0].reason}"
        return RunOutcome(COULD_NOT_RUN, results, message)
    failures = f"{counted_noun(len(failed), 'trial')} failed" if failed else None
    if failures and known:
        failures += f", {known} of them known to"
    message = "; ".join(filter(None, (why, failures)))
    return RunOutcome(CHECKS_FAILED if len(failed) > known else 0, results, message or None)


def failing_cells(engine: Engine, run: int) -> list[str]:
    """A line for each cell with trials that failed: its address, passes of n, what went wrong
    first, the check that failed most with its message, and a trial that shows it."""
    with read_session(engine) as session:
        cells = {c.key: c for c in read_cells(session, run)}
        causes = {key: cell.cause for key, cell in cells.items() if cell.cause}
        known = known_cells(session, get_run(session, run), causes)
        return [
            f"{key[0]}/{key[1]} · {key[2]}: {cells[key].passes} of {cells[key].n} passed. "
            f"{cause.message or 'What went wrong is in the trial'}. "
            f"[{_failed_check(session, cause)}] "
            f"trial {cause.trials[0]}, /trial/{cause.trials[0]}"
            + (f" (known: {known[key]})" if key in known else "")
            for key, cause in sorted(causes.items())
        ]


def _failed_check(session: Session, cause: Cause) -> str:
    """The check that failed most, with its message in the first of the trials that has it."""
    for trial in cause.trials:
        result = read_result(session, trial)
        for check in result["checks"] if result else ():
            if check["id"] == cause.failed_check and check["passed"] is False:
                return f"{check['id']}: {check['message']}"
    return str(cause.failed_check)
