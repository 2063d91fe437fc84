"""A conversation's spans as a trace: what they tell, and what they do not."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, cast

from ferox.bringing.conversations import Conversation
from ferox.bringing.messages import (
    INSTRUCTIONS,
    Message,
    ToolCall,
    exception_message,
    input_messages,
    instructions_of,
    output_messages,
    tool_result,
)
from ferox.bringing.spans import Span, SpanError, structured
from ferox.core.json_values import equal_json
from ferox.formats.trace import CallError, Event, OfferedTool, Trace, Unseen

TELL_FAILURES = ("pydantic-ai", "fastmcp", "ferox")
"""Instrumentations that mark a call whose result is an error. Others mark only what broke on the
way, so that of a call without a mark nobody can say whether it failed."""
MOST_EVENTS = 20_000
NEVER = "never_answered"
"""The type of error by which Ferox's own spans tell a call that got no answer."""
FindTool = Callable[[str], str]
"""The address of a tool by the name that the spans have for it."""


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


@dataclass
class _Request:
    """A request to a model, with its messages."""

    span: Span
    shown: list[Message] | None
    said: list[Message] | None
    proposals: list[tuple[str, ToolCall]] = field(default_factory=list)
    """Its proposals, each with an id that nothing else in the trace has."""

    @property
    def text(self) -> str | None:
        return "\n".join(m.text for m in self.said if m.text) or None if self.said else None


