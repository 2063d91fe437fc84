"""The demo's desk of Pydantic AI, with that framework's own spans."""

import tracing  # noqa: F401  (first: it sets up where spans go)
from desk_pydantic_ai import open_desk  # noqa: F401
from pydantic_ai import Agent

Agent.instrument_all()
