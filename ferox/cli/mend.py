"""`ferox mend`: what would mend a failing task, found by changing one thing at a time."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from ferox.cli.arms_table import mend_table
from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, new_console, say
from ferox.cli.run import plan_agreed
from ferox.cli.run_progress import follow_run, run_outcome
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.arms import agent_of_arm
from ferox.runs.arm_comparison import compare_arms
from ferox.runs.mending import MendingError, mend_plan
from ferox.runs.records import RunError, plan_arms, start_worker
from ferox.runs.run_lock import RunLock
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import StoreError, open_database, read_session
from ferox.store.results import read_result
from ferox.store.traces import read_trace
from ferox.store.trials import newest_failing_trial
from ferox.workspace import Workspace, WorkspaceError
from ferox.workspace.load import load_needed
from ferox.workspace.problems import did_you_mean


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("task", metavar="TASK")
@click.argument("agent", metavar="AGENT")
@click.option(
    "--trials", type=click.IntRange(2, 1000), default=10, show_default=True,
    help="Repeats of each change.",
)  # fmt: skip
@click.option("--sentence", help="A sentence that is added to its instructions in one arm.")
@click.option("--at-once", type=click.IntRange(1, 64), help="Trials side by side.")
def mend(
    workspace: Path, task: str, agent: str, trials: int, sentence: str | None, at_once: int | None
) -> None:
    """Find what would mend TASK (or SUITE/TASK) with AGENT.

    The newest failed trial of it is looked at, and the task run as it is and with one thing changed
    each. Status 1 if no change mends it.
    """
    lock = RunLock(workspace.absolute())
    try:
        around = load_needed(workspace, agents=(), suites=()).workspace
        engine = open_database(around.root)
        with read_session(engine) as session:
            failing = newest_failing_trial(session, task.split("/")[-1], agent, _suite_of(task))
            if failing is None:
                fail(WRONG_USE, _why_no_trial(around, task, agent))
            result, trace = read_result(session, failing.id), read_trace(session, failing.id)
            snapshot = snapshot_of(session, failing.run_id)
        loaded = load_needed(
            workspace, agents=[agent_of_arm(agent)], suites=[failing.suite]
        ).workspace
        assert result is not None and trace is not None
        plan = mend_plan(loaded, result, trace, snapshot, trials=trials, sentence=sentence)
        number = plan_agreed(
            lambda: plan_arms(
                engine,
                loaded,
                plan,
                at_once=at_once or loaded.settings.defaults.at_once,
                lock=lock,
            )
        )
    except (WorkspaceError, RunError, MendingError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    console = new_console()
    with lock:
        worker = start_worker(loaded.root, number, lock)
    follow_run(console, engine, number, worker)
    outcome = run_outcome(engine, loaded.root, number)
    with read_session(engine) as session:
        report = compare_arms(session, number)
    console.print(mend_table(report))
    if outcome.status == COULD_NOT_RUN and outcome.message:
        say(outcome.message, err=True)
        sys.exit(COULD_NOT_RUN)
    sys.exit(0 if any(arm.meaning for arm in report.arms) else CHECKS_FAILED)


def _why_no_trial(workspace: Workspace, task: str, agent: str) -> str:
    """Why no failed trial of a task with an agent is there."""
    prefixed = "/" in task
    tasks = {
        f"{suite.suite}/{one.task}" if prefixed else one.task
        for suite in workspace.suites.values()
        for one in suite.tasks
    }
    if task not in tasks:
        return f"`{task}`: no such task{did_you_mean(task, tasks)}"
    if agent_of_arm(agent) not in workspace.agents:
        return f"`{agent}`: no such agent{did_you_mean(agent, workspace.agents)}"
    return f"no failed trial of {task} with {agent} is kept; run it first"


def _suite_of(task: str) -> str | None:
    suite, slash, _ = task.partition("/")
    return suite if slash else None
