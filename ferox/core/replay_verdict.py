"""What a trial that was played back came to: the agent's own part, then and now.

Model and tools said the same both times. What differs is the agent's: its framework, its prompts,
its retries, the order in which it calls.
"""

from __future__ import annotations

import difflib
import json
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple

from ferox.core.json_values import brief_json, canonical_json, equal_json
from ferox.core.story import OWN, Call, Story

ReplayVerdict = Literal["same", "other words", "parted", "not replayed"]
"""`same`: the same calls in the same order, the same replies, and the same words to the model;
`other words`: only the last differ; `parted`: the agent does something else, from a place on."""
CONTEXT = 2
"""Lines around a change that are shown with it."""


class Difference(NamedTuple):
    """One thing that the agent does otherwise than it did.

    `at` is an event of the stored trial; `what` is the same for all trials in which the same
    differs; `lines` are both sides, folded to what changed.
    """

    at: str
    what: str
    lines: tuple[str, ...] = ()


@dataclass(frozen=True)
class ShownRequest:
    """What a model was shown in one request. A message is a JSON value; tools are by name."""

    messages: list[Any]
    tools: dict[str, Any] = field(default_factory=dict)
    parameters: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Replayed:
    """What became of one trial: its verdict, where it parted, and all that differs; `reason` says
    why it could not be played back."""

    verdict: ReplayVerdict
    parted: Difference | None = None
    differences: tuple[Difference, ...] = ()
    reason: str | None = None

    @property
    def first(self) -> str | None:
        """What differs first: by it trials are grouped."""
        if self.parted is not None:
            return self.parted.what
        return self.differences[0].what if self.differences else self.reason


def judge_replay(
    stored: Story, now: Story, requests: Iterable[Difference], parted: Difference | None
) -> Replayed:
    """The verdict. `requests`: how requests to the model differ; `parted`: where it was ended
    because nothing was stored for what it did."""
    differences = tuple(dict.fromkeys(requests))
    parted = parted or next(_partings(stored, now), None)
    if parted is not None:
        return Replayed("parted", parted, differences)
    return Replayed("other words" if differences else "same", None, differences)


def _partings(stored: Story, now: Story) -> Iterator[Difference]:
    if now.why not in ("done", stored.why):  # what is missing then is missing for that
        yield _other_end(stored, now)
    # What goes on inside the agent is told on another way than calls of servers pass: which of
    # two comes first may be chance.
    for inside in (False, True):
        yield from _other_calls(_calls_made(stored, inside), _calls_made(now, inside))
    for place, (then, today) in enumerate(zip(stored.turns, now.turns, strict=False)):
        if then.reply != today.reply or not equal_json(then.data, today.data):
            lines = diff_lines(_reply_text(then), _reply_text(today))
            yield Difference(f"turn {place + 1}", "the reply is another", lines)
    if stored.why != now.why:
        yield _other_end(stored, now)


ENDS = {
    "done": "comes to its end",
    "crash": "crashes",
    "no_reply": "gives no reply",
    "limit": "runs into a limit",
    "did_not_start": "does not start",
}


def _other_end(stored: Story, now: Story) -> Difference:
    lines = diff_lines(_end_text(stored), _end_text(now))
    return Difference("end", f"{ENDS.get(now.why, now.why)}, which it did not", lines)


def _reply_text(turn: Any) -> str:
    data = "" if turn.data is None else f"\n{json.dumps(turn.data, indent=1, ensure_ascii=False)}"
    return f"{turn.reply if turn.reply is not None else '(no reply)'}{data}"


def _end_text(story: Story) -> str:
    return f"it {ENDS.get(story.why, story.why)}" + (f": {story.reason}" if story.reason else "")


def bundles(calls: Sequence[Call]) -> Iterator[list[Call]]:
    """Calls that were in flight together, whose order among themselves is chance."""
    bundle: list[Call] = []
    until = 0.0
    for call in calls:
        if bundle and call.start >= until:
            yield bundle
            bundle, until = [], 0.0
        bundle.append(call)
        until = max(until, float("inf") if call.end is None else call.end)
    if bundle:
        yield bundle


def _calls_made(story: Story, inside: bool) -> list[Call]:
    """The calls inside the agent, or those of servers."""
    return [call for call in story.calls if call.tool.startswith(OWN) == inside]


