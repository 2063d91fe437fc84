"""Runs as they are kept: planned, watched, stopped and taken up again."""

from __future__ import annotations

import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.util import find_spec
from pathlib import Path
from typing import Any, NamedTuple

from ferox.formats.plan import PlanFile
from ferox.recordings.recording import RecordingError
from ferox.runs.arm_setup import arm_files
from ferox.runs.cell_setup import agent_code, cell_setup, setup_key
from ferox.runs.cells import chosen_cells, mixed_trials
from ferox.runs.cluster.address import AddressError, check_address, local_processes
from ferox.runs.looks_ahead import may_go_on
from ferox.runs.overrides import OverrideError, Overrides
from ferox.runs.run_lock import GLANCE_S, RunLock, is_claimed
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.worker_process import start_worker_process
from ferox.store.database import (
    Engine,
    Session,
    look_afresh,
    read_session,
    results_folder,
    write_session,
)
from ferox.store.runs import (
    GOING,
    Cell,
    add_cell_setup,
    add_run,
    add_trials,
    change_run,
    find_run,
    get_run,
    put_back,
    reopen_run,
)
from ferox.store.runs import failed_cells as failed_cells_of
from ferox.store.snapshots import keep_snapshot
from ferox.store.tables import Run
from ferox.workspace import Workspace
from ferox.workspace.load import load_needed
from ferox.workspace.problems import did_you_mean
from ferox.workspace.vault import SecretUse, current_vault


class Shard(NamedTuple):
    """One part of a run's trials, of so many parts: the same on every machine."""

    part: int
    parts: int

    @classmethod
    def parse(cls, text: str) -> Shard:
        """Read `2/5`.

        Raises:
            RunError: it is none.
        """
        part, _, parts = text.partition("/")
        if part.isdecimal() and parts.isdecimal() and 1 <= int(part) <= int(parts) <= MOST_SHARDS:
            return cls(int(part), int(parts))
        raise RunError(f"`{text}` is no part of a run: write PART/PARTS, as in 2/5")

    def __str__(self) -> str:
        return f"{self.part}/{self.parts}"


MOST_SHARDS = 1_000
MOST_AT_ONCE = 1_000
SEED = 1
"""The seed of every run, unless one is given: the same in gives the same out."""


class RunError(ValueError):
    """A run that cannot be started, stopped or resumed; the message says why."""


class SecretsNotAgreed(RunError):
    """A run that would send secrets somewhere for the first time."""

    def __init__(self, uses: list[SecretUse]) -> None:
        self.uses = uses
        lines = "; ".join(f"ferox agree {use.secret} '{use.to}'" for use in uses)
        super().__init__(f"secrets would go somewhere for the first time; agree by: {lines}")


def check_agreed(snapshot: Snapshot) -> None:
    """See that what would be sent of the workspace's secrets may go where it would go.

    Raises:
        SecretsNotAgreed: some of it waits for the user's word.
    """
    uses = current_vault().unagreed_uses(snapshot.secret_uses())
    if uses:
        raise SecretsNotAgreed(uses)


def side_by_side(on: str | None, default: int) -> int:
    """How many trials go on at once where a run does not say; 0: as many as its cluster takes."""
    if on is None:
        return default
    return local_processes(on) or 0


def check_cluster(on: str | None) -> None:
    """See that a run may be carried out on a cluster.

    Raises:
        RunError: it is none, or what Ferox needs for clusters is not installed.
    """
    if on is None:
        return
    try:
        check_address(on)
    except AddressError as error:
        raise RunError(str(error)) from None
    if find_spec("distributed") is None:
        raise RunError("for clusters Ferox needs Dask: pip install 'ferox[cluster]'")


def check_names(workspace: Workspace, suites: list[str], agents: list[str]) -> None:
    """See that a workspace has suites and agents of these names.

    Raises:
        RunError: it has not.
    """
    for kind, given, known in (
        ("suite", suites, workspace.suites),
        ("agent", agents, workspace.agents),
    ):
        for name in given:
            if name not in known:
                raise RunError(f"`{name}`: no such {kind}; there is {', '.join(sorted(known))}")


