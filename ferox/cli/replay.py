"""`ferox replay`: stored trials, played back to the agents of today."""

from __future__ import annotations

import asyncio
import sys
from pathlib import Path

import click

from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.progress import show_progress
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.arms import agent_of_arm
from ferox.core.naming import counted_noun
from ferox.runs.replay.replay_run import (
    ReplayChoice,
    ReplayedTrial,
    RunReplay,
    chosen_trials,
    replay_trials,
)
from ferox.store.database import Engine, StoreError, open_database, read_session
from ferox.store.runs import find_run
from ferox.store.trials import read_trials
from ferox.workspace import Workspace, WorkspaceError
from ferox.workspace.load import load_needed

SHOWN = 6
"""Trials that are named of each group."""
LINES = 24
"""Lines of a difference that are shown."""


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", metavar="RUN", type=click.IntRange(1))
@click.option("--trial", "trials", type=click.IntRange(1), multiple=True,
              help="Only this trial; may be repeated.")  # fmt: skip
@click.option("--agent", "agents", multiple=True, help="An agent; may be repeated.")
@click.option("--at-once", type=click.IntRange(1, 64), help="Trials side by side.")
def replay(
    workspace: Path,
    run: int,
    trials: tuple[int, ...],
    agents: tuple[str, ...],
    at_once: int | None,
) -> None:
    """Play the trials of RUN back to its agents as they are today.

    Models and tools say what they said; no model is asked and no server called. What differs is the
    agent's own: its framework, prompts, retries. Status 1 if a trial parts from the stored one.
    """
    try:
        engine = open_database(workspace)
        with read_session(engine) as session:
            if find_run(session, run) is None:
                fail(WRONG_USE, f"there is no run {run}")
        numbers = chosen_trials(engine, run, ReplayChoice(trials, agents))
        if not numbers:
            fail(WRONG_USE, f"run {run} has no finished trial of these")
        names = {agent_of_arm(name) for name in _agents_of(engine, numbers)}
        loaded = load_needed(workspace, agents=sorted(names), suites=()).workspace
    except WorkspaceError as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    side_by_side = at_once or loaded.settings.defaults.at_once
    came = asyncio.run(_replay_all(engine, loaded, run, numbers, side_by_side))
    _print(came)
    if came.count("parted"):
        sys.exit(CHECKS_FAILED)
    if came.count("not replayed"):
        sys.exit(COULD_NOT_RUN)


def _agents_of(engine: Engine, numbers: list[int]) -> set[str]:
    with read_session(engine) as session:
        return {trial.agent for trial in read_trials(session, numbers).values()}


async def _replay_all(
    engine: Engine, workspace: Workspace, run: int, numbers: list[int], at_once: int
) -> RunReplay:
    came = RunReplay()
    with show_progress(len(numbers), "played back") as step:
        async for trial in replay_trials(engine, workspace, run, numbers, at_once):
            came.trials.append(trial)
            step()
    came.trials.sort(key=lambda one: one.order.trial)
    return came


def _print(came: RunReplay) -> None:
    say(came.sentence)
    for verdict, first, trials in came.groups():
        say("")
        say(f"{verdict}: {first} ({counted_noun(len(trials), 'trial')})")
        say(f"  {_names(trials)}")
        example = trials[0].came
        shown = example.parted or next(iter(example.differences), None)
        if shown is not None:
            say(f"  trial {trials[0].order.trial} at {shown.at}:")
            for line in shown.lines[:LINES]:
                say(f"    {line}")
            if len(shown.lines) > LINES:
                say(f"    … {counted_noun(len(shown.lines) - LINES, 'more line')}")

    unheld = sum(not trial.asked_model for trial in came.trials)
    if unheld:
        say("")
        say(
            f"{counted_noun(unheld, 'trial')} asked no model at Ferox: if they think elsewhere, "
            "what they think with was not held still"
        )


def _names(trials: list[ReplayedTrial]) -> str:
    orders = [trial.order for trial in trials[:SHOWN]]
    named = [f"{o.suite}/{o.task} · {o.agent}: trial {o.trial}" for o in orders]
    more = len(trials) - SHOWN
    return ", ".join(named) + (f" and {more:,} more" if more > 0 else "")
