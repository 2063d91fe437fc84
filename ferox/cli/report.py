"""`ferox report`: a run as a page, or as text for a merge request."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.export import check_run, open_results
from ferox.cli.output import WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.gate import RuleVerdict
from ferox.intake.files import write_whole
from ferox.reports.run_page import run_page
from ferox.reports.run_text import run_markdown
from ferox.runs.baseline import BaselineError, read_baseline
from ferox.runs.run_report import RunReport, report_run


@click.command("report", cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", type=int)
@click.option(
    "--html", "html_file", type=click.Path(path_type=Path),
    help="Write it here as a page that stands by itself.",
)  # fmt: skip
@click.option(
    "--markdown", "markdown_file", type=click.Path(path_type=Path),
    help="Write it here, short enough for a merge request.",
)  # fmt: skip
@click.option(
    "--against", metavar="BASE",
    help="What it is held against: a run, RUN:ARM, or a file of results; else what each cell was.",
)  # fmt: skip
def report(
    workspace: Path,
    run: int,
    html_file: Path | None,
    markdown_file: Path | None,
    against: str | None,
) -> None:
    """Tell what RUN came to: what changed, how often each agent passed, and what failed.

    Without --html and --markdown the latter is printed.
    """
    with open_results(workspace) as session:
        check_run(session, run)
        try:
            baseline = read_baseline(session, against) if against else None
        except BaselineError as error:
            fail(WRONG_USE, f"--against: {error}")
        found = report_run(session, run, baseline)
    if html_file is None and markdown_file is None:
        say(run_markdown(found), nl=False)
        return
    write_report(found, [], markdown_file, html_file)


def write_report(
    found: RunReport,
    verdicts: list[RuleVerdict],
    markdown_file: Path | None,
    html_file: Path | None,
) -> None:
    """Write a report into the files that are wanted, each whole or not at all."""
    if markdown_file is not None:
        text = run_markdown(found, verdicts)
        write_whole(markdown_file.absolute(), lambda file: file.write(text))
    if html_file is not None:
        page = run_page(found, verdicts)
        write_whole(html_file.absolute(), lambda file: file.write(page))
