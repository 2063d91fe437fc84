"""How a command that carries out a run ends: what it writes, and whether the line holds."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple, NoReturn

import click
from rich.console import Console

from ferox.cli.arms_table import arms_table, closing_lines
from ferox.cli.gate import Gate, gate_options, hold_line, read_gate
from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, say
from ferox.cli.report import write_report
from ferox.cli.run_progress import board_table, failing_cells, run_outcome
from ferox.core.gate import RuleVerdict
from ferox.exports.writing import export_to_file
from ferox.intake.files import write_whole
from ferox.runs.arm_comparison import compare_arms
from ferox.runs.records import captures_folder, has_plan
from ferox.runs.run_report import report_run
from ferox.store.database import Engine, Session, read_session
from ferox.store.runs import get_run
from ferox.store.trials import finished_numbers


class Ending(NamedTuple):
    """What was asked for at a run's end."""

    gate: Gate
    json_file: Path | None
    junit_file: Path | None
    run_file: Path | None
    markdown_file: Path | None
    html_file: Path | None


def ending_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options of a run's end to a command."""
    command = gate_options(command)
    for name, kept_as, words in reversed(FILES):
        option = click.option(name, kept_as, type=click.Path(path_type=Path), help=words)
        command = option(command)
    return command


FILES = (
    ("--json", "json_file", "Write every result here, with run, trial_id, model, arm and version."),
    ("--junit", "junit_file", "Write JUnit XML here, as `ferox export` does."),
    ("--markdown", "markdown_file", "Write a report here, short enough for a merge request."),
    ("--html", "html_file", "Write a report here as a page that stands by itself."),
    ("--save", "run_file", "Write the run here, for `ferox gather`."),
)
"""Files that a run's end may write."""


def read_ending(
    engine: Engine,
    *,
    json_file: Path | None,
    junit_file: Path | None,
    run_file: Path | None,
    markdown_file: Path | None,
    html_file: Path | None,
    **of_gate: Any,
) -> Ending:
    """The end as it was asked for; ends the command where that cannot be."""
    gate = read_gate(engine, **of_gate)
    return Ending(
        gate=gate,
        json_file=json_file,
        junit_file=junit_file,
        run_file=run_file,
        markdown_file=markdown_file,
        html_file=html_file,
    )


def end_run(console: Console, engine: Engine, root: Path, *, run: int, ending: Ending) -> NoReturn:
    """Print what came of a run, write what was asked for, and leave with its status."""
    if is_planned := has_plan(engine, run):
        _print_arms(console, engine, run)
    else:
        console.print(board_table(engine, root, run))
    captured = captures_folder(root, run)
    if captured.is_dir():
        of = sorted(path.stem for path in captured.glob("*.jsonl"))
        say(f"raw messages of {', '.join(of)} are in {captured.relative_to(root)}")
    for line in () if is_planned else failing_cells(engine, run):
        say(line)
    outcome = run_outcome(engine, root, run)
    if ending.json_file:
        _write_json(ending.json_file, outcome.results)
    if outcome.message:
        say(outcome.message, err=True)
    status = outcome.status
    verdicts: list[RuleVerdict] = []
    with read_session(engine) as session:
        if ending.gate.has_rules and status != COULD_NOT_RUN:
            status, verdicts = hold_line(session, run, ending.gate)
        elif status == CHECKS_FAILED and get_run(session, run).shard is not None:
            status = 0  # whoever gathers the parts decides
        _write_files(session, run, ending, verdicts)
    sys.exit(status)


def _write_files(session: Session, run: int, ending: Ending, verdicts: list[RuleVerdict]) -> None:
    if ending.junit_file:
        export_to_file(session, run, ending.junit_file, "junit", numbers=[])
    if ending.run_file:
        numbers = finished_numbers(session, run)
        export_to_file(session, run, ending.run_file, "run", numbers=numbers)
    if ending.markdown_file or ending.html_file:
        report = report_run(session, run, ending.gate.baseline)
        write_report(report, verdicts, ending.markdown_file, ending.html_file)


def _print_arms(console: Console, engine: Engine, run: int) -> None:
    with read_session(engine) as session:
        report = compare_arms(session, run)
    console.print(arms_table(report))
    for line in closing_lines(report):
        say(line)


def _write_json(path: Path, results: list[dict[str, Any]]) -> None:
    """Write results whole, or nothing."""
    text = json.dumps(results, indent=1, ensure_ascii=False) + "\n"
    write_whole(path.absolute(), lambda file: file.write(text))
