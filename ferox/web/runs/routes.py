"""Runs: started, followed, held, stopped, and their board."""

from __future__ import annotations

from ferox.runs.cells import chosen_cells
from ferox.runs.estimate import Estimate, estimate_run
from ferox.runs.overrides import Overrides
from ferox.runs.records import (
    RunError,
    check_names,
    load_for_failed,
    make_ready_again,
    plan_failed,
    plan_run,
    side_by_side,
    start_worker,
    state_of,
    stop_run,
)
from ferox.runs.run_lock import RunLock
from ferox.store import runs as store_runs
from ferox.store.board import keep_counts
from ferox.store.database import Session, read_session
from ferox.store.holding import decide_call, run_of, set_rule
from ferox.store.tables import Run
from ferox.store.trials import trials_of_cell
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.runs import from_store, shapes
from ferox.web.shapes import HoldChange, HoldDecisionRequest, ProblemShape
from ferox.web.site import site
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_loosely, load_needed
from ferox.workspace.write import SETTINGS

routes = Routes("runs")


def the_run(session: Session, run: int) -> Run:
    """A run by its number.

    Raises:
        NotThere: there is none.
    """
    record = store_runs.find_run(session, run)
    if record is None:
        raise NotThere(f"there is no run {run}")
    return record


def _shape_of_run(run: int) -> shapes.RunShape:
    with read_session(site.engine) as session:
        return from_store.run_shape(session, site.root, the_run(session, run))


@routes.get("/api/workspace")
def workspace_on_disk() -> shapes.WorkspaceShape:
    """What of the workspace on disk loads, and what is wrong with the rest."""
    try:
        workspace, problems = load_loosely(site.root)
        with read_session(site.engine) as session:
            clusters = store_runs.clusters_of_runs(session)
        return from_store.workspace_shape(workspace, problems, clusters)
    except WorkspaceError as error:
        return shapes.WorkspaceShape(
            name=site.root.name,
            suites=[],
            agents=[],
            trials=3,
            at_once=2,
            problems=[ProblemShape(**vars(p)) for p in error.problems],
            missing=not (site.root / SETTINGS).exists(),
        )


@routes.get("/api/runs")
def newest_runs() -> shapes.RunList:
    """The newest hundred runs."""
    with read_session(site.engine) as session:
        records = store_runs.newest_runs(session, most=100)
        keep_counts(site.engine, [record.id for record in records])
        shown = [from_store.run_shape(session, site.root, r) for r in records]
    return shapes.RunList(runs=shown)


@routes.get("/api/going")
def runs_in_progress() -> shapes.RunList:
    """The runs that go on, whoever started them, the newest first."""
    with read_session(site.engine) as session:
        records = store_runs.newest_runs(session, states=store_runs.GOING)
        alive = [r for r in records if state_of(session, site.root, r) in store_runs.GOING]
        shown = [from_store.run_shape(session, site.root, r) for r in alive]
    return shapes.RunList(runs=shown)


@routes.post("/api/runs", status=201)
def start_run(body: shapes.RunRequest) -> shapes.RunShape:
    """Plan a run and start its worker."""
    loaded = load_needed(site.root, agents=body.agents, suites=body.suites).workspace
    with RunLock(site.root) as lock:
        run = plan_run(
            engine=site.engine,
            workspace=loaded,
            suites=body.suites,
            agents=body.agents,
            repeats=body.repeats,
            at_once=body.at_once or side_by_side(body.on, 1),
            on=body.on,
            tasks=body.tasks,
            overrides=Overrides.model_validate(body.overrides.model_dump()),
            hold=body.hold.model_dump() if body.hold else None,
            lock=lock,
        )
        start_worker(site.root, run, lock)
    return _shape_of_run(run)


@routes.post("/api/runs/estimate")
def estimate_run_now(body: shapes.RunRequest) -> Estimate:
    """What a run would take, by what its tasks and agents took before; none is started."""
    loaded = load_needed(site.root, agents=body.agents, suites=body.suites).workspace
    overrides = Overrides.model_validate(body.overrides.model_dump())
    check_names(loaded, body.suites, body.agents)
    return estimate_run(
        site.engine,
        loaded,
        chosen_cells(loaded, body.suites, body.agents, body.tasks),
        repeats=body.repeats,
        at_once=body.at_once or side_by_side(body.on, 1),
        overrides=overrides,
    )


@routes.post("/api/runs/<int:run>/stop")
def stop_run_now(path: shapes.RunPath) -> shapes.RunShape:
    """Ask a run's worker to stop."""
    with read_session(site.engine) as session:
        the_run(session, path.run)
    stop_run(site.engine, path.run)
    return _shape_of_run(path.run)


@routes.post("/api/runs/<int:run>/again", status=201)
def run_failed_again(path: shapes.RunPath) -> shapes.RunShape:
    """Start a run of only what failed in this one."""
    with read_session(site.engine) as session:
        the_run(session, path.run)
    with RunLock(site.root) as lock:
        new_run = plan_failed(
            site.engine, load_for_failed(site.engine, site.root, path.run), path.run, lock
        )
        start_worker(site.root, new_run, lock)
    return _shape_of_run(new_run)


@routes.post("/api/runs/<int:run>/hold")
def change_hold(path: shapes.RunPath, body: HoldChange) -> shapes.RunShape:
    """Say which calls of a run are held from now on."""
    with read_session(site.engine) as session:
        the_run(session, path.run)
    set_rule(site.engine, path.run, body.hold.model_dump() if body.hold else None)
    return _shape_of_run(path.run)


@routes.post("/api/held/<int:held>")
def decide_held_call(path: shapes.HeldPath, body: HoldDecisionRequest) -> shapes.HeldList:
    """Let a held call go: as it is, with other arguments, answered, or failed."""
    if not decide_call(site.engine, path.held, body.do, body.value):
        raise RunError("this call does not wait any more")
    with read_session(site.engine) as session:
        held = from_store.held_shapes(session, run_of(site.engine, path.held))
        return shapes.HeldList(held=held)


@routes.post("/api/runs/<int:run>/resume")
def resume_run(path: shapes.RunPath) -> shapes.RunShape:
    """Do what a stopped or interrupted run has not done."""
    with RunLock(site.root) as lock:
        make_ready_again(site.engine, site.root, path.run, lock)
        start_worker(site.root, path.run, lock)
    return _shape_of_run(path.run)


@routes.get("/api/runs/<int:run>/board")
def run_board(path: shapes.RunPath, query: shapes.BaseQuery) -> shapes.BoardShape:
    """Tasks against agents, and what changed since each cell's last comparable run."""
    keep_counts(site.engine, [path.run])
    with read_session(site.engine) as session:
        if query.base is not None:
            the_run(session, query.base)
        run = the_run(session, path.run)
        return from_store.board_shape(session, site.root, run, query.base)


@routes.get("/api/runs/<int:run>/trials")
def cell_trials(path: shapes.RunPath, query: shapes.CellQuery) -> shapes.TrialList:
    """The trials of one cell."""
    with read_session(site.engine) as session:
        rows = trials_of_cell(session, path.run, query.suite, task=query.task, agent=query.agent)
        return shapes.TrialList(trials=[from_store.trial_line(t, m) for t, m in rows])
