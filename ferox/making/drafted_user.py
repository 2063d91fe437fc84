"""The user of a draft: what a trial's user said, granted, decided and answered, as a script."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field
from itertools import groupby, pairwise
from typing import Any, NamedTuple

from ferox.core.json_values import brief_json, canonical_json, equal_json
from ferox.core.naming import free_name
from ferox.core.story import Call, Story, Turn, to_micros
from ferox.formats.trace import AskEvent, Event, QuestionEvent, Trace

_ASKING = re.compile(
    r"(?i)\b(shall I|should I|may I|can I|(?:want|like) me to|go ahead|confirm|proceed)\b"
)
_YES = re.compile(
    r"(?i)^\W*(yes|yep|yeah|sure|ok(ay)?|please|go ahead|do (it|so|that)|book it|confirm(ed)?"
    r"|correct|right|agreed|fine|sounds good|that'?s (right|fine|good)|absolutely|certainly)\b"
)
_NO = re.compile(r"(?i)\b(no|not|don'?t|cancel|stop|wait|instead|rather|but)\b")
MOST_YES_WORDS = 12
"""Words of an assent; more of them say something of their own."""


class Inference(NamedTuple):
    """One thing that was inferred, and why."""

    what: str
    why: str


@dataclass
class DraftedUser:
    """What is inferred of a trial's user. `reads` are the tools known only to read."""

    story: Story
    reads: frozenset[str] = frozenset()
    reasons: list[Inference] = field(default_factory=list)
    go_aheads: list[tuple[int, str]] = field(default_factory=list)
    """When each go-ahead was given, and its name."""

    def rules(self, turns: list[Turn]) -> list[dict[str, Any]]:
        """The rules by which the user answers as in these turns."""
        rules = []
        for before, turn in pairwise(turns):
            asked = before.reply or ""
            pattern = reply_pattern(asked)
            rule: dict[str, Any] = {"if_reply": {"matches": pattern}, "say": turn.text}
            why = f"the user answered {brief_json(turn.text, 40)} to a reply that fits /{pattern}/"
            if self._is_go_ahead(asked, turn):
                taken = {name for _, name in self.go_aheads}
                rule["grants"] = free_name("go-ahead", taken)
                self.go_aheads.append((turn.start, rule["grants"]))
                why += "; it was a go-ahead"
            rules.append({**rule, "at_most": 1})
            self.reasons.append(Inference("user", why))
        return rules

    def _is_go_ahead(self, asked: str, turn: Turn) -> bool:
        """Whether words agreed to what a reply asked for."""
        if not (_ASKING.search(asked) or asked.rstrip().endswith("?")):
            return False
        assents = bool(_YES.search(turn.text)) and not _NO.search(turn.text)
        return assents and len(turn.text.split()) <= MOST_YES_WORDS

    def go_ahead_of(self, call: Call) -> str | None:
        """The go-ahead that a call waited for: one that may write, and was never made without."""
        if call.tool in self.reads:
            return None
        given = [(at, name) for at, name in self.go_aheads if at <= call.start]
        earlier = [c for c in self.story.calls if c.tool == call.tool and c.start <= call.start]
        if not given or any(c.start < self.go_aheads[0][0] for c in earlier):
            return None
        return given[-1][1]

    # Approvals and answers

    def approvals(self) -> list[dict[str, Any]]:
        """Approvals as they were decided; where a tool's were decided differently, in turn."""
        by_tool: dict[str, list[dict[str, Any]]] = {}
        for ask in self.story.asks:
            by_tool.setdefault(ask["tool"], []).append(_approval_of(ask))
        entries: list[dict[str, Any]] = []
        for decided in by_tool.values():
            runs = [list(run) for _, run in groupby(decided, key=canonical_json)]
            entries += [{**run[0], "at_most": len(run)} for run in runs[:-1]]
            entries.append(runs[-1][0])
        if entries:
            self.reasons.append(Inference("approvals", "decided as they were in the trial"))
        return entries

    def edited_arguments(self, call: Call) -> set[str]:
        """The arguments of a call that whoever approved its tool had changed."""
        asks = [a for a in self.story.asks if a["tool"] == call.tool and a.get("edited")]
        return {key for ask in asks for key in _approval_of(ask).get("edit", ())}

    def answers(self) -> list[dict[str, Any]]:
        """What the user answered to servers' questions. What the agent's own client answered, it
        answers again."""
        entries: list[dict[str, Any]] = []
        for question in self.answered():
            entry = _answer_of(question)
            same = {k: v for k, v in entry.items() if k != "as"}
            if any(same == {k: v for k, v in e.items() if k != "as"} for e in entries):
                continue
            entries.append(entry)
            asked = brief_json(question.get("text"), 40)
            why = f"{question.get('server')} asked {asked}, and this was answered"
            self.reasons.append(Inference("answers", why))
        return entries

    def answered(self) -> list[QuestionEvent]:
        """The questions that the trial's user answered, each under a name that it has."""
        found: list[QuestionEvent] = []
        for question in self.story.questions:
            if question.get("by") in ("person", "script") and question.get("did"):
                taken = {str(q.get("name")) for q in found}
                same = next((q for q in found if _is_same(q, question)), None)
                name = same.get("name") if same else free_name("answer", taken)
                found.append({**question, "name": name})
        return found

    def as_scripted(self, trace: Trace) -> Trace:
        """The trace as if the drafted script had been its user: each turn by its rule, each answer
        by its entry."""
        events: list[Event] = []
        said: Counter[int] = Counter()
        for event in trace["events"]:
            if event["kind"] == "turn":
                part = event.get("part") or 0
                rule = said[part] - 1 if said[part] else None
                said[part] += 1
                events.append({**event, "rule": rule})
            elif event["kind"] == "question":
                named = next((q for q in self.answered() if _is_same(q, event)), None)
                events.append({**event, "name": named.get("name") if named else None})
            else:
                events.append(event)
        return {**trace, "events": events}

    def answered_before(self, at: int) -> list[tuple[str, Any]]:
        """The names and values of what was answered before a moment, the newest first."""
        given = [
            (str(q.get("name")), q.get("data"))
            for q in self.answered()
            if q.get("did") == "accept" and to_micros(q["t"] + (q.get("s") or 0)) <= at
        ]
        return given[::-1]


