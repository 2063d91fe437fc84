"""The tools of `tides.py` over stdio in plain JSON-RPC: the SDK takes seconds to import."""

from __future__ import annotations

import json
import os
import queue
import sys
import threading
from typing import Any

Message = dict[str, Any]
TEXT = {"type": "string"}
BERTH = {"type": "object", "properties": {"berth": TEXT}, "required": ["berth"]}
WRITING = threading.Lock()
ANSWERS: queue.Queue[Message] = queue.Queue()
"""What the client answers to a question."""
CANCELLED: set[Any] = set()
"""The requests that the client has cancelled."""


def tool(name: str, description: str, result: Any = TEXT, **arguments: Any) -> Message:
    """A tool's definition; each of its arguments is required."""
    given = {"type": "object", "properties": arguments, "required": list(arguments)}
    found = {"type": "object", "properties": {"result": result}, "required": ["result"]}
    return {
        "name": name, "description": description, "inputSchema": given, "outputSchema": found,
    }  # fmt: skip


LISTS: dict[str, Message] = {
    "tools/list": {
        "tools": [
            tool("high_water", "Times of high water on one day.", day=TEXT),
            tool(
                "environment",
                "Names of the variables that this server got.",
                {"type": "array", "items": TEXT},
            ),
            tool("sound", "Sound the channel, step by step.", steps={"type": "integer"}),
            tool("book", "Book the berth that the client names when asked."),
        ]
    },
    "resources/list": {
        "resources": [{"name": "table", "uri": "tides://table", "mimeType": "text/plain"}]
    },
    "resources/templates/list": {"resourceTemplates": []},
    "prompts/list": {
        "prompts": [
            {
                "name": "ask",
                "description": "Ask for a day's tides.",
                "arguments": [{"name": "day", "required": True}],
            }
        ]
    },
    "ping": {},
}


class NotThere(Exception):
    """Nothing by that name."""


def send(message: Message) -> None:
    with WRITING:
        sys.stdout.write(json.dumps({"jsonrpc": "2.0", **message}) + "\n")
        sys.stdout.flush()


def sound(id: Any, steps: int, token: Any) -> str:
    """Report each step; a tenth of a second is what it takes."""
    for step in range(1, steps + 1):
        if id in CANCELLED:
            raise SystemExit  # ends this call's thread, with no answer
        if token is not None:
            step_of = {"progress": step, "total": steps, "message": f"sounding {step}"}
            send(
                {"method": "notifications/progress", "params": {"progressToken": token, **step_of}}
            )
        threading.Event().wait(0.1)
    return f"{steps} soundings"


def book() -> str:
    asked = {"mode": "form", "message": "Which berth?", "requestedSchema": BERTH}
    send({"id": "q1", "method": "elicitation/create", "params": asked})
    answer = ANSWERS.get().get("result") or {}
    if answer.get("action") != "accept":
        return "Nothing was booked."
    return f"Booked {answer['content']['berth']}."


def call_tool(id: Any, params: Message) -> Message:
    args = params.get("arguments") or {}
    match params["name"]:
        case "high_water" if "day" in args:
            value: str | list[str] = f"14:31 on {args['day']}"
        case "high_water":
            return {"content": [{"type": "text", "text": "day: Field required"}], "isError": True}
        case "environment":
            value = sorted(os.environ)
        case "sound":
            value = sound(id, args["steps"], (params.get("_meta") or {}).get("progressToken"))
        case "book":
            value = book()
        case unknown:
            return {
                "content": [{"type": "text", "text": f"Unknown tool: {unknown}"}],
                "isError": True,
            }
    texts = [value] if isinstance(value, str) else value
    content = [{"type": "text", "text": text} for text in texts]
    return {"content": content, "structuredContent": {"result": value}, "isError": False}


def result_of(id: Any, method: str, params: Message) -> Message:
    if method in LISTS:
        return LISTS[method]
    match method:
        case "initialize":
            offered: Message = {"tools": {}, "resources": {}, "prompts": {}}
            return {
                "protocolVersion": params["protocolVersion"], "capabilities": offered,
                "serverInfo": {"name": "tides", "version": ""}, "instructions": "Times are UTC.",
            }  # fmt: skip
        case "tools/call":
            return call_tool(id, params)
        case "resources/read" if params["uri"] == "tides://table":
            contents = {"uri": "tides://table", "mimeType": "text/plain", "text": "14:31"}
            return {"contents": [contents]}
        case "prompts/get" if params["name"] == "ask":
            text = f"When is high water on {params['arguments']['day']}?"
            return {"messages": [{"role": "user", "content": {"type": "text", "text": text}}]}
    raise NotThere(method)


def answer(message: Message) -> None:
    id = message["id"]
    try:
        send({"id": id, "result": result_of(id, message["method"], message.get("params") or {})})
    except NotThere as error:
        send({"id": id, "error": {"code": -32601, "message": f"Method not found: {error}"}})


def main() -> None:
    for line in sys.stdin:
        message = json.loads(line)
        if message.get("method") == "notifications/cancelled":
            CANCELLED.add(message["params"]["requestId"])
        elif "method" not in message:
            ANSWERS.put(message)
        elif "id" in message:
            threading.Thread(target=answer, args=(message,), daemon=True).start()


if __name__ == "__main__":
    main()