def find_plan(workspace: Workspace, name: str) -> PlanFile:
    """A plan of the workspace.

    Raises:
        RunError: there is none of this name.
    """
    if name not in workspace.plans:
        hint = did_you_mean(name, workspace.plans) or "; plans are files in `plans/`"
        raise RunError(f"`{name}`: no such plan{hint}")
    return workspace.plans[name]


def plan_run(
    engine: Engine,
    workspace: Workspace,
    suites: list[str],
    agents: list[str],
    repeats: int,
    at_once: int,
    tasks: list[str] | None = None,
    seed: int = SEED,
    overrides: Overrides | None = None,
    only: set[Cell] | None = None,
    shard: Shard | None = None,
    hold: dict[str, Any] | None = None,
    on: str | None = None,
    lock: RunLock | None = None,
) -> int:
    """Keep a run of agents and its trials, all waiting; the run's number.

    Trials are mixed, so that a machine that slows down favours no agent. `overrides` say
    what this run does otherwise than the files; `only` narrows it to some cells: suite, task
    and agent; `shard` to one part of its trials; `hold` says which calls are held; `on` is the
    cluster that carries it out. `lock` claims the run before anybody can see it.

    Raises:
        RunError: an unknown suite, agent, task, server, mode, model or set of faults, or
            nothing to do.
    """
    otherwise = overrides or Overrides()
    try:
        otherwise.check_workspace(workspace)
    except OverrideError as error:
        raise RunError(str(error)) from None
    check_names(workspace, suites, agents)
    chosen = chosen_cells(workspace, suites, agents, tasks or ())
    for name in tasks or ():
        if not any(name in (cell[1], f"{cell[0]}/{cell[1]}") for cell in chosen):
            known = [task.task for suite in suites for task in workspace.suites[suite].tasks]
            hint = did_you_mean(name.rpartition("/")[2], known)
            raise RunError(f"`{name}`: no such task in {', '.join(suites)}{hint}")
    try:
        snapshot = take_snapshot(workspace, suites, agents, otherwise)
    except RecordingError as error:
        raise RunError(str(error)) from None
    return keep_run(
        engine,
        workspace,
        snapshot,
        [cell for cell in chosen if only is None or cell in only],
        first_repeats=repeats,
        overrides=otherwise,
        shard=shard,
        lock=lock,
        title=", ".join(suites),
        seed=seed,
        repeats=repeats,
        at_once=at_once,
        hold=hold,
        on=on,
    )


def plan_arms(
    engine: Engine,
    workspace: Workspace,
    plan: PlanFile,
    *,
    at_once: int,
    repeats: int | None = None,
    seed: int = SEED,
    only: set[Cell] | None = None,
    shard: Shard | None = None,
    hold: dict[str, Any] | None = None,
    on: str | None = None,
    lock: RunLock | None = None,
) -> int:
    """Keep a run of a plan's arms and its trials, all waiting; the run's number.

    `repeats` stand in place of the plan's own, and of its `until`. With `until` only the trials of
    the first look are kept; the worker adds the next ones of arms that are not decided.

    Raises:
        RunError: the plan names what is not there, or there is nothing to run.
    """
    check_names(workspace, plan.suites_used, plan.agents)
    if repeats is not None:
        plan = plan.model_copy(update={"trials": repeats, "until": None})
    if shard is not None and plan.until is not None:
        raise RunError(
            f"`{plan.plan}` ends once it is decided, which takes all of its trials; "
            "give --trials to run it in parts"
        )
    try:
        arms = arm_files(workspace, plan)
        snapshot = take_snapshot(workspace, plan.suites_used, [], plan=plan, arms=arms)
    except ValueError as error:
        raise RunError(str(error)) from None
    looks = plan.until.looks if plan.until else None
    most = looks[-1] if looks else plan.trials or workspace.settings.defaults.trials
    cells = chosen_cells(workspace, plan.suites_used, list(arms), plan.tasks)
    return keep_run(
        engine,
        workspace,
        snapshot,
        [cell for cell in cells if only is None or cell in only],
        first_repeats=looks[0] if looks else most,
        shard=shard,
        lock=lock,
        title=plan.plan,
        plan=plan.plan,
        seed=seed,
        repeats=most,
        at_once=at_once,
        hold=hold,
        on=on,
        looks=[] if looks else None,
    )


