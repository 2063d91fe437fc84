"""OTLP/JSON by hand, as short as it can be said."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

SECOND = 1_000_000_000
BEGAN = 1_700_000_000 * SECOND


def span(
    id: str,
    name: str,
    start: float = 0.0,
    s: float = 0.1,
    *,
    trace: str = "aa",
    parent: str = "",
    scope: str = "test",
    failed: str | None = None,
    events: Any = (),
    **attributes: Any,
) -> dict[str, Any]:
    """A span with its scope; of attributes, `__` stands for a dot and other values are JSON."""
    begins = BEGAN + round(start * SECOND)
    body: dict[str, Any] = {
        "traceId": trace,
        "spanId": id,
        "name": name,
        "startTimeUnixNano": str(begins),
        "endTimeUnixNano": str(begins + round(s * SECOND)),
        "attributes": pairs(attributes),
        "events": [{"name": n, "attributes": pairs(a)} for n, a in events],
    }
    if parent:
        body["parentSpanId"] = parent
    if failed is not None:
        body["status"] = {"code": 2, "message": failed}
    return {"scope": {"name": scope}, "spans": [body]}


def pairs(attributes: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Attributes as OTLP has them."""
    return [
        {"key": key.replace("__", "."), "value": typed(value)} for key, value in attributes.items()
    ]


def typed(value: Any) -> dict[str, Any]:
    if isinstance(value, bool):
        return {"boolValue": value}
    if isinstance(value, int):
        return {"intValue": str(value)}
    return {"stringValue": value if isinstance(value, str) else json.dumps(value)}


def document(*scopes: dict[str, Any], **resource: Any) -> dict[str, Any]:
    """A document of spans."""
    return {
        "resourceSpans": [{"resource": {"attributes": pairs(resource)}, "scopeSpans": list(scopes)}]
    }


def said(role: str, text: str = "", calls: Any = (), responses: Any = ()) -> dict[str, Any]:
    """A message of the conventions: `calls` are id, name and arguments, `responses` id and
    result."""
    parts: list[dict[str, Any]] = [{"type": "text", "content": text}] if text else []
    parts += [{"type": "tool_call", "id": i, "name": n, "arguments": a} for i, n, a in calls]
    parts += [{"type": "tool_call_response", "id": i, "response": r} for i, r in responses]
    return {"role": role, "parts": parts}


def chat(id: str, start: float, shown: Any, answer: Any, **more: Any) -> dict[str, Any]:
    """A request to a model with what it was shown and what it said."""
    told = {"gen_ai__input__messages": shown, "gen_ai__output__messages": [answer]}
    return span(id, "chat m", start, gen_ai__operation__name="chat", **told, **more)


def tool(id: str, start: float, name: str, args: Any, result: Any, **more: Any) -> dict[str, Any]:
    """A call of a tool."""
    told = {"gen_ai__tool__call__arguments": args, "gen_ai__tool__call__result": result}
    return span(
        id, f"execute_tool {name}", start, gen_ai__operation__name="execute_tool",
        gen_ai__tool__name=name, **told, **more,
    )  # fmt: skip
