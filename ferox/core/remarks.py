"""What is worth knowing of a trial besides its checks: what the agent's framework did.

None of it is the agent's choice of tools, and none of it is scored; much of it explains a
result. Everything is read from the trace.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterator
from typing import Any, NamedTuple

from ferox.core.json_values import canonical
from ferox.core.naming import counted
from ferox.core.story import Story, read_story
from ferox.formats.trace import Trace

BROKEN = ("dropped", "garbled", "protocol_error", "timeout")
"""Errors of calls after which some agents wait for ever."""
_LOST = ("pattern", "format", "minimum", "maximum", "enum", "minLength", "maxLength")


class Remark(NamedTuple):
    """One thing worth knowing. `kind` names it for programs."""

    kind: str
    text: str


def remarks(trace: Trace) -> list[Remark]:
    """Everything worth knowing of a trial that is over, the weightiest first."""
    story = read_story(trace)
    found = [
        *_hung(story),
        *_tools_missing(story),
        *_unasked(story),
        *_emptied(story),
        *_rewritten(trace),
        *_voices(trace),
        *_waited(story),
        *_link(trace),
        *_by_hand(story),
    ]
    if not trace["model_seam"]:
        told = "The model's traffic did not pass Ferox's model seam: what it proposed is not seen."
        found.append(Remark("model_not_seen", told))
    return found


def _hung(story: Story) -> Iterator[Remark]:
    """The agent did nothing more after a call that broke."""
    if story.why not in ("no_reply", "limit") or not story.calls:
        return
    last = story.calls[-1]
    after = [e for e in story.models if e["t"] * 1_000_000 > (last.end or last.start)]
    if after or story.turns[-1].replied is not None:
        return
    if last.end is None:
        told = f"{last.tool} never answered, and the agent has no time limit of its own for it."
        yield Remark("waits_for_ever", told)
    elif last.error and last.error.get("kind") in BROKEN:
        how = str(last.error["kind"]).replace("_", " ")
        told = f"{last.tool} ended in an error ({how}), and the agent did nothing after it."
        yield Remark("hangs_after_error", told)


def _tools_missing(story: Story) -> Iterator[Remark]:
    """Tools that Ferox offered and the model never saw."""
    trace = story.trace
    by_server = Counter(address.split("/", 1)[0] for address in trace["tools"])
    shown = {a for e in story.models for a in e.get("offered") or ()}
    for server, traffic in (trace.get("traffic") or {}).items():
        count = by_server.get(server, 0)
        seen = {a for a in shown if a.startswith(f"{server}/")}
        if not count or not story.turns:
            continue
        if not traffic.get("lists"):
            told = f"The agent never asked {server} for its tools, and went on without them."
            yield Remark("never_listed", told)
        elif not story.models:
            continue
        elif not seen:
            told = f"The agent read the list of {server}, and showed its model none of its tools."
            yield Remark("none_shown", told)
        elif len(seen) < count:
            hidden = _twice(trace, server)
            why = (
                f"it hides one of two tools of the same name ({hidden})"
                if hidden
                else "it may read only the first page of a list, or choose among tools"
            )
            told = f"Its model saw {len(seen)} of the {counted(count, 'tool')} of {server}: {why}."
            yield Remark("some_shown", told)


def _twice(trace: Trace, server: str) -> str | None:
    """A tool's name that another server has too."""
    names = {a.split("/", 1)[1] for a in trace["tools"] if a.startswith(f"{server}/")}
    others = {a.split("/", 1)[1] for a in trace["tools"] if not a.startswith(f"{server}/")}
    return next(iter(sorted(names & others)), None)


def _unasked(story: Story) -> Iterator[Remark]:
    """Calls that no model proposed."""
    if not story.trace["model_seam"]:
        return
    denied = {e.get("id") for e in story.denied}
    alone = [
        e for e in story.trace["events"]
        if e["kind"] == "call" and e.get("seam") == "tool" and not e.get("proposal")
        and e.get("id") not in denied
    ]  # fmt: skip
    if alone:
        tools = ", ".join(sorted({str(e["tool"]) for e in alone}))
        count = counted(len(alone), "call")
        them = "it" if len(alone) == 1 else "them"
        told = f"{count} came from the agent's own code; no model proposed {them}: {tools}."
        yield Remark("not_proposed", told)


