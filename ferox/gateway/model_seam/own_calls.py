"""Calls of tools inside the agent, which cross no seam.

Ferox learns of them in two ways: the link may report them, and the model seam shows what was
proposed and, in the next request's history, what came of it. From the same two it learns which
tools are only the framework's way to reply.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import canonical_json, equal_json
from ferox.formats.agent import OWN
from ferox.formats.trace import CallError, CallEvent, Json, OfferedTool, Proposal
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder
from ferox.intake.json_text import parsed_json
from ferox.intake.limits import GivenUp

_REFUSAL = re.compile(
    r"(?i)\b(error|exception|invalid|validation|not found|does not exist|unknown tool|not allowed"
    r"|denied|refused|failed|missing|required|rejected|unavailable)\b"
)
"""Words of a framework that did not carry a call out, near the start of what it said."""
REFUSAL_WITHIN = 200


def looks_refused(text: str) -> bool:
    """Whether a framework's words in a result's place say that it did not carry the call out."""
    return _REFUSAL.search(text[:REFUSAL_WITHIN]) is not None


@dataclass
class OwnCalls:
    """One trial's calls inside the agent.

    `declared` are the agent's own tools by its file, `reply_tools` those by which it replies.
    """

    recorder: Recorder
    seen: SeenByModel
    declared: Iterable[str] = ()
    reply_tools: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.reported = False
        """Whether the link has told of any."""
        self._inferred: dict[str, CallEvent] = {}
        self._served: dict[str, tuple[Proposal, float]] = {}
        self._latest: list[Proposal] = []
        self._approved: list[tuple[str, float]] = []
        """Approvals by tool, with their times."""
        self._by_stand_in: tuple[str, str] | None = None
        self.seen.declared = frozenset(self.declared)

    def note_proposals(self, proposals: list[Proposal], voice: str | None) -> None:
        """A model proposed these; those of the agent's own tools are called inside."""
        self._latest = proposals
        for proposal in proposals:
            tool = proposal["tool"]
            if not tool.startswith(f"{OWN}/"):
                self._served[proposal["id"]] = proposal, self.recorder.now()
            # No link may report the call: it begins here, and ends with the next history.
            elif tool.removeprefix(f"{OWN}/") not in self.reply_tools:
                self._inferred[proposal["id"]] = self._begin_call(
                    tool, proposal["args"], proposal=proposal["id"], by=voice
                )

    def _begin_call(
        self,
        tool: str,
        args: Json,
        *,
        proposal: str | None,
        by: str | None = None,
        began: float | None = None,
        hides: str | None = None,
    ) -> CallEvent:
        hides = self.seen.names.find_address(tool.removeprefix(f"{OWN}/")) or hides
        return self.recorder.call(
            tool, args, seam="local", proposal=proposal, by=by, began=began, hides=hides
        )

    def came_back(self, id: str, text: str) -> None:
        """The history of a request holds this result of a proposal."""
        event = self._inferred.pop(id, None)
        if event is not None:
            self._end_call(event, text)
            return
        served = self._served.pop(id, None)
        if served is not None and self.recorder.is_open(id):
            self._answered_inside(*served, text)

    def _end_call(self, event: CallEvent, text: str) -> None:
        if self._was_refused(event["tool"], event.get("args"), text):
            self.recorder.reject_call(event, text[:2000])
        else:
            self.recorder.finish_call(event, result=parsed_json(text))

    def _was_refused(self, tool: str, args: Any, text: str) -> bool:
        """The framework refused it: the arguments do not fit what the model was shown, and what
        stands in the result's place says that something was wrong."""
        if not looks_refused(text):
            return False
        schema = self.seen.own.get(tool, {}).get("input")
        if not isinstance(args, dict):
            return True
        try:
            return bool(schema) and schema_of(schema).find_fault(args) is not None
        except (UnusableSchema, GivenUp):
            return False

    def _answered_inside(self, proposal: Proposal, at: float, text: str) -> None:
        """A served tool's proposal never reached its server, and has a result all the same:
        something in the agent answered in its place, unless the framework refused it or gave
        the answer to the same call again."""
        address, args = proposal["tool"], proposal["args"]
        made = (e for e in self.recorder.events if e["kind"] == "call" and e["tool"] == address)
        if looks_refused(text) or any(equal_json(e.get("args"), args) for e in made):
            return
        if self.seen.names.find_address(address) is None:
            return  # a tool that nobody serves
        name = self.seen.shown_as.get(address, address.split("/", 1)[1])
        self.recorder.take_proposal(address, args)
        tool = f"{OWN}/{name}"
        self.seen.became_own(address, tool)
        event = self._begin_call(tool, args, began=at, proposal=proposal["id"], hides=address)
        self.recorder.finish_call(event, result=parsed_json(text))

    def report_call(self, message: dict[str, Any], turn_began: float) -> None:
        """The link tells of a call that was made inside the agent."""
        self.reported = True
        tool, args = f"{OWN}/{message.get('tool')}", message.get("args")
        failed = bool(message.get("is_error"))
        error: CallError | None = None
        if failed:
            error = {"kind": "tool_error", "message": str(message.get("result"))}
        result = None if failed else parsed_json(message.get("result"))
        by = message.get("by") or None
        proposal = self.recorder.take_proposal(tool, args)
        there = self._inferred.pop(proposal or "", None)
        if there is not None:  # the model seam has told of it already
            if by:
                there["by"] = by
            self.recorder.finish_call(there, result=result, error=error)
            return
        hidden = self._hidden_proposal(str(message.get("tool")), args) if proposal is None else None
        if hidden is not None:
            proposal = hidden["id"]
            self.seen.became_own(hidden["tool"], tool)
        seconds = float(message.get("ms") or 0) / 1000
        # A call is reported when it is over, and cannot have begun before the user spoke.
        began = max(turn_began, round(self.recorder.now() - seconds, 6))
        if self.recorder.was_denied(tool, since=began):
            return  # it asked inside, and the denied call stands for it already
        began = self._approved_since(tool, began) or began
        hides = hidden["tool"] if hidden else None
        event = self._begin_call(tool, args, began=began, proposal=proposal, by=by, hides=hides)
        self.recorder.finish_call(event, result=result, error=error)

    def approved(self, tool: str, args: Json) -> None:
        """A call inside the agent was approved. It begins then: that it was proposed before is
        no sign that it was carried out."""
        self._approved.append((tool, self.recorder.now()))
        event = self._waiting_call(tool, args)
        if event is not None:
            event["t"] = self.recorder.now()
            self.recorder.update_event(event)

    def denied(self, tool: str, args: Json) -> bool:
        """Whether a call inside the agent, which is known already, was denied: it never ran."""
        event = self._waiting_call(tool, args)
        if event is None:
            return False
        self._inferred = {id: e for id, e in self._inferred.items() if e is not event}
        self.recorder.deny_known(event)
        return True

    def _waiting_call(self, tool: str, args: Json) -> CallEvent | None:
        """The inferred call of a tool that has not come back, by its arguments or the oldest."""
        there = [event for event in self._inferred.values() if event["tool"] == tool]
        same = (event for event in there if equal_json(event.get("args"), args))
        return next(same, there[0] if there else None)

    def _approved_since(self, tool: str, began: float) -> float | None:
        """When a call was approved after it began: asked for inside the tool itself. The approval
        is used up."""
        for approval in self._approved:
            if approval[0] == tool and approval[1] >= began:
                self._approved.remove(approval)
                return approval[1]
        return None

    def _hidden_proposal(self, name: str, args: Any) -> Proposal | None:
        """The proposal of a served tool of the same name that a call of the agent's own took."""
        address = self.seen.names.find_address(name)
        id = self.recorder.take_proposal(address, args) if address else None
        served = self._served.pop(id or "", None)
        return served[0] if served else None

    def may_reply_by(self, name: str, text: str) -> None:
        """A stand-in was made to reply by a tool; it is one if these words become the reply."""
        self._by_stand_in = name, text

    def note_reply(self, text: str, data: Any) -> None:
        """A reply came: the last proposal, if nothing answered it and its words are the reply's,
        was the framework's way to give it."""
        for proposal in self._latest:
            event = self._inferred.get(proposal["id"])
            if event is not None and _is_reply(proposal["args"], text, data):
                self.reply_tools.add(proposal["tool"].removeprefix(f"{OWN}/"))
                del self._inferred[proposal["id"]]
                self.recorder.finish_call(event)
        if self._by_stand_in and self._by_stand_in[1].strip() == text.strip():
            self.reply_tools.add(self._by_stand_in[0])
        self._latest, self._by_stand_in = [], None

    def would_show(self, model_seen: bool) -> bool:
        """Whether calls inside the agent would have been seen, by what passed. `model_seen`: its
        model's traffic did.

        They would if some were, or if its model was offered tools. An agent that calls tools
        and whose model is offered none acts otherwise than by proposals, by writing code perhaps.
        """
        events = self.recorder.events
        offers = [e.get("offered") or [] for e in events if e["kind"] == "model"]
        own_offered = any(a.startswith(f"{OWN}/") for offer in offers for a in offer)
        calls = [e for e in events if e["kind"] == "call"]
        if self.reported or own_offered or any(c.get("seam") == "local" for c in calls):
            return True
        unasked = any(c.get("seam") == "tool" and not c.get("proposal") for c in calls)
        return model_seen and (any(offers) or not unasked)

    def shown_tools(self) -> dict[str, OfferedTool]:
        """The agent's own tools as its model was shown them, those aside by which it replies."""
        return {
            address: tool
            for address, tool in self.seen.own.items()
            if address.removeprefix(f"{OWN}/") not in self.reply_tools
        }


def _is_reply(args: Any, text: str, data: Any) -> bool:
    """Whether a proposal's arguments are what the agent replied."""
    if not isinstance(args, dict) or not args:
        return False
    said = text.strip()
    # Frameworks wrap the reply in one argument of any name, or spread an object's fields.
    values = list(args.values())
    if len(values) == 1 and isinstance(values[0], str) and values[0].strip() == said:
        return bool(said)
    candidates = [args, *(values if len(values) == 1 else [])]
    replied = [data, parsed_json(said)]
    return any(
        isinstance(r, dict | list) and canonical_json(c) == canonical_json(r)
        for c in candidates
        for r in replied
    )
