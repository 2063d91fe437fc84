"""The demo's desk of the OpenAI Agents SDK, with the contributed instrumentation."""

import tracing  # noqa: F401
from agents import set_tracing_disabled
from desk_openai_agents import open_desk  # noqa: F401
from opentelemetry.instrumentation.openai_agents import OpenAIAgentsInstrumentor

set_tracing_disabled(False)
OpenAIAgentsInstrumentor().instrument()
