"""Trials as OpenTelemetry spans, by its conventions for generative AI (version 1.44).

A trial is one trace: a span for the trial, in it `invoke_agent` for each turn, and in these `chat`
for each request to a model and `execute_tool` for each call. Ids follow from the trial, so that
what is sent twice is the same twice.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from hashlib import sha256
from typing import Any, TextIO

from google.protobuf.json_format import MessageToDict
from opentelemetry.proto.common.v1.common_pb2 import AnyValue, InstrumentationScope, KeyValue
from opentelemetry.proto.resource.v1.resource_pb2 import Resource
from opentelemetry.proto.trace.v1.trace_pb2 import ResourceSpans, ScopeSpans, Span, Status

from ferox.core.story import OWN, to_micros
from ferox.exports.finished import FinishedTrial, OnTrial, finished_trials
from ferox.exports.results import json_line
from ferox.formats.result import FAMILIES
from ferox.formats.trace import AskEvent, CallEvent, Event, ModelEvent, end_of
from ferox.runs.snapshot import Snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.results import sentence_of, verdict_of

CONVENTIONS = "https://opentelemetry.io/schemas/1.44.0"
"""The version of the conventions that the spans follow."""
IDS = ("traceId", "spanId", "parentSpanId")
Attributes = Mapping[str, Any]


def write_otlp(session: Session, numbers: list[int], file: TextIO, done: OnTrial) -> None:
    """A line of OTLP/JSON for each trial, as collectors write files."""
    for trial in finished_trials(session, numbers):
        spans = trial_spans(trial, snapshot_of(session, trial.line.run_id))
        file.write(json_line({"resourceSpans": [otlp_json(spans)]}))
        done()


def otlp_json(spans: ResourceSpans) -> dict[str, Any]:
    """Spans by OTLP's JSON rules: protobuf's own, but for ids, which are hexadecimal, and kinds,
    which are numbers."""
    plain: dict[str, Any] = MessageToDict(spans, use_integers_for_enums=True)
    for scope, made in zip(spans.scope_spans, plain["scopeSpans"], strict=True):
        for span, body in zip(scope.spans, made["spans"], strict=True):
            ids = (span.trace_id, span.span_id, span.parent_span_id)
            body.update({key: id.hex() for key, id in zip(IDS, ids, strict=True) if id})
    return plain


def trial_spans(trial: FinishedTrial, snapshot: Snapshot) -> ResourceSpans:
    """The spans of a trial."""
    made = _TrialSpans(trial, snapshot)
    resource = {
        "service.name": trial.line.agent,
        "ferox.version": snapshot.ferox,
        "ferox.workspace": snapshot.workspace,
    }
    scope = ScopeSpans(
        scope=InstrumentationScope(name="ferox", version=snapshot.ferox),
        spans=made.spans(),
        schema_url=CONVENTIONS,
    )
    return ResourceSpans(
        resource=Resource(attributes=_attribute_list(resource)),
        scope_spans=[scope],
        schema_url=CONVENTIONS,
    )


class _TrialSpans:
    """Makes the spans of one trial. Times: seconds since the trial's start become nanoseconds
    since the epoch."""

    def __init__(self, trial: FinishedTrial, snapshot: Snapshot) -> None:
        self._line, self._trace, self._result = trial
        line = self._line
        self._trace_id = _id_of(16, snapshot.workspace, line.run_id, line.id)
        self._root = self._span_id("trial")
        self._epoch_us = to_micros(line.started_at or 0.0)
        self._end_s = end_of(self._trace)["t"]
        agent = snapshot.agents.get(line.agent)
        self._model = (agent.model if agent else None) or "unknown"
        self._provider = _provider_of(snapshot, self._model)
        self._simulated = snapshot.is_simulated(line.agent)

    def spans(self) -> Iterator[Span]:
        """The trial's own span, then the others in the order of their events."""
        yield self._trial_span()
        turn: Span | None = None
        for event in self._trace["events"]:
            if event["kind"] == "turn":
                if turn is not None:
                    yield turn
                turn = self._turn_span(event)
            elif event["kind"] == "reply" and turn is not None:
                self._close_turn(turn, event)
            elif event["kind"] == "ask" and turn is not None:
                self._note_approval(turn, event)
            elif event["kind"] == "model":
                yield self._chat_span(event, turn)
            elif event["kind"] == "call" and _was_made(event):
                yield self._tool_span(event, turn)
        if turn is not None:
            yield turn

    def _trial_span(self) -> Span:
        line, result = self._line, self._result
        span = self._make_span(
            "trial",
            f"trial {line.suite}/{line.task}",
            begins=0.0,
            ends=self._end_s,
            attributes={
                **self._shared_attributes(),
                "ferox.verdict": verdict_of(result),
                "ferox.simulated": self._simulated,
                "ferox.clock": self._trace["clock"],
                "ferox.zone": self._trace["zone"],
                "gen_ai.tool.definitions": _json_text(
                    [self._definition_of(tool, whole=True) for tool in self._trace["tools"]]
                ),
            },
            parent=None,
        )
        for family in FAMILIES:
            score = result["scores"][family]
            if score is not None:
                self._add_event(
                    span,
                    self._end_s,
                    "gen_ai.evaluation.result",
                    {"gen_ai.evaluation.name": family, "gen_ai.evaluation.score.value": score},
                )
        verdict = {
            "gen_ai.evaluation.name": "verdict",
            "gen_ai.evaluation.score.label": verdict_of(result),
            "gen_ai.evaluation.explanation": sentence_of(result),
        }
        self._add_event(span, self._end_s, "gen_ai.evaluation.result", verdict)
        end = end_of(self._trace)
        if end.get("why") not in (None, "done"):
            self._mark_failed(span, str(end.get("why")), str(end.get("reason") or ""))
        return span

    def _shared_attributes(self) -> dict[str, Any]:
        """What every span of the trial says."""
        line = self._line
        return {
            "gen_ai.conversation.id": f"ferox-run-{line.run_id}-trial-{line.id}",
            "gen_ai.agent.name": line.agent,
            "ferox.run": line.run_id,
            "ferox.trial": line.id,
            "ferox.suite": line.suite,
            "ferox.task": line.task,
            "ferox.number": line.number,
        }

    def _turn_span(self, event: Event) -> Span:
        assert event["kind"] == "turn"
        said = {"role": "user", "parts": [{"type": "text", "content": event.get("text") or ""}]}
        instructions = self._trace.get("instructions")
        return self._make_span(
            f"turn {event['t']}",
            f"invoke_agent {self._line.agent}",
            begins=event["t"],
            ends=self._end_s,
            attributes={
                **self._shared_attributes(),
                "gen_ai.operation.name": "invoke_agent",
                "gen_ai.provider.name": self._provider,
                "gen_ai.request.model": self._model,
                "gen_ai.input.messages": _json_text([said]),
                "gen_ai.system_instructions": instructions
                and _json_text([{"type": "text", "content": instructions}]),
                "ferox.part": event.get("part"),
                "ferox.rule": event.get("rule"),
            },
        )

    def _close_turn(self, span: Span, event: Event) -> None:
        assert event["kind"] == "reply"
        span.end_time_unix_nano = self._nanoseconds_at(event["t"])
        parts: list[dict[str, Any]] = [{"type": "text", "content": event.get("text") or ""}]
        said = {"role": "assistant", "parts": parts, "finish_reason": "stop"}
        data = event.get("data")
        more = {"gen_ai.output.messages": _json_text([said])}
        if data is not None:
            more["ferox.data"] = _json_text(data)
        span.attributes.extend(_attribute_list(more))

    def _note_approval(self, span: Span, event: AskEvent) -> None:
        edited = event.get("edited")
        body = {
            "gen_ai.tool.name": event["tool"],
            "ferox.decision": event.get("decision"),
            "gen_ai.tool.call.arguments": _json_text(event.get("args")),
            "ferox.edited": None if edited is None else _json_text(edited),
        }
        self._add_event(span, event["t"] + (event.get("s") or 0.0), "ferox.approval", body)

    def _chat_span(self, event: ModelEvent, turn: Span | None) -> Span:
        usage: Mapping[str, Any] = event.get("usage") or {}
        parts: list[dict[str, Any]] = []
        if event.get("text"):
            parts.append({"type": "text", "content": event.get("text")})
        for proposal in event.get("proposed") or ():
            call = {"id": proposal["id"], "name": proposal["tool"], "arguments": proposal["args"]}
            parts.append({"type": "tool_call", **call})
        finish = "tool_call" if event.get("proposed") else "stop"
        said = {"role": "assistant", "parts": parts, "finish_reason": finish}
        offered = event.get("offered")
        span = self._make_span(
            event["id"],
            f"chat {self._model}",
            begins=event["t"],
            ends=self._end_of(event),
            attributes={
                **self._shared_attributes(),
                "gen_ai.operation.name": "chat",
                "gen_ai.provider.name": self._provider,
                "gen_ai.request.model": self._model,
                "gen_ai.output.messages": None if event.get("error") else _json_text([said]),
                "gen_ai.usage.input_tokens": usage.get("input"),
                "gen_ai.usage.output_tokens": usage.get("output"),
                "gen_ai.usage.cache_read.input_tokens": usage.get("cached"),
                "gen_ai.tool.definitions": None
                if offered is None
                else _json_text([self._definition_of(tool) for tool in offered]),
                "ferox.voice": event.get("voice"),
                "ferox.fault": event.get("fault"),
            },
            parent=turn.span_id if turn else self._root,
            kind=Span.SPAN_KIND_CLIENT,
        )
        error = event.get("error")
        if error:
            self._mark_failed(span, error["kind"], error["message"])
        elif event.get("s") is None:
            self._mark_failed(span, "never_answered", "no answer came")
        return span

    def _definition_of(self, address: str, *, whole: bool = False) -> dict[str, Any]:
        """A tool by its address; only `whole` with its words and schema, for they are long and
        the same in every request."""
        named = {"type": "function", "name": address}
        if not whole:
            return named
        offered = self._trace["tools"].get(address, {})
        words = {"description": offered.get("description"), "parameters": offered.get("input")}
        return {**named, **{key: value for key, value in words.items() if value is not None}}

    def _tool_span(self, event: CallEvent, turn: Span | None) -> Span:
        error, address = event.get("error"), event["tool"]
        answered = event.get("s") is not None and error is None
        span = self._make_span(
            event["id"],
            f"execute_tool {address.split('/', 1)[1]}",
            begins=event["t"],
            ends=self._end_of(event),
            attributes={
                **self._shared_attributes(),
                "gen_ai.operation.name": "execute_tool",
                "gen_ai.tool.name": address.split("/", 1)[1],
                "gen_ai.tool.type": "function" if address.startswith(OWN) else "extension",
                "gen_ai.tool.call.id": event["id"],
                "gen_ai.tool.call.arguments": _json_text(event.get("args")),
                "gen_ai.tool.call.result": _json_text(event.get("result")) if answered else None,
                "ferox.tool": address,
                "ferox.proposal": event.get("proposal"),
                "ferox.fault": event.get("fault"),
            },
            parent=turn.span_id if turn else self._root,
        )
        if error:
            self._mark_failed(span, error["kind"], error["message"])
        elif event.get("s") is None:
            self._mark_failed(span, "never_answered", "no answer came")
        return span

    def _end_of(self, event: ModelEvent | CallEvent) -> float:
        seconds = event.get("s")
        return self._end_s if seconds is None else event["t"] + seconds

    def _make_span(
        self,
        key: str,
        name: str,
        *,
        begins: float,
        ends: float,
        attributes: Attributes,
        parent: bytes | None = b"",
        kind: Span.SpanKind.ValueType = Span.SPAN_KIND_INTERNAL,
    ) -> Span:
        """A span; `key` tells it apart in its trial, `parent` is the trial's own unless given."""
        return Span(
            trace_id=self._trace_id,
            span_id=self._span_id(key),
            parent_span_id=self._root if parent == b"" else parent or b"",
            name=name,
            kind=kind,
            start_time_unix_nano=self._nanoseconds_at(begins),
            end_time_unix_nano=self._nanoseconds_at(ends),
            attributes=_attribute_list(attributes),
        )

    def _add_event(self, span: Span, at: float, name: str, attributes: Attributes) -> None:
        span.events.add(
            name=name,
            time_unix_nano=self._nanoseconds_at(at),
            attributes=_attribute_list(attributes),
        )

    def _mark_failed(self, span: Span, kind: str, message: str) -> None:
        span.status.CopyFrom(Status(code=Status.STATUS_CODE_ERROR, message=_fit_text(message)))
        span.attributes.extend(_attribute_list({"error.type": kind}))

    def _span_id(self, key: str) -> bytes:
        return _id_of(8, self._trace_id.hex(), key)

    def _nanoseconds_at(self, seconds: float) -> int:
        return (self._epoch_us + to_micros(seconds)) * 1000


