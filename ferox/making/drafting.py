"""A task made from what happened: a trial, or a recorded session, turned into a script.

Calls become expected calls; values that came from earlier results become `from`, those of
the user's words `from_user`, today `day: today`; numbers get a tolerance; order only where a
value flows. Whatever is inferred is told with its reason, for a person to review. What the
trace itself would not pass is left out.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from ferox.core.clock import Clock, parse_day, parse_time
from ferox.core.json_values import brief_json, canonical_json, equal_json
from ferox.core.naming import free_name
from ferox.core.story import Call, Story, Turn, read_story
from ferox.core.support import judge_reply, sources_of
from ferox.core.value_sources import is_source
from ferox.core.writings import kind_of, stands_in
from ferox.formats.trace import Event, Trace
from ferox.making.drafted_user import DraftedUser, Inference
from ferox.making.unpassed import leave_out_what_fails

MOST_MENTIONS = 4
"""Values of the reply that the answer is asked to mention."""
SENTENCE = 5
"""Words from which a text is taken for the agent's own wording."""
MOST_DAYS = 60
"""Days from the clock's up to which a day is told as so many days later."""


@dataclass
class TaskDraft:
    """A task as a suite's file holds it, and how it came about."""

    task: dict[str, Any]
    reasons: list[Inference] = field(default_factory=list)


def draft_task(trace: Trace, name: str, reads: frozenset[str] = frozenset()) -> TaskDraft:
    """A task from a trial's trace, which the trial itself passes as far as that can be.

    `reads` are the tools known only to read: none of them waits for a go-ahead.
    """
    drafting = _Drafting(trace, name, reads)
    drafted = drafting.draft()
    drafted.reasons += leave_out_what_fails(drafted.task, drafting.user.as_scripted(trace))
    return drafted


@dataclass
class _Source:
    """A value of an earlier result: which call's, and where."""

    name: str
    path: str


