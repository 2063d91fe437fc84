"""What the interface of comparing takes and gives, beside the report itself."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.core.comparison.verdict import SAME_WITHIN


class CompareQuery(BaseModel):
    """Two sides, each a run or an agent in one: `12`, `12:duty-officer`."""

    a: str
    b: str
    same_within: float = Field(default=SAME_WITHIN, gt=0, le=1)


class ComparableRun(BaseModel):
    """A run, and the agents in it."""

    run: int
    title: str
    created_at: float
    agents: list[str]


class ComparableRuns(BaseModel):
    """What can be compared: the newest runs."""

    runs: list[ComparableRun]
