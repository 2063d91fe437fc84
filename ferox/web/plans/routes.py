"""Plans for the screens."""

from __future__ import annotations

from ferox.core.arms import arms_of
from ferox.formats.arms import ArmsReport
from ferox.formats.plan import PlanFile
from ferox.runs.arm_comparison import compare_arms
from ferox.runs.comparison import ComparisonError, SideName
from ferox.runs.mending import MendingError, change_text, mend_plan, plan_text
from ferox.runs.plan_preview import preview_plan
from ferox.runs.records import plan_arms, start_worker
from ferox.runs.reword_basis import RewordBasis, reword_basis
from ferox.runs.run_lock import RunLock
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import read_session
from ferox.store.results import read_result
from ferox.store.runs import get_run, runs_of_plans
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial
from ferox.web.files.parsed import parse_file
from ferox.web.files.routes import problems_in
from ferox.web.plans import shapes
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.runs import from_store
from ferox.web.runs.shapes import RunPath, RunShape
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.workspace import Workspace
from ferox.workspace.load import listed_files, load_loosely, load_needed
from ferox.workspace.write import workspace_file

routes = Routes("plans")


@routes.get("/api/plans")
def plan_files() -> shapes.PlanFileList:
    """The plans' files, and the newest runs of each."""
    workspace, problems = load_loosely(site.root)
    with read_session(site.engine) as session:
        runs = runs_of_plans(session)
    files = []
    for listed in listed_files(workspace, problems, "plans"):
        plan = workspace.plans.get(listed.describes or "")
        files.append(
            shapes.PlanFileShape(
                file=listed.file,
                plan=plan.plan if plan else None,
                title=plan.title if plan else None,
                problems=listed.problems,
                runs=runs.get(plan.plan, []) if plan else [],
            )
        )
    return shapes.PlanFileList(files=files)


def _read_plan(name: str, text: str) -> PlanFile:
    """A text as a plan that the workspace can run.

    Raises:
        RequestRefused: it does not load, or names what is not there.
    """
    workspace_file(site.root, name)
    problems = [p for p in problems_in(site.root, name, text, site.engine) if not p.note]
    if problems:
        raise RequestRefused(422, f"line {problems[0].line}: {problems[0].message}")
    _, plan = parse_file(name, text)
    if not isinstance(plan, PlanFile):
        raise RequestRefused(422, f"{name} is not in plans/")
    return plan


def _workspace_of(plan: PlanFile) -> Workspace:
    """The workspace, if all that a plan needs of it loads."""
    return load_needed(site.root, agents=(), suites=(), plan=plan).workspace


@routes.post("/api/plan/read")
def read_plan(body: shapes.PlanText) -> shapes.PlanReading:
    """What the plan in an editor would run."""
    try:
        plan = _read_plan(body.name, body.text)
        workspace = _workspace_of(plan)
        preview = preview_plan(site.engine, workspace, plan, body.at_once)
    except RequestRefused as error:
        return shapes.PlanReading(preview=None, fault=str(error))
    return shapes.PlanReading(preview=preview, fault=None)


@routes.post("/api/plan/start", status=201)
def start_plan(body: shapes.PlanText) -> RunShape:
    """Run the plan in an editor, whether or not it is saved."""
    plan = _read_plan(body.name, body.text)
    with RunLock(site.root) as lock:
        run = plan_arms(site.engine, _workspace_of(plan), plan, at_once=body.at_once, lock=lock)
        start_worker(site.root, run, lock)
    with read_session(site.engine) as session:
        return from_store.run_shape(session, site.root, get_run(session, run))


@routes.post("/api/trials/<int:trial>/mend")
def plan_of_mending(path: TrialPath, body: shapes.MendRequest) -> shapes.MendDraft:
    """A plan, as text, of what could mend a failing trial; nothing runs yet."""
    with read_session(site.engine) as session:
        record = find_trial(session, path.trial)
        result = read_result(session, path.trial) if record else None
        trace = read_trace(session, path.trial) if record else None
        if record is None or result is None or trace is None:
            raise NotThere(f"trial {path.trial} is not there, or has not ended")
        snapshot = snapshot_of(session, record.run_id)
    agent = snapshot.agent_name(record.agent)
    needed = load_needed(site.root, agents=[agent], suites=[record.suite])
    try:
        plan = mend_plan(
            needed.workspace, result, trace, snapshot,
            trials=body.trials, sentence=body.sentence,
        )  # fmt: skip
    except MendingError as error:
        raise RequestRefused(422, str(error)) from None
    changes = [
        change_text(dimension, arm.values[dimension])
        for arm in arms_of(plan)
        for dimension in arm.changed
    ]
    return shapes.MendDraft(name=f"plans/{plan.plan}.yaml", text=plan_text(plan), changes=changes)


@routes.get("/api/plan/reword")
def basis_of_rewording(query: shapes.RewordQuery) -> RewordBasis:
    """Two confused tools side by side, and the tasks to try other words on."""
    workspace = load_needed(site.root, agents=(), suites=()).workspace
    with read_session(site.engine) as session:
        try:
            side = SideName.parse(query.side)
            return reword_basis(
                session, workspace, side, expected=query.expected, chosen=query.chosen
            )
        except ComparisonError as error:
            raise RequestRefused(422, str(error)) from None


@routes.get("/api/runs/<int:run>/arms")
def arms_of_run(path: RunPath) -> ArmsReport:
    """The arms of a run beside their baselines."""
    with read_session(site.engine) as session:
        try:
            return compare_arms(session, path.run)
        except ComparisonError as error:
            raise NotThere(str(error)) from None
