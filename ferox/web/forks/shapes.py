"""What the interface of forks takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.runs.fork.change import ForkChange
from ferox.runs.fork.fork_run import MOST_FORKS
from ferox.web.runs.shapes import RunState, TrialLine


class ForkRequest(BaseModel):
    """From which place of the trial, what is otherwise, and how often."""

    at: str = Field(max_length=40)
    change: ForkChange = ForkChange()
    repeats: int = Field(1, ge=1, le=MOST_FORKS)


class ForkedTrialsShape(BaseModel):
    """The forks of one run. `parted`: they did something else before their point, and do not
    count; `left`: they are not done. `unlike` and `not_repeated`: what of the past a mock answered
    otherwise, and servers whose calls were not made again."""

    run: int
    at: str
    change: str
    detail: str | None
    words: str
    state: RunState
    trials: list[TrialLine]
    judged: int
    passed: int
    parted: int
    errors: int
    left: int
    unlike: list[str]
    not_repeated: list[str]


class ForkList(BaseModel):
    """All forks of a trial, the oldest first."""

    forks: list[ForkedTrialsShape]