def _other_calls(stored: Sequence[Call], now: Sequence[Call]) -> Iterator[Difference]:
    at = 0
    for bundle in bundles(stored):
        met = now[at : at + len(bundle)]
        at += len(bundle)
        left = Counter(call.signature for call in met)
        for call in bundle:
            if left[call.signature]:
                left[call.signature] -= 1
                continue
            other = next((c for c in met if left[c.signature]), None)
            line = call_text(call.tool, call.args)
            if other is None:
                yield Difference(call.id, f"{call.tool} is not called", (f"- {line}",))
            else:
                lines = (f"- {line}", f"+ {call_text(other.tool, other.args)}")
                yield Difference(call.id, _what_instead(call, other), lines)
            return
    for call in now[at:]:
        line = call_text(call.tool, call.args)
        yield Difference("end", f"{call.tool} is called once more", (f"+ {line}",))
        return


def _what_instead(call: Call, other: Call) -> str:
    if call.tool != other.tool:
        return f"{other.tool} is called in place of {call.tool}"
    return f"{call.tool} is called with other arguments"


def call_text(tool: str, args: Any) -> str:
    """A call as a line."""
    return f"{tool} {brief_json(args, 400)}"


def compare_requests(at: str, stored: ShownRequest, now: ShownRequest) -> Iterator[Difference]:
    """How a request to the model differs from the stored one, most telling first."""
    yield from _other_messages(at, stored.messages, now.messages)
    yield from _other_tools(at, stored.tools, now.tools)
    for name in sorted({*stored.parameters} | {*now.parameters}):
        then, today = (side.get(name) for side in (stored.parameters, now.parameters))
        if not equal_json(then, today):
            lines = (f"- {name}: {brief_json(then)}", f"+ {name}: {brief_json(today)}")
            yield Difference(at, f"the parameter {name} is another", lines)


def _other_messages(at: str, stored: Sequence[Any], now: Sequence[Any]) -> Iterator[Difference]:
    then, today = ([canonical_json(m) for m in side] for side in (stored, now))
    found = difflib.SequenceMatcher(None, then, today, autojunk=False).get_opcodes()
    for kind, a, b, c, d in found:
        if kind == "equal":
            continue
        pairs = min(b - a, d - c)
        for one, other in zip(stored[a:b], now[c:d], strict=False):
            lines = diff_lines(_message_text(one), _message_text(other))
            yield Difference(at, f"{_role_of(other)} message is reworded", lines)
        for one in stored[a + pairs : b]:
            yield Difference(at, f"{_role_of(one)} message is gone", _side("-", one))
        for one in now[c + pairs : d]:
            yield Difference(at, f"{_role_of(one)} message is added", _side("+", one))


def _role_of(message: Any) -> str:
    role = message.get("role") if isinstance(message, dict) else None
    return f"a {role}" if role in ("user", "system", "tool") else f"an {role or 'unknown'}"


def _message_text(message: Any) -> str:
    """A message as lines: its words as they are, all else as JSON."""
    if not isinstance(message, dict):
        return str(message)
    words = message.get("content")
    more = {k: v for k, v in message.items() if k not in ("role", "content") and v}
    parts = [words if isinstance(words, str) else json.dumps(words, indent=1, ensure_ascii=False)]
    if more:
        parts.append(json.dumps(more, indent=1, ensure_ascii=False, sort_keys=True))
    return "\n".join(parts)


def _side(sign: str, message: Any) -> tuple[str, ...]:
    return tuple(f"{sign} {line}" for line in _message_text(message).splitlines()[:20])


def _other_tools(at: str, stored: dict[str, Any], now: dict[str, Any]) -> Iterator[Difference]:
    for name in now.keys() - stored.keys():
        yield Difference(at, f"the model is shown a further tool, {name}", (f"+ {name}",))
    for name in stored.keys() - now.keys():
        yield Difference(at, f"the model is not shown the tool {name}", (f"- {name}",))
    for name in sorted(stored.keys() & now.keys()):
        if not equal_json(stored[name], now[name]):
            then, today = (
                json.dumps(side[name], indent=1, ensure_ascii=False, sort_keys=True)
                for side in (stored, now)
            )
            what = f"the tool {name} is described otherwise"
            yield Difference(at, what, diff_lines(then, today))


def diff_lines(then: str, today: str) -> tuple[str, ...]:
    """Both sides, folded to what changed: lines gone with `-`, new ones with `+`, `…` between
    places."""
    lines = difflib.unified_diff(then.splitlines(), today.splitlines(), n=CONTEXT, lineterm="")
    folded = ["…" if line.startswith("@@") else line for line in lines]
    return tuple(folded[3:])  # past the names of both sides, and the first place
