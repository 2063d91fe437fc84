"""`ferox probe`: will an agent start, what is it offered, does it reply?"""

from __future__ import annotations

import asyncio
import sys
from pathlib import Path

import click

from ferox.cli.completing import complete_names
from ferox.cli.output import CHECKS_FAILED, WRONG_USE, fail, finding_line, say
from ferox.cli.secrets import ask_to_agree
from ferox.cli.workspace_argument import (
    WorkspaceFirst,
    modes_by_hand,
    parse_pairs,
    workspace_argument,
)
from ferox.runs.overrides import Overrides
from ferox.runs.probe import Probe, ProbeStep
from ferox.runs.records import RunError
from ferox.runs.trial_by_hand import prepare_by_hand
from ferox.workspace import WorkspaceError
from ferox.workspace.vault import current_vault


@click.command("probe", cls=WorkspaceFirst)
@workspace_argument
@click.argument("agent", shell_complete=complete_names("agents"))
@modes_by_hand
def probe_agent(workspace: Path, agent: str, modes: tuple[str, ...]) -> None:
    """Look whether AGENT starts: its model, its start, its tools, one harmless turn.

    No tool is called. Status 1 if something is broken; each line says what to try next.
    """
    wanted = Overrides(modes=parse_pairs("--server", modes, "harbour=live"))
    try:
        snapshot, without = prepare_by_hand(workspace, agent, wanted)
        ask_to_agree(current_vault().unagreed_uses(snapshot.secret_uses()))
        probe = Probe(snapshot, agent, workspace.absolute(), without=without)
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    printed: list[ProbeStep] = []

    def say_new_steps() -> None:
        for step in probe.steps[len(printed) :]:
            printed.append(step)
            say(finding_line(step.ok, step.about, step.message))
            if step.advice:
                say(f"       next: {step.advice}")

    probe.listener = say_new_steps
    asyncio.run(probe.carry_out())
    for tool in probe.tools:
        if tool.as_name is None:
            say(f"       {tool.address} was not shown to its model")
        elif tool.as_name != tool.address.split("/", 1)[1]:
            say(f"       {tool.address} is shown as {tool.as_name}")
    for remark in probe.remarks:
        say(f"       {remark.text}")
    if probe.reply is not None:
        say(f"agent> {probe.reply}")
    if any(step.ok is False for step in probe.steps):
        for line in probe.log[-10:]:
            say(f"  log: {line}")
        sys.exit(CHECKS_FAILED)
