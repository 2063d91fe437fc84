"""A conversation's spans as a trace: what they tell, and what they do not."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, cast

from ferox.bringing.conversations import Conversation
from ferox.bringing.messages import (
    INSTRUCTIONS,
    Message,
    exception_message,
    input_messages,
    instructions_of,
    output_messages,
)
from ferox.bringing.span_calls import (
    CallReading,
    FindTool,
    ModelRequest,
    error_of,
    seconds_since,
)
from ferox.bringing.spans import Span, SpanError
from ferox.formats.trace import Event, OfferedTool, Trace, Unseen
from ferox.intake.json_text import parsed_json

MOST_EVENTS = 20_000


@dataclass
class SpanTrace:
    """What came of a conversation's spans: a trace but for its task, and what names it."""

    trace: Trace
    agent: str | None
    suite: str | None
    task: str | None
    started_at: float
    words: str | None
    """The user's first words, if they are told."""
    model: str | None


def trace_of(conversation: Conversation, find_tool: FindTool) -> SpanTrace:
    """Make a trace of a conversation's spans.

    Raises:
        SpanError: there is more in it than a trace may hold.
    """
    return _Reading(conversation, find_tool).trace()


class _Reading:
    """One conversation being read. `unseen` gathers what it does not tell."""

    def __init__(self, conversation: Conversation, find_tool: FindTool) -> None:
        self._conversation, self._find_tool = conversation, find_tool
        self._start = conversation.spans[0].start
        self._unseen: set[Unseen] = {"approvals", "truth", "data", "rules"}
        self._requests = [ModelRequest.read(n, s) for n, s in enumerate(conversation.chats, 1)]

    def trace(self) -> SpanTrace:
        turns = self._turn_events()
        calls = self._call_events()
        models = [self._model_event(n, request) for n, request in enumerate(self._requests, 1)]
        events = [*turns, *calls, *models, *self._approval_events()]
        if len(events) > MOST_EVENTS:
            raise SpanError(f"more than {MOST_EVENTS:,} events in one conversation")
        # Stable, and turns come first: what begins with a turn belongs to it.
        events.sort(key=lambda event: event["t"])
        self._note_unseen(calls)
        first = self._conversation.spans[0]
        instructions = self._find_instructions()
        ends = max(span.end for span in self._conversation.spans)
        root = self._root_span()
        clock = self._first_text("ferox.clock") or _as_time(self._start)
        body: dict[str, Any] = {
            "ferox_trace": 1,
            "agent": "",
            "suite": "",
            "task": "",
            "trial": 1,
            "clock": clock,
            "zone": self._first_text("ferox.zone") or "",
            "model_seam": bool(self._requests),
            "tools": self._tools_seen(calls),
            "events": [*events, self._end_event(root, ends)],
        }
        if instructions is not None:
            body["instructions"] = instructions
        body["not_seen"] = sorted(self._unseen)
        return SpanTrace(
            trace=cast(Trace, body),
            agent=self._agent_name(),
            suite=self._first_text("ferox.suite"),
            task=self._first_text("ferox.task"),
            started_at=first.start / 1e9,
            words=next((t.get("text") for t in turns if t["kind"] == "turn"), None),
            model=self._first_text("gen_ai.request.model", "gen_ai.response.model"),
        )

    def _seconds_at(self, nanoseconds: int) -> float:
        return seconds_since(self._start, nanoseconds)

    def _first_text(self, *keys: str) -> str | None:
        """The first of the spans, or of what they are of, that says something."""
        for span in self._conversation.spans:
            said = span.text(*keys)
            of_resource = next((span.resource[k] for k in keys if k in span.resource), None)
            if said or isinstance(of_resource, str):
                return said or str(of_resource)
        return None

    def _agent_name(self) -> str | None:
        for span in self._conversation.agents:
            for one in (span, *self._conversation.inside(span)):
                name = one.text("gen_ai.agent.name") if "agent" in one.name else None
                if name:
                    return name
        named = self._first_text("gen_ai.agent.name", "service.name")
        return None if named is None or named.startswith("unknown_service") else named

    def _root_span(self) -> Span | None:
        """Ferox's own span of the whole trial."""
        spans = self._conversation.spans
        return next((s for s in spans if s.scope == "ferox" and not s.parent), None)

    def _end_event(self, root: Span | None, ends: int) -> Event:
        why = root.text("error.type") if root and root.failed else None
        broke = [span for span in self._conversation.agents if span.failed]
        reason: str | None = root.message if root and why else None
        if root is None and broke:
            why = "crash"
            reason = exception_message(broke[-1].events) or broke[-1].message or "it failed"
        known = ("no_reply", "crash", "did_not_start", "limit", "stopped", "could_not_run")
        done = why not in known
        return cast(
            Event,
            {
                "t": self._seconds_at(ends),
                "kind": "end",
                "why": "done" if done else why,
                "reason": None if done else reason,
            },
        )

    def _find_instructions(self) -> str | None:
        instructed = [s for s in self._conversation.spans if s.get(INSTRUCTIONS)]
        for span in (*instructed, *self._conversation.chats):
            found = instructions_of(span)
            if found:
                return found
        if not any(request.shown for request in self._requests):
            self._unseen.add("instructions")
        return None

    def _turn_events(self) -> list[Event]:
        """The user's words and the replies: by the runs of agents, else by what models were
        shown."""
        agents = self._conversation.agents
        turns = list(self._agent_turns(agents) if agents else self._chat_turns())
        if not turns:
            self._unseen |= {"words", "reply", "turns"}
            turns = [_turn_event(None, 0.0)]
        return turns

    def _agent_turns(self, agents: list[Span]) -> Iterator[Event]:
        for agent in agents:
            inner = self._conversation.inside(agent)
            requests = [r for r in self._requests if r.span in inner]
            asked = input_messages(agent) or next(
                filter(None, (input_messages(span) for span in inner)), None
            )
            words = _last_words(asked or [])
            if words is None:
                self._unseen.add("words")
            yield _turn_event(words, self._seconds_at(agent.start))
            reply = self._reply_of(agent, inner, requests)
            if reply is not None:
                data = parsed_json(agent.get("ferox.data"))
                yield _reply_event(reply, self._seconds_at(agent.end), data)
            elif not agent.failed:
                self._unseen.add("reply")

    def _reply_of(self, agent: Span, inner: list[Span], requests: list[ModelRequest]) -> str | None:
        runs = [s for s in inner if s.get("gen_ai.operation.name") == "invoke_agent"]
        for span in (agent, *reversed(runs)):
            said = output_messages(span)
            if said and said[-1].text:
                return said[-1].text
        last = requests[-1] if requests else None
        return last.text if last is not None and not last.proposals else None

    def _chat_turns(self) -> Iterator[Event]:
        """A turn begins with a request that ends in the user's words, where the one before
        proposed no call."""
        if not any(request.shown for request in self._requests):
            return
        self._unseen.add("turns")
        before: ModelRequest | None = None
        for request in self._requests:
            begins = bool(request.shown) and (request.shown or [])[-1].role == "user"
            if before is None or (begins and not before.proposals):
                if before is not None:
                    yield from self._chat_reply(before)
                words = _last_words(request.shown or [])
                yield _turn_event(words, self._seconds_at(request.span.start))
            before = request
        if before is not None:
            yield from self._chat_reply(before)

    def _chat_reply(self, request: ModelRequest) -> Iterator[Event]:
        if request.text is not None and not request.proposals:
            yield _reply_event(request.text, self._seconds_at(request.span.end))
        else:
            self._unseen.add("reply")

    def _model_event(self, number: int, request: ModelRequest) -> Event:
        span = request.span
        used = (span.get("gen_ai.usage.input_tokens"), span.get("gen_ai.usage.output_tokens"))
        counts = [n if isinstance(n, int) and n >= 0 else None for n in used]
        usage = None if counts[0] is None else {"input": counts[0], "output": counts[1] or 0}
        if usage is None and not span.failed:
            self._unseen.add("usage")
        body: dict[str, Any] = {
            "t": self._seconds_at(span.start),
            "kind": "model",
            "id": f"m{number}",
            "s": round((span.end - span.start) / 1e9, 6),
            "voice": span.text("ferox.voice", "gen_ai.agent.name") or "main",
            "proposed": [
                {"id": id, "tool": self._find_tool(call.name), "args": call.args}
                for id, call in request.proposals
            ],
            "text": request.text,
            "usage": usage,
            "error": error_of(span, "model_error"),
            "fault": None,
        }
        offered = _offered_names(span)
        if offered is not None:
            body["offered"] = [self._find_tool(name) for name in offered]
        return cast(Event, body)

    def _call_events(self) -> list[Event]:
        """The calls: those that have spans, else those whose results models were shown."""
        reading = CallReading(self._conversation, self._requests, self._find_tool, self._start)
        if self._conversation.tools:
            return reading.spanned_calls()
        if any(request.said for request in self._requests):
            return list(reading.shown_calls())
        self._unseen.add("calls")
        return []

    def _approval_events(self) -> list[Event]:
        """The approvals that Ferox's own spans tell."""
        found: list[Event] = []
        if self._root_span() is not None:
            self._unseen -= {"approvals", "data"}
        for span in self._conversation.spans if self._root_span() is not None else ():
            for event in span.events:
                if event.name != "ferox.approval":
                    continue
                about = event.attributes
                edited = parsed_json(about.get("ferox.edited"))
                body: dict[str, Any] = {
                    "t": self._seconds_at(event.at or span.start),
                    "kind": "ask",
                    "id": str(len(found) + 1),
                    "tool": str(about.get("gen_ai.tool.name")),
                    "args": parsed_json(about.get("gen_ai.tool.call.arguments")),
                    "decision": about.get("ferox.decision"),
                    "edited": edited,
                    "s": 0.0,
                }
                found.append(cast(Event, body))
        return found

    def _note_unseen(self, calls: list[Event]) -> None:
        """What the trial as a whole does not tell."""
        if calls and not any(request.proposals for request in self._requests):
            self._unseen.add("proposals")
        if not any(_offered_names(span) is not None for span in self._conversation.chats):
            self._unseen.add("offers")

    def _tools_seen(self, calls: list[Event]) -> dict[str, OfferedTool]:
        """The tools that models were shown, and those that were called."""
        found: dict[str, OfferedTool] = {}
        for span in self._conversation.spans:
            for body in _tool_definitions(span):
                schema = body.get("parameters", body.get("inputSchema"))
                offered: OfferedTool = {"description": str(body.get("description") or "")}
                if isinstance(schema, dict):
                    offered["input"] = schema
                found.setdefault(self._find_tool(str(body.get("name") or "")), offered)
        for call in calls:
            if call["kind"] == "call":
                found.setdefault(call["tool"], {})
        return found


def _turn_event(text: str | None, at: float) -> Event:
    return {"t": at, "kind": "turn", "part": 0, "text": text, "rule": None}


def _reply_event(text: str, at: float, data: Any = None) -> Event:
    return {"t": at, "kind": "reply", "text": text, "data": data}


def _tool_definitions(span: Span) -> list[dict[str, Any]]:
    listed = parsed_json(span.get("gen_ai.tool.definitions"))
    found = []
    for one in listed if isinstance(listed, list) else ():
        body = parsed_json(one)
        inner = body.get("function") if isinstance(body, dict) else None
        if isinstance(inner, dict):
            body = inner
        if isinstance(body, dict) and body.get("name"):
            found.append(body)
    return found


def _offered_names(span: Span) -> list[str] | None:
    if span.get("gen_ai.tool.definitions") is None:
        return None
    return [str(body["name"]) for body in _tool_definitions(span)]


def _last_words(messages: list[Message]) -> str | None:
    """What the user said last."""
    return next((m.text for m in reversed(messages) if m.role == "user" and m.text), None)


def _as_time(nanoseconds: int) -> str:
    moment = datetime.fromtimestamp(nanoseconds // 10**9, UTC)
    return moment.isoformat().replace("+00:00", "Z")
