"""A suite: tasks, their scripted user and their expectations.

The models know the whole language. What this version does not carry out yet is
refused by `ferox.workspace.limits`, with the line, rather than passed over.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from ferox.formats.base import Address, Document, Json, Name, Offer, Strict, shared_default
from ferox.formats.fault import Fault
from ferox.formats.preparing import Step
from ferox.formats.server import Change, MockAnswer
from ferox.formats.source import SourceEntry


class Given(Strict):
    """Where a task starts, on top of a server's mock."""

    change: list[Change] = []
    """JSON Patch operations on the mock's state, before anything happens."""
    answers: dict[str, list[MockAnswer]] = {}
    """Answers by tool, tried before the mock's own."""


class TruthLookup(Strict):
    """A call that Ferox itself makes, to hold the agent's answer against."""

    as_: Name = Field(alias="as")
    """The name that `from` refers to."""
    tool: Address
    """The tool that Ferox calls itself, past all faults."""
    args: dict[str, Json] = {}
    """Its arguments, as they are."""
    when: Literal["before", "after", "both"] = "before"
    """Before the conversation, after it, or both: then it is what came after, and `changed` tells
    the two apart."""


class ReplyPattern(Strict):
    """A test of the agent's reply."""

    matches: str
    """A regular expression (Python's re), searched in the agent's reply."""


class UserRule(Strict):
    """One rule of the scripted user. The first that fits answers."""

    if_reply: ReplyPattern
    """When the agent's reply fits this, the rule answers."""
    say: str
    """What the user says then."""
    grants: Name | None = None
    """A go-ahead that this gives; a call can be expected `after_grant` of it."""
    at_most: int | None = Field(None, ge=1)
    """How often the rule may answer."""


class ServerAnswer(Strict):
    """How the user answers a question that a server asks in the middle of a call."""

    as_: Name | None = Field(None, alias="as")
    """A name by which `from` and chains refer to what was given."""
    server: str = "*"
    """A glob of servers that may ask it."""
    if_message: Json = Field({"any": True})
    """A matcher of the question's words."""
    give: dict[str, Json] | None = None
    """The values that are given, by field."""
    accept: bool = False
    """The user agrees, without values: to a question that only sends to an address."""
    decline: bool = False
    """The user declines."""
    cancel: bool = False
    """The user leaves it unanswered."""
    at_most: int | None = Field(None, ge=1)
    """How often it may answer; what is asked more often is declined."""

    @model_validator(mode="after")
    def _one_way(self) -> ServerAnswer:
        ways = (self.give is not None, self.accept, self.decline, self.cancel)
        if sum(ways) != 1:
            raise ValueError("an entry of `answers` holds one of give, accept, decline, cancel")
        return self


class Approval(Strict):
    """How an approval that the agent asks for is decided."""

    tool: str
    """A glob of tools whose approval is decided here."""
    decision: Literal["approve", "deny"]
    """approve or deny; what has no entry is denied."""
    edit: dict[str, Json] = {}
    """Arguments that the person who approves changes."""
    at_most: int | None = Field(None, ge=1)
    """How often it decides; after that the next entry that fits does."""


class Times(Strict):
    """How often a call is expected."""

    min: int = Field(0, ge=0)
    max: int = Field(ge=1)


class Each(SourceEntry):
    """One call for every item of an earlier result."""

    arg: str
    """The argument that takes the item."""


Stage = Annotated[str, StringConstraints(min_length=1, max_length=80)]
"""A stage of an agent: by the name of a voice that speaks to the model, or that its link tells."""


class StageTools(Strict):
    """Tools as one stage of the agent calls them."""

    tool: str
    """A glob of tools."""
    by: Stage
    """The stage."""


class StageStep(Strict):
    """All that one stage of the agent does, as a step of a chain."""

    by: Stage
    """The stage."""


class ExpectedCall(Strict):
    """A call that the script expects."""

    as_: Name | None = Field(None, alias="as")
    """The call's name in checks, chains and `from`; by default the tool's short name."""
    tool: Address
    """The tool's address, `server/tool`; `own/tool` for one inside the agent."""
    args: dict[str, Json] = {}
    """What each argument must be: a plain value, or a matcher."""
    optional: bool = False
    """It may be left out."""
    times: int | Times | None = None
    """How often it is expected: a number, or {min, max}."""
    only_args: bool = False
    """No arguments besides those listed."""
    as_approved: bool = False
    """The arguments are those approved, as edited."""
    each: Each | None = None
    """One call for every item of an earlier result."""
    after_grant: Name | None = None
    """Only after this go-ahead of the user's."""
    by: Stage | None = None
    """The stage of the agent that makes it."""

    @property
    def name(self) -> str:
        """The name in checks and chains: `as`, or the tool's short name."""
        return self.as_ or self.tool.split("/", 1)[1]


