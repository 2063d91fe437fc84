"""Replays as they are kept beside their run."""

from __future__ import annotations

import time
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from ferox.store.tables import StoredReplay, StoredReplayedTrial, Trial


def add_replay(session: Session, run: int, trials: list[int]) -> int:
    """Keep a replay that begins; its number."""
    replay = StoredReplay(run_id=run, created_at=time.time(), state="running", trials=trials)
    session.add(replay)
    session.flush()
    return replay.id


def find_replay(session: Session, replay: int) -> StoredReplay | None:
    """A replay by its number."""
    return session.get(StoredReplay, replay)


def get_replay(session: Session, replay: int) -> StoredReplay:
    """A replay that is there."""
    return session.get_one(StoredReplay, replay)


def change_replay(session: Session, replay: int, **fields: Any) -> None:
    """Change a replay's record."""
    session.execute(update(StoredReplay).where(StoredReplay.id == replay).values(**fields))


def shall_stop_replay(session: Session, replay: int) -> bool:
    """Whether a replay was asked to stop."""
    return bool(session.scalar(select(StoredReplay.stop).where(StoredReplay.id == replay)))


def keep_replayed(
    session: Session,
    replay: int,
    trial: int,
    *,
    verdict: str,
    asked_model: bool,
    body: dict[str, Any],
) -> None:
    """Keep what became of a trial."""
    session.add(
        StoredReplayedTrial(
            replay_id=replay, trial_id=trial, verdict=verdict, asked_model=asked_model, body=body
        )
    )


def replays_of_run(session: Session, run: int) -> list[StoredReplay]:
    """The replays of a run, the newest first."""
    query = select(StoredReplay).where(StoredReplay.run_id == run)
    return list(session.scalars(query.order_by(StoredReplay.id.desc())))


def replayed_trials(session: Session, replay: int) -> list[tuple[Trial, StoredReplayedTrial]]:
    """What became of the trials of a replay so far, in the order of the trials."""
    query = (
        select(Trial, StoredReplayedTrial)
        .join(StoredReplayedTrial, StoredReplayedTrial.trial_id == Trial.id)
        .where(StoredReplayedTrial.replay_id == replay)
        .order_by(Trial.id)
    )
    return [(trial, came) for trial, came in session.execute(query)]


def last_replay_of_trial(session: Session, trial: int) -> StoredReplayedTrial | None:
    """What became of a trial when it was last played back."""
    query = select(StoredReplayedTrial).where(StoredReplayedTrial.trial_id == trial)
    return session.scalar(query.order_by(StoredReplayedTrial.replay_id.desc()).limit(1))
