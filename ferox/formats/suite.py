"""A suite: tasks, their scripted user and their expectations.

The models know the whole language. What this version does not carry out yet is
refused by `ferox.workspace.limits`, with the line, rather than passed over.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from ferox.formats.base import Address, Document, Json, Name, Strict
from ferox.formats.fault import Fault
from ferox.formats.server import Answer, Change


class Given(Strict):
    """Where a task starts, on top of a server's mock."""

    change: list[Change] = []
    answers: dict[str, list[Answer]] = {}


class TruthLookup(Strict):
    """A call that Ferox itself makes, to hold the agent's answer against."""

    as_: Name = Field(alias="as")
    tool: Address
    args: dict[str, Json] = {}
    when: Literal["before", "after"] = "before"


class ReplyPattern(Strict):
    """A test of the agent's reply."""

    matches: str


class UserRule(Strict):
    """One rule of the scripted user. The first that fits answers."""

    if_reply: ReplyPattern
    say: str
    grants: Name | None = None
    at_most: int | None = Field(None, ge=1)


class Approval(Strict):
    """How an approval that the agent asks for is decided."""

    tool: str
    decision: Literal["approve", "deny"]
    edit: dict[str, Json] = {}


class Times(Strict):
    """How often a call is expected."""

    min: int = Field(0, ge=0)
    max: int = Field(ge=1)


class Each(Strict):
    """One call for every item of an earlier result."""

    from_: Name = Field(alias="from")
    path: str
    arg: str


class ExpectedCall(Strict):
    """A call that the script expects."""

    as_: Name | None = Field(None, alias="as")
    tool: Address
    args: dict[str, Json] = {}
    optional: bool = False
    times: int | Times | None = None
    only_args: bool = False
    as_approved: bool = False
    each: Each | None = None
    after_grant: Name | None = None

    @property
    def name(self) -> str:
        """The name in checks and chains: `as`, or the tool's short name."""
        return self.as_ or self.tool.split("/", 1)[1]


class AtMost(Strict):
    """Upper bounds on what the agent does."""

    calls: int | None = Field(None, ge=0)
    same_call: int | None = Field(None, ge=1)
    turns: int | None = Field(None, ge=1)


class Count(Strict):
    """Bounds on a number of nodes."""

    min: int | None = None
    max: int | None = None


class AnswerCheck(Strict):
    """One demand on the last reply."""

    mentions: Json = None
    as_: Literal["text", "number", "day", "time"] | None = Field(None, alias="as")
    in_order: bool = False
    matches: str | None = None
    not_matches: str | None = None
    json_: dict[str, Json] | None = Field(None, alias="json")
    data: str | None = None
    is_: Json = Field(None, alias="is")
    claims_tools: str | None = None
    values: Literal["supported"] | None = None

    @model_validator(mode="after")
    def _one_kind(self) -> AnswerCheck:
        given = self.model_fields_set & {
            "mentions",
            "matches",
            "not_matches",
            "json_",
            "data",
            "claims_tools",
            "values",
        }
        if len(given) != 1:
            raise ValueError(
                "an answer entry holds exactly one of mentions, matches, not_matches, json, "
                "data, claims_tools, values"
            )
        return self


class StateCheck(Strict):
    """One demand on the state at the end."""

    server: Name | None = None
    from_: Name | None = Field(None, alias="from")
    path: str
    count: int | Count | None = None
    is_: Json = Field(None, alias="is")

    @model_validator(mode="after")
    def _complete(self) -> StateCheck:
        if (self.server is None) == (self.from_ is None):
            raise ValueError("a state entry names either `server` or `from`")
        if (self.count is None) == ("is_" not in self.model_fields_set):
            raise ValueError("a state entry holds either `count` or `is`")
        return self


class Recovery(Strict):
    """Other tools that make up for a failed one."""

    by: list[str] = []


class FailureRules(Strict):
    """What counts as handling a failure, and what is a false claim."""

    recovers: Recovery | None = None
    tells_user: str | None = None
    claims: str | None = None
    write: Name | None = None


class Expect(Strict):
    """What the script expects of one conversation."""

    calls: list[ExpectedCall] | None = None
    order: list[list[Name]] = []
    others: Literal["counted", "allowed", "forbidden"] | list[str] | None = None
    never: list[str] = []
    may_poll: list[str] = []
    at_most: AtMost = AtMost()
    answer: list[AnswerCheck] = []
    state: list[StateCheck] = []
    failures: FailureRules = FailureRules()
    either: list[Expect] | None = None


class Budget(Strict):
    """Limits on time and effort: milliseconds and counts."""

    turn_ms: float | None = Field(None, gt=0)
    tool_ms: float | None = Field(None, gt=0)
    model_calls: int | None = Field(None, ge=0)
    tokens: int | None = Field(None, ge=0)


class Part(Strict):
    """One part of a task with several."""

    say: str
    user: list[UserRule] = []
    expect: Expect = Expect()
    fresh: bool = False


class Task(Strict):
    """A scripted conversation with expectations."""

    task: Name
    title: str | None = None
    tags: list[str] = []
    given: dict[Name, Given] = {}
    truth: list[TruthLookup] = []
    say: str | None = None
    user: list[UserRule] = []
    approvals: list[Approval] = []
    faults: list[Fault] = []
    expect: Expect = Expect()
    budget: Budget = Budget()
    parts: list[Part] | None = None

    @model_validator(mode="after")
    def _speaks(self) -> Task:
        if (self.say is None) == (self.parts is None):
            raise ValueError("a task has either `say` or `parts`")
        return self


class Suite(Document):
    """A file of tasks."""

    suite: Name
    title: str | None = None
    servers: dict[Name, Name] = {}
    clock: str = Field("2031-03-14T06:30:00Z", description="RFC 3339: the trials' now.")
    zone: str = "UTC"
    tasks: list[Task]