def _was_made(event: CallEvent) -> bool:
    """Whether a call was dispatched, and its approval not denied."""
    error = event.get("error")
    denied = error is not None and error["kind"] == "denied"
    return event.get("seam") in ("tool", "local") and not denied


def _provider_of(snapshot: Snapshot, model: str) -> str:
    """Who answers for a model, as far as its address tells."""
    source = snapshot.models.get(model)
    if source is None:
        return "unknown"
    if source.stand_in:
        return "ferox.simulated"
    return "ferox.recording" if source.recording else "endpoint"


def _id_of(size: int, *parts: object) -> bytes:
    return sha256("/".join(map(str, parts)).encode()).digest()[:size]


def _json_text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


def _fit_text(text: str) -> str:
    """A text that protobuf takes: half characters are replaced."""
    return text.encode("utf-8", "replace").decode()


def _attribute_list(values: Attributes) -> list[KeyValue]:
    """Attributes; those without a value are left out."""
    return [
        KeyValue(key=key, value=_any_value(value))
        for key, value in values.items()
        if value is not None
    ]


def _any_value(value: Any) -> AnyValue:
    if isinstance(value, bool):
        return AnyValue(bool_value=value)
    if isinstance(value, int):
        return AnyValue(int_value=value)
    if isinstance(value, float):
        return AnyValue(double_value=value)
    return AnyValue(string_value=_fit_text(str(value)))