def keep_run(
    engine: Engine,
    workspace: Workspace,
    snapshot: Snapshot,
    cells: list[Cell],
    *,
    first_repeats: int,
    seed: int,
    lock: RunLock | None,
    shard: Shard | None = None,
    overrides: Overrides | None = None,
    **fields: Any,
) -> int:
    """Keep a run, its snapshot and its first trials; `fields` are further ones of its record."""
    if not cells:
        raise RunError("there is nothing to run: choose at least one suite, task and agent")
    check_cluster(fields.get("on"))
    check_agreed(snapshot)
    otherwise = overrides or Overrides()
    trials = mixed_trials(cells, range(1, first_repeats + 1), seed)
    if shard is not None:
        fields["shard"] = {**shard._asdict(), "trials": len(trials)}
        trials = trials[shard.part - 1 :: shard.parts]
        cells = sorted({trial[:3] for trial in trials})
        if not trials:
            raise RunError(f"part {shard} has no trials; there are fewer trials than parts")
    with write_session(engine) as session:
        run = add_run(
            session,
            state="waiting",
            seed=seed,
            created_at=time.time(),
            overrides=otherwise.model_dump(mode="json"),
            **fields,
        )
        # Before it is committed: a run that is seen and claimed by nobody counts as interrupted.
        if lock is not None and not lock.claim(run.id):
            raise RunError(f"run {run.id} is claimed by another process; try again")
        keep_snapshot(session, run.id, snapshot.document())
        code = {name: agent_code(file, workspace.root) for name, file in snapshot.agents.items()}
        for suite, agent in sorted({(cell[0], cell[2]) for cell in cells}):
            setup = cell_setup(snapshot, suite, agent, overrides=otherwise, code=code[agent])
            add_cell_setup(session, run.id, suite, agent, key=setup_key(setup), setup=setup)
        add_trials(session, run.id, trials)
        return run.id


def has_plan(engine: Engine, run: int) -> bool:
    """Whether a run is of a plan's arms."""
    with read_session(engine) as session:
        return get_run(session, run).plan is not None


def overrides_of(run: Run) -> Overrides:
    """What a run does otherwise than the files."""
    return Overrides.model_validate(run.overrides)


def captures_folder(root: Path, run: int) -> Path:
    """Where what passed to and from live servers in a run is kept."""
    return results_folder(root) / "captures" / f"run-{run}"


def failed_cells(engine: Engine, run: int) -> set[Cell]:
    """The cells of a run with a trial that did not pass: suite, task and agent.

    Raises:
        RunError: there is no such run, or nothing failed in it.
    """
    with read_session(engine) as session:
        if find_run(session, run) is None:
            raise RunError(f"there is no run {run}")
        cells = failed_cells_of(session, run)
    if not cells:
        raise RunError(f"nothing failed in run {run}")
    return cells


def load_for_failed(engine: Engine, root: Path, run: int) -> Workspace:
    """The workspace, if all that a run of what failed in another needs of it loads.

    Raises:
        RunError: there is no such run, or nothing failed in it.
        WorkspaceError: something that is needed does not load.
    """
    cells = failed_cells(engine, run)
    with read_session(engine) as session:
        snapshot = snapshot_of(session, run)
    agents = {snapshot.agent_name(agent) for _, _, agent in cells}
    suites = {suite for suite, _, _ in cells}
    return load_needed(root, agents=agents, suites=suites, plan=snapshot.plan).workspace


