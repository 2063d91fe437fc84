"""Options by which a run has to hold the line, and what is said of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

import click

from ferox.cli.output import CHECKS_FAILED, WRONG_USE, fail, say
from ferox.core.gate import FLOORS, GateRules, RuleVerdict
from ferox.core.naming import counted_noun
from ferox.runs.baseline import Baseline, BaselineError, read_baseline
from ferox.runs.gate import GateReport, cell_name, judge_run
from ferox.store.database import Engine, Session, read_session


class Gate(NamedTuple):
    """What a run has to keep; without rules, all of its trials have to pass."""

    rules: GateRules
    baseline: Baseline | None

    @property
    def has_rules(self) -> bool:
        """Whether anything is asked for."""
        return bool(self.rules.floors) or self.baseline is not None


def gate_options(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options of the gate to a command."""
    for option in reversed(
        (
            click.option(
                "--against", "against", metavar="BASE",
                help="Fail if anything broke since BASE: a run, RUN:ARM, or a file of results.",
            ),
            click.option(
                "--no-worse", "no_worse", type=click.FloatRange(0, 1), metavar="SHARE",
                help="With --against: fail if passes drop by more than this, as in 0.05.",
            ),
            click.option(
                "--fail-under", "fail_under", multiple=True, metavar="METRIC=FLOOR",
                help=f"Fail under this, as in pass=0.9; of {', '.join(FLOORS)}.",
            ),
            click.option(
                "--strict", is_flag=True,
                help="Fail too where too few trials tell; --no-worse goes by the lower limit.",
            ),
        )
    ):  # fmt: skip
        command = option(command)
    return command


def read_gate(
    engine: Engine,
    *,
    against: str | None,
    no_worse: float | None,
    fail_under: tuple[str, ...],
    strict: bool,
) -> Gate:
    """The gate as it was asked for; ends the command where that cannot be."""
    if no_worse is not None and against is None:
        fail(WRONG_USE, "--no-worse needs --against: a run, RUN:ARM, or a file of results")
    if strict and against is None and not fail_under:
        fail(WRONG_USE, "--strict goes with --against or --fail-under")
    rules = GateRules(dict(_parse_floor(given) for given in fail_under), no_worse, strict=strict)
    if against is None:
        return Gate(rules, None)
    try:
        with read_session(engine) as session:
            return Gate(rules, read_baseline(session, against))
    except BaselineError as error:
        fail(WRONG_USE, f"--against: {error}")


def _parse_floor(given: str) -> tuple[str, float]:
    metric, _, floor = given.partition("=")
    try:
        least = float(floor)
    except ValueError:
        least = -1.0
    if metric not in FLOORS or not 0 <= least <= 1:
        fail(
            WRONG_USE,
            f"--fail-under {given}: write METRIC=FLOOR, as in pass=0.9, a floor from 0 to 1; "
            f"metrics are {', '.join(FLOORS)}",
        )
    return metric, least


def hold_line(session: Session, run: int, gate: Gate) -> tuple[int, list[RuleVerdict]]:
    """Hold a run against the gate, and say what came of it, a rule that fails last; the exit
    status and what came of each rule."""
    report = judge_run(session, run, gate.rules, gate.baseline)
    _say_aside(report)
    failing = report.failing
    for verdict in report.verdicts:
        if verdict not in failing:
            say(verdict.says)
    for verdict in failing:
        say(verdict.says, err=True)
    return CHECKS_FAILED if failing else 0, report.verdicts


def _say_aside(report: GateReport) -> None:
    """What no rule counts."""
    changes = report.changes
    for key, why in changes.known.items():
        say(f"known: {cell_name(key)}: {why}")
    for key in changes.mended_known:
        say(f"mended: {cell_name(key)} passes always now: take it out of the suite's `known`")
    if changes.other_script:
        count = counted_noun(len(changes.other_script), "cell is", "cells are")
        say(f"{count} judged by another script than in the baseline, and not compared")
