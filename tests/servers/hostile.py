"""A tool server that is hostile in the way that it is told: `hostile.py HOW`. No SDK."""

import json
import os
import sys
import time

HOW = sys.argv[1]
DEEP = '{"a":' * 240 + "1" + "}" * 240
RAW = {
    "utf8": b'{"jsonrpc":"2.0","id":%d,"result":{"content":[{"type":"text","text":"\xff\xfe"}]}}',
    "half": b'{"jsonrpc":"2.0","id":%d,"result":{"content":[{"type":"text","text":"\\ud800"}]}}',
    "nan": b'{"jsonrpc":"2.0","id":%d,"result":{"content":[],"structuredContent":{"a":NaN}}}',
    "deep": b'{"jsonrpc":"2.0","id":%d,"result":{"content":[],"structuredContent":'
    + DEEP.encode()
    + b"}}",
    "digits": b'{"jsonrpc":"2.0","id":%d,"result":{"content":[],"structuredContent":{"a":'
    + b"9" * 5000
    + b"}}}",
    "shape": b'{"jsonrpc":"2.0","id":%d,"result":7}',
}
"""Answers as they stand on the wire."""
SLOW = {"type": "object", "properties": {"a": {"type": "string", "pattern": "^(a|aa)+$"}}}
LISTS: dict[str, list[object]] = {
    "properties": [{"name": "x", "description": 7, "inputSchema": {"properties": 7}}],
    "odd": [
        {
            "name": "x",
            "description": "One two three four.",
            "inputSchema": {
                "type": "object",
                "properties": {
                    "a": {"items": 3, "enum": 4, "pattern": 5},
                    "b": {"$ref": "http://x/y"},
                },
                "allOf": {},
            },
            "outputSchema": {"type": "object", "$ref": "file:///etc/passwd"},
        }
    ],
    "twice": [{"name": "x", "inputSchema": {"type": "object"}}] * 2,
    "number": [{"name": 7, "inputSchema": {}}],
    "none": [7, None, []],
    "schema": [{"name": "call", "inputSchema": {"type": "object"}, "outputSchema": SLOW}],
    "escape": [
        {
            "name": "call",
            "description": "\x1b]0;title\x07\x1b[2J \u202e evil",
            "inputSchema": {"type": "object"},
        }
    ],
    "many": [
        {
            "name": f"tool_{i}_{'abc'[i % 3]}",
            "description": f"Moves box {i % 50} with crane {i % 7} along quay {i} of the harbour.",
            "inputSchema": {
                "type": "object",
                "properties": {f"p{j}": {"type": "string", "description": "w"} for j in range(4)},
                "required": ["p0"],
            },
        }
        for i in range(3000)
    ],
}


def say(raw: bytes) -> None:
    os.write(1, raw + b"\n")


def result(id: object, value: object) -> None:
    say(json.dumps({"jsonrpc": "2.0", "id": id, "result": value}).encode())


def main() -> None:
    plain = [{"name": "call", "inputSchema": {"type": "object"}}]
    for line in sys.stdin:
        message = json.loads(line)
        id, method = message.get("id"), message.get("method")
        if method == "initialize":
            about = {"name": "hostile\x1b[31m", "version": "1"}
            document = {"protocolVersion": "2025-06-18", "capabilities": {"tools": {}}}
            result(id, {**document, "serverInfo": about})
        elif method == "tools/list":
            result(id, {"tools": LISTS.get(HOW, plain)})
        elif method == "tools/call" and HOW in RAW:
            say(RAW[HOW] % id)
        elif method == "tools/call" and HOW == "schema":
            result(id, {"content": [], "structuredContent": {"a": "a" * 100 + "!"}})
        elif method == "tools/call" and HOW == "silent":
            time.sleep(600)
        elif method == "tools/call":
            result(id, {"content": [{"type": "text", "text": "well \x1b[2J"}]})
        elif id is not None:
            result(id, {})


if __name__ == "__main__":
    main()
