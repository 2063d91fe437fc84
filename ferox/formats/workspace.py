"""`ferox.yaml`: the workspace's name, its models and its defaults."""

from __future__ import annotations

from pydantic import Field

from ferox.formats.base import Document, Name, Secret, Strict


class ModelSource(Strict):
    """What an agent thinks with: a stand-in (simulated) or a compatible endpoint."""

    stand_in: str | None = Field(None, description="Path of a stand-in's file.")
    manner: str = Field("steady", description="Which of the stand-in's manners.")
    base_url: str | None = None
    name: str | None = None
    api_key: str | Secret | None = None
    per_minute: int | None = Field(None, ge=1)


class Defaults(Strict):
    """What a run uses unless it is told otherwise."""

    trials: int = Field(3, ge=1, le=1000)
    at_once: int = Field(2, ge=1, le=64)


class WorkspaceFile(Document):
    """The file at the root of a workspace."""

    name: str
    models: dict[Name, ModelSource] = {}
    defaults: Defaults = Defaults()
