"""`ferox compare`: whether B is better than A, and how far that can be believed."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.export import open_results
from ferox.cli.output import CHECKS_FAILED, WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.comparison.verdict import SAME_WITHIN
from ferox.formats.comparison import ComparisonReport, IntervalReport, MetricReport, TaskReport
from ferox.intake.files import write_whole
from ferox.reports.comparison_page import comparison_page
from ferox.runs.comparison import ComparisonError, SideName, compare_sides
from ferox.runs.setup_differences import setup_differences

MOST_TASKS = 12
"""Tasks with the largest differences that are printed; all stand in `--json`."""


@click.command("compare", cls=WorkspaceFirst)
@workspace_argument
@click.argument("a")
@click.argument("b")
@click.option("--json", "json_file", type=click.Path(path_type=Path), help="Write all of it here.")
@click.option(
    "--html", "html_file", type=click.Path(path_type=Path),
    help="Write it here as a page that stands by itself.",
)  # fmt: skip
@click.option(
    "--same-within",
    "margin",
    type=click.FloatRange(0, 1, min_open=True),
    default=SAME_WITHIN,
    show_default=True,
    help="The difference of pass rates that does not matter.",
)
def compare_runs(
    workspace: Path,
    a: str,
    b: str,
    json_file: Path | None,
    html_file: Path | None,
    margin: float,
) -> None:
    """Compare B with A, each RUN or RUN:AGENT, over the tasks that both have.

    Status 1 if B passes less often.
    """
    with open_results(workspace) as session:
        try:
            sides = SideName.parse(a), SideName.parse(b)
            compared = compare_sides(session, *sides, margin)
            setup = setup_differences(session, *sides) if html_file is not None else []
        except ComparisonError as error:
            fail(WRONG_USE, error)
    if json_file is not None:
        text = compared.model_dump_json(indent=1)
        write_whole(json_file, lambda file: file.write(text))
    if html_file is not None:
        page = comparison_page(compared, setup)
        write_whole(html_file, lambda file: file.write(page))
    _print_comparison(compared)
    rate = compared.metrics[0].these
    if rate is not None and rate.high < 0:
        raise SystemExit(CHECKS_FAILED)


def _print_comparison(compared: ComparisonReport) -> None:
    say(f"B = {compared.b} against A = {compared.a}, {len(compared.tasks)} tasks")
    say(compared.sentence)
    if compared.differs:
        say(f"What differs in the set-up: {', '.join(compared.differs)}")
    for names, why in (
        (compared.other_script, "not the same script on both sides, left out"),
        (compared.only_a, "only A has"),
        (compared.only_b, "only B has"),
    ):
        if names:
            say(f"{len(names)} {why}: {', '.join(names[:5])}")
    say("")
    say(
        f"{'':15} {'A':>9} {'B':>9} {'B − A':>9}  {'on these tasks':>19}"
        f"  {'on tasks like these':>19}"
    )
    for one in compared.metrics:
        if one.difference is not None:
            say(_metric_line(one))
    for caution in dict.fromkeys(one.caution for one in compared.metrics if one.caution):
        say(f"Careful: {caution}.")
    changed = [t for t in compared.tasks if t.difference]
    changed.sort(key=lambda t: abs(t.difference or 0.0), reverse=True)
    if changed:
        say("")
        for task in changed[:MOST_TASKS]:
            say(_task_line(task))
        if len(changed) > MOST_TASKS:
            say(f"and {len(changed) - MOST_TASKS} tasks more")
    for pair in compared.confusions:
        say(f"instead of {pair.expected} chose {pair.chosen}: A {pair.a} ×, B {pair.b} ×")


def _metric_line(one: MetricReport) -> str:
    shown = _times if one.ratio else _plain
    difference = f"× {one.difference:.3f}" if one.ratio else f"{one.difference:+.3f}"
    return (
        f"{one.metric:15} {shown(one.a)} {shown(one.b)} {difference:>9}"
        f"  {_limits(one.these)}  {_limits(one.like_these)}"
    )


def _plain(value: float | None) -> str:
    return f"{value:9.3f}" if value is not None else f"{'–':>9}"


def _times(value: float | None) -> str:
    return f"{value:6.0f} ms" if value is not None else f"{'–':>9}"


def _limits(found: IntervalReport | None) -> str:
    if found is None:
        return f"{'–':>19}"
    return f"{found.low:+.3f} to {found.high:+.3f}".rjust(19)


def _task_line(task: TaskReport) -> str:
    counts = f"{task.a.passes}/{task.a.n} → {task.b.passes}/{task.b.n}"
    tipped = f", tipped by {task.tipped}" if task.tipped else ""
    return f"{'/'.join(filter(None, (task.suite, task.task, task.agent)))}: {counts}{tipped}"
