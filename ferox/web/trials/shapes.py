"""What the interface of one trial takes and gives."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ferox.formats.result import Result
from ferox.formats.trace import Event, Trace
from ferox.web.runs.shapes import RunShape, TrialLine
from ferox.web.shapes import AgentShape, FromRecord, RecordId, SchemaOf, TrialRemark


class ExpectedShape(BaseModel):
    """An expected call as the script has it."""

    name: str
    tool: str
    args: dict[str, Any]
    descriptions: dict[str, str]
    least: int
    most: int
    after_grant: str | None
    part: int
    optional: bool


class RuleShape(BaseModel):
    """A rule of the scripted user, as the conversation shows who answered."""

    matches: str
    grants: str | None


class ValueShape(BaseModel):
    """A value of a reply, and where it is from: calls by their ids, `user`, `instructions` or
    `clock`."""

    text: str
    start: int
    kind: str
    origin: str
    sources: list[str]
    how: str | None
    chance: float | None = None


class MentionShape(BaseModel):
    """A field of a call or a truth that an answer has to mention, and the check that tests it."""

    source: str
    path: str
    check: str


class ResultLine(BaseModel):
    """One of a trial's results, under the script that gave it. `at`: seconds since the epoch."""

    id: int
    script: str
    at: float
    verdict: str
    first: bool


class ScriptShape(BaseModel):
    """The script that a result was scored under; `before`: the run's own, if it is another."""

    hash: str
    task: dict[str, Any]
    before: dict[str, Any] | None


class WireShape(BaseModel):
    """The raw messages of a call."""

    request: str
    answer: str


class WirePath(BaseModel):
    """A call of a trial in an address."""

    trial: RecordId
    call: str


class EventPath(BaseModel):
    """An event of a trial, by its place, in an address."""

    trial: RecordId
    place: RecordId


class PieceQuery(BaseModel):
    """Which field of an event, and from which character on; without a field, all of it."""

    field: Literal["text", "data", "args", "result", "content"] | None = None
    start: RecordId = 0


class PieceShape(BaseModel):
    """A piece of what is too long to be sent whole: words as they are, all else as JSON."""

    text: str
    start: int
    total: int


class RequestPath(BaseModel):
    """A request to a model in an address."""

    trial: RecordId
    event: str


class MessageShape(BaseModel):
    """A message as the model got it; `new`: it was not in the request before. `not_kept`: its
    characters, if it was too long to be kept."""

    body: Any
    not_kept: int | None
    new: bool


class ShownToolShape(BaseModel):
    """A tool of a request, in its place. `differs`: name, description or input, where they are
    not the server's own; `served` is then what the server offers."""

    name: str
    address: str
    description: str | None
    input: Any
    differs: list[str]
    served: dict[str, Any] | None
    not_kept: int | None


class ModelRequestShape(BaseModel):
    """One request to a model, whole, and how it differs from the one before of the same voice.

    `dropped`: messages of the one before that are not in this; `not_kept`: characters in all.
    """

    id: str
    voice: str | None
    t: float
    s: float | None
    usage: dict[str, int] | None
    error: str | None
    injected: str | None
    interface: str
    messages: list[MessageShape]
    tools: list[ShownToolShape]
    parameters: Any
    answer: Any
    before: str | None
    dropped: int
    tools_added: list[str]
    tools_removed: list[str]
    not_kept: int


class ThinksWith(BaseModel):
    """A model of an agent, by the agent's name for it."""

    called: str
    model: str
    simulated: bool
    recorded: bool


class EarlierInstructions(BaseModel):
    """The agent's instructions in the run before."""

    run: int
    text: str
    same: bool


class SetupShape(BaseModel):
    """What a trial ran with."""

    link: str
    title: str | None
    models: list[ThinksWith]
    params: dict[str, Any]
    instructions: str
    before: EarlierInstructions | None
    modes: dict[str, str]
    wording: dict[str, dict[str, Any]]
    faults: list[str]
    otherwise: str
    steps: list[str]
    """What was done to live servers before and after, with what came of it."""
    clock: str
    zone: str
    ferox: str
    python: str
    on: str | None
    """The cluster whose machines carried it out."""
    lost: list[str]
    """Machines that were lost while they carried it out."""


class ResultQuery(BaseModel):
    """Which of a trial's results is shown; left out: the newest."""

    result: RecordId | None = None


class TrialShape(BaseModel):
    """Everything about one trial. While it runs there is no result yet."""

    trial: TrialLine
    title: str | None
    agent: AgentShape
    run: RunShape
    trace: Annotated[dict[str, Any], SchemaOf(Trace, required=["events"])]
    """While it runs, only its events."""
    result: Annotated[dict[str, Any], SchemaOf(Result)] | None
    expected: list[ExpectedShape]
    order: list[list[str]]
    near: dict[str, int | None]
    remarks: list[TrialRemark]
    says: list[str]
    """The opening words of each part."""
    ways: list[int]
    """How many alternatives each part has."""
    rules: list[list[RuleShape]]
    values: dict[int, list[ValueShape]]
    """For each reply, by its place among the events."""
    long: list[int]
    """The places of events that are too long to be sent whole."""
    planted: dict[str, str]
    injected: dict[str, str]
    """What was injected, by the id of the call or request that it struck."""
    setup: SetupShape
    mentions: list[MentionShape]
    results: list[ResultLine]
    shown: int | None
    script: ScriptShape
    mark: MarkShape | None


class NewEvents(BaseModel):
    """What is new in a trial that runs: its events from `place` on, in place of those that were
    there. `long` are the places of events that are too long to be sent whole."""

    place: int
    events: list[Annotated[dict[str, Any], SchemaOf(Event)]]
    long: list[int]
    injected: dict[str, str]


class MarkRequest(BaseModel):
    """What a person thinks of a trial, apart from its checks."""

    mark: Literal["right", "wrong", "unsure"] | None
    note: str = Field("", max_length=4000)


class MarkShape(FromRecord):
    """A person's mark and note on a trial."""

    mark: str | None
    note: str
    at: float


class DigestShape(BaseModel):
    """A trial in plain text."""

    text: str