class _Reading:
    """One conversation being read. `unseen` gathers what it does not tell."""

    def __init__(self, conversation: Conversation, find_tool: FindTool) -> None:
        self._conversation, self._find_tool = conversation, find_tool
        self._start = conversation.spans[0].start
        self._unseen: set[Unseen] = {"approvals", "truth", "data", "rules"}
        self._requests = [
            _Request(span, input_messages(span), output_messages(span))
            for span in conversation.chats
        ]
        for n, request in enumerate(self._requests, 1):
            calls = [call for message in request.said or () for call in message.calls]
            request.proposals = [(call.id or f"p{n}.{i}", call) for i, call in enumerate(calls, 1)]

    def trace(self) -> SpanTrace:
        turns = self._turns()
        calls = self._calls()
        models = [self._model_event(n, request) for n, request in enumerate(self._requests, 1)]
        events = [*turns, *calls, *models, *self._approvals()]
        if len(events) > MOST_EVENTS:
            raise SpanError(f"more than {MOST_EVENTS:,} events in one conversation")
        # Stable, and turns come first: what begins with a turn belongs to it.
        events.sort(key=lambda event: event["t"])
        self._note_unseen(calls)
        first = self._conversation.spans[0]
        instructions = self._instructions()
        ends = max(span.end for span in self._conversation.spans)
        root = self._root()
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
            "tools": self._tools(calls),
            "events": [*events, self._end_event(root, ends)],
        }
        if instructions is not None:
            body["instructions"] = instructions
        body["not_seen"] = sorted(self._unseen)
        return SpanTrace(
            trace=cast(Trace, body),
            agent=self._agent(),
            suite=self._first_text("ferox.suite"),
            task=self._first_text("ferox.task"),
            started_at=first.start / 1e9,
            words=next((t.get("text") for t in turns if t["kind"] == "turn"), None),
            model=self._first_text("gen_ai.request.model", "gen_ai.response.model"),
        )

    def _seconds(self, nanoseconds: int) -> float:
        return round((nanoseconds - self._start) / 1e9, 6)

    def _first_text(self, *keys: str) -> str | None:
        """The first of the spans, or of what they are of, that says something."""
        for span in self._conversation.spans:
            said = span.text(*keys)
            of_resource = next((span.resource[k] for k in keys if k in span.resource), None)
            if said or isinstance(of_resource, str):
                return said or str(of_resource)
        return None

    def _agent(self) -> str | None:
        for span in self._conversation.agents:
            for one in (span, *self._conversation.inside(span)):
                name = one.text("gen_ai.agent.name") if "agent" in one.name else None
                if name:
                    return name
        named = self._first_text("gen_ai.agent.name", "service.name")
        return None if named is None or named.startswith("unknown_service") else named

    def _root(self) -> Span | None:
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
                "t": self._seconds(ends),
                "kind": "end",
                "why": "done" if done else why,
                "reason": None if done else reason,
            },
        )

    def _instructions(self) -> str | None:
        instructed = [s for s in self._conversation.spans if s.get(INSTRUCTIONS)]
        for span in (*instructed, *self._conversation.chats):
            found = instructions_of(span)
            if found:
                return found
        if not any(request.shown for request in self._requests):
            self._unseen.add("instructions")
        return None

    def _turns(self) -> list[Event]:
        """The user's words and the replies: by the runs of agents, else by what models were
        shown."""
        agents = self._conversation.agents
        turns = list(self._agent_turns(agents) if agents else self._chat_turns())
        if not turns:
            self._unseen |= {"words", "reply", "turns"}
            turns = [_words(None, 0.0)]
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
            yield _words(words, self._seconds(agent.start))
            reply = self._reply_of(agent, inner, requests)
            if reply is not None:
                data = structured(agent.get("ferox.data"))
                yield _reply(reply, self._seconds(agent.end), data)
            elif not agent.failed:
                self._unseen.add("reply")

    def _reply_of(self, agent: Span, inner: list[Span], requests: list[_Request]) -> str | None:
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
        before: _Request | None = None
        for request in self._requests:
            begins = bool(request.shown) and (request.shown or [])[-1].role == "user"
            if before is None or (begins and not before.proposals):
                if before is not None:
                    yield from self._chat_reply(before)
                words = _last_words(request.shown or [])
                yield _words(words, self._seconds(request.span.start))
            before = request
        if before is not None:
            yield from self._chat_reply(before)

    def _chat_reply(self, request: _Request) -> Iterator[Event]:
        if request.text is not None and not request.proposals:
            yield _reply(request.text, self._seconds(request.span.end))
        else:
            self._unseen.add("reply")

    def _model_event(self, number: int, request: _Request) -> Event:
        span = request.span
        used = (span.get("gen_ai.usage.input_tokens"), span.get("gen_ai.usage.output_tokens"))
        counts = [n if isinstance(n, int) and n >= 0 else None for n in used]
        usage = None if counts[0] is None else {"input": counts[0], "output": counts[1] or 0}
        if usage is None and not span.failed:
            self._unseen.add("usage")
        body: dict[str, Any] = {
            "t": self._seconds(span.start),
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
            "error": self._error_of(span, "model_error"),
            "fault": None,
        }
        offered = _offered_names(span)
        if offered is not None:
            body["offered"] = [self._find_tool(name) for name in offered]
        return cast(Event, body)

    def _error_of(self, span: Span, kind: str) -> CallError | None:
        type_of = span.text("error.type")
        if not span.failed and type_of is None:
            return None
        message = exception_message(span.events) or span.message or type_of or "it failed"
        return {"kind": kind, "message": message}

    def _calls(self) -> list[Event]:
        """The calls: those that have spans, else those whose results models were shown."""
        if self._conversation.tools:
            return self._spanned_calls()
        if any(request.said for request in self._requests):
            return list(self._shown_calls())
        self._unseen.add("calls")
        return []

    def _spanned_calls(self) -> list[Event]:
        left = [(id, call) for request in self._requests for id, call in request.proposals]
        responses = self._responses()
        return [
            self._spanned_call(number, span, left, responses)
            for number, span in enumerate(self._conversation.tools, 1)
        ]

    def _spanned_call(
        self,
        number: int,
        span: Span,
        left: list[tuple[str, ToolCall]],
        responses: dict[str, Any],
    ) -> Event:
        """A call as its span, and the spans inside it, tell; `left` are proposals that no call
        has taken yet."""
        spans = [span, *self._conversation.inside(span)]
        name = next(filter(None, map(_tool_name, spans)), "unknown")
        id = span.text("gen_ai.tool.call.id")
        args = structured(_first(spans, "gen_ai.tool.call.arguments"))
        proposal = _taken_proposal(left, id, name, args)
        if args is None and proposal is not None:
            args = proposal[1].args
        error = next(filter(None, (self._error_of(s, "tool_error") for s in spans)), None)
        result = _first(spans, "gen_ai.tool.call.result")
        if result is None and id is not None:
            result = responses.get(id)
        marked = any(s.scope in TELL_FAILURES for s in spans)
        answered = span.text("error.type") != NEVER
        hidden: list[Unseen] = []
        if not isinstance(args, dict):
            hidden.append("arguments")
        if error is None and result is None:
            hidden.append("results")
        if error is None and not marked:
            hidden.append("outcomes")
        return cast(
            Event,
            {
                "t": self._seconds(span.start),
                "kind": "call",
                "id": f"c{number}",
                "seam": "tool",
                "tool": span.text("ferox.tool") or self._find_tool(name),
                "args": args if isinstance(args, dict) else {},
                "s": round((span.end - span.start) / 1e9, 6) if answered else None,
                "result": None if error else tool_result(result),
                "error": error if answered else None,
                "fault": span.text("ferox.fault"),
                "proposal": span.text("ferox.proposal") or (proposal and proposal[0]),
                **({"not_seen": hidden} if hidden else {}),
            },
        )

    def _shown_calls(self) -> Iterator[Event]:
        """Calls that have no spans: what a model proposed, and was shown a response to. They were
        made between two requests; when, is not seen, nor whether they failed."""
        number = 0
        for request, following in zip(self._requests, self._requests[1:], strict=False):
            responses = {r.id: r.result for m in following.shown or () for r in m.responses}
            for id, call in request.proposals:
                if id not in responses:
                    continue
                number += 1
                begins = self._seconds(request.span.end)
                hidden: list[Unseen] = ["times", "outcomes"]
                if not isinstance(call.args, dict):
                    hidden.append("arguments")
                yield cast(
                    Event,
                    {
                        "t": begins,
                        "kind": "call",
                        "id": f"c{number}",
                        "seam": "tool",
                        "tool": self._find_tool(call.name),
                        "args": call.args if isinstance(call.args, dict) else {},
                        "s": round(max(0.0, self._seconds(following.span.start) - begins), 6),
                        "result": responses[id],
                        "error": None,
                        "fault": None,
                        "proposal": id,
                        "not_seen": hidden,
                    },
                )

    def _responses(self) -> dict[str, Any]:
        """What models were shown of calls, by their ids."""
        return {
            response.id: response.result
            for request in self._requests
            for message in request.shown or ()
            for response in message.responses
        }

    def _approvals(self) -> list[Event]:
        """The approvals that Ferox's own spans tell."""
        found: list[Event] = []
        if self._root() is not None:
            self._unseen -= {"approvals", "data"}
        for span in self._conversation.spans if self._root() is not None else ():
            for event in span.events:
                if event.name != "ferox.approval":
                    continue
                about = event.attributes
                edited = structured(about.get("ferox.edited"))
                body: dict[str, Any] = {
                    "t": self._seconds(event.at or span.start),
                    "kind": "ask",
                    "id": str(len(found) + 1),
                    "tool": str(about.get("gen_ai.tool.name")),
                    "args": structured(about.get("gen_ai.tool.call.arguments")),
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

    def _tools(self, calls: list[Event]) -> dict[str, OfferedTool]:
        """The tools that models were shown, and those that were called."""
        found: dict[str, OfferedTool] = {}
        for span in self._conversation.spans:
            for body in _definitions(span):
                schema = body.get("parameters", body.get("inputSchema"))
                offered: OfferedTool = {"description": str(body.get("description") or "")}
                if isinstance(schema, dict):
                    offered["input"] = schema
                found.setdefault(self._find_tool(str(body.get("name") or "")), offered)
        for call in calls:
            if call["kind"] == "call":
                found.setdefault(call["tool"], {})
        return found


def _words(text: str | None, at: float) -> Event:
    return {"t": at, "kind": "turn", "part": 0, "text": text, "rule": None}


def _reply(text: str, at: float, data: Any = None) -> Event:
    return {"t": at, "kind": "reply", "text": text, "data": data}


def _first(spans: list[Span], key: str) -> Any:
    return next((v for v in (span.get(key) for span in spans) if v is not None), None)


def _tool_name(span: Span) -> str | None:
    """A tool's name; of a client of MCP that gives none, the last word of its span's."""
    named = span.text("gen_ai.tool.name")
    if named is None and span.get("mcp.method.name"):
        return span.name.rpartition(" ")[2] or None
    return named


def _taken_proposal(
    left: list[tuple[str, ToolCall]], id: str | None, name: str, args: Any
) -> tuple[str, ToolCall] | None:
    """The proposal that a call answers, taken from those that are left: by its id, else the first
    of the same tool and arguments."""
    for place, (own, call) in enumerate(left):
        same = call.name == name and (args is None or equal_json(call.args, args))
        if own == id or (id is None and same):
            return left.pop(place)
    return None


def _definitions(span: Span) -> list[dict[str, Any]]:
    listed = structured(span.get("gen_ai.tool.definitions"))
    found = []
    for one in listed if isinstance(listed, list) else ():
        body = structured(one)
        inner = body.get("function") if isinstance(body, dict) else None
        if isinstance(inner, dict):
            body = inner
        if isinstance(body, dict) and body.get("name"):
            found.append(body)
    return found


def _offered_names(span: Span) -> list[str] | None:
    if span.get("gen_ai.tool.definitions") is None:
        return None
    return [str(body["name"]) for body in _definitions(span)]


def _last_words(messages: list[Message]) -> str | None:
    """What the user said last."""
    return next((m.text for m in reversed(messages) if m.role == "user" and m.text), None)


def _as_time(nanoseconds: int) -> str:
    moment = datetime.fromtimestamp(nanoseconds // 10**9, UTC)
    return moment.isoformat().replace("+00:00", "Z")
