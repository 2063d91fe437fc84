"""What the interface takes and gives: the OpenAPI document is made from these."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, GetJsonSchemaHandler, TypeAdapter
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

RecordId = Annotated[int, Field(ge=0, le=2**53 - 1)]
"""The number of something stored, or a place in a list: what JSON holds exactly."""


class SchemaOf:
    """Documents a stored value by its format. The value is sent as it is: it was judged when it
    was stored, and one that was cut for the screen need not fit any more. `required` are the
    fields that are always there, if those are fewer than the format's."""

    def __init__(self, format: Any, required: Sequence[str] | None = None) -> None:
        self._format, self._required = format, required

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        documented = handler(TypeAdapter(self._format).core_schema)
        if self._required is not None:
            handler.resolve_ref_schema(documented)["required"] = list(self._required)
        return documented


class FromRecord(BaseModel):
    """A shape that is read from a record's attributes of the same names."""

    model_config = ConfigDict(from_attributes=True)


class ErrorMessage(BaseModel):
    """What went wrong, and what to do about it."""

    message: str


class ProblemShape(BaseModel):
    """One error in a workspace's file, or a note: what is more likely not meant so."""

    file: str
    line: int
    column: int
    message: str
    note: bool = False


class AgentShape(BaseModel):
    """An agent, or an arm, as lists show it. `file`: the agent's name in its file, which differs
    for an arm; `simulated`: its model is a stand-in."""

    agent: str
    file: str
    title: str | None
    link: str
    model: str | None
    simulated: bool


class HoldShape(BaseModel):
    """Which calls are held."""

    when: Literal["any", "writes", "first", "tool"]
    tool: str = "*"


class HoldChange(BaseModel):
    """Which calls are held from now on; null: none."""

    hold: HoldShape | None


class OverridesShape(BaseModel):
    """What differs from the files."""

    modes: dict[str, str] = {}
    models: dict[str, str] = {}
    faults: str | None = None


class HoldDecisionRequest(BaseModel):
    """What becomes of a held call."""

    do: Literal["go", "args", "answer", "fail"]
    value: Any = None


class TrialRemark(BaseModel):
    """One thing worth knowing."""

    kind: str
    text: str


class TrialPath(BaseModel):
    """A trial's number in an address."""

    trial: RecordId
