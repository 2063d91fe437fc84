"""What the interface of plans takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.runs.plan_preview import PlanPreview


class PlanFileShape(BaseModel):
    """A plan's file as lists show it; `plan` is None where it does not load. `runs`: the newest
    of it."""

    file: str
    plan: str | None
    title: str | None
    problems: int
    runs: list[int]


class PlanFileList(BaseModel):
    """The plans' files, by name."""

    files: list[PlanFileShape]


class PlanText(BaseModel):
    """A plan as it stands in an editor."""

    name: str
    text: str
    at_once: int = Field(2, ge=1, le=64)


class PlanReading(BaseModel):
    """What a plan would run; `fault`: why that cannot be said."""

    preview: PlanPreview | None
    fault: str | None


class RewordQuery(BaseModel):
    """Which tool was chosen where which was expected, on a side: `12`, `12:duty-officer`."""

    side: str
    expected: str
    chosen: str


class MendRequest(BaseModel):
    """How often each change is tried, and a sentence for the instructions in one arm."""

    trials: int = Field(10, ge=2, le=1000)
    sentence: str | None = Field(None, max_length=2000)


class MendDraft(BaseModel):
    """A plan of what could mend a trial, and its changes in words."""

    name: str
    text: str
    changes: list[str]
