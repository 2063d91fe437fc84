"""Drift: what a recording says that the live server no longer does."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from mcp import Client
from mcp.shared.exceptions import MCPError

from ferox.core.definitions import only_reads
from ferox.core.json_values import canonical_json
from ferox.core.listing import Difference, ListChange, json_differences, list_changes
from ferox.recordings.recording import Exchange, Recording
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.sources.live import every_page
from ferox.servers.sources.source import plain_value

MOST_ASKED = 500
SAME, CHANGED, GONE, NOT_ASKED = "same", "changed", "gone", "not asked"


@dataclass(frozen=True)
class RepeatedCall:
    """One recorded call, asked again: how its answer differs, or why it was not asked."""

    number: int
    tool: str
    args: dict[str, Any]
    kind: str
    what: tuple[Difference, ...] = ()
    reason: str | None = None


@dataclass
class Drift:
    """What changed since a recording, as far as it was looked at."""

    total: int = 0
    tools: list[ListChange] = field(default_factory=list)
    calls: list[RepeatedCall] = field(default_factory=list)

    @property
    def has_drifted(self) -> bool:
        """Whether anything is no longer as recorded."""
        return bool(self.tools) or any(c.kind in (CHANGED, GONE) for c in self.calls)


async def find_drift(
    recording: Recording,
    client: Client,
    also: Iterable[str] = (),
    listener: Callable[[Drift], None] = lambda drift: None,
) -> Drift:
    """Ask the live server the recorded calls again that only read.

    A call only reads if its tool's annotations say so, in the live list or the recorded
    one; `also` names tools to be asked all the same. `listener` hears of progress.
    """
    live = await every_page(client.list_tools, "tools") if client.server_capabilities.tools else []
    now = {t["name"]: t for t in live}
    then = {t["name"]: t for t in recording.tools}
    drift = Drift(tools=list_changes(recording.tools, live) if recording.tools else [])
    chosen = _distinct_calls(recording.calls)
    drift.total = len(chosen)
    for call in chosen:
        tool = call.tool or ""
        reads = _only_reads(now.get(tool)) or (tool not in now and _only_reads(then.get(tool)))
        if tool not in now:
            asked = RepeatedCall(
                call.number, tool, call.args, GONE, reason="the tool is no longer there"
            )
        elif not (reads or tool in set(also)):
            reason = "the tool does not say that it only reads"
            asked = RepeatedCall(call.number, tool, call.args, NOT_ASKED, reason=reason)
        else:
            asked = await _call_again(client, call)
        drift.calls.append(asked)
        listener(drift)
    return drift


def _only_reads(tool: dict[str, Any] | None) -> bool:
    return only_reads(tool or {})


def _distinct_calls(calls: Iterable[Exchange]) -> list[Exchange]:
    """Each call once, as it was last answered."""
    last: dict[str, Exchange] = {}
    for call in calls:
        if call.answer_at is not None:
            last[canonical_json([call.tool, call.args])] = call
    return sorted(last.values(), key=lambda c: c.number)[:MOST_ASKED]


async def _call_again(client: Client, call: Exchange) -> RepeatedCall:
    tool = call.tool or ""
    try:
        result = await client.call_tool(tool, call.args)
        now: Any = _shown_value(result.model_dump(mode="json", by_alias=True, exclude_none=True))
    except MCPError as error:
        now = {"protocol error": {"code": error.code, "message": str(error)}}
    except Exception as error:
        now = {"not valid": plain_error(error)}
    if call.error is not None:
        error_ = {k: call.error.get(k) for k in ("code", "message")}
        before: Any = {"protocol error": error_}
    else:
        before = _shown_value(call.result or {})
    what = tuple(json_differences(before, now))
    return RepeatedCall(call.number, tool, call.args, kind=CHANGED if what else SAME, what=what)


def _shown_value(result: dict[str, Any]) -> Any:
    """An answer as it is compared: its value, or the error that it tells."""
    content = result.get("content") or []
    value = plain_value(content, result.get("structuredContent"))
    if result.get("isError"):
        return {"error": value}
    others = [c for c in content if c.get("type") != "text"]
    return {"value": value, "other content": others} if others else value
