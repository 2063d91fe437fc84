"""A run's trials, played back, and how they read together."""

from __future__ import annotations

import asyncio
from collections import Counter
from collections.abc import AsyncIterator, Collection
from dataclasses import dataclass, field
from pathlib import Path
from typing import NamedTuple

from ferox.core.naming import counted_noun
from ferox.core.replay_verdict import Replayed
from ferox.runs.replay.replay_host import ReplayHost, snapshot_of_today
from ferox.runs.replay.stored_trial import NotReplayable, StoredTrial, read_stored
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.trial_order import TrialOrder
from ferox.store.database import Engine, read_session
from ferox.store.runs import get_run
from ferox.store.trials import get_trial, trials_of_run
from ferox.workspace import Workspace


class ReplayedTrial(NamedTuple):
    """A trial and what became of it."""

    order: TrialOrder
    came: Replayed
    asked_model: bool = True
    """Whether a model was asked at the seam: else what it thinks with was not held still."""


@dataclass(frozen=True)
class ReplayChoice:
    """Which trials of a run: all, or these, or those of these agents."""

    trials: Collection[int] = ()
    agents: Collection[str] = ()


@dataclass
class RunReplay:
    """What a run's replay came to, in the order of its trials."""

    trials: list[ReplayedTrial] = field(default_factory=list)

    def count(self, verdict: str) -> int:
        """How many trials have a verdict."""
        return sum(trial.came.verdict == verdict for trial in self.trials)

    @property
    def sentence(self) -> str:
        """The whole in a line."""
        played = len(self.trials) - self.count("not replayed")
        parts = [f"{self.count('same')} of {counted_noun(played, 'trial')} the same"]
        if others := self.count("other words"):
            parts.append(f"{others} {_verb(others, 'tells', 'tell')} the model something else")
        if parted := self.count("parted"):
            parts.append(f"{parted} {_verb(parted, 'parts', 'part')}")
        if left := self.count("not replayed"):
            parts.append(f"{left} could not be played back")
        return "; ".join(parts)

    def groups(self) -> list[tuple[str, str, list[ReplayedTrial]]]:
        """Trials that are not the same, by verdict and by what differs first, the most first."""
        keys = Counter((t.came.verdict, t.came.first or "") for t in self.trials)
        return [
            (verdict, first, [t for t in self.trials if t.came.verdict == verdict
                              and (t.came.first or "") == first])
            for (verdict, first), _ in keys.most_common()
            if verdict != "same"
        ]  # fmt: skip


def _verb(count: int, one: str, several: str) -> str:
    return one if count == 1 else several


def chosen_trials(engine: Engine, run: int, choice: ReplayChoice) -> list[int]:
    """The trials of a run that a choice means, by their ids."""
    with read_session(engine) as session:
        return [
            trial.id
            for trial in trials_of_run(session, run)
            if trial.state == "done"
            and (not choice.trials or trial.id in choice.trials)
            and (not choice.agents or trial.agent in choice.agents)
        ]


async def replay_trials(
    engine: Engine,
    workspace: Workspace,
    run: int,
    trials: list[int],
    at_once: int = 4,
    *,
    in_time: bool = False,
) -> AsyncIterator[ReplayedTrial]:
    """Play trials of a run back, several side by side; each as it is done. `in_time`: answers take
    as long as they took."""
    with read_session(engine) as session:
        snapshot = snapshot_of_today(snapshot_of(session, run), workspace)
        seed = get_run(session, run).seed
    gone = snapshot.agents.keys() - snapshot.arms.keys() - workspace.agents.keys()
    host = ReplayHost(snapshot, seed, Path(workspace.root), in_time=in_time)
    places = asyncio.Semaphore(at_once)

    async def replay(number: int) -> ReplayedTrial:
        async with places:
            found = _read(engine, number, gone)
            if isinstance(found, ReplayedTrial):
                return found
            came = await host.replay(found)
        return ReplayedTrial(found.order, came, asked_model=bool(found.answers))

    async with host.serve():
        tasks = [asyncio.create_task(replay(number)) for number in trials]
        try:
            for task in asyncio.as_completed(tasks):
                yield await task
        finally:
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)


def _read(engine: Engine, number: int, gone: Collection[str]) -> StoredTrial | ReplayedTrial:
    """A trial as it is played back, or why it cannot be; `gone`: agents that are no more."""
    with read_session(engine) as session:
        trial = get_trial(session, number)
        try:
            if trial.agent in gone:
                raise NotReplayable(f"the workspace has no agent {trial.agent} any more")
            return read_stored(session, trial)
        except NotReplayable as error:
            came = Replayed("not replayed", reason=str(error))
            return ReplayedTrial(TrialOrder.of_trial(trial), came)
