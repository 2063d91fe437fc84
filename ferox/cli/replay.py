"""`ferox replay`: stored trials, played back to the agents of today."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.progress import follow_progress
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.naming import counted_noun
from ferox.runs.records import RunError
from ferox.runs.replay.kept_replay import begin_replay, carry_out_replay
from ferox.runs.replay.replay_run import ReplayChoice, ReplayedTrial, RunReplay
from ferox.runs.run_lock import RunLock
from ferox.store.database import StoreError, open_database
from ferox.workspace import WorkspaceError

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
@click.option("--in-time", is_flag=True, help="Answers take as long as they took; else none.")
def replay(
    workspace: Path,
    run: int,
    trials: tuple[int, ...],
    agents: tuple[str, ...],
    at_once: int | None,
    in_time: bool,
) -> None:
    """Play the trials of RUN back to its agents as they are today.

    Models and tools say what they said; no model is asked and no server called. What differs is the
    agent's own: its framework, prompts, retries. Status 1 if a trial parts from the stored one.
    """
    root = workspace.absolute()
    try:
        engine = open_database(root)
        with RunLock(root) as lock:
            number = begin_replay(engine, lock, run, ReplayChoice(trials, agents))
            with follow_progress("played back") as note:
                came = carry_out_replay(
                    engine, root, number, at_once=at_once, in_time=in_time, note=note
                )
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _print(came)
    if came.count("parted"):
        sys.exit(CHECKS_FAILED)
    if came.count("not replayed"):
        sys.exit(COULD_NOT_RUN)


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
