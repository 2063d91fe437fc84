"""A tool server that misbehaves when asked to: `bad.py HOW`. Plain JSON-RPC, no SDK."""

import json
import sys
import time


def say(message: object) -> None:
    sys.stdout.write(json.dumps(message) + "\n")
    sys.stdout.flush()


def result(id: object, text: str) -> dict[str, object]:
    content = [{"type": "text", "text": text}]
    return {"jsonrpc": "2.0", "id": id, "result": {"content": content, "isError": False}}


def misbehave(how: str, id: object) -> None:
    match how:
        case "rubbish":
            sys.stdout.write('tide tide tide\n{"jsonrpc": "2.0", "id\n[]\n\n')
            say(result(id, "after rubbish"))
        case "twice":
            say(result(id, "once"))
            say(result(id, "twice"))
        case "huge":
            say(result(id, "tide " * 10_500_000))
        case "flood":
            for n in range(2500):
                params = {"level": "info", "data": f"wave {n}"}
                say({"jsonrpc": "2.0", "method": "notifications/message", "params": params})
            say(result(id, "after the flood"))
        case "die":
            print("the book is closed", file=sys.stderr)
            sys.exit(3)
        case "breaks_schema":
            found = result(id, '{"depth_m": "deep"}')
            found["result"]["structuredContent"] = {"depth_m": "deep"}  # type: ignore[index]
            say(found)
        case "no_list":
            say({"jsonrpc": "2.0", "id": id, "result": {"content": "well"}})
        case _:
            time.sleep(0)  # silent: no answer, ever


def main(how: str) -> None:
    output = {"type": "object", "properties": {"depth_m": {"type": "number"}}}
    tools = [
        {"name": "misbehave", "inputSchema": {"type": "object"}},
        {"name": "behave", "inputSchema": {"type": "object"}},
    ]
    if how == "breaks_schema":
        tools[0]["outputSchema"] = output
    for line in sys.stdin:
        message = json.loads(line)
        id = message.get("id")
        match message.get("method"):
            case "initialize":
                info = {
                    "protocolVersion": "1999-01-01"
                    if how == "version"
                    else message["params"]["protocolVersion"],
                    "capabilities": {"tools": {}, "logging": {}},
                    "serverInfo": {"name": "bad", "version": "1"},
                }
                say({"jsonrpc": "2.0", "id": id, "result": info})
            case "tools/list":
                say({"jsonrpc": "2.0", "id": id, "result": {"tools": tools}})
            case "tools/call" if message["params"]["name"] == "misbehave":
                misbehave(how, id)
            case "tools/call":
                say(result(id, "well"))
            case _ if id is not None:
                error = {"code": -32601, "message": "Method not found"}
                say({"jsonrpc": "2.0", "id": id, "error": error})


if __name__ == "__main__":
    main(sys.argv[1])