def _is_same(one: QuestionEvent, other: QuestionEvent) -> bool:
    keys = ("server", "text", "did")
    return all(one.get(k) == other.get(k) for k in keys) and equal_json(
        one.get("data"), other.get("data")
    )


def _answer_of(question: QuestionEvent) -> dict[str, Any]:
    entry: dict[str, Any] = {"as": question.get("name"), "server": question.get("server") or "*"}
    words = " ".join(str(question.get("text") or "").split()[:5]).rstrip("?.!,:")
    if words:
        entry["if_message"] = {"matches": f"(?i){plain_pattern(words)}"}
    match question.get("did"):
        case "accept" if question.get("data"):
            entry["give"] = question.get("data")
        case "accept":
            entry["accept"] = True
        case "cancel":
            entry["cancel"] = True
        case _:
            entry["decline"] = True
    return entry


def _approval_of(ask: AskEvent) -> dict[str, Any]:
    entry: dict[str, Any] = {"tool": ask["tool"], "decision": ask.get("decision")}
    edited, args = ask.get("edited"), ask.get("args") or {}
    if isinstance(edited, dict):
        edit = {k: v for k, v in edited.items() if not equal_json(v, args.get(k))}
        if edit:
            entry["edit"] = edit
    return entry


def plain_pattern(words: str) -> str:
    """Words as a pattern that a person can read: blanks stay as they are."""
    return re.escape(words).replace("\\ ", " ")


def reply_pattern(reply: str) -> str:
    """What a reply is recognised by: its asking words, else the start of its last question."""
    asks = _ASKING.search(reply)
    if asks:
        return f"(?i){asks[1].lower()}"
    sentences = re.split(r"(?<=[.?!])\s+", reply.strip())
    asking = next((s for s in reversed(sentences) if s.endswith("?")), sentences[-1])
    start = " ".join(asking.split()[:4]).rstrip("?.!,")
    return f"(?i){plain_pattern(start)}" if start else "."
