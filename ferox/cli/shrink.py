"""`ferox shrink`: the smallest task and offer with which a trial still fails."""

from __future__ import annotations

import asyncio
import signal
import sys
from pathlib import Path

import click

from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.progress import follow_progress
from ferox.cli.run import plan_agreed
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.runs.records import RunError
from ferox.runs.shrink.shrink_run import MOST_TRIALS, Shrinking, ShrinkWish, Shrunk
from ferox.store.database import StoreError, open_database
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed
from ferox.workspace.write import yaml_text


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("trial", metavar="TRIAL", type=click.IntRange(1))
@click.option(
    "--check", metavar="ID", help="The check that has to fail; left out: the first that did."
)
@click.option("--repeats", type=click.IntRange(1, 100), default=3, help="Trials of each try.")
@click.option(
    "--at-least", type=click.IntRange(1, 100), help="How many of them have to fail; left out: all."
)
@click.option("--budget", type=click.IntRange(1, MOST_TRIALS), default=100, help="Trials in all.")
def shrink(
    workspace: Path,
    trial: int,
    check: str | None,
    repeats: int,
    at_least: int | None,
    budget: int,
) -> None:
    """Leave out of a failing TRIAL what it fails without, and print the task that is left.

    Left out are tools that the script does not expect, rules of the user, later parts, what is
    given, and lines of the instructions. Ctrl-C ends it with what is left by then.
    """
    root = workspace.absolute()
    wish = ShrinkWish(trial, check, repeats, at_least or repeats, budget)
    if wish.at_least > repeats:
        fail(WRONG_USE, f"--at-least {wish.at_least} of {repeats} repeats: that can never be")
    try:
        load_needed(root, agents=(), suites=())
        engine = open_database(root)
        shrunk = _shrink(plan_agreed(lambda: Shrinking(engine, root, wish)), wish)
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _print(shrunk)
    if shrunk.state == "steady":
        sys.exit(COULD_NOT_RUN)


def _shrink(shrinking: Shrinking, wish: ShrinkWish) -> Shrunk:
    async def carry_out() -> Shrunk:
        stop = asyncio.Event()
        asyncio.get_running_loop().add_signal_handler(signal.SIGINT, stop.set)
        with follow_progress("trials at most") as note:
            return await shrinking.carry_out(lambda now: note(now.tried, now.budget), stop)

    most = f"at most {wish.budget} trials, {wish.repeats} for each try"
    tokens = shrinking.tokens and shrinking.tokens * wish.budget
    say(f"{most}; {tokens:,} tokens, by what it took" if tokens else most, err=True)
    return asyncio.run(carry_out())


def _print(shrunk: Shrunk) -> None:
    say(shrunk.sentence)
    if shrunk.state in ("stopped", "budget"):
        why = "it was stopped" if shrunk.state == "stopped" else "the budget is spent"
        say(f"{why} after {shrunk.tried} trials: less may be enough")
    if shrunk.state == "steady":
        return
    for piece in shrunk.kept:
        say(f"  needed: {piece.words}")
    say("")
    say(yaml_text({"tasks": [shrunk.task]}))
    lines = shrunk.needed_lines
    if lines is not None:
        say("Its instructions:" if lines else "No line of its instructions is needed.")
        for line in lines:
            say(f"  {line}")
