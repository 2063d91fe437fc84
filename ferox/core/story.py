"""A trace as scoring reads it: the calls that count, what was proposed, said and asked.

Times are whole microseconds here, so that comparisons are exact.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fnmatch import fnmatchcase
from functools import cached_property
from typing import Any

from ferox.core.json_values import canonical_json, equal_json
from ferox.core.matchers import result_text
from ferox.core.writings import split_words
from ferox.formats.trace import (
    AskEvent,
    CallError,
    CallEvent,
    Event,
    HoldEvent,
    ModelEvent,
    QuestionEvent,
    Trace,
)

OWN = "own/"
"""How the addresses of the agent's own tools begin."""


def to_micros(seconds: float) -> int:
    """Seconds as whole microseconds."""
    return round(seconds * 1_000_000)


def fits_any(tool: str, globs: list[str]) -> bool:
    """Whether an address fits one of the globs."""
    return any(fnmatchcase(tool, glob) for glob in globs)


@dataclass(eq=False)
class Call:
    """A call that counts. `end` is None if it never ended."""

    id: str
    tool: str
    args: Any
    start: int
    end: int | None
    result: Any
    error: CallError | None
    index: int
    proposal: str | None = None
    fault: str | None = None
    fault_n: int | None = None
    hides: str | None = None
    """The served tool in whose place it ran, if it has the name of one."""
    unseen: frozenset[str] = frozenset()
    """What of it a trace from elsewhere does not tell."""
    by: str | None = None
    """The stage of the agent that called; None if that was not seen."""

    @property
    def failed(self) -> bool:
        """It ended in an error, or never ended."""
        return self.error is not None or self.end is None

    @cached_property
    def signature(self) -> str:
        """Tool and canonical arguments: equal for the same call."""
        return f"{self.tool} {canonical_json(self.args)}"

    def repeats(self, other: Call) -> bool:
        """The same tool and arguments, and the same result, or kind and message of error."""
        if (self.unseen | other.unseen) & {"arguments", "results", "outcomes"}:
            return False  # nobody can say
        if self.tool != other.tool or not equal_json(self.args, other.args):
            return False
        if self.error is not None or other.error is not None:
            failures = [(e.get("kind"), e.get("message")) for e in (self.error, other.error) if e]
            return len(failures) == 2 and failures[0] == failures[1]
        if self.end is None or other.end is None:
            return self.end is other.end
        return equal_json(self.result, other.result)

    @cached_property
    def result_text(self) -> str:
        """What the call brought back, as a text to look for values in."""
        return result_text(self.result) if self.error is None else str(self.error.get("message"))


@dataclass(frozen=True)
class UndispatchedProposal:
    """A proposal that never became a call."""

    id: str
    tool: str
    at: int
    kind: str
    message: str


@dataclass(frozen=True)
class Turn:
    """Words of the user, and the reply's time and text if one came."""

    start: int
    text: str
    rule: int | None
    replied: int | None
    reply: str | None
    data: Any
    part: int = 0
    heard: int | None = None
    """When the first words of the reply reached the user."""


@dataclass
class Story:
    """Everything that scoring asks of a trace."""

    trace: Trace
    calls: list[Call] = field(default_factory=list)
    denied: list[CallEvent] = field(default_factory=list)
    asks: list[AskEvent] = field(default_factory=list)
    questions: list[QuestionEvent] = field(default_factory=list)
    models: list[ModelEvent] = field(default_factory=list)
    holds: list[HoldEvent] = field(default_factory=list)
    turns: list[Turn] = field(default_factory=list)
    undispatched: list[UndispatchedProposal] = field(default_factory=list)
    end_at: int = 0
    why: str = "done"
    reason: str | None = None
    own_seen: bool = True
    reply_tools: frozenset[str] = frozenset()
    unseen: frozenset[str] = frozenset()
    """What a trace from elsewhere does not tell, of the trial or of any call."""
    faults_met: set[tuple[int | None, str | None]] = field(default_factory=set)
    """Place in the task (None where a foreign trace does not tell it) and kind."""

    @property
    def is_fork(self) -> bool:
        """Whether it goes on from a point of another trial: its times are no whole trial's."""
        return "fork" in self.trace

    def is_reply_tool(self, tool: str) -> bool:
        """Whether the framework replies by this tool: then it is neither a call nor a failure."""
        return tool.removeprefix(OWN) in self.reply_tools

    def may_be_unseen(self, tool: str) -> bool:
        """Whether calls of a tool, or of all that a glob fits, could not have been seen."""
        return "calls" in self.unseen or (not self.own_seen and tool.startswith(OWN))

    @cached_property
    def first_turn_at(self) -> int:
        """When the user first said something: what came before belongs to the start."""
        return self.turns[0].start if self.turns else self.end_at

    @cached_property
    def user_words(self) -> list[tuple[int, str]]:
        """What the user said, with times."""
        return [(turn.start, turn.text) for turn in self.turns]


def is_stage(name: str | None, stage: str) -> bool:
    """Whether a name is that of a stage, case and punctuation aside."""
    return name is not None and split_words(name) == split_words(stage)


