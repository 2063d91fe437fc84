"""A baseline: what each cell of a run came to, a line each, to be kept in version control."""

from __future__ import annotations

from typing import Self

from pydantic import BaseModel, ConfigDict, Field, model_validator


class BaselineCell(BaseModel):
    """One task against one agent. Lines are sorted by suite, task and agent, and hold nothing
    that differs between two runs with the same outcome."""

    model_config = ConfigDict(extra="ignore")

    suite: str
    """The suite."""
    task: str
    """The task."""
    agent: str
    """The agent, or the arm of a plan."""
    passes: int = Field(ge=0)
    """Trials that passed."""
    n: int = Field(ge=0)
    """Trials that were judged; those that could not run are left out."""
    failed_check: str | None = None
    """The check that failed in most of the failed trials."""
    script: str | None = None
    """A hash of the script that judged them. Cells whose script is another now are not compared."""

    @model_validator(mode="after")
    def _no_more_than_all(self) -> Self:
        if self.passes > self.n:
            raise ValueError(f"{self.passes} passes of {self.n} trials")
        return self
