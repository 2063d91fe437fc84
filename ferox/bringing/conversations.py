"""Spans sorted into conversations: which belong to one trial."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

from ferox.bringing.messages import Message, input_messages, output_messages
from ferox.bringing.spans import LoggedEvent, Span

CONVERSATION = "gen_ai.conversation.id"
OPERATION = "gen_ai.operation.name"
CHAT = ("chat", "generate_content", "text_completion")
AGENT = ("invoke_agent", "create_agent_run", "invoke_workflow")
TOOL = "execute_tool"
MCP_CALL = "tools/call"
MOST_SPANS = 5_000
"""Spans of one conversation; a longer one is none that an agent had."""


@dataclass
class Conversation:
    """The spans of one trial, by when they began."""

    spans: list[Span] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.spans.sort(key=lambda span: (span.start, -span.end))

    @cached_property
    def by_id(self) -> dict[tuple[str, str], Span]:
        """Each span by its trace and id."""
        return {(span.trace, span.id): span for span in self.spans}

    def ancestors(self, span: Span) -> list[Span]:
        """The spans that one lies in, the innermost first."""
        found: list[Span] = []
        seen = {span.id}
        while (span.trace, span.parent) in self.by_id and span.parent not in seen:
            span = self.by_id[span.trace, span.parent]
            seen.add(span.id)
            found.append(span)
        return found

    @cached_property
    def chats(self) -> list[Span]:
        """The requests to models. One inside another, told by two instrumentations, is one."""
        return self._outermost_of([s for s in self.spans if s.get(OPERATION) in CHAT])

    @cached_property
    def tools(self) -> list[Span]:
        """The calls of tools; of those inside each other, the outermost."""
        return self._outermost_of([span for span in self.spans if is_tool(span)])

    @cached_property
    def agents(self) -> list[Span]:
        """The outermost runs of agents: a turn each."""
        return self._outermost_of([s for s in self.spans if s.get(OPERATION) in AGENT])

    def inside(self, span: Span) -> list[Span]:
        """The spans that lie in one."""
        return [s for s in self.spans if span in self.ancestors(s)]

    def _outermost_of(self, chosen: list[Span]) -> list[Span]:
        ids = {(span.trace, span.id) for span in chosen}
        return [
            span for span in chosen if not any((a.trace, a.id) in ids for a in self.ancestors(span))
        ]


def is_tool(span: Span) -> bool:
    """Whether a span is a call of a tool: by the agent's framework, or by a client of MCP."""
    return bool(span.get(OPERATION) == TOOL or span.get("mcp.method.name") == MCP_CALL)


def _is_about_an_agent(span: Span) -> bool:
    return is_tool(span) or span.get(OPERATION) in (*CHAT, *AGENT)


def sort_conversations(found: Iterable[Span | LoggedEvent]) -> list[Conversation]:
    """The conversations of spans, by when they began; traces that hold nothing of an agent are
    left out.

    Traces with one conversation's id are one; so are those of which one goes on where another's
    messages end.
    """
    by_trace: defaultdict[str, list[Span]] = defaultdict(list)
    records: defaultdict[tuple[str, str], list[LoggedEvent]] = defaultdict(list)
    for one in found:
        if isinstance(one, LoggedEvent):
            records[one.trace, one.span].append(one)
        else:
            by_trace[one.trace].append(one)
    groups: dict[str, list[Span]] = {}
    for trace, spans in by_trace.items():
        for span in spans:
            span.events += [record.event for record in records[span.trace, span.id]]
        if any(map(_is_about_an_agent, spans)):
            named = next(filter(None, (span.text(CONVERSATION) for span in spans)), trace)
            groups.setdefault(named, []).extend(spans)
    ordered = sorted(map(Conversation, groups.values()), key=lambda c: c.spans[0].start)
    return _join_conversations(ordered)


def _join_conversations(conversations: list[Conversation]) -> list[Conversation]:
    """Conversations of which one goes on where another ended, as one.

    Of several that ended alike, the one that has waited longest is gone on with.
    """
    joined: list[Conversation] = []
    waiting: defaultdict[History, list[int]] = defaultdict(list)
    ended: dict[int, History] = {}
    for one in conversations:
        keys = (key for key in _possible_beginnings(one) if waiting.get(key))
        place = next((waiting[key][0] for key in keys), None)
        if place is None or len(joined[place].spans) + len(one.spans) > MOST_SPANS:
            place = len(joined)
            joined.append(one)
        else:
            joined[place] = Conversation([*joined[place].spans, *one.spans])
            waiting[ended.pop(place)].remove(place)
        end = _end_of(joined[place])
        if end is not None:
            waiting[end].append(place)
            ended[place] = end
    return joined


History = tuple[int, int]
"""So many messages, and a hash of what they say."""


def _possible_beginnings(conversation: Conversation) -> list[History]:
    """The histories that a conversation's first request may go on from, the longest first."""
    first = next(iter(conversation.chats), None)
    shown = _histories_of(input_messages(first) or []) if first else []
    return [history for history in reversed(shown[:-1]) if history[0] > 1]


def _end_of(conversation: Conversation) -> History | None:
    """The history at a conversation's end."""
    if not conversation.chats:
        return None
    last = max(conversation.chats, key=lambda span: span.start)
    shown, said = input_messages(last), output_messages(last)
    return _histories_of([*shown, *said])[-1] if shown and said else None


def _histories_of(messages: list[Message]) -> list[History]:
    """The history after each message; instructions stand apart in some requests."""
    found: list[History] = []
    so_far = 0
    for message in messages:
        if message.role not in ("system", "developer"):
            so_far = hash((so_far, message.likeness))
            found.append((len(found) + 1, so_far))
    return found or [(0, 0)]
