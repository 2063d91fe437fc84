"""`ferox score`: traces from anywhere, scored against a suite; no workspace is needed."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click
from pydantic import ValidationError

from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, say_json
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.base import validation_fault
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace, trace_adapter
from ferox.intake.files import read_bytes
from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError
from ferox.workspace.check_suite import SuiteContext, check_suite
from ferox.workspace.problems import did_you_mean
from ferox.workspace.yaml_files import read_yaml, validate_file


@click.command()
@click.option(
    "--tasks", "suite_file", required=True, type=click.Path(path_type=Path), help="A suite's file."
)
@click.argument("traces", nargs=-1, required=True, type=click.Path(path_type=Path))
def score(suite_file: Path, traces: tuple[Path, ...]) -> None:
    """Score TRACES against a suite; a JSON list, one result for each, in order.

    Needs no workspace: traces may come from anywhere. A file holds one as JSON, or several as
    JSON lines, as `ferox export` writes them.
    """
    file = read_yaml(suite_file, str(suite_file))
    suite = validate_file(file, Suite)
    found = list(file.problems) if suite is None else list(check_suite(file, suite, SuiteContext()))
    problems = sorted(p for p in found if not p.note)
    if suite is None or problems:
        fail(WRONG_USE, *problems)
    results = [_score_trial(suite, *one) for path in traces for one in _read_traces(path)]
    say_json(results, indent=1)
    if any(r["verdict"] == "error" for r in results):
        sys.exit(COULD_NOT_RUN)
    sys.exit(CHECKS_FAILED if any(r["verdict"] == "fail" for r in results) else 0)


LARGEST_TRACES = 256 * 1024 * 1024
"""Bytes of the largest file of traces that is scored."""


def _read_traces(path: Path) -> list[tuple[str, Trace]]:
    """The traces of a file, each with its place: one as JSON, or many as JSON lines."""
    try:
        text = read_bytes(path, LARGEST_TRACES)
    except OSError as error:
        fail(WRONG_USE, f"{path}: {error.strerror}")
    except IntakeError as error:
        fail(WRONG_USE, f"{path}: {error}")
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(lines) < 2 or not all(line.startswith(b'{"') for _, line in lines):
        return [(str(path), _validated_trace(str(path), text))]
    return [(f"{path}:{n}", _validated_trace(f"{path}:{n}", line)) for n, line in lines]


def _validated_trace(place: str, text: bytes) -> Trace:
    try:
        return trace_adapter().validate_python(read_json(text))
    except IntakeError as error:
        fail(WRONG_USE, f"{place}: {error}")
    except ValidationError as error:
        fail(WRONG_USE, f"{place}: {validation_fault(error)}")


def _score_trial(suite: Suite, path: str, trace: Trace) -> Any:
    place = next((i for i, t in enumerate(suite.tasks) if t.task == trace["task"]), None)
    if place is None:
        hint = did_you_mean(trace["task"], [t.task for t in suite.tasks])
        fail(WRONG_USE, f"{path}: `{trace['task']}`: no such task in the suite{hint}")
    try:
        return score_trial(compile_script(suite, suite.tasks[place]), trace)
    except ValueError as error:  # the trace's clock or zone is none
        fail(WRONG_USE, f"{path}: {error}")