class _Drafting:
    def __init__(self, trace: Trace, name: str, reads: frozenset[str]) -> None:
        self.trace, self.name = trace, name
        self.story: Story = read_story(trace)
        self.user = DraftedUser(self.story, reads)
        self.clock = Clock(trace["clock"], trace["zone"])
        self.reasons = self.user.reasons
        self.names: dict[int, str] = {}
        self.flows: list[list[str]] = []

    def draft(self) -> TaskDraft:
        """The whole task."""
        task: dict[str, Any] = {"task": self.name, "title": self._draft_title()}
        numbers = sorted({t.part for t in self.story.turns}) or [0]
        parts = [self._draft_part(n) for n in numbers]
        decided = {"answers": self.user.answers(), "approvals": self.user.approvals()}
        decided = {key: entries for key, entries in decided.items() if entries}
        if len(parts) > 1:
            task |= {**decided, "parts": parts}
            why = (
                "each part of the trial is one; add `fresh: true` to what begins a new conversation"
            )
            self.reasons.append(Inference("parts", why))
        else:
            expect = parts[0].pop("expect")
            task |= {**parts[0], **decided, "expect": expect}
        if any(e.get("fault") for e in self.trace["events"]):
            self.reasons.append(Inference("faults", "faults of the trial are not taken over"))
        return TaskDraft(task, self.reasons)

    def _draft_title(self) -> str:
        said = self.story.turns[0].text if self.story.turns else f"What {self.name} does"
        first = re.split(r"(?<=[.?!])\s", said.strip())[0]
        return first if len(first) <= 70 else f"{first[:69]}…"

    def _draft_part(self, number: int) -> dict[str, Any]:
        turns = [t for t in self.story.turns if t.part == number]
        part: dict[str, Any] = {"say": turns[0].text if turns else "…"}
        if not turns:
            self.reasons.append(
                Inference(
                    "say", "a recorded session does not tell what the user said: write it here"
                )
            )
        rules = self.user.rules(turns)
        if rules:
            part["user"] = rules
        begins = turns[0].start if turns and number else 0
        later = [t.start for t in self.story.turns if t.part > number]
        ends = min(later, default=float("inf"))
        calls = [c for c in self.story.calls if begins <= c.start < ends]
        self.flows = []
        made = [self._draft_call(call) for call in self._worthwhile_calls(calls)]
        # Where all calls failed, nobody can say what is expected: not that nothing is called.
        expect: dict[str, Any] = {"calls": made} if made or not calls else {}
        if self.flows:
            expect["order"] = _order_chains(self.flows)
            self.reasons.append(Inference("order", "only where a value flows from call to call"))
        answer = self._draft_answer(turns[-1]) if turns and turns[-1].reply is not None else []
        if answer:
            expect["answer"] = answer
        part["expect"] = expect
        return part

    # Calls

    def _worthwhile_calls(self, calls: list[Call]) -> Iterator[Call]:
        """The calls that a good trial would make: no failed ones, and none twice."""
        seen: set[str] = set()
        for call in calls:
            if call.failed:
                message = "ended in an error, so it is not expected"
                self.reasons.append(Inference(call.tool, f"a call that {message}"))
            elif call.signature in seen:
                self.reasons.append(Inference(call.tool, "made again just so; it is expected once"))
            else:
                seen.add(call.signature)
                yield call

    def _draft_call(self, call: Call) -> dict[str, Any]:
        name = free_name(call.tool.split("/", 1)[1], set(self.names.values()))
        sources = list(self._earlier_values(call))
        entry: dict[str, Any] = {"as": name, "tool": call.tool}
        args = {}
        edited = self.user.edited_arguments(call)
        for key, value in call.args.items() if isinstance(call.args, dict) else ():
            if key in edited:
                continue
            spec, why = self._draft_argument(value, call, sources)
            args[key] = spec
            self.reasons.append(Inference(f"{name}.{key}", why))
            if is_source(spec) and spec["from"] in self.names.values():
                flow = [spec["from"], name]
                if flow not in self.flows:
                    self.flows.append(flow)
        if args:
            entry["args"] = args
        grant = self.user.go_ahead_of(call)
        if grant is not None:
            entry["after_grant"] = grant
            why = "it was called only once the user had agreed"
            self.reasons.append(Inference(name, why))
        if edited:
            entry["as_approved"] = True
            self.reasons.append(Inference(name, "whoever approved it had changed its arguments"))
        self.names[call.index] = name
        return entry

    def _earlier_values(self, call: Call) -> Iterator[tuple[Any, _Source]]:
        """Every value of the results before a call, the nearest call's first; then of what the
        user answered to servers."""
        for earlier in reversed(self.story.calls[: call.index]):
            name = self.names.get(earlier.index)
            if name and earlier.end is not None and earlier.end <= call.start:
                yield from ((v, _Source(name, p)) for v, p in _leaves_of(earlier.result, "$"))
        for name, data in self.user.answered_before(call.start):
            yield from ((v, _Source(name, p)) for v, p in _leaves_of(data, "$"))

    def _draft_argument(
        self, value: Any, call: Call, sources: list[tuple[Any, _Source]]
    ) -> tuple[Any, str]:
        """What is expected of an argument, and why."""
        said = "\n".join(text for at, text in self.story.user_words if at <= call.start)
        day = parse_day(value, self.clock.tz) if isinstance(value, str) else None
        telling = _tells_value(value)
        if telling and stands_in(value, said, self.clock.tz):
            return {"from_user": True}, "the user said it"
        if day is not None and "T" not in value:
            ahead = (day - self.clock.today).days
            if ahead == 0:
                return {"day": "today"}, "it is the clock's day"
            if 0 < abs(ahead) <= MOST_DAYS:
                return {"day": f"{ahead:+d}"}, f"{ahead:+d} days from the clock's"
        found = next((s for v, s in sources if telling and equal_json(v, value)), None)
        if found is not None:
            return (
                {"from": found.name, "path": found.path},
                f"{brief_json(value, 30)} stands in what {found.name} brought",
            )
        if isinstance(value, str) and day is not None:
            return {"time": self._moment_phrase(value), "within_min": 30}, (
                "a moment, half an hour either way"
            )
        if isinstance(value, int | float) and not isinstance(value, bool):
            return {"near": value, "within": _tolerance_for(value)}, "a number, with a tolerance"
        if isinstance(value, str) and len(value.split()) >= SENTENCE:
            return {"any": True}, "the agent's own wording: anything will do"
        return value, "from nowhere that was seen: just this value"

    def _moment_phrase(self, value: str) -> str:
        """A moment as it lies to the clock's day, where it is near; else as it is."""
        moment = parse_time(value, self.clock.tz)
        there = moment.astimezone(self.clock.tz) if moment else None
        ahead = (there.date() - self.clock.today).days if there else MOST_DAYS + 1
        if there is None or abs(ahead) > MOST_DAYS or there.second or there.microsecond:
            return value
        day = "today" if ahead == 0 else f"{ahead:+d} days"
        return f"{day} {there:%H:%M}"

    # The answer

    def _draft_answer(self, turn: Turn) -> list[dict[str, Any]]:
        reply = turn.reply or ""
        by = turn.replied or 0
        calls = [c for c in self.story.calls if c.start <= by]
        values = judge_reply(reply, sources_of(self.story, by, self.clock)).values
        found: list[dict[str, Any]] = []
        leaves = [
            (v, name, path)
            for c in calls
            if (name := self.names.get(c.index))
            for v, path in _leaves_of(c.result, "$", exact=True)
            if _tells_value(v) and not isinstance(v, list)
        ]
        for value in values:
            hit = next(
                (x for x in leaves if self._is_same_value(value.text, value.kind, x[0])), None
            )
            if hit is None or len(found) >= MOST_MENTIONS:
                continue
            kind = kind_of(hit[0])
            entry: dict[str, Any] = {"mentions": {"from": hit[1], "path": hit[2]}}
            if kind != "text":
                entry["as"] = kind
            if entry not in found:
                found.append(entry)
                self.reasons.append(
                    Inference("answer", f"{value.text} of the reply is from {hit[1]}")
                )
        if values and all(v.origin in ("copied", "derived") for v in values):
            found.append({"values": "supported"})
            self.reasons.append(Inference("answer", "every value of the reply had a source"))
        return found

    def _is_same_value(self, text: str, kind: str, value: Any) -> bool:
        """Whether a value of the reply is the value of a result."""
        there = kind_of(value)
        if there == "number":
            return kind == "number" and stands_in(value, text, self.clock.tz, "number")
        return stands_in(value, text, self.clock.tz, there)


