"""What the interface of beginnings takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field


class BeginningKind(BaseModel):
    """A kind of agent that a workspace may begin with."""

    name: str
    title: str
    needs: str


class BeginningKinds(BaseModel):
    """Every kind of agent, and the folder that a workspace would be made in."""

    folder: str
    kinds: list[BeginningKind]
    refused: str | None
    """Why none can be made there."""


class BeginningRequest(BaseModel):
    """What a workspace begins with: an agent of a kind, and perhaps a server of the user's."""

    kind: str = "plain"
    server: str = Field("", max_length=500_000)
    """A launch line, an address, a configuration block, or an OpenAPI document."""


class BegunWorkspace(BaseModel):
    """A new workspace: its files, what to know of them, and what its agent's environment needs."""

    files: list[str]
    notes: list[str]
    agent: str
    needs: str
