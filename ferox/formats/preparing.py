"""What is done to live servers before and after trials, past the agent and all faults."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ferox.formats.base import Json, Name, Secret, Strict


class Step(Strict):
    """One thing that Ferox does itself: a call of a tool, or a command."""

    tool: str | None = None
    """The tool that is called: in a suite as `server/tool`, in a server's file by its name."""
    args: dict[str, Json] = {}
    """Its arguments; texts may hold `{{ now }}`, `{{ today }}` and `{{ trial }}`."""
    command: list[str] | None = None
    """A command that is run; it fails if it ends with a status other than 0."""
    cwd: str | None = None
    """Where the command starts, from the workspace."""
    env: dict[str, str | Secret] = {}
    """Variables of the command; a few harmless ones are there anyway."""
    within_s: float = Field(30, gt=0, le=3600)
    """Seconds that it may take."""
    each: Literal["trial", "run"] = "trial"
    """Before or after each trial, or once for the whole run."""

    @model_validator(mode="after")
    def _one_kind(self) -> Step:
        if (self.tool is None) == (not self.command):
            raise ValueError("a step has either `tool` or `command`")
        return self


class StateLookup(Strict):
    """A call by which the state of a live server is read, before and after each trial."""

    tool: Name
    """A tool of the server that only reads."""
    args: dict[str, Json] = {}
    """Its arguments; texts may hold `{{ now }}`, `{{ today }}` and `{{ trial }}`."""
