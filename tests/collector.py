"""A small OpenTelemetry collector: takes OTLP over HTTP, protobuf and JSON, and keeps it."""

from __future__ import annotations

import base64
import gzip
import json
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any, Self

from google.protobuf.json_format import MessageToDict, ParseDict
from google.protobuf.message import Message
from opentelemetry.proto.collector.logs.v1.logs_service_pb2 import ExportLogsServiceRequest
from opentelemetry.proto.collector.trace.v1.trace_service_pb2 import ExportTraceServiceRequest

REQUESTS: dict[str, type[Message]] = {
    "/v1/traces": ExportTraceServiceRequest,
    "/v1/logs": ExportLogsServiceRequest,
}
IDS = ("traceId", "spanId", "parentSpanId")


class Collector:
    """Listens on loopback while it is open; `refuses` is a status that it answers instead."""

    def __init__(self, refuses: int | None = None) -> None:
        self.refuses = refuses
        self.messages: list[Message] = []
        self.headers: list[dict[str, str]] = []
        handler = type("Handler", (_Handler,), {"collector": self})
        self._server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        self.url = f"http://127.0.0.1:{self._server.server_address[1]}"

    def __enter__(self) -> Self:
        threading.Thread(target=self._server.serve_forever, daemon=True).start()
        return self

    def __exit__(self, *_: object) -> None:
        self._server.shutdown()
        self._server.server_close()

    def lines(self) -> list[str]:
        """What came as lines of OTLP/JSON, as collectors write files."""
        return [json.dumps(as_otlp_json(message)) for message in self.messages]


class _Handler(BaseHTTPRequestHandler):
    collector: Collector
    protocol_version = "HTTP/1.1"

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers["Content-Length"]))
        if self.headers.get("Content-Encoding") == "gzip":
            body = gzip.decompress(body)
        message = REQUESTS[self.path]()
        if self.headers["Content-Type"] == "application/json":
            ParseDict(with_base64(json.loads(body)), message)
        else:
            message.ParseFromString(body)
        self.collector.headers.append(dict(self.headers))
        if self.collector.refuses is None:
            self.collector.messages.append(message)
        self.send_response(self.collector.refuses or 200)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *_: object) -> None:
        """Nothing is said of requests."""


def as_otlp_json(message: Message) -> Any:
    """A message by OTLP's JSON rules: ids are hexadecimal, kinds are numbers."""
    plain = MessageToDict(message, use_integers_for_enums=True)
    return _mapped_ids(plain, lambda text: base64.b64decode(text).hex())


def with_base64(value: Any) -> Any:
    """OTLP/JSON as protobuf's own mapping has it."""
    return _mapped_ids(value, lambda text: base64.b64encode(bytes.fromhex(text)).decode())


def _mapped_ids(value: Any, mapped: Any) -> Any:
    if isinstance(value, list):
        return [_mapped_ids(one, mapped) for one in value]
    if isinstance(value, dict):
        return {
            key: mapped(one) if key in IDS else _mapped_ids(one, mapped)
            for key, one in value.items()
        }
    return value
