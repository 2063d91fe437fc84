"""Spans sent to a collector by OTLP over HTTP, in batches."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator, Mapping
from typing import Any, Literal
from urllib.parse import urlsplit

import httpx2
from opentelemetry.proto.collector.trace.v1.trace_service_pb2 import (
    ExportTraceServiceRequest,
    ExportTraceServiceResponse,
)
from opentelemetry.proto.trace.v1.trace_pb2 import ResourceSpans

from ferox.core.naming import counted_noun
from ferox.exports.finished import OnTrial, finished_trials
from ferox.exports.otlp import otlp_json, trial_spans
from ferox.intake.visible import visible_text
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session

Encoding = Literal["protobuf", "json"]
TRACES = "/v1/traces"
"""Where a collector takes spans, by the protocol."""
BATCH_BYTES = 1_000_000
"""A batch is sent once it is this large."""
TIMEOUT_S = 10.0
BUSY = (429, 502, 503, 504)
"""Statuses after which the protocol has a sender try again."""
TRIES = 4
LONGEST_PAUSE_S = 30.0


class SendingError(Exception):
    """A collector that does not take spans; the message says what it answered."""


def collector_address(url: str) -> str:
    """Where spans go: `url`, with the protocol's own path unless it has one.

    Raises:
        SendingError: it is no address.
    """
    parts = urlsplit(url)
    if parts.scheme not in ("http", "https") or not parts.netloc:
        raise SendingError(f"`{url}` is no address of a collector, such as http://127.0.0.1:4318")
    path = parts.path.rstrip("/")
    return parts._replace(path=path or TRACES, fragment="").geturl()


def send_trials(
    session: Session,
    numbers: list[int],
    url: str,
    done: OnTrial,
    *,
    headers: Mapping[str, str] | None = None,
    encoding: Encoding = "protobuf",
) -> int:
    """Send trials as spans; how many spans the collector took.

    Raises:
        SendingError: it cannot be reached, or does not take them. What was sent before stays sent;
            sent again, it is the same spans.
    """
    address, taken = collector_address(url), 0
    with httpx2.Client(timeout=TIMEOUT_S, trust_env=False) as client:
        for batch in _batches_of(session, numbers):
            content, kind = _encode_batch(batch, encoding)
            sent = {**(headers or {}), "Content-Type": kind}
            taken += _post_batch(client, address, content, headers=sent, batch=batch)
            for _ in batch:
                done()
    return taken


def _batches_of(session: Session, numbers: list[int]) -> Iterator[list[ResourceSpans]]:
    batch: list[ResourceSpans] = []
    size = 0
    for trial in finished_trials(session, numbers):
        spans = trial_spans(trial, snapshot_of(session, trial.line.run_id))
        batch.append(spans)
        size += spans.ByteSize()
        if size >= BATCH_BYTES:
            yield batch
            batch, size = [], 0
    if batch:
        yield batch


def _encode_batch(batch: list[ResourceSpans], encoding: Encoding) -> tuple[bytes, str]:
    if encoding == "json":
        body = json.dumps({"resourceSpans": [otlp_json(spans) for spans in batch]})
        return body.encode(), "application/json"
    message = ExportTraceServiceRequest(resource_spans=batch)
    return message.SerializeToString(), "application/x-protobuf"


def _post_batch(
    client: httpx2.Client,
    address: str,
    content: bytes,
    *,
    headers: Mapping[str, str],
    batch: list[ResourceSpans],
) -> int:
    """Send a batch, again while the collector is busy; how many spans it took."""
    for attempt in range(1, TRIES + 1):
        try:
            response = client.post(address, content=content, headers=headers)
        except httpx2.HTTPError as error:
            why = str(error) or type(error).__name__
            raise SendingError(f"{address} cannot be reached: {why}") from None
        if response.status_code not in BUSY or attempt == TRIES:
            break
        time.sleep(_pause_s(response, attempt))
    if response.status_code >= 300:
        said = visible_text(response.text[:200].strip())
        raise SendingError(
            f"{address} answered {response.status_code}" + (f": {said}" if said else "")
        )
    spans = sum(len(scope.spans) for one in batch for scope in one.scope_spans)
    rejected, why = _rejected_spans(response)
    if rejected >= spans:
        raise SendingError(
            f"{address} took none of {counted_noun(spans, 'span')}: {visible_text(why)}"
        )
    return spans - rejected


def _pause_s(response: httpx2.Response, attempt: int) -> float:
    """How long to wait: as the collector says, else longer each time."""
    said = response.headers.get("Retry-After", "")
    pause = float(said) if said.isdecimal() else 0.5 * 2.0**attempt
    return min(pause, LONGEST_PAUSE_S)


def _rejected_spans(response: httpx2.Response) -> tuple[int, str]:
    """How many spans a collector that took the batch left out, and why."""
    if "json" in response.headers.get("Content-Type", ""):
        try:
            partial: Any = response.json().get("partialSuccess") or {}
            return int(partial.get("rejectedSpans") or 0), str(partial.get("errorMessage") or "")
        except (ValueError, AttributeError, TypeError):
            return 0, ""
    answer = ExportTraceServiceResponse()
    try:
        answer.ParseFromString(response.content)
    except Exception:  # what else a collector says does not matter
        return 0, ""
    return answer.partial_success.rejected_spans, answer.partial_success.error_message
