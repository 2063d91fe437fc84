"""`ferox ready`: can the machines of a cluster carry out a run of this workspace?"""

from __future__ import annotations

import asyncio
import sys
from pathlib import Path

import click

from ferox.cli.completing import complete_names
from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, finding_line, say
from ferox.cli.workspace_argument import workspace_argument
from ferox.core.naming import counted_noun
from ferox.recordings.recording import RecordingError
from ferox.runs.cluster.address import ClusterError
from ferox.runs.records import RunError, check_cluster
from ferox.runs.snapshot import take_snapshot
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed


@click.command()
@click.argument("cluster")
@workspace_argument
@click.option(
    "--suite", "suites", multiple=True, shell_complete=complete_names("tasks"),
    help="A suite that will be run; left out: all.",
)  # fmt: skip
@click.option(
    "--agent", "agents", multiple=True, shell_complete=complete_names("agents"),
    help="An agent that will be run; left out: all.",
)  # fmt: skip
def ready(cluster: str, workspace: Path, suites: tuple[str, ...], agents: tuple[str, ...]) -> None:
    """Look whether each machine of CLUSTER, tcp://HOST:PORT, has what a run needs.

    Versions, secrets that are set, interpreters that start, live servers that answer. No trial is
    carried out. Status 1 if something is missing.
    """
    try:
        check_cluster(cluster)
        loaded = load_needed(workspace, agents=agents or None, suites=suites or None).workspace
        snapshot = take_snapshot(
            loaded, list(suites) or list(loaded.suites), list(agents) or list(loaded.agents)
        )
    except (WorkspaceError, RunError, RecordingError) as error:
        fail(WRONG_USE, error)
    from ferox.runs.cluster.looking import look_at_cluster

    try:
        report = asyncio.run(look_at_cluster(cluster, snapshot, loaded.root))
    except ClusterError as error:
        fail(COULD_NOT_RUN, error)
    for machine, findings in report.machines:
        has = ", ".join(machine.resources) or "nothing of its own"
        threads = counted_noun(machine.threads, "trial")
        say(f"{machine.name} at {machine.address}: {threads} at once; has {has}")
        for found in findings:
            say("  " + finding_line(found.ok, found.about, found.message))
    for line in report.missing:
        say(f"missing everywhere: {line}")
    if not report.is_ready:
        sys.exit(CHECKS_FAILED)
