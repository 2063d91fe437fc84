"""`ferox stand-in`: a simulated model that carries out a suite."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.completing import complete_names
from ferox.cli.output import WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.naming import counted_noun
from ferox.making.stand_in_of_suite import stand_in_of_suite
from ferox.runs.suite_tools import tools_of_suite
from ferox.store.database import open_database
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed
from ferox.workspace.problems import did_you_mean
from ferox.workspace.stand_ins import keep_stand_in
from ferox.workspace.write import WriteError


@click.command("stand-in", cls=WorkspaceFirst)
@workspace_argument
@click.argument("suite", shell_complete=complete_names("tasks"))
def make_stand_in(workspace: Path, suite: str) -> None:
    """Write a simulated model that carries out what SUITE expects: its calls, their arguments
    from earlier results, its answers. The file is then yours to edit.
    """
    try:
        loaded = load_needed(workspace, agents=(), suites=[suite]).workspace
        if suite not in loaded.suites:
            fail(WRONG_USE, f"`{suite}`: no such suite{did_you_mean(suite, loaded.suites)}")
        chosen = loaded.suites[suite]
        made = stand_in_of_suite(chosen, tools_of_suite(loaded, chosen, open_database(loaded.root)))
        kept = keep_stand_in(loaded, suite, made.document)
    except (WorkspaceError, WriteError) as error:
        fail(WRONG_USE, error)
    for note in made.notes:
        say(f"to do in {kept.file}: {note}")
    scenes = counted_noun(len(made.document["scenes"]), "scene")
    say(f"{kept.file}: {scenes}, as the model {kept.model} (simulated). Next:")
    say(f"  ferox run {workspace} --suite {suite} --model {kept.model}")
