"""A stand-in's file: what a simulated model means to do, in words.

The file never names a tool. It says what to achieve, in which words, and where
the values come from; which tool that becomes depends on the tools offered.
"""

from __future__ import annotations

from pydantic import Field

from ferox.formats.base import Document, Json, Name, Strict
from ferox.formats.server import Latency
from ferox.formats.source import PieceKind, SourceEntry


class Value(Strict):
    """Where a value comes from. Exactly one source; `guess` is what the model would make up."""

    said: str | None = Field(None, description="A regex over what the user said; last match.")
    from_: Name | None = Field(None, alias="from", description="An earlier intent's result.")
    path: str = "$"
    of: PieceKind | None = Field(None, description="Of a text: its lines, list items or links.")
    column: str | None = Field(None, description="Of a table in a text: under this heading.")
    pattern: str | None = Field(None, description="What a regular expression finds in a text.")
    item: str | None = Field(None, description="A path in the item, where the intent has `each`.")
    constant: Json = None
    day: int | None = Field(None, description="Days from today.")
    plus: float | None = Field(None, description="Added to a number; days, to a day.")
    where: dict[str, Json] | None = Field(None, description="Picks an item of a list by fields.")
    guess: Json = None


class Items(SourceEntry):
    """The items of an earlier intent's result."""


class Intent(Strict):
    """One thing to do next: look something up or change it, say something, or ask."""

    as_: Name | None = Field(None, alias="as")
    intent: str | None = Field(None, description="What to achieve, in words.")
    values: dict[str, Value] = {}
    each: Items | None = Field(None, description="Done once for every item.")
    retries: int = Field(1, ge=0)
    if_failed: list[Intent] = Field([], description="The other way, once retries are used up.")
    say: str | None = Field(None, description="A reply; {{ … }} over earlier results.")
    asks: bool = Field(False, description="The reply asks for the user's go-ahead.")
    from_memory: str | None = Field(None, description="What it would say without looking.")


class Scene(Strict):
    """A kind of request, told in words like the user's, and how to go about it."""

    request: str
    does: list[Intent]
    heeds: str | None = Field(
        None,
        description="A regular expression: where the instructions do not match it, what it would "
        "say without looking is all that it does.",
    )


class Manner(Strict):
    """How often the stand-in slips, each from 0 to 1."""

    look_alike: float = 0
    missing_argument: float = 0
    mistyped_argument: float = 0
    extra_argument: float = 0
    unknown_tool: float = 0
    out_of_order: float = 0
    no_confirmation: float = 0
    ignored_error: float = 0
    repeated_call: float = 0
    skipped_step: float = 0
    from_memory: float = 0
    never_stops: float = 0


class StandInFile(Document):
    """A simulated model. Everything it says is made up here."""

    stand_in: Name
    title: str | None = None
    latency: Latency = Latency(median_ms=60, p95_ms=140)
    manners: dict[Name, Manner] = {}
    scenes: list[Scene]
    otherwise: str = "I have no way to help with that."
