"""What is worth knowing of a trial besides its checks: what the agent's framework did.

None of it is the agent's choice of tools, and none of it is scored; much of it explains a
result. Everything is read from the trace.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterator
from typing import Any, NamedTuple

from ferox.core.definitions import properties_of, required_of
from ferox.core.json_values import brief_json, canonical_json
from ferox.core.naming import counted_noun
from ferox.core.story import Story, read_story, to_micros
from ferox.core.unseen import unseen_text
from ferox.core.written_calls import known_names, written_call
from ferox.formats.trace import Trace

BROKEN = ("dropped", "garbled", "protocol_error", "timeout")
"""Errors of calls after which some agents wait for ever."""
_LOST = ("pattern", "format", "minimum", "maximum", "enum", "minLength", "maxLength")


class Remark(NamedTuple):
    """One thing worth knowing. `kind` names it for programs."""

    kind: str
    text: str


def trial_remarks(trace: Trace) -> list[Remark]:
    """Everything worth knowing of a trial that is over, the weightiest first."""
    story = read_story(trace)
    found = [
        *_unseen_evidence(story),
        *_went_without(trace),
        *_hung_agent(story),
        *_no_text(story),
        *_written_calls(story),
        *_hidden_tools(story),
        *_tools_missing(story),
        *_retrieved_tools(story),
        *_unproposed_calls(story),
        *_emptied_arguments(story),
        *_rewritten_schemas(trace),
        *_several_voices(trace),
        *_rate_limits(story),
        *_link_troubles(trace),
        *_mended_texts(trace),
        *_by_hand(story),
        *_declined_questions(story),
        *_left_open(trace),
        *_replies_by(trace),
        *_own_unseen(story),
    ]
    if not trace["model_seam"]:
        text = "The model's traffic did not pass Ferox's model seam: what it proposed is not seen."
        found.append(Remark("model_not_seen", text))
    return found


def _went_without(trace: Trace) -> Iterator[Remark]:
    """Servers that could not be opened, and that the task names nowhere."""
    for server, reason in (trace.get("without") or {}).items():
        text = f"It went without {server}, whose tools were not offered: {reason}"
        yield Remark("went_without", text if text.endswith(".") else f"{text}.")


def _hung_agent(story: Story) -> Iterator[Remark]:
    """The agent did nothing more after a call that broke."""
    if story.why not in ("no_reply", "limit") or not story.calls:
        return
    last = story.calls[-1]
    after = [e for e in story.models if to_micros(e["t"]) > (last.end or last.start)]
    if after or story.turns[-1].replied is not None:
        return
    if last.end is None:
        message = f"{last.tool} never answered, and the agent has no time limit of its own for it."
        yield Remark("waits_for_ever", message)
    elif last.error and last.error.get("kind") in BROKEN:
        how = str(last.error["kind"]).replace("_", " ")
        message = f"{last.tool} ended in an error ({how}), and the agent did nothing after it."
        yield Remark("hangs_after_error", message)


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
        if not traffic.get("lists") and not seen:
            message = f"The agent did not ask {server} for its tools in this trial"
            more = ", and its model was shown none of them" if story.models else ""
            yield Remark("never_listed", f"{message}{more}.")
        elif not story.models or (not shown and acts_in_words(story)):
            continue
        elif not seen:
            message = f"The agent read the list of {server}, and gave its model none of its tools."
            yield Remark("none_shown", message)
        elif len(seen) < count:
            hidden = _served_twice(trace, server)
            why = (
                f"it hides one of two tools of the same name ({hidden})"
                if hidden
                else "it may read only the first page of a list, or choose among tools"
            )
            tools = counted_noun(count, "tool")
            message = f"Its model saw {len(seen)} of the {tools} of {server}: {why}."
            yield Remark("some_shown", message)


def _served_twice(trace: Trace, server: str) -> str | None:
    """A tool's name that another server has too."""
    names = {a.split("/", 1)[1] for a in trace["tools"] if a.startswith(f"{server}/")}
    others = {a.split("/", 1)[1] for a in trace["tools"] if not a.startswith(f"{server}/")}
    return next(iter(sorted(names & others)), None)


def _no_text(story: Story) -> Iterator[Remark]:
    """Replies that were not text."""
    for event in story.trace["events"]:
        if event["kind"] == "reply" and event.get("of"):
            message = f"A reply was not text but a {event['of']}, shown here in Python's writing: "
            message += "have the agent return text, or text and data."
            yield Remark("reply_no_text", message)
            return


