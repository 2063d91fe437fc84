"""What the interface of tasks takes and gives."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.web.shapes import FromRecord


class SuiteFileShape(BaseModel):
    """A suite's file as the list shows it. `suite` is None if it does not load."""

    file: str
    suite: str | None
    title: str | None
    tasks: list[str]
    problems: int


class SuiteFileList(BaseModel):
    """The files of suites, and the servers that a new one may use."""

    files: list[SuiteFileShape]
    servers: list[str]


class SuiteText(BaseModel):
    """A suite's text as it stands in the editor, and the line of the cursor."""

    name: str
    text: str
    line: int = 1


class TaskPlace(BaseModel):
    """A task in a text: its lines, from 1."""

    task: str
    title: str | None
    tags: list[str]
    line: int
    last: int


class ArgPicture(BaseModel):
    """An expected argument: what it must be, and the calls that its value comes from."""

    name: str
    description: str
    sources: list[str]


class CallPicture(BaseModel):
    """One expected call."""

    name: str
    tool: str
    by: str | None
    args: list[ArgPicture]
    optional: bool
    often: str | None
    only_args: bool
    as_approved: bool
    after_grant: str | None
    approval: str | None
    line: int


class LimitPicture(BaseModel):
    """Something forbidden, limited or demanded, with its line. `forbids`: it must not happen."""

    text: str
    line: int
    forbids: bool = False


class AlternativePicture(BaseModel):
    """One alternative of a part: calls with their chains, and limits."""

    calls: list[CallPicture]
    order: list[list[str]]
    limits: list[LimitPicture]


class RulePicture(BaseModel):
    """A rule of the scripted user."""

    matches: str
    say: str
    grants: str | None
    at_most: int | None
    line: int


class PartPicture(BaseModel):
    """One part; a task without `parts` has one. Several `ways`: any of them is right."""

    say: str
    fresh: bool
    line: int
    rules: list[RulePicture]
    ways: list[AlternativePicture]


class PictureShape(BaseModel):
    """A task as it is understood."""

    task: str
    title: str | None
    parts: list[PartPicture]
    truths: list[str]
    given: list[str]
    faults: list[str]
    whole: list[LimitPicture]
    budget: list[str]
    approvals: list[str]
    answers: list[str]
    """How the user answers what servers ask."""


class SuiteReading(BaseModel):
    """What a text says: its tasks, and the picture of the one that the cursor is in.

    `fault`: it does not load, so there is no picture.
    """

    tasks: list[TaskPlace]
    picture: PictureShape | None
    fault: str | None


class OfferedArgument(BaseModel):
    """An argument that a tool takes."""

    name: str
    type: str
    description: str
    required: bool
    choices: list[str]


class KnownTool(BaseModel):
    """A tool that a script may name, by its address."""

    tool: str
    description: str
    arguments: list[OfferedArgument]


class KnownTools(BaseModel):
    """The tools of all servers, as far as files or earlier looks tell."""

    tools: list[KnownTool]
    unknown: list[str]


class SuitePath(BaseModel):
    """A suite's name in an address."""

    suite: str


class MadeStandInShape(BaseModel):
    """A stand-in made from a suite: its file, the model that it is, and what is left to write."""

    file: str
    model: str
    notes: list[str]


class RejudgeRequest(BaseModel):
    """Expectations to apply to stored trials."""

    name: str
    text: str
    task: str


class ChangedCheckShape(FromRecord):
    """A check that comes out otherwise."""

    id: str
    was: bool | None
    now: bool | None
    message: str


class RejudgedTrialShape(FromRecord):
    """A stored trial under the expectations as they stand in the editor."""

    id: int
    run: int
    agent: str
    number: int
    was: str
    now: str
    changed_checks: list[ChangedCheckShape]


class RejudgedTrials(BaseModel):
    """The newest stored trials of the task. `more`: there are older ones."""

    trials: list[RejudgedTrialShape]
    more: bool


class RescoreRequest(BaseModel):
    """Which stored trials to score again: of a suite's tasks."""

    suite: str
    tasks: list[str] = []


class RescoreShape(FromRecord):
    """How far scoring again is."""

    done: int
    changed: int
    left: int


class DraftRequest(BaseModel):
    """Where a task made from a trial goes: a file of a suite, there or new."""

    file: str
    task: str = Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")


class SessionDraftRequest(DraftRequest):
    """A recorded session to make a task from."""

    recording: str
    session: int


class InferenceShape(FromRecord):
    """One thing that was inferred, and why."""

    what: str
    why: str


class KeepShape(BaseModel):
    """Where a trial is best kept as a task: a suite's file that uses its servers; null: a new
    suite. `servers` are those that it used, with their modes."""

    file: str | None
    servers: dict[str, str]


class DraftShape(BaseModel):
    """A suite's text with a task added to it; not yet written."""

    name: str
    text: str
    stamp: str | None
    task: str
    reasons: list[InferenceShape]
