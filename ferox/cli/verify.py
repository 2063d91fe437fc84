"""`ferox verify`: every file of a workspace, loaded and cross-checked."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.output import WRONG_USE, fail, say
from ferox.cli.workspace_argument import workspace_argument
from ferox.core.naming import counted_noun
from ferox.workspace import WorkspaceError, load_workspace


@click.command()
@workspace_argument
def verify(workspace: Path) -> None:
    """Load and cross-check every file of WORKSPACE; every error, with its place."""
    try:
        loaded = load_workspace(workspace)
    except WorkspaceError as error:
        fail(WRONG_USE, *error.problems, counted_noun(len(error.problems), "problem"))
    tasks = sum(len(s.tasks) for s in loaded.suites.values())
    for note in loaded.notes:
        say(str(note))
    agents = counted_noun(len(loaded.agents), "agent")
    servers = counted_noun(len(loaded.servers), "server")
    suites = counted_noun(len(loaded.suites), "suite")
    say(
        f"{loaded.settings.name}: {agents}, {servers}, {suites} "
        f"with {counted_noun(tasks, 'task')}: all well"
    )
