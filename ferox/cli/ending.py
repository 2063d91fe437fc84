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
from ferox.cli.run_progress import board_table, failing_cells, run_outcome
from ferox.exports.writing import export_to_file
from ferox.intake.files import write_whole
from ferox.runs.arm_comparison import compare_arms
from ferox.runs.records import captures_folder, has_plan
from ferox.store.database import Engine, read_session
from ferox.store.runs import get_run
from ferox.store.trials import finished_numbers


class Ending(NamedTuple):
    """What was asked for at a run's end."""

    gate: Gate
    json_file: Path | None
    junit_file: Path | None
    run_file: Path | None


def ending_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options of a run's end to a command."""
    command = click.option(
        "--junit", "junit_file", type=click.Path(path_type=Path),
        help="Write JUnit XML here, as `ferox export` does.",
    )(gate_options(command))  # fmt: skip
    command = click.option(
        "--save", "run_file", type=click.Path(path_type=Path),
        help="Write the run here, for `ferox gather`.",
    )(command)  # fmt: skip
    return click.option(
        "--json", "json_file", type=click.Path(path_type=Path),
        help="Write every result here, with run, trial_id, model, arm and version.",
    )(command)  # fmt: skip


def read_ending(
    engine: Engine,
    *,
    json_file: Path | None,
    junit_file: Path | None,
    run_file: Path | None,
    **of_gate: Any,
) -> Ending:
    """The end as it was asked for; ends the command where that cannot be."""
    return Ending(read_gate(engine, **of_gate), json_file, junit_file, run_file)


def end_run(console: Console, engine: Engine, root: Path, run: int, ending: Ending) -> NoReturn:
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
    with read_session(engine) as session:
        if ending.junit_file:
            export_to_file(session, run, ending.junit_file, "junit", numbers=[])
        if ending.run_file:
            numbers = finished_numbers(session, run)
            export_to_file(session, run, ending.run_file, "run", numbers=numbers)
        shard = get_run(session, run).shard
    if outcome.message:
        say(outcome.message, err=True)
    status = outcome.status
    if ending.gate.has_rules and status != COULD_NOT_RUN:
        status = hold_line(engine, run, ending.gate)
    elif shard is not None and status == CHECKS_FAILED:
        status = 0  # whoever gathers the parts decides
    sys.exit(status)


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
