"""The arms of a run as a table for the terminal."""

from __future__ import annotations

from collections.abc import Iterator

from rich import box
from rich.table import Table

from ferox.formats.arms import ArmReport, ArmsReport, DifferenceReport, MeanReport

MANY = 10
"""Comparisons of which one is told apart by chance often enough to be said."""


def arms_table(report: ArmsReport) -> Table:
    """Each arm: passes, its pass rate and choice against its baseline's, and what that says."""
    table = Table(
        title=f"Run {report.run}: arms of {report.plan}", title_justify="left", box=box.SIMPLE_HEAD
    )
    table.add_column("arm", overflow="fold")
    for heading in ("passes", "against the baseline", "choice", "against the baseline"):
        table.add_column(heading, justify="right", no_wrap=True)
    table.add_column("pass rate", overflow="fold")
    for arm in report.arms:
        table.add_row(
            arm.arm,
            f"{arm.passes}/{arm.n}" + (f" +{arm.errors} errors" if arm.errors else ""),
            _points(arm.pass_difference),
            _share(arm.choice),
            _points(arm.choice_difference),
            _says(arm),
        )
    return table


def mend_table(report: ArmsReport) -> Table:
    """Each change: passes, the difference to the task as it is, and what that means."""
    table = Table(title=report.title, title_justify="left", box=box.SIMPLE_HEAD)
    table.add_column("change", overflow="fold")
    table.add_column("passes", justify="right", no_wrap=True)
    table.add_column("difference", justify="right", no_wrap=True)
    table.add_column("what it means", overflow="fold")
    for arm in report.arms:
        meaning = arm.meaning or (arm.pass_difference.says if arm.pass_difference else "")
        table.add_row(
            arm.change or "as it is",
            f"{arm.passes} of {arm.n}",
            _points(arm.pass_difference),
            meaning if arm.against else "",
        )
    return table


def closing_lines(report: ArmsReport) -> Iterator[str]:
    """What the table does not hold: what stopping early saved, and what the sweep found."""
    if report.saved is not None:
        if report.decided_after is not None:
            yield (
                f"decided after {report.decided_after} repeats: {report.saved} of "
                f"{report.all_trials} trials saved"
            )
        else:
            yield f"not decided for every arm; {report.saved} of {report.all_trials} trials saved"
        yield f"limits by z = {report.z:g}, the boundary for {len(report.looks)} looks"
    compared = sum(arm.against is not None for arm in report.arms)
    if compared >= MANY:
        chance = f"about {compared * 0.05:.0f} would be told apart by chance"
        yield f"of {compared} arms that do not differ, {chance}"
    for line in report.sweep:
        steps = f"{line.steps[0]} to {line.steps[-1]} decoys"
        if line.worse_from is None:
            yield f"{line.name}: choice is not seen to be worse anywhere from {steps}"
        else:
            yield f"{line.name}: choice is worse from {line.worse_from} decoys on ({steps})"


def _share(mean: MeanReport | None) -> str:
    return "–" if mean is None else f"{mean.mean:.2f}"


def _points(found: DifferenceReport | None) -> str:
    """A difference in points, with its limits."""
    if found is None:
        return "–"
    limits = ""
    if found.low is not None and found.high is not None:
        limits = f" ({100 * found.low:+.0f} to {100 * found.high:+.0f})"
    return f"{100 * found.difference:+.0f}{limits}"


def _says(arm: ArmReport) -> str:
    if arm.against is None:
        return "baseline"
    return arm.pass_difference.says if arm.pass_difference else "not seen"
