"""`ferox run`, `again` and `resume`: a run, carried out and shown until it ends."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, NoReturn, TypeVar

import click

from ferox.cli.completing import complete_names
from ferox.cli.ending import Ending, end_run, ending_options, read_ending
from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, new_console, say
from ferox.cli.run_progress import follow_run
from ferox.cli.secrets import ask_to_agree
from ferox.cli.workspace_argument import WorkspaceFirst, parse_pairs, workspace_argument
from ferox.core.naming import counted_noun
from ferox.formats.plan import PlanFile
from ferox.runs.clock_warnings import clock_warnings
from ferox.runs.overrides import Overrides
from ferox.runs.plan_preview import preview_plan
from ferox.runs.records import (
    MOST_AT_ONCE,
    RunError,
    SecretsNotAgreed,
    Shard,
    find_plan,
    load_for_failed,
    make_ready_again,
    plan_arms,
    plan_failed,
    plan_run,
    side_by_side,
    start_worker,
)
from ferox.runs.run_lock import RunLock
from ferox.store.database import Engine, StoreError, open_database
from ferox.workspace import Workspace, WorkspaceError
from ferox.workspace.load import load_needed


@click.command()
@workspace_argument
@click.option(
    "--suite", "suites", multiple=True, shell_complete=complete_names("tasks"),
    help="A suite to run; left out: all.",
)  # fmt: skip
@click.option("--task", "tasks", multiple=True, help="A task to run; left out: all of the suites.")
@click.option(
    "--agent", "agents", multiple=True, shell_complete=complete_names("agents"),
    help="An agent to run; left out: all.",
)  # fmt: skip
@click.option(
    "--plan", "plan", shell_complete=complete_names("plans"),
    help="A plan to run; it says which tasks, agents and arms.",
)  # fmt: skip
@click.option("--trials", type=click.IntRange(1, 1000), help="Repeats of each task.")
@click.option(
    "--at-once", type=click.IntRange(1, MOST_AT_ONCE),
    help="Trials side by side; on a cluster, left out: as many as it takes.",
)  # fmt: skip
@click.option(
    "--on", "on", metavar="CLUSTER",
    help="Have machines of a Dask cluster carry the run out: tcp://HOST:PORT of its scheduler, or "
    "local:N for N processes on this machine.",
)  # fmt: skip
@click.option(
    "--server", "modes", multiple=True, metavar="NAME=MODE",
    help="Have a server live, recorded, mock, or one of its variants, whatever the suite says.",
)  # fmt: skip
@click.option(
    "--model", "models", multiple=True, metavar="[OLD=]NEW",
    help="Have agents think with NEW in place of OLD, or of whatever they think with.",
)  # fmt: skip
@click.option("--faults", metavar="SET", help="Lay a set of faults of ferox.yaml over every task.")
@click.option(
    "--hold", "hold", metavar="WHEN",
    help="Hold calls for the screens to let go: any, writes, first, or a tool (a glob).",
)  # fmt: skip
@click.option(
    "--shard", "shard", metavar="PART/PARTS",
    help="Run one part of the trials, as 2/5, for `ferox gather`; see --save.",
)  # fmt: skip
@ending_options
def run(
    workspace: Path,
    suites: tuple[str, ...],
    tasks: tuple[str, ...],
    agents: tuple[str, ...],
    plan: str | None,
    trials: int | None,
    at_once: int | None,
    on: str | None,
    modes: tuple[str, ...],
    models: tuple[str, ...],
    faults: str | None,
    hold: str | None,
    shard: str | None,
    **asked_ending: Any,
) -> None:
    """Run agents × tasks × trials, and print the board.

    With --plan its arms are run in place of agents. A worker process carries the run out; Ctrl-C
    stops it, and what is done stays.
    """
    if plan is not None and (suites or tasks or agents or modes or models or faults):
        message = "--plan says what is run: only --trials, --at-once, --on and --hold go with it"
        fail(WRONG_USE, message)
    lock = RunLock(workspace.absolute())
    try:
        # Without agents or suites, those that load are meant; of a plan, those that it names.
        asked = (agents or None, suites or None) if plan is None else ((), ())
        needed = load_needed(workspace, agents=asked[0], suites=asked[1], plan=plan)
        loaded = needed.workspace
        for problem in needed.left_out:
            say(f"left out: {problem}", err=True)
        engine = open_database(loaded.root)
        ending = read_ending(engine, **asked_ending)
        at_once = at_once or side_by_side(on, loaded.settings.defaults.at_once)
        overrides = Overrides(
            modes=parse_pairs("--server", modes, "harbour=live"),
            models=dict(_parse_model(given) for given in models),
            faults=faults,
        )
        held = _parse_hold(hold) if hold else None
        part = Shard.parse(shard) if shard else None
        if part and ending.gate.has_rules:
            fail(WRONG_USE, "a part of a run holds no line: give these rules to `ferox gather`")
        if plan is not None and trials is None:
            _print_preview(engine, loaded, find_plan(loaded, plan), at_once)
        number = plan_agreed(
            lambda: (
                plan_arms(
                    engine,
                    loaded,
                    find_plan(loaded, plan),
                    at_once=at_once,
                    repeats=trials,
                    shard=part,
                    hold=held,
                    on=on,
                    lock=lock,
                )
                if plan is not None
                else plan_run(
                    engine=engine,
                    workspace=loaded,
                    suites=list(suites) or list(loaded.suites),
                    agents=list(agents) or list(loaded.agents),
                    repeats=trials or loaded.settings.defaults.trials,
                    at_once=at_once,
                    tasks=list(tasks),
                    overrides=overrides,
                    shard=part,
                    hold=held,
                    on=on,
                    lock=lock,
                )
            )
        )
        if plan is None:
            _say_clock_warnings(loaded, suites, agents, overrides)
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _carry_out(lock, loaded.root, engine, number=number, ending=ending)


def _say_clock_warnings(
    workspace: Workspace, suites: Sequence[str], agents: Sequence[str], overrides: Overrides
) -> None:
    scripts = [workspace.suites[name] for name in suites or workspace.suites]
    files = [workspace.agents[name] for name in agents or workspace.agents]
    for warning in clock_warnings(workspace, scripts, files, overrides.modes):
        say(f"note: {warning}", err=True)


@click.command("again", cls=WorkspaceFirst)
@workspace_argument
@click.argument("number", metavar="RUN", type=int)
@ending_options
def run_again(workspace: Path, number: int, **asked_ending: Any) -> None:
    """Run again only what failed in RUN, as the files are now."""
    lock = RunLock(workspace.absolute())
    try:
        # First: results are kept in workspaces only.
        load_needed(workspace, agents=(), suites=())
        engine = open_database(workspace.absolute())
        ending = read_ending(engine, **asked_ending)
        loaded = load_for_failed(engine, workspace, number)
        new_run = plan_agreed(lambda: plan_failed(engine, loaded, number, lock))
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _carry_out(lock, loaded.root, engine, number=new_run, ending=ending)


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("number", metavar="RUN", type=int)
@ending_options
def resume(workspace: Path, number: int, **asked_ending: Any) -> None:
    """Do what a stopped or interrupted RUN has not done yet."""
    root = workspace.absolute()
    lock = RunLock(root)
    try:
        engine = open_database(root)
        ending = read_ending(engine, **asked_ending)
        missing = make_ready_again(engine, root, number, lock)
    except RunError as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    say(f"{counted_noun(missing, 'trial')} of run {number} still to do")
    _carry_out(lock, root, engine, number=number, ending=ending)


Planned = TypeVar("Planned")


def plan_agreed(plan: Callable[[], Planned]) -> Planned:
    """Plan what carries trials out, once its secrets may go where it would send them."""
    try:
        return plan()
    except SecretsNotAgreed as error:
        ask_to_agree(error.uses)
        return plan()


def _parse_model(given: str) -> tuple[str, str]:
    """OLD=NEW as a pair; NEW alone stands in every model's place."""
    old, equals, new = given.partition("=")
    return (old, new) if equals else ("*", given)


def _parse_hold(when: str) -> dict[str, str]:
    return {"when": when} if when in ("any", "writes", "first") else {"when": "tool", "tool": when}


def _carry_out(
    lock: RunLock, root: Path, engine: Engine, *, number: int, ending: Ending
) -> NoReturn:
    console = new_console()
    with lock:
        # The lock is let go here once the worker holds it too.
        worker = start_worker(root, number, lock)
    follow_run(console, engine, number, worker)
    end_run(console, engine, root, run=number, ending=ending)


def _print_preview(engine: Engine, workspace: Workspace, plan: PlanFile, at_once: int) -> None:
    """What a plan would run, and the smallest drop that it would find."""
    found = preview_plan(engine, workspace, plan, at_once)
    count = f"{found.trials} trials"
    if found.looks:
        count = f"{found.first_trials} trials until the first look, at most {found.trials}"
    arms, tasks = counted_noun(len(found.arms), "arm"), counted_noun(found.tasks, "task")
    say(f"{arms} over {tasks}: {count}")
    if found.found_drop is not None:
        say(
            f"a drop of {100 * found.found_drop:.0f} points or more is found in 80 of 100 such runs"
            + ("" if found.rates_known else ", if every task passed half the time")
        )
