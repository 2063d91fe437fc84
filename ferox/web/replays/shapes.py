"""What the interface of replays takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.core.replay_verdict import ReplayVerdict
from ferox.web.runs.shapes import RunState
from ferox.web.shapes import RecordId


class ReplayRequest(BaseModel):
    """Which trials of a run are played back: all, or these, or those of these agents."""

    trials: list[RecordId] = Field([], max_length=100_000)
    agents: list[str] = Field([], max_length=1_000)


class ReplayDifference(BaseModel):
    """One thing that the agent does otherwise than it did: at which event of the stored trial,
    and both sides, folded."""

    at: str
    what: str
    lines: list[str]


class ReplayedName(BaseModel):
    """A trial that was played back."""

    trial: int
    suite: str
    task: str
    agent: str
    number: int


class ReplayGroup(BaseModel):
    """Trials with one verdict in which the same differs first; `example`: of the first of them."""

    verdict: ReplayVerdict
    first: str
    count: int
    trials: list[ReplayedName]
    """The first fifty."""
    example: ReplayDifference | None


class ReplayShape(BaseModel):
    """A replay, how far it is, and what it came to so far. `unheld`: trials whose agent asked no
    model at Ferox, so that what it thinks with was not held still."""

    id: int
    run: int
    at: float
    state: RunState
    message: str | None
    done: int
    total: int
    sentence: str
    groups: list[ReplayGroup]
    unheld: int


class ReplayList(BaseModel):
    """The replays of a run, the newest first."""

    replays: list[ReplayShape]


class ReplayedShape(BaseModel):
    """What became of one trial when it was last played back."""

    replay: int
    at: float
    verdict: ReplayVerdict
    reason: str | None
    parted: ReplayDifference | None
    differences: list[ReplayDifference]


class LastReplay(BaseModel):
    """The last replay of a trial, if there was one."""

    last: ReplayedShape | None


class ReplayPath(BaseModel):
    """A replay's number in an address."""

    replay: RecordId
