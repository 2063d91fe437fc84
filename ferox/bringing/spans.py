"""OpenTelemetry as files hold it (OTLP/JSON), as plain spans with what was logged of them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

ERROR = 2
"""The status code of a span that failed."""
LATEST_NS = 4_102_444_800 * 10**9
"""2100: a time beyond it is no time of a trace."""


class SpanError(ValueError):
    """A span that cannot be read; the message says which and why."""


@dataclass(frozen=True)
class SpanEvent:
    """Something that happened in a span, or was logged of it."""

    name: str
    attributes: Mapping[str, Any]
    at: int = 0
    """Nanoseconds since the epoch; 0 where nobody said."""


@dataclass
class Span:
    """One span. Times are nanoseconds since the epoch."""

    trace: str
    id: str
    parent: str
    name: str
    start: int
    end: int
    attributes: dict[str, Any]
    scope: str
    failed: bool
    message: str
    resource: Mapping[str, Any]
    events: list[SpanEvent] = field(default_factory=list)

    def get(self, *keys: str) -> Any:
        """The first of some attributes that has a value, here or in what was logged of it."""
        for key in keys:
            for held in (self.attributes, *(event.attributes for event in self.events)):
                if held.get(key) not in (None, ""):
                    return held[key]
        return None

    def text(self, *keys: str) -> str | None:
        """The same where it is a text."""
        value = self.get(*keys)
        return value if isinstance(value, str) else None


@dataclass(frozen=True)
class LoggedEvent:
    """What was logged of a span."""

    trace: str
    span: str
    event: SpanEvent


def holds_spans(document: Any) -> bool:
    """Whether a JSON value is OTLP."""
    return isinstance(document, dict) and bool(
        document.keys() & {"resourceSpans", "resourceLogs", "resourceMetrics"}
    )


def read_spans(document: Mapping[str, Any]) -> Iterator[Span | LoggedEvent]:
    """The spans and log records of a document.

    Raises:
        SpanError: one of them cannot be read.
    """
    for resource in _list_at(document, "resourceSpans"):
        about = attributes_of(_dict_at(resource, "resource"))
        for scope in _list_at(resource, "scopeSpans"):
            name = str(_dict_at(scope, "scope").get("name") or "")
            for body in _list_at(scope, "spans"):
                yield _read_span(body, scope=name, resource=about)
    for resource in _list_at(document, "resourceLogs"):
        for scope in _list_at(resource, "scopeLogs"):
            for body in _list_at(scope, "logRecords"):
                record = _read_record(body)
                if record is not None:
                    yield record


def _read_span(body: Any, scope: str, resource: Mapping[str, Any]) -> Span:
    if not isinstance(body, dict):
        raise SpanError("a span is not an object")
    trace, id = body.get("traceId"), body.get("spanId")
    if not (isinstance(trace, str) and trace and isinstance(id, str) and id):
        raise SpanError("a span lacks its `traceId` or `spanId`")
    start, end = (_time_of(body, key) for key in ("startTimeUnixNano", "endTimeUnixNano"))
    status = _dict_at(body, "status")
    return Span(
        trace=trace.lower(),
        id=id.lower(),
        parent=str(body.get("parentSpanId") or "").lower(),
        name=str(body.get("name") or ""),
        start=start,
        end=max(start, end),
        attributes=attributes_of(body),
        scope=scope,
        failed=status.get("code") in (ERROR, "STATUS_CODE_ERROR"),
        message=str(status.get("message") or ""),
        resource=resource,
        events=[
            SpanEvent(str(event.get("name") or ""), attributes_of(event), _event_time(event))
            for event in _list_at(body, "events")
            if isinstance(event, dict)
        ],
    )


def _time_of(body: Mapping[str, Any], key: str) -> int:
    given = body.get(key)
    if isinstance(given, str) and given.isascii() and given.isdecimal() and len(given) < 25:
        given = int(given)
    if isinstance(given, bool) or not isinstance(given, int) or not 0 < given < LATEST_NS:
        raise SpanError(f"span {body.get('spanId')}: `{key}` is no time")
    return given


def _event_time(body: Mapping[str, Any]) -> int:
    try:
        return _time_of(body, "timeUnixNano")
    except SpanError:
        return 0


def _read_record(body: Any) -> LoggedEvent | None:
    """A log record of a span; None for what belongs to none."""
    if not isinstance(body, dict) or not body.get("traceId") or not body.get("spanId"):
        return None
    attributes = attributes_of(body)
    said = plain_value(body.get("body"))
    if isinstance(said, dict):
        attributes = {**said, **attributes}
    name = body.get("eventName") or attributes.get("event.name") or ""
    event = SpanEvent(str(name), attributes)
    return LoggedEvent(str(body["traceId"]).lower(), str(body["spanId"]).lower(), event)


def attributes_of(body: Mapping[str, Any]) -> dict[str, Any]:
    """Attributes as plain values."""
    return {
        str(pair["key"]): plain_value(pair.get("value"))
        for pair in _list_at(body, "attributes")
        if isinstance(pair, dict) and "key" in pair
    }


def plain_value(value: Any) -> Any:
    """A value of OTLP as JSON has it."""
    if not isinstance(value, dict) or len(value) != 1:
        return None
    ((kind, held),) = value.items()
    if kind == "arrayValue":
        return [plain_value(one) for one in _list_at(held, "values")]
    if kind == "kvlistValue":
        return attributes_of({"attributes": _list_at(held, "values")})
    if kind == "intValue" and isinstance(held, str):
        digits = held.removeprefix("-")
        return int(held) if digits.isascii() and digits.isdecimal() else None
    return held


def _list_at(body: Any, key: str) -> list[Any]:
    found = body.get(key) if isinstance(body, dict) else None
    return found if isinstance(found, list) else []


def _dict_at(body: Any, key: str) -> dict[str, Any]:
    found = body.get(key) if isinstance(body, dict) else None
    return found if isinstance(found, dict) else {}
