"""What the interface of finding takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field


class FindQuery(BaseModel):
    """Words that stand in what is looked for; nothing finds nothing."""

    words: str = Field(default="", max_length=200)


class FoundThing(BaseModel):
    """Something by its name; `within` is the server of a tool, the file of a task's suite or of a
    plan."""

    kind: Literal["server", "tool", "task", "agent", "plan", "run", "trial"]
    name: str
    within: str | None = None
    title: str | None = None


class FoundThings(BaseModel):
    """What was found, the nearest of each kind first."""

    found: list[FoundThing]
