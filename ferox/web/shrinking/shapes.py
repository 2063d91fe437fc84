"""What the interface of shrinking takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field, model_validator

from ferox.runs.shrink.shrink_run import MOST_TRIALS


class ShrinkRequest(BaseModel):
    """Which failed check has to fail (left out: the first), in how many of so many repeats, and how
    many trials may be carried out in all."""

    check: str | None = None
    repeats: int = Field(3, ge=1, le=100)
    at_least: int = Field(3, ge=1, le=100)
    budget: int = Field(100, ge=1, le=MOST_TRIALS)

    @model_validator(mode="after")
    def _check_repeats(self) -> ShrinkRequest:
        if self.at_least > self.repeats:
            raise ValueError(f"{self.at_least} of {self.repeats} repeats: that can never be")
        return self


class ShrinkPiece(BaseModel):
    """One thing that can be left out, of which kind, and whether it is needed."""

    kind: str
    words: str
    kept: bool


class ShrinkShape(BaseModel):
    """How far a trial is shrunk. `state`: running, done, stopped, budget, steady or failed."""

    id: str
    trial: int
    state: str
    message: str | None
    check: str
    sentence: str
    tried: int
    budget: int
    failed: int
    of: int
    pieces: list[ShrinkPiece]
    task: str
    """The task that is left, as YAML."""


class ShrinkPath(BaseModel):
    """A shrinking's number in an address."""

    shrinking: str
