"""What the interface of comparing takes and gives, beside the report itself."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.core.comparison.verdict import SAME_WITHIN
from ferox.runs.setup_differences import SetupDifference


class CompareQuery(BaseModel):
    """Two sides, each a run or an agent in one: `12`, `12:duty-officer`."""

    a: str
    b: str
    same_within: float = Field(default=SAME_WITHIN, gt=0, le=1)


class SetupQuery(BaseModel):
    """Two sides, as for comparing them."""

    a: str
    b: str


class SetupDifferences(BaseModel):
    """What differs in the set-up of two sides."""

    parts: list[SetupDifference]


class ComparableRun(BaseModel):
    """A run, and the agents in it, or the arms of its plan."""

    run: int
    title: str
    plan: str | None
    created_at: float
    agents: list[str]


class ComparableRuns(BaseModel):
    """What can be compared: the newest runs."""

    runs: list[ComparableRun]
