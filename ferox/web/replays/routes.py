"""Replays of runs and trials: begun, watched, stopped and read."""

from __future__ import annotations

from ferox.core.replay_verdict import Difference
from ferox.runs.replay.kept_replay import (
    begin_replay,
    read_replay,
    replay_progress,
    replayed_of,
    start_replay_worker,
)
from ferox.runs.replay.replay_run import ReplayChoice, ReplayedTrial
from ferox.runs.run_lock import RunLock
from ferox.store.database import Session, read_session, write_session
from ferox.store.replays import change_replay, get_replay, last_replay_of_trial, replays_of_run
from ferox.web.replays import shapes
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.runs.shapes import RunPath
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.web.trials.routes import the_trial

routes = Routes("replays")
NAMED = 50
"""Trials that are named of each group."""
MOST_REPLAYS = 20
"""Replays of a run that are listed."""


def _replay_shape(session: Session, replay: int) -> shapes.ReplayShape:
    progress = replay_progress(session, site.root, replay)
    if progress is None:
        raise NotThere(f"there is no replay {replay}")
    came = read_replay(session, replay)
    return shapes.ReplayShape(
        **vars(progress),
        done=len(came.trials),
        sentence=came.sentence,
        groups=[
            shapes.ReplayGroup(
                verdict=trials[0].came.verdict,
                first=first,
                count=len(trials),
                trials=[_named(trial) for trial in trials[:NAMED]],
                example=_difference(trials[0].came.parted or next(iter(
                    trials[0].came.differences), None)),
            )
            for _, first, trials in came.groups()
        ],
        unheld=sum(not trial.asked_model for trial in came.trials),
    )  # fmt: skip


def _named(trial: ReplayedTrial) -> shapes.ReplayedName:
    order = trial.order
    return shapes.ReplayedName(
        trial=order.trial,
        suite=order.suite,
        task=order.task,
        agent=order.agent,
        number=order.number,
    )


def _difference(found: Difference | None) -> shapes.ReplayDifference | None:
    if found is None:
        return None
    return shapes.ReplayDifference(at=found.at, what=found.what, lines=list(found.lines))


@routes.get("/api/runs/<int:run>/replays")
def replays_of_one_run(path: RunPath) -> shapes.ReplayList:
    """The newest replays of a run."""
    with read_session(site.engine) as session:
        found = replays_of_run(session, path.run)[:MOST_REPLAYS]
        return shapes.ReplayList(replays=[_replay_shape(session, each.id) for each in found])


@routes.post("/api/runs/<int:run>/replays", status=201)
def start_replay(path: RunPath, body: shapes.ReplayRequest) -> shapes.ReplayShape:
    """Begin to play trials of a run back to its agents of today."""
    with RunLock(site.root) as lock:
        choice = ReplayChoice(body.trials, body.agents)
        replay = begin_replay(site.engine, lock, path.run, choice)
        start_replay_worker(site.root, replay, lock)
    with read_session(site.engine) as session:
        return _replay_shape(session, replay)


@routes.get("/api/replays/<int:replay>")
def read_one_replay(path: shapes.ReplayPath) -> shapes.ReplayShape:
    """A replay, as far as it is."""
    with read_session(site.engine) as session:
        return _replay_shape(session, path.replay)


@routes.post("/api/replays/<int:replay>/stop")
def stop_replay(path: shapes.ReplayPath) -> shapes.ReplayShape:
    """Ask a replay to stop; what is done stays."""
    with write_session(site.engine) as session:
        change_replay(session, path.replay, stop=True)
        return _replay_shape(session, path.replay)


@routes.get("/api/trials/<int:trial>/replay")
def last_replay(path: TrialPath) -> shapes.LastReplay:
    """What became of a trial when it was last played back."""
    with read_session(site.engine) as session:
        the_trial(session, path.trial)
        kept = last_replay_of_trial(session, path.trial)
        if kept is None:
            return shapes.LastReplay(last=None)
        came = replayed_of(kept.verdict, kept.body)
        return shapes.LastReplay(
            last=shapes.ReplayedShape(
                replay=kept.replay_id,
                at=get_replay(session, kept.replay_id).created_at,
                verdict=came.verdict,
                reason=came.reason,
                parted=_difference(came.parted),
                differences=[d for each in came.differences if (d := _difference(each))],
            )
        )