class AtMost(Strict):
    """Upper bounds on what the agent does."""

    calls: int | None = Field(None, ge=0)
    """Calls in all."""
    same_call: int | None = Field(None, ge=1)
    """Calls of one tool with the same arguments."""
    turns: int | None = Field(None, ge=1)
    """Turns of the conversation."""
    questions: int | None = Field(None, ge=0)
    """Questions that servers ask in the middle of calls."""


class Count(Strict):
    """Bounds on a number of nodes."""

    min: int | None = None
    max: int | None = None


class AnswerCheck(Strict):
    """One demand on the last reply, or on what a stage of the agent said last."""

    by: Stage | None = None
    """The stage whose last words are looked at in place of the reply."""
    mentions: Json = None
    """A value, or {from, path}, that must stand in the reply in a usual writing."""
    as_: Literal["text", "number", "day", "time"] | None = Field(None, alias="as")
    """How a mentioned value is read: text, number, day or time."""
    in_order: bool = False
    """A list is mentioned in its order."""
    at_least: int | None = Field(None, ge=0)
    """How many of the values have to be mentioned; left out: all of them."""
    only: bool = False
    """No value of this kind is mentioned besides them."""
    matches: str | None = None
    """A regular expression that the reply must fit."""
    not_matches: str | None = None
    """A regular expression that the reply must not fit."""
    json_: dict[str, Json] | None = Field(None, alias="json")
    """A JSON Schema that the reply's data, or its JSON text, must fit."""
    data: str | None = None
    """A JSONPath into the reply's data, tested by `is`."""
    is_: Json = Field(None, alias="is")
    """A matcher for every node found."""
    claims_tools: str | None = None
    """A JSONPath in the reply's data to the tools that it says it used: exactly those that were
    called."""
    values: Literal["supported", "strict"] | None = None
    """supported: no number, date, time, link or code from nowhere."""

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
    """A mock whose state at the end is looked at."""
    from_: Name | None = Field(None, alias="from")
    """A truth that is looked at instead."""
    path: str
    """A JSONPath."""
    changed: bool | Literal["gone"] = False
    """true: only nodes that this trial added or changed; gone: only those that it took away."""
    count: int | Count | None = None
    """How many nodes are found: a number, or {min, max}."""
    is_: Json = Field(None, alias="is")

    @model_validator(mode="after")
    def _check_complete(self) -> StateCheck:
        if (self.server is None) == (self.from_ is None):
            raise ValueError("a state entry names either `server` or `from`")
        if (self.count is None) == ("is_" not in self.model_fields_set):
            raise ValueError("a state entry holds either `count` or `is`")
        return self


class Recovery(Strict):
    """Other tools that make up for a failed one."""

    by: list[str] = []
    """Globs of tools."""


class FailureRules(Strict):
    """What counts as handling a failure, and what is a false claim."""

    recovers: Recovery | None = None
    """Other tools that make up for a failed call."""
    tells_user: str | None = None
    """A reply that fits this handles a failure: the user was told."""
    claims: str | None = None
    """A reply that fits this claims that `write` was done."""
    write: Name | None = None
    """The expected call that `claims` is about."""


class CodeRules(Strict):
    """What the code must hold that a model writes, of an agent that acts by code."""

    matches: str | None = None
    """A regular expression that must be found in it."""
    never: str | None = None
    """A regular expression that must not be found in it."""

    @model_validator(mode="after")
    def _check_rules(self) -> CodeRules:
        if self.matches is None and self.never is None:
            raise ValueError("`code` holds matches, never, or both")
        return self


class Expect(Strict):
    """What the script expects of one conversation."""

    calls: list[ExpectedCall] | None = None
    """The calls expected; [] that no tool is called; left out: not tested."""
    order: list[list[Name | StageStep]] = []
    """Chains of names: each is answered before the next starts. Together a partial order. A step
    {by: STAGE} is all that a stage of the agent does."""
    others: Literal["counted", "allowed", "forbidden"] | list[str] | None = None
    """Calls that are not expected: counted, allowed, forbidden, or only those of these globs."""
    never: list[str | StageTools] = []
    """Globs of tools that must not be called; {tool, by}: not by this stage of the agent."""
    may_poll: list[str] = []
    """Globs of tools that may be asked again and again."""
    at_most: AtMost = shared_default(AtMost())
    """Upper bounds on calls and turns."""
    code: CodeRules | None = None
    """What the code must hold that the model writes."""
    answer: list[AnswerCheck] = []
    """What the part's last reply must hold."""
    state: list[StateCheck] = []
    """What must be so at the end."""
    failures: FailureRules = shared_default(FailureRules())
    """What handles a failure, and what is a false claim."""
    either: list[Expect] | None = None
    """Alternatives: any of them is right."""


