"""`ferox` without words: what there is in this folder, and what to do next."""

from __future__ import annotations

from pathlib import Path

from ferox.cli.output import say
from ferox.core.naming import counted_noun
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_loosely

SHOWN = 3
"""Problems that are shown; `ferox verify` shows all."""


def say_what_is_here(folder: Path) -> None:
    """Say what a folder holds, and the next steps, with their commands."""
    try:
        workspace, problems = load_loosely(folder)
    except WorkspaceError:
        say("There is no workspace in this folder. Next:")
        say("  ferox new my-desk       make one that runs at once")
        say("  ferox serve my-desk     work with it in the browser")
        say("  ferox --help            everything else")
        return
    tasks = sum(len(suite.tasks) for suite in workspace.suites.values())
    counts = (
        counted_noun(len(workspace.servers), "server"),
        counted_noun(len(workspace.agents), "agent"),
        counted_noun(len(workspace.suites), "suite"),
    )
    say(f"{workspace.settings.name}: {', '.join(counts)} with {counted_noun(tasks, 'task')}")
    for problem in problems[:SHOWN]:
        say(f"  {problem}")
    if len(problems) > SHOWN:
        say(f"  and {counted_noun(len(problems) - SHOWN, 'more problem')}: ferox verify")
    last = _last_run(folder)
    if last:
        say(last)
    say("Next:")
    if problems:
        say("  ferox verify            every problem of its files, with its place")
    if not workspace.servers:
        say("  ferox serve             paste a tool server in, under Servers")
    elif tasks and workspace.agents:
        again = "" if last is None else ", and compare it with the last"
        say(f"  ferox run               run every agent on every task{again}")
    if workspace.agents:
        say(f"  ferox try {min(workspace.agents)}   talk to an agent")
    say("  ferox serve             work with it in the browser")
    say("  ferox --help            everything else")


def _last_run(folder: Path) -> str | None:
    """The newest run in a line; None if there was none."""
    if not (folder / ".ferox" / "results.sqlite").exists():
        return None
    from ferox.store.database import open_database, read_session
    from ferox.store.runs import count_trials, newest_runs

    with read_session(open_database(folder)) as session:
        for run in newest_runs(session, most=1):
            counts = count_trials(session, run.id)
            passes, judged = counts[3], counts[4]
            return f"Run {run.id} ({run.title}): {passes} of {counted_noun(judged, 'trial')} passed"
    return None
