"""OpenTelemetry as an agent's own developer would switch it on, sent to `OTLP_TO`."""

import os

from opentelemetry import _logs, trace
from opentelemetry.exporter.otlp.proto.http._log_exporter import OTLPLogExporter
from opentelemetry.exporter.otlp.proto.http.trace_exporter import OTLPSpanExporter
from opentelemetry.sdk._logs import LoggerProvider
from opentelemetry.sdk._logs.export import SimpleLogRecordProcessor
from opentelemetry.sdk.trace import TracerProvider
from opentelemetry.sdk.trace.export import SimpleSpanProcessor

to = os.environ["OTLP_TO"]
spans = TracerProvider()
spans.add_span_processor(SimpleSpanProcessor(OTLPSpanExporter(f"{to}/v1/traces")))
trace.set_tracer_provider(spans)
logs = LoggerProvider()
logs.add_log_record_processor(SimpleLogRecordProcessor(OTLPLogExporter(f"{to}/v1/logs")))
_logs.set_logger_provider(logs)
