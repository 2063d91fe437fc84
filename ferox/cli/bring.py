"""`ferox bring`: traces of agents that ran where Ferox was not."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from ferox.bringing.bringing import BringingError, BringingOptions, BringingOutcome, bring_files
from ferox.cli.ending import end_run, ending_options, read_ending
from ferox.cli.output import COULD_NOT_RUN, STOPPED, WRONG_USE, fail, new_console, say
from ferox.cli.progress import follow_progress
from ferox.cli.workspace_argument import split_workspace
from ferox.core.naming import counted_noun
from ferox.runs.records import RunError
from ferox.store.database import StoreError, open_database
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed


@click.command("bring")
@click.argument(
    "paths", metavar="[WORKSPACE] FILE...", nargs=-1, required=True,
    type=click.Path(path_type=Path),
)  # fmt: skip
@click.option("--as", "agent", metavar="NAME", help="What the agent is called; else as they say.")
@click.option(
    "--task", metavar="TASK",
    help="The task of all of them, TASK or SUITE/TASK; else as they say, or by the user's words.",
)  # fmt: skip
@click.option(
    "--clock", metavar="WHEN",
    help="What the agent took for now: an RFC 3339 time, or `suite`; else when a trace began.",
)  # fmt: skip
@ending_options
def bring(
    paths: tuple[Path, ...],
    agent: str | None,
    task: str | None,
    clock: str | None,
    **asked_ending: Any,
) -> None:
    """Bring traces from elsewhere into a workspace as a run, and judge them.

    FILE holds traces of Ferox's, or OpenTelemetry spans as OTLP/JSON, one document or one a line.
    What is whole is brought in, the rest is named. What a trace does not tell is not tested.
    """
    root, files = split_workspace(paths)
    try:
        workspace = load_needed(root, agents=()).workspace
        engine = open_database(workspace.root)
        ending = read_ending(engine, **asked_ending)
        options = BringingOptions(agent, task, clock)
        with follow_progress("trials judged") as note:
            brought = bring_files(engine, workspace, files, options, on_trial=note)
    except (WorkspaceError, BringingError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    except KeyboardInterrupt:
        fail(STOPPED, "stopped; nothing was brought in")
    assert brought.run is not None
    _say_aside(brought)
    end_run(new_console(), engine, workspace.root, run=brought.run, ending=ending)


def _say_aside(brought: BringingOutcome) -> None:
    say(f"run {brought.run}: {counted_noun(brought.trials, 'trial')} brought in")
    for line in brought.by_words:
        say(line)
    for line in brought.left_out:
        say(f"left out: {line}", err=True)