def _read_call(event: CallEvent, index: int, by: str | None) -> Call:
    start = to_micros(event["t"])
    seconds = event.get("s")
    return Call(
        id=event["id"],
        tool=event["tool"],
        args=event.get("args") or {},
        start=start,
        end=None if seconds is None else to_micros(event["t"] + seconds),
        result=event.get("result"),
        error=event.get("error"),
        index=index,
        proposal=event.get("proposal"),
        fault=event.get("fault"),
        fault_n=event.get("fault_n"),
        hides=event.get("hides"),
        unseen=frozenset(event.get("not_seen") or ()),
        by=event.get("by") or by,
    )


def _read_turns(events: list[Event]) -> list[Turn]:
    turns: list[Turn] = []
    for event in events:
        at = to_micros(event["t"])
        if event["kind"] == "turn":
            said, rule = event.get("text") or "", event.get("rule")
            turns.append(
                Turn(
                    start=at,
                    text=said,
                    rule=rule,
                    replied=None,
                    reply=None,
                    data=None,
                    part=event.get("part") or 0,
                )
            )
        elif event["kind"] == "partial" and turns and turns[-1].heard is None:
            turns[-1] = replace(turns[-1], heard=at)
        elif event["kind"] == "reply" and turns:
            text = event.get("text") or ""
            heard = at if turns[-1].heard is None else turns[-1].heard
            turns[-1] = replace(
                turns[-1], replied=at, heard=heard, reply=text, data=event.get("data")
            )
    return turns


def _broke_off(story: Story, events: list[Event]) -> ModelEvent | None:
    """The request to the model that nothing but the end followed: its proposals had no chance
    to be dispatched."""
    if story.why == "done":
        return None
    last = next((e for e in reversed(events) if e["kind"] in ("model", "reply", "turn")), None)
    return last if last is not None and last["kind"] == "model" else None


def _undispatched_proposals(story: Story, events: list[Event]) -> list[UndispatchedProposal]:
    referred = {e.get("proposal") for e in events if e["kind"] == "call"}
    broke_off = _broke_off(story, events)
    found = []
    for event in story.models:
        for proposal in event.get("proposed") or []:
            if proposal["id"] in referred or event is broke_off:
                continue
            if story.is_reply_tool(proposal["tool"]):
                continue
            offered = event.get("offered")
            unseen = offered is None and "offers" in story.unseen
            there = unseen or proposal["tool"] in (
                story.trace["tools"] if offered is None else offered
            )
            kind = "rejected" if there else "unknown_tool"
            at = to_micros(event["t"] + (event.get("s") or 0))
            message = "was proposed, and no call followed" if there else "no such tool was offered"
            found.append(
                UndispatchedProposal(
                    proposal["id"], proposal["tool"], at, kind=kind, message=message
                )
            )
    for call in (e for e in events if e["kind"] == "call" and e.get("seam") == "model"):
        if not story.is_reply_tool(call["tool"]):
            error = call.get("error") or {"kind": "rejected", "message": "was not dispatched"}
            at = to_micros(call["t"])
            found.append(
                UndispatchedProposal(
                    call["id"], call["tool"], at, kind=error["kind"], message=error["message"]
                )
            )
    return sorted(found, key=lambda u: u.at)


def read_story(trace: Trace) -> Story:
    """Sort a trace's events into what scoring needs."""
    events = trace["events"]
    story = Story(trace)
    story.own_seen = trace.get("own_seen", True)
    story.reply_tools = frozenset(trace.get("reply_tools") or ())
    story.unseen = frozenset(trace.get("not_seen") or ())
    counted: list[CallEvent] = []
    for event in events:
        if event["kind"] in ("call", "model") and event.get("fault"):
            story.faults_met.add((event.get("fault_n"), event.get("fault")))
        if event["kind"] == "call" and story.is_reply_tool(event["tool"]):
            continue
        if event["kind"] == "call" and event.get("seam") in ("tool", "local"):
            error = event.get("error")
            denied = error is not None and error["kind"] == "denied"
            (story.denied if denied else counted).append(event)
        elif event["kind"] == "ask":
            story.asks.append(event)
        elif event["kind"] == "question":
            story.questions.append(event)
        elif event["kind"] == "model":
            story.models.append(event)
        elif event["kind"] == "hold":
            story.holds.append(event)
        elif event["kind"] == "end":
            story.why, story.reason = event.get("why", "done"), event.get("reason")
        story.end_at = max(story.end_at, to_micros(event["t"]))
    counted.sort(key=lambda e: to_micros(e["t"]))  # stable: equal starts keep the trace's order
    voices = {
        proposal["id"]: event.get("voice")
        for event in story.models
        for proposal in event.get("proposed") or ()
    }
    story.calls = [
        _read_call(event, i, voices.get(event.get("proposal") or ""))
        for i, event in enumerate(counted)
    ]
    story.unseen = story.unseen.union(*(call.unseen for call in story.calls))
    story.turns = _read_turns(events)
    if trace["model_seam"] or any(e["kind"] == "call" and e.get("seam") == "model" for e in events):
        story.undispatched = _undispatched_proposals(story, events)
    return story