class StageBudget(Strict):
    """Limits on the effort of one stage of the agent."""

    model_calls: int | None = Field(None, ge=0)
    """Requests to the model."""
    tokens: int | None = Field(None, ge=0)
    """Tokens in and out."""


class Budget(Strict):
    """Limits on time and effort: milliseconds, counts and money."""

    turn_ms: float | None = Field(None, gt=0)
    """Milliseconds of every turn."""
    tool_ms: float | None = Field(None, gt=0)
    """Milliseconds of all tools together."""
    model_calls: int | None = Field(None, ge=0)
    """Requests to the model."""
    tokens: int | None = Field(None, ge=0)
    """Tokens in and out."""
    money: float | None = Field(None, ge=0)
    """What the tokens cost, in the currency of the models' prices."""
    first_words_ms: float | None = Field(None, gt=0)
    """Milliseconds of every turn until the first words of the reply."""
    by: dict[Stage, StageBudget] = {}
    """Limits on single stages of the agent."""


class Part(Strict):
    """One part of a task with several."""

    say: str
    """The user's opening words."""
    user: list[UserRule] = []
    """The scripted user; the first rule that fits answers."""
    answers: list[ServerAnswer] = []
    """How the user answers questions of servers; the first that fits."""
    expect: Expect = shared_default(Expect())
    """What is expected of this part."""
    fresh: bool = False
    """A new conversation begins here."""


class Task(Strict):
    """A scripted conversation with expectations."""

    task: Name
    """The task's name."""
    title: str | None = None
    """What it is about, in a line."""
    tags: list[str] = []
    """Words to find it by."""
    given: dict[Name, Given] = {}
    """Where the task starts, on top of a server's mock."""
    offer: Offer | None = None
    """Tools by server, of those that an agent is offered; left out: all of them."""
    truth: list[TruthLookup] = []
    """What Ferox looks up itself, to hold the answer against."""
    say: str | None = None
    """The user's opening words."""
    user: list[UserRule] = []
    """The scripted user; the first rule that fits answers."""
    answers: list[ServerAnswer] = []
    """How the user answers questions of servers; the first that fits, and none: declined."""
    approvals: list[Approval] = []
    """How approvals are decided that the agent asks for."""
    faults: list[Fault] = []
    """Failures that Ferox injects."""
    expect: Expect = shared_default(Expect())
    """What is expected; with `parts`, what is expected over all of them."""
    budget: Budget = shared_default(Budget())
    """Limits on time and effort."""
    parts: list[Part] | None = None
    """A task in several parts, instead of `say`."""

    @model_validator(mode="after")
    def _check_words(self) -> Task:
        if (self.say is None) == (self.parts is None):
            raise ValueError("a task has either `say` or `parts`")
        return self


class KnownFailure(Strict):
    """A task that is known to fail for now: shown as known, and not counted as broken."""

    task: Name
    """The task that fails."""
    agents: list[str] = []
    """Agents, or arms of plans, with which it fails; left out: all."""
    why: str
    """Why it fails, and what is being done about it."""
    until: date | None = None
    """The last day (UTC) on which the failure is known; left out: until it is taken out."""


class Suite(Document):
    """A file of tasks."""

    suite: Name
    """The suite's name."""
    title: str | None = None
    """What it is about, in a line."""
    servers: dict[Name, Name] = {}
    """Each server and its mode: mock, recorded, live, or a variant."""
    clock: str = Field(
        "2031-03-14T06:30:00Z",
        description="RFC 3339: the trials' now. `now`: the real time at which a run is planned.",
    )
    prepare: list[Step] = []
    """Done before trials on live servers: calls and commands of Ferox's own."""
    restore: list[Step] = []
    """Done after trials on live servers."""
    zone: str = "UTC"
    """IANA name of the zone that days and times are read in."""
    tasks: list[Task]
    """The tasks."""
    known: list[KnownFailure] = []
    """Tasks that are known to fail, so that they hold up nobody."""
