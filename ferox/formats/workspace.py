"""`ferox.yaml`: the workspace's name, its models and its defaults."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ferox.formats.base import Document, Name, Secret, Strict
from ferox.formats.fault import Fault


class ModelSource(Strict):
    """What an agent thinks with: a stand-in (simulated), a compatible endpoint, or a recording."""

    stand_in: str | None = Field(None, description="Path of a stand-in's file.")
    manner: str = Field("steady", description="Which of the stand-in's manners.")
    base_url: str | None = Field(None, description="Of a compatible endpoint.")
    recording: str | None = Field(None, description="Path of a recording that is replayed.")
    miss: Literal["error", "live"] = Field(
        "error", description="What answers a request that was not recorded; live: `base_url`."
    )
    name: str | None = Field(None, description="The endpoint's own name of the model.")
    api_key: str | Secret | None = None
    per_minute: int | None = Field(None, ge=1)


class Defaults(Strict):
    """What a run uses unless it is told otherwise."""

    trials: int = Field(3, ge=1, le=1000)
    at_once: int = Field(2, ge=1, le=64)
    standing_port: int = Field(
        8641, ge=1024, le=65535, description="Where running services find Ferox's seams."
    )


class WorkspaceFile(Document):
    """The file at the root of a workspace."""

    name: str
    models: dict[Name, ModelSource] = {}
    faults: dict[Name, list[Fault]] = Field(
        {}, description="Named sets of faults, each of which can be laid over a whole run."
    )
    defaults: Defaults = Defaults()
