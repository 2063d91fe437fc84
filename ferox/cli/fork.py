"""`ferox fork`: trials that go on from a point of another."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click
from pydantic import ValidationError

from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, new_console, say
from ferox.cli.run import plan_agreed
from ferox.cli.run_progress import follow_run
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.naming import counted_noun
from ferox.formats.base import validation_fault
from ferox.formats.trace import ForkFacts
from ferox.intake.files import read_text
from ferox.intake.json_text import parsed_json
from ferox.intake.limits import IntakeError
from ferox.runs.fork.change import ForkChange
from ferox.runs.fork.fork_results import (
    ForkedTrials,
    first_facts,
    fork_sentence,
    read_forks,
)
from ferox.runs.fork.fork_run import MOST_FORKS, ForkWish, plan_forks
from ferox.runs.records import RunError, start_worker
from ferox.runs.run_lock import RunLock
from ferox.store.database import Engine, StoreError, open_database, read_session
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed

LARGEST_ANSWER = 1_000_000
"""Bytes of an answer that is put in place of another."""


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("trial", metavar="TRIAL", type=click.IntRange(1))
@click.option("--at", "at", required=True, metavar="PLACE",
              help="c3: its third call; m2: its second request to a model; t1: the user's first "
              "words.")  # fmt: skip
@click.option("--answer", metavar="FILE",
              type=click.Path(exists=True, dir_okay=False, path_type=Path),
              help="The call gets what is in FILE: JSON, or text.")  # fmt: skip
@click.option("--error", metavar="TEXT", help="The call fails with these words.")
@click.option("--fault", metavar="KIND", help="A fault strikes: timeout, status, garbled …")
@click.option("--text", metavar="TEXT", help="Of the fault, as of planted_text.")
@click.option("--say", metavar="TEXT", help="The model, or the user, says this.")
@click.option("--call", "call", nargs=2, metavar="TOOL ARGUMENTS",
              help="The model proposes this call: its address, and arguments as JSON.")  # fmt: skip
@click.option("--model", metavar="MODEL", help="This model is asked from there on.")
@click.option("--without", multiple=True, metavar="TOOL",
              help="Models are no longer shown this tool; may be repeated.")  # fmt: skip
@click.option("--wording", nargs=2, metavar="TOOL TEXT",
              help="Models are shown this tool with another description.")  # fmt: skip
@click.option("--repeats", type=click.IntRange(1, MOST_FORKS), default=1, help="How many forks.")
@click.option("--at-once", type=click.IntRange(1, 64), help="Forks side by side.")
def fork(
    workspace: Path, trial: int, at: str, repeats: int, at_once: int | None, **wished: Any
) -> None:
    """Go on from a place in TRIAL, with one thing changed or none.

    What came before is played back: the agent is given what it was given. From there on its model
    is asked and its servers are called, as the suite says. Without a change it tells whether the
    trial was bad luck.
    """
    change = _read_change(wished)
    root = workspace.absolute()
    lock = RunLock(root)
    try:
        loaded = load_needed(root, agents=(), suites=()).workspace
        engine = open_database(root)
        side_by_side = at_once or loaded.settings.defaults.at_once
        wish = ForkWish(trial, at, change, repeats)
        number = plan_agreed(lambda: plan_forks(engine, loaded, wish, side_by_side, lock))
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    with lock:
        worker = start_worker(root, number, lock)
    follow_run(new_console(), engine, number, worker)
    _print(engine, root, trial, number)


def _read_change(wished: dict[str, Any]) -> ForkChange:
    """The change that options ask for."""
    text = wished.pop("text")
    given = {name: value for name, value in wished.items() if value not in (None, ())}
    if text is not None and "fault" not in given:
        fail(WRONG_USE, "--text is of a fault: give --fault too")
    try:
        if "answer" in given:
            given["answer"] = parsed_json(read_text(given["answer"], LARGEST_ANSWER).strip())
        if "fault" in given:
            given["fault"] = {"do": given["fault"], "text": text}
        if "wording" in given:
            tool, description = given["wording"]
            given["wording"] = {"tool": tool, "description": description}
        if "call" in given:
            tool, arguments = given["call"]
            given["call"] = {"tool": tool, "args": parsed_json(arguments)}
        return ForkChange.model_validate(given)
    except ValidationError as error:
        fail(WRONG_USE, validation_fault(error))
    except IntakeError as error:
        fail(WRONG_USE, f"--answer: {error}")


def _print(engine: Engine, root: Path, trial: int, number: int) -> None:
    with read_session(engine) as session:
        forks = read_forks(session, root, trial)
        (mine,) = [each for each in forks if each.run == number]
        same_point = [each for each in forks if each.at == mine.at]
        say(fork_sentence(session, trial, same_point))
        for each in mine.trials:
            reason = f": {each.reason}" if each.reason else ""
            say(f"  trial {each.id}: {each.verdict or each.state}{reason}")
        facts = first_facts(session, mine)
    _say_what_was_not_brought_about(mine, facts)
    if mine.left:
        say(f"{counted_noun(mine.left, 'fork')} not done: ferox resume {number}")
        sys.exit(COULD_NOT_RUN)
    if not mine.judged:
        sys.exit(COULD_NOT_RUN)


def _say_what_was_not_brought_about(mine: ForkedTrials, facts: ForkFacts | None) -> None:
    if facts is None:
        return
    if facts["not_repeated"]:
        servers = ", ".join(facts["not_repeated"])
        say(f"calls before {mine.at} were not made again at {servers}: it goes on as it is")
    for unlike in facts["unlike"]:
        say(f"a mock is not in the state that it was in: {unlike}")
