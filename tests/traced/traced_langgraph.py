"""The demo's duty officer of LangGraph, with the contributed instrumentation of its client."""

import tracing  # noqa: F401
from duty_officer import open_desk  # noqa: F401
from opentelemetry.instrumentation.openai_v2 import OpenAIInstrumentor

OpenAIInstrumentor().instrument()
