"""What every format shares: strict keys, JSON values, and the version mark."""

from __future__ import annotations

from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError

Json = Any
"""Any JSON value. Pydantic's recursive JsonValue costs more than it tells us."""

Name = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")]
"""A name that people give: of an agent, a server, a suite, a task."""

Address = Annotated[str, StringConstraints(pattern=r"^[^/\s]+/\S+$")]
"""A tool's address: `server/tool`, or `own/tool` for one inside the agent."""


Offer = dict[Name, Literal["all"] | list[str]]
"""Tools by server: all of them, or globs of their names."""


class Strict(BaseModel):
    """A part of a format. Keys that the format does not know are errors."""

    model_config = ConfigDict(
        extra="forbid",
        populate_by_name=True,
        frozen=True,
        defer_build=True,  # most commands read one format; building all takes a third of a second
    )


Part = TypeVar("Part", bound=Strict)


class Document(Strict):
    """A whole file. Each starts with `ferox: 1`, the version of the format."""

    ferox: Literal[1] = Field(description="Version of the format; always 1.")


class Secret(Strict):
    """A value read from the environment when it is needed and never stored."""

    secret: str
    prefix: str = ""


def shared_default(part: Part) -> Part:
    """A field's default that all documents share. Pydantic would copy it anew for each, at every
    depth, which took most of the time of reading a large suite; parts of formats are frozen."""
    shared: Part = Field(default_factory=lambda: part)
    return shared


def validation_fault(error: ValidationError) -> str:
    """The first of what is wrong with a document: its place, as `/events/0/t`, and why."""
    fault = error.errors()[0]
    return f"/{'/'.join(map(str, fault['loc']))}: {fault['msg']}"


def offered_of(offer: Offer | None, server: str) -> Literal["all"] | list[str]:
    """What of a server's tools an offer holds; without an offer, all of them."""
    return "all" if offer is None else offer.get(server, [])