def plan_failed(engine: Engine, workspace: Workspace, run: int, lock: RunLock | None = None) -> int:
    """Keep a new run of only what failed in another, as the files are now; its number.

    Raises:
        RunError: nothing failed in it, or what failed is no longer in the workspace.
    """
    cells = failed_cells(engine, run)
    with read_session(engine) as session:
        before = get_run(session, run)
        if before.fork_of is not None:
            raise RunError(f"run {run} is of forks: go on from trial {before.fork_of} once more")
        repeats, at_once, seed, on = before.repeats, before.at_once, before.seed, before.on
        overrides = overrides_of(before)
        plan = snapshot_of(session, run).plan
    if plan is not None:
        return plan_arms(
            engine, workspace, workspace.plans.get(plan.plan, plan), at_once=at_once,
            repeats=repeats, seed=seed, only=cells, on=on, lock=lock,
        )  # fmt: skip
    suites, agents = sorted({c[0] for c in cells}), sorted({c[2] for c in cells})
    return plan_run(
        engine, workspace, suites, agents=agents, repeats=repeats, at_once=at_once,
        seed=seed, only=cells, overrides=overrides, on=on, lock=lock,
    )  # fmt: skip


@contextmanager
def claimed_lock(workspace: Path, run: int, lock: RunLock | None = None) -> Iterator[RunLock]:
    """The lock that claims a run: `lock` if it does already, else one that does in the block.

    Raises:
        RunError: another process carries the run out.
    """
    if lock is not None and lock.is_held:
        yield lock
        return
    with RunLock(workspace) as own:
        if not own.claim(run):
            raise RunError(f"run {run} still goes on")
        yield own


def start_worker(workspace: Path, run: int, lock: RunLock | None = None) -> subprocess.Popen[bytes]:
    """Start the worker of a run, apart from this process: it outlives it.

    `lock` has claimed the run, and is handed over; without one the run is claimed here.

    Raises:
        RunError: another process carries the run out.
    """
    with claimed_lock(workspace, run, lock) as claimed:
        return start_worker_process(
            "ferox.runs.worker", workspace, run, log=f"run-{run}", lock=claimed
        )


LEAVING_S = 8.0
"""Seconds that a worker may take from its last word, or from Stop, until it is gone."""


def state_of(session: Session, workspace: Path, run: Run) -> str:
    """waiting, running, done, stopped, or interrupted: not done, and claimed by nobody.

    `session` is the one that the run was read in; it may have to read what it has read again.
    """
    if run.state not in GOING or is_claimed(workspace, run.id):
        return run.state
    # The worker may have said its last word and let go of the run since the record was read.
    look_afresh(session)
    return "interrupted" if run.state in GOING else run.state


def stop_run(engine: Engine, run: int) -> None:
    """Ask the worker to stop; it does so within half a second."""
    with write_session(engine) as session:
        change_run(session, run, stop=True)


def make_ready_again(engine: Engine, workspace: Path, run: int, lock: RunLock | None = None) -> int:
    """Put back what a stopped or interrupted run has not done; how many trials that is.

    The run is claimed meanwhile, and by `lock` also afterwards.

    Raises:
        RunError: no such run, it still goes on, or nothing is missing.
    """
    with read_session(engine) as session:
        there = find_run(session, run)
        if there is None:
            raise RunError(f"there is no run {run}")
        ending = there.state in ("stopped", "done") or there.stop
        looks_ahead = may_go_on(snapshot_of(session, run).plan, there)
    with RunLock(workspace) as own:
        if not (lock or own).claim(run, LEAVING_S if ending else GLANCE_S):
            raise RunError(f"run {run} still goes on")
        with write_session(engine) as session:
            missing = put_back(session, run)
            if not missing and looks_ahead:
                reopen_run(session, run)
    if not missing and not looks_ahead:
        raise RunError(f"nothing is missing from run {run}")
    return missing
