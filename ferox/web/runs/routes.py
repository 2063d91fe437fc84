"""Runs: started, followed, held, stopped, and their board."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from ferox.runs.overrides import Overrides
from ferox.runs.records import (
    RunError,
    make_ready_again,
    plan_failed,
    plan_run,
    start_worker,
    state_of,
    stop_run,
)
from ferox.runs.run_lock import RunLock
from ferox.runs.trial_by_hand import BY_HAND
from ferox.store import tables
from ferox.store.holding import decide, set_rule
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.run_progress import GOING
from ferox.web.runs import reading, shapes
from ferox.web.shapes import HoldChange, HoldDecisionRequest, ProblemShape
from ferox.web.site import site
from ferox.workspace import WorkspaceError, load_workspace

routes = Routes("runs")


def find_run(session: Session, run: int) -> tables.Run:
    """A run by its number.

    Raises:
        NotThere: there is none.
    """
    record = session.get(tables.Run, run)
    if record is None:
        raise NotThere(f"there is no run {run}")
    return record


def _shape_of_run(run: int) -> shapes.RunShape:
    with Session(site.engine) as session:
        return reading.run_shape(session, site.root, find_run(session, run))


@routes.get("/api/workspace")
def workspace_on_disk() -> shapes.WorkspaceShape:
    """The workspace on disk, or what is wrong with it."""
    try:
        return reading.workspace_shape(load_workspace(site.root))
    except WorkspaceError as error:
        problems = [ProblemShape(**vars(p)) for p in error.problems]
        return shapes.WorkspaceShape(
            name=site.root.name, suites=[], agents=[], trials=3, at_once=2, problems=problems
        )


@routes.get("/api/runs")
def newest_runs() -> shapes.RunList:
    """The newest hundred runs."""
    with Session(site.engine) as session:
        query = select(tables.Run).where(tables.Run.title != BY_HAND)
        records = session.scalars(query.order_by(tables.Run.id.desc()).limit(100))
        shown = [reading.run_shape(session, site.root, r) for r in records.all()]
    return shapes.RunList(runs=shown)


@routes.get("/api/going")
def runs_in_progress() -> shapes.RunList:
    """The runs that go on, whoever started them, the newest first."""
    with Session(site.engine) as session:
        query = select(tables.Run).where(tables.Run.title != BY_HAND, tables.Run.state.in_(GOING))
        records = session.scalars(query.order_by(tables.Run.id.desc())).all()
        alive = [r for r in records if state_of(site.root, r) in GOING]
        shown = [reading.run_shape(session, site.root, r) for r in alive]
    return shapes.RunList(runs=shown)


@routes.post("/api/runs", status=201)
def start_run(body: shapes.RunRequest) -> shapes.RunShape:
    """Plan a run and start its worker."""
    loaded = load_workspace(site.root)
    with RunLock(site.root) as lock:
        run = plan_run(
            site.engine, loaded, body.suites, body.agents, body.repeats, body.at_once, body.tasks,
            overrides=Overrides.model_validate(body.overrides.model_dump()),
            hold=body.hold.model_dump() if body.hold else None, lock=lock,
        )  # fmt: skip
        start_worker(site.root, run, lock)
    return _shape_of_run(run)


@routes.post("/api/runs/<int:run>/stop")
def stop_run_now(path: shapes.RunPath) -> shapes.RunShape:
    """Ask a run's worker to stop."""
    with Session(site.engine) as session:
        find_run(session, path.run)
    stop_run(site.engine, path.run)
    return _shape_of_run(path.run)


@routes.post("/api/runs/<int:run>/again", status=201)
def run_failed_again(path: shapes.RunPath) -> shapes.RunShape:
    """Start a run of only what failed in this one."""
    with Session(site.engine) as session:
        find_run(session, path.run)
    with RunLock(site.root) as lock:
        anew = plan_failed(site.engine, load_workspace(site.root), path.run, lock)
        start_worker(site.root, anew, lock)
    return _shape_of_run(anew)


@routes.post("/api/runs/<int:run>/hold")
def change_hold(path: shapes.RunPath, body: HoldChange) -> shapes.RunShape:
    """Say which calls of a run are held from now on."""
    with Session(site.engine) as session:
        find_run(session, path.run)
    set_rule(site.engine, path.run, body.hold.model_dump() if body.hold else None)
    return _shape_of_run(path.run)


@routes.post("/api/held/<int:held>")
def decide_held_call(path: shapes.HeldPath, body: HoldDecisionRequest) -> shapes.HeldList:
    """Let a held call go: as it is, with other arguments, answered, or failed."""
    if not decide(site.engine, path.held, body.do, body.value):
        raise RunError("this call does not wait any more")
    with Session(site.engine) as session:
        run = session.get_one(tables.HeldCall, path.held).run_id
        return shapes.HeldList(held=reading.held_shapes(session, run))


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
    with Session(site.engine) as session:
        if query.base is not None:
            find_run(session, query.base)
        run = find_run(session, path.run)
        return reading.board_shape(session, site.root, run, query.base)


@routes.get("/api/runs/<int:run>/trials")
def trials_of_cell(path: shapes.RunPath, query: shapes.CellQuery) -> shapes.TrialList:
    """The trials of one cell."""
    with Session(site.engine) as session:
        rows = session.execute(
            select(tables.Trial, tables.TrialMark)
            .outerjoin(tables.TrialMark, tables.TrialMark.trial_id == tables.Trial.id)
            .filter_by(run_id=path.run, suite=query.suite, task=query.task, agent=query.agent)
            .order_by(tables.Trial.number)
        )
        return shapes.TrialList(trials=[reading.trial_line(t, m) for t, m in rows])
