"""Truth: what Ferox looks up itself, past all faults, to hold the agent's answer against."""

from __future__ import annotations

import asyncio
from collections.abc import Mapping
from typing import Any

from ferox.formats.trace import TruthValue
from ferox.servers.sources.source import ProtocolRefusal, Source, UnknownTool

TRUTH_S = 30.0
"""Seconds that Ferox waits for a truth that it looks up."""


async def looked_up(
    sources: Mapping[str, Source], address: str, args: dict[str, Any]
) -> TruthValue:
    """What a server answers to a call of Ferox's own, or the error that it ends in."""
    server, tool = address.split("/", 1)
    try:
        async with asyncio.timeout(TRUTH_S):
            given = await sources[server].look_up(tool, args)
    except (KeyError, UnknownTool):
        error: Any = {"kind": "unknown_tool", "message": f"{address}: no such tool"}
    except ProtocolRefusal as refused:
        error = {"kind": "protocol_error", "message": refused.message}
    except TimeoutError:
        error = {"kind": "timeout", "message": f"{address}: no answer in {TRUTH_S:g} s"}
    else:
        if not given.is_error:
            return {"result": given.value, "error": None}
        error = {"kind": "tool_error", "message": given.error}
    return {"result": None, "error": error}