def _emptied(story: Story) -> Iterator[Remark]:
    """Arguments that were no JSON, and what became of them."""
    proposals = {p["id"]: p for e in story.models for p in e.get("proposed") or ()}
    for call in story.calls:
        proposal = proposals.get(call.proposal or "")
        if proposal is None or not isinstance(proposal["args"], str):
            continue
        told = f"The model's arguments for {call.tool} were no JSON; the agent sent "
        yield Remark("arguments_replaced", f"{told}{json.dumps(call.args)} in their place.")


def _rewritten(trace: Trace) -> Iterator[Remark]:
    """How tools differ as the model saw them."""
    seen = trace.get("seen_by_model") or {}
    renamed = [a for a, t in seen.items() if "name" in t]
    if renamed:
        some = ", ".join(f"{a} as {seen[a]['name']}" for a in sorted(renamed)[:3])
        more = f" and {len(renamed) - 3} more" if len(renamed) > 3 else ""
        yield Remark("renamed", f"The framework shows tools by other names: {some}{more}.")
    kinds: Counter[str] = Counter()
    for address, tool in seen.items():
        if "input" in tool:
            kinds.update(set(changes(trace["tools"][address].get("input"), tool["input"])))
    if kinds:
        told = "; ".join(f"{kind} ({count})" for kind, count in kinds.most_common())
        yield Remark("schema_rewritten", f"The framework rewrites the tools' schemas: {told}.")
    described = sum("description" in t for t in seen.values())
    if described:
        told = f"The framework changes the descriptions of {counted(described, 'tool')}."
        yield Remark("described_otherwise", told)


def changes(before: Any, after: Any) -> Iterator[str]:
    """How a schema was rewritten, in words; what cannot be named is `other changes`."""
    before, after = before or {}, after or {}
    more = set(after.get("required") or ()) - set(before.get("required") or ())
    told = False
    if more:
        told = True
        yield "optional arguments made required"
    old, new = _arguments(before), _arguments(after)
    if set(old) - set(new):
        told = True
        yield "arguments left out"
    lost = {k for name in old.keys() & new.keys() for k in _LOST if k in old[name]
            and k not in json.dumps(new[name])}  # fmt: skip
    if lost:
        told = True
        yield f"{', '.join(sorted(lost))} lost"
    extra = "additionalProperties"
    if extra in before and extra not in after:
        told = True
        yield f"{extra} lost"
    if extra in after and after.get(extra) != before.get(extra):
        told = True
        yield f"{extra} set"
    if not told and canonical(before) != canonical(after):
        yield "titles or forms of types changed"


def _arguments(schema: Any) -> dict[str, Any]:
    properties = schema.get("properties") if isinstance(schema, dict) else None
    return {k: v for k, v in (properties or {}).items() if isinstance(v, dict)}


def _voices(trace: Trace) -> Iterator[Remark]:
    voices = trace.get("voices") or {}
    if len(voices) > 1:
        told = f"{len(voices)} voices speak to the model, each with instructions of its own: "
        yield Remark("voices", f"{told}{', '.join(voices)}.")


def _waited(story: Story) -> Iterator[Remark]:
    waited = sum(e.get("waited_s") or 0 for e in story.models)
    if waited:
        told = f"{waited:.1f} s were spent waiting for the model's rate limit."
        yield Remark("rate_limit", told)


def _link(trace: Trace) -> Iterator[Remark]:
    link = trace.get("link")
    if link is None:
        return
    if not link["closed"]:
        told = "The agent did not heed `close` in time, and was ended with all it had started."
        yield Remark("close_not_heeded", told)
    if link["rubbish"]:
        were = "line on the link was no message", "lines on the link were no messages"
        told = f"{counted(link['rubbish'], *were)}; its log has the rest of what it printed."
        yield Remark("rubbish", told)


def _by_hand(story: Story) -> Iterator[Remark]:
    if story.holds:
        calls = counted(len(story.holds), "call was", "calls were")
        yield Remark("held", f"{calls} held by hand: times and outcome are not the agent's alone.")
