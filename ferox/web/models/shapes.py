"""What the interface of models takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from ferox.formats.base import Name
from ferox.formats.workspace import ModelSource
from ferox.web.shapes import ProblemShape

ModelKind = Literal["stand-in", "endpoint", "recording"]


class ModelLine(BaseModel):
    """A model of the workspace: what stands behind it, and which agents think with it."""

    name: str
    kind: ModelKind
    behind: str
    simulated: bool
    source: ModelSource
    agents: list[str]
    secret_set: bool | None
    """Whether its key has a value; null: it needs none."""


class StandInLine(BaseModel):
    """A stand-in's file, and the manners that a model may have of it."""

    file: str
    manners: list[str]


class ModelList(BaseModel):
    """Every model, what else one can be made of, and what is wrong with `ferox.yaml`."""

    models: list[ModelLine]
    stand_ins: list[StandInLine]
    recordings: list[str]
    problems: list[ProblemShape]


class ModelPath(BaseModel):
    """A model's name in an address."""

    model: Name


class ModelRequest(BaseModel):
    """What a model is to be; `key` is the value of the secret that it names."""

    source: ModelSource
    key: str | None = Field(None, max_length=20_000)


class FindingShape(BaseModel):
    """One thing found of a model; `ok` null is a doubt."""

    ok: bool | None
    message: str
    advice: str


class LookShape(BaseModel):
    """A look at a model so far."""

    id: str
    version: int
    model: str
    going: bool
    findings: list[FindingShape]


class LookPath(BaseModel):
    """The number of a look in an address."""

    number: str


class EndpointNames(BaseModel):
    """The names of the models that an endpoint lists."""

    names: list[str]


class LocalEndpoint(BaseModel):
    """An endpoint that was found on this machine."""

    base_url: str
    models: list[str]


class LocalEndpoints(BaseModel):
    """The endpoints that answer on this machine's usual ports."""

    found: list[LocalEndpoint]
    asked: list[int]