def _written_calls(story: Story) -> Iterator[Remark]:
    """Replies that are calls written out as words."""
    names = known_names(story.trace)
    for turn in story.turns:
        tool = written_call(turn.reply or "", names)
        if tool is not None:
            message = (
                f"The reply is a call to {tool} written as text; the model or the framework did "
                "not make it a call. What usually helps: a model, or a chat template of its "
                "server, that supports tool calls; tools given in the request, not in the prompt; "
                "the framework's reader for calls in this form."
            )
            yield Remark("call_as_text", message)
            return


def _hidden_tools(story: Story) -> Iterator[Remark]:
    """Tools of the agent's own that stand in served ones' places."""
    for tool, hides in dict.fromkeys((c.tool, c.hides) for c in story.calls if c.hides):
        message = f"{tool} ran inside the agent; it hides {hides}, which has the same name."
        yield Remark("hides", message)


def acts_in_words(story: Story) -> bool:
    """Whether the agent calls tools that no request to its model defined: what it proposed stands
    in the model's words, as code perhaps."""
    if any(e.get("offered") for e in story.models) or story.unseen & {"offers", "proposals"}:
        return False
    return not story.own_seen or any(c.proposal is None and c.hides is None for c in story.calls)


def _retrieved_tools(story: Story) -> Iterator[Remark]:
    """A voice that was shown different tools from request to request."""
    offers: dict[str, list[frozenset[str]]] = {}
    for event in story.models:
        offers.setdefault(event.get("voice") or "main", []).append(
            frozenset(event.get("offered") or ())
        )
    for voice, sets in offers.items():
        shown = [s for s in sets if s]
        every = frozenset().union(*shown)
        if len(set(shown)) > 1:
            most = max(len(s) for s in shown)
            who = f"The model as {voice}" if len(offers) > 1 else "Its model"
            message = (
                f"{who} was shown other tools from request to request: at most {most} at once, "
                f"{len(every)} in all. Each request tells which, and at what place."
            )
            yield Remark("retrieved", message)


def _left_open(trace: Trace) -> Iterator[Remark]:
    """Sessions of the protocol that the agent never closed."""
    for server, traffic in (trace.get("traffic") or {}).items():
        open_ = traffic.get("left_open") or 0
        if open_:
            sessions = counted_noun(traffic["sessions"], "session")
            message = f"The agent never closed {open_} of its {sessions}"
            yield Remark("session_left_open", f"{message} with {server}.")


def _replies_by(trace: Trace) -> Iterator[Remark]:
    """Tools whose arguments are the reply."""
    for name in trace.get("reply_tools") or ():
        message = (
            f"{name} is how the framework replies: its argument is the reply, so it is not a call."
        )
        yield Remark("replies_by", message)


def _unseen_evidence(story: Story) -> Iterator[Remark]:
    """What a trace from elsewhere leaves open."""
    if story.unseen:
        message = f"This trace does not tell {unseen_text(story.unseen)}."
        yield Remark("unseen", f"{message} What depends on it is not tested.")


def _own_unseen(story: Story) -> Iterator[Remark]:
    """What the agent calls inside itself does not show."""
    if not story.own_seen:
        message = "Tools inside the agent are not seen: neither its link nor its model's proposals "
        yield Remark("own_not_seen", f"{message}show them. What is demanded of them is not tested.")


def _unproposed_calls(story: Story) -> Iterator[Remark]:
    """Calls that no model proposed."""
    if not story.trace["model_seam"] or "proposals" in story.unseen:
        return
    denied = {e.get("id") for e in story.denied}
    alone = [
        e for e in story.trace["events"]
        if e["kind"] == "call" and e.get("seam") == "tool" and not e.get("proposal")
        and e.get("id") not in denied
    ]  # fmt: skip
    if alone:
        tools = ", ".join(sorted({str(e["tool"]) for e in alone}))
        count = counted_noun(len(alone), "call")
        them = "it" if len(alone) == 1 else "them"
        message = f"{count} came from the agent's own code; no model proposed {them}: {tools}."
        if acts_in_words(story):
            message = (
                f"{count} followed no proposal that Ferox can read: the requests to the model "
                f"define no tools, so the agent may act by code that its model wrote: {tools}."
            )
        yield Remark("not_proposed", message)


