"""`ferox.yaml`: the workspace's name, its models and its defaults."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from pydantic import Field

from ferox.formats.base import Document, Name, Secret, Strict
from ferox.formats.fault import Fault


class Price(Strict):
    """What a model's tokens cost."""

    in_: float = Field(alias="in", ge=0, description="For tokens sent to the model.")
    cached_in: float | None = Field(
        None, ge=0, description="For sent tokens that it had kept from before; left out: as `in`."
    )
    out: float = Field(ge=0, description="For tokens that it answered.")
    per: int = Field(1_000_000, ge=1, description="Tokens that these prices are for.")
    currency: str = Field("USD", pattern="^[A-Z]{3}$", description="By its code of ISO 4217.")

    def cost(self, sent: float, answered: float, cached: float = 0) -> float:
        """What so many tokens cost; `cached` are among those that were sent."""
        kept = self.in_ if self.cached_in is None else self.cached_in
        return ((sent - cached) * self.in_ + cached * kept + answered * self.out) / self.per


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
    at_once: int | None = Field(
        None, ge=1, description="Requests to the endpoint side by side, of all trials of a run."
    )
    per_minute: int | None = Field(
        None, ge=1, description="Requests to the endpoint in a minute, of all trials of a run."
    )
    price: Price | None = Field(None, description="What it costs; without it, that is not known.")

    @property
    def is_limited(self) -> bool:
        """Whether requests to it wait for each other."""
        return bool(self.at_once or self.per_minute)

    @property
    def is_free(self) -> bool:
        """Whether it answers by itself, so that nothing is paid: a stand-in or a recording."""
        return self.stand_in is not None or (self.recording is not None and self.miss == "error")


def shared_price(sources: Iterable[ModelSource]) -> Price | None:
    """What the tokens of an agent with these models cost; None where that is not known, or where
    they cost differently: how they share its tokens is not known."""
    prices = {source.price for source in sources}
    return prices.pop() if len(prices) == 1 else None


Kept = Literal["all", "failing", "none"]
"""Of which trials the messages at the seams are kept beside the trace."""


class Defaults(Strict):
    """What a run uses unless it is told otherwise."""

    trials: int = Field(3, ge=1, le=1000)
    at_once: int = Field(2, ge=1, le=64)
    retries: int = Field(
        2, ge=0, le=20, description="How often a trial is done again whose machine was lost."
    )
    keep: Kept = Field(
        "all",
        description="Of which trials what passed at the seams is kept, word for word: it is shown "
        "with a call or a request, and played back by a replay.",
    )
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
