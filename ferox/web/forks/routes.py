"""Forks of a trial: started, and what came of them."""

from __future__ import annotations

from ferox.runs.fork.fork_results import ForkedTrials, first_facts, read_forks
from ferox.runs.fork.fork_run import ForkWish, plan_forks
from ferox.runs.records import start_worker
from ferox.runs.run_lock import RunLock
from ferox.store.database import Session, read_session
from ferox.store.runs import get_run
from ferox.web.forks import shapes
from ferox.web.routing import Routes
from ferox.web.runs.from_store import run_shape, trial_line
from ferox.web.runs.shapes import RunShape
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.web.trials.routes import the_trial
from ferox.workspace.load import load_needed

routes = Routes("forks")


@routes.get("/api/trials/<int:trial>/forks")
def forks_of_trial(path: TrialPath) -> shapes.ForkList:
    """What came of a trial's forks so far."""
    with read_session(site.engine) as session:
        the_trial(session, path.trial)
        forks = read_forks(session, site.root, path.trial)
        return shapes.ForkList(forks=[_fork_shape(session, fork) for fork in forks])


def _fork_shape(session: Session, fork: ForkedTrials) -> shapes.ForkedTrialsShape:
    facts = first_facts(session, fork)
    fields = {name: value for name, value in vars(fork).items() if name != "trials"}
    return shapes.ForkedTrialsShape(
        **fields,
        words=fork.words,
        trials=[trial_line(trial) for trial in fork.trials],
        unlike=facts["unlike"] if facts else [],
        not_repeated=facts["not_repeated"] if facts else [],
    )


@routes.post("/api/trials/<int:trial>/forks", status=201)
def start_forks(path: TrialPath, body: shapes.ForkRequest) -> RunShape:
    """Go on from a place in a trial, some times over."""
    with read_session(site.engine) as session:
        the_trial(session, path.trial)
    workspace = load_needed(site.root, agents=(), suites=()).workspace
    wish = ForkWish(path.trial, body.at, body.change, body.repeats)
    at_once = workspace.settings.defaults.at_once
    with RunLock(site.root) as lock:
        run = plan_forks(site.engine, workspace, wish, at_once, lock)
        start_worker(site.root, run, lock)
    with read_session(site.engine) as session:
        return run_shape(session, site.root, get_run(session, run))