def _emptied_arguments(story: Story) -> Iterator[Remark]:
    """Arguments that were not JSON, and what became of them."""
    proposals = {p["id"]: p for e in story.models for p in e.get("proposed") or ()}
    for call in story.calls:
        proposal = proposals.get(call.proposal or "")
        if proposal is None or not isinstance(proposal["args"], str):
            continue
        message = f"The model's arguments for {call.tool} were not JSON; the agent sent "
        yield Remark("arguments_replaced", f"{message}{json.dumps(call.args)} in their place.")


def _rewritten_schemas(trace: Trace) -> Iterator[Remark]:
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
            kinds.update(set(schema_changes(trace["tools"][address].get("input"), tool["input"])))
    if kinds:
        message = "; ".join(f"{kind} ({count})" for kind, count in kinds.most_common())
        yield Remark("schema_rewritten", f"The framework rewrites the tools' schemas: {message}.")
    described = sum("description" in t for t in seen.values())
    if described:
        message = f"The framework changes the descriptions of {counted_noun(described, 'tool')}."
        yield Remark("described_otherwise", message)


def schema_changes(before: Any, after: Any) -> Iterator[str]:
    """How a schema was rewritten, in words; what cannot be named is `other changes`."""
    before = before if isinstance(before, dict) else {}
    after = after if isinstance(after, dict) else {}
    more = set(required_of(after)) - set(required_of(before))
    has_changed = False
    if more:
        has_changed = True
        yield "optional arguments made required"
    old, new = _changed_arguments(before), _changed_arguments(after)
    if set(old) - set(new):
        has_changed = True
        yield "arguments left out"
    lost = {k for name in old.keys() & new.keys() for k in _LOST if k in old[name]
            and k not in json.dumps(new[name])}  # fmt: skip
    if lost:
        has_changed = True
        yield f"{', '.join(sorted(lost))} lost"
    extra = "additionalProperties"
    if extra in before and extra not in after:
        has_changed = True
        yield f"{extra} lost"
    if extra in after and after.get(extra) != before.get(extra):
        has_changed = True
        yield f"{extra} set"
    if not has_changed and canonical_json(before) != canonical_json(after):
        yield "titles or forms of types changed"


def _changed_arguments(schema: Any) -> dict[str, Any]:
    return {k: v for k, v in properties_of(schema).items() if isinstance(v, dict)}


def _several_voices(trace: Trace) -> Iterator[Remark]:
    voices = trace.get("voices") or {}
    if len(voices) > 1:
        message = f"{len(voices)} voices speak to the model, each with instructions of its own: "
        yield Remark("voices", f"{message}{', '.join(voices)}.")


def _rate_limits(story: Story) -> Iterator[Remark]:
    waited = sum(e.get("waited_s") or 0 for e in story.models)
    if waited:
        message = f"{waited:.1f} s were spent waiting for the model's rate limit."
        yield Remark("rate_limit", message)


def _link_troubles(trace: Trace) -> Iterator[Remark]:
    link = trace.get("link")
    if link is None:
        return
    if not link["closed"]:
        message = "The agent did not heed `close` in time, and was ended with all it had started."
        yield Remark("close_not_heeded", message)
    if link["rubbish"]:
        were = "line on the link was not a message", "lines on the link were not messages"
        message = (
            f"{counted_noun(link['rubbish'], *were)}; its log has the rest of what it printed."
        )
        yield Remark("rubbish", message)


def _mended_texts(trace: Trace) -> Iterator[Remark]:
    if trace.get("mended"):
        messages = counted_noun(trace["mended"], "message")
        message = f"{messages} held half a character, which nothing can store: it is shown as �."
        yield Remark("mended", message)


def _declined_questions(story: Story) -> Iterator[Remark]:
    """Questions of servers that no entry of the script answered."""
    lost = [q for q in story.questions if q.get("by") == "script" and q.get("rule") is None]
    if lost:
        first = brief_json(lost[0].get("text"), 60)
        count = counted_noun(len(lost), "question of a server was", "questions of servers were")
        message = f"{count} declined, for no entry of `answers` fits: {first}."
        yield Remark("declined_questions", message)


def _by_hand(story: Story) -> Iterator[Remark]:
    if story.holds:
        calls = counted_noun(len(story.holds), "call was", "calls were")
        yield Remark("held", f"{calls} held by hand: times and outcome are not the agent's alone.")