def _tells_value(value: Any) -> bool:
    """Whether a value says enough to be recognised: no small number, flag or single letter."""
    if isinstance(value, bool) or value is None:
        return False
    if isinstance(value, int | float):
        return not float(value).is_integer() or abs(value) > 12
    if isinstance(value, str):
        return len(value.strip()) >= 2
    return isinstance(value, list) and bool(value) and all(_tells_value(v) for v in value)


def _leaves_of(value: Any, path: str, exact: bool = False) -> Iterator[tuple[Any, str]]:
    """Values with the path at which they stand; of a list any item's, or `exact`: this one's."""
    if isinstance(value, dict):
        for key, item in value.items():
            step = f".{key}" if re.fullmatch(r"[A-Za-z_]\w*", key) else f"[{canonical_json(key)}]"
            yield from _leaves_of(item, path + step, exact)
    elif isinstance(value, list):
        yield value, path
        for place, item in enumerate(value):
            yield from _leaves_of(item, f"{path}[{place if exact else '*'}]", exact)
    else:
        yield value, path


def _tolerance_for(value: int | float) -> float | int:
    """A twentieth of a number, and at least one of its last digit."""
    exact = Decimal(str(value))
    exponent = exact.as_tuple().exponent
    step = Decimal(1).scaleb(exponent if isinstance(exponent, int) else 0)
    within = max(step, (abs(exact) / 20).quantize(step))
    return int(within) if within == int(within) else float(within)


def _order_chains(flows: list[list[str]]) -> list[list[str]]:
    """Pairs joined into chains where one ends where just one other begins."""
    chains = [list(pair) for pair in flows]
    joined = True
    while joined:
        joined = False
        for a in chains:
            nexts = [b for b in chains if b is not a and b[0] == a[-1]]
            before = [c for c in chains if c[-1] == a[-1]]
            if len(nexts) == 1 and len(before) == 1:
                a += nexts[0][1:]
                chains.remove(nexts[0])
                joined = True
                break
    return chains


def trace_of_session(
    calls: list[dict[str, Any]], tools: list[dict[str, Any]], server: str, clock: str
) -> Trace:
    """A recorded session as a trace, in which nobody speaks.

    Each call has `tool`, `args`, `t`, `s` and either `result` or `error`.
    """
    events: list[Event] = [
        {
            "t": c["t"], "kind": "call", "id": f"c{n}", "seam": "tool",
            "tool": f"{server}/{c['tool']}", "args": c["args"], "s": c["s"],
            "result": c.get("result"), "error": c.get("error"), "fault": None, "proposal": None,
        }
        for n, c in enumerate(calls, 1)
    ]  # fmt: skip
    last = max((c["t"] + (c["s"] or 0) for c in calls), default=0.0)
    return {
        "ferox_trace": 1, "agent": "", "suite": "", "task": "", "trial": 1, "clock": clock,
        "zone": "UTC", "model_seam": False,
        "tools": {f"{server}/{t['name']}": {"input": t.get("inputSchema")} for t in tools},
        "events": [*events, {"t": last, "kind": "end", "why": "done", "reason": None}],
    }  # fmt: skip
