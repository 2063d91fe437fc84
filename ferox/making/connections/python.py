"""Any agent in Python, as Ferox drives it: a plain loop, with nothing but the standard library.

Put your own framework in place of `take_turn`. Ferox gives, as `trial`: `servers` (name → `url`
of its tools over MCP), `models` (`main` → `base_url`, `api_key`, `name`), `instructions`, `now`,
`params`, and two functions: `ok, args = await trial.ask_approval("server/tool", args)`, and
`trial.report_call("name", args, result=…)` for a tool inside the agent.
"""

import asyncio
import json
import urllib.request
from contextlib import asynccontextmanager


def post(url, body, headers):
    """What is answered to a JSON body: its headers and its text."""
    sent = {"Content-Type": "application/json", **headers}
    request = urllib.request.Request(url, json.dumps(body).encode(), sent)
    with urllib.request.urlopen(request) as answer:
        return answer.headers, answer.read().decode()


class Server:
    """A tool server, over MCP by streamable HTTP."""

    def __init__(self, url):
        self.url = url
        self.headers = {"Accept": "application/json, text/event-stream"}
        client = {"name": "desk", "version": "1"}
        version = {"protocolVersion": "2025-06-18", "capabilities": {}, "clientInfo": client}
        self.send("initialize", version)
        self.send("notifications/initialized", None)
        self.tools = self.send("tools/list", {})["tools"]

    def send(self, method, params):
        """A request's result; a notification, which has no `params` here, has none."""
        body = {"jsonrpc": "2.0", "method": method}
        if params is not None:
            body |= {"id": 1, "params": params}
        headers, text = post(self.url, body, self.headers)
        if session := headers.get("Mcp-Session-Id"):
            self.headers["Mcp-Session-Id"] = session
        # An answer is JSON, or the last event of a stream.
        events = [line[5:] for line in text.splitlines() if line.startswith("data:")] or [text]
        if params is None:
            return None
        answer = json.loads(events[-1])
        if "error" in answer:
            raise RuntimeError(answer["error"]["message"])
        return answer["result"]

    def call(self, name, args):
        result = self.send("tools/call", {"name": name, "arguments": args})
        return "\n".join(part.get("text", "") for part in result["content"])


def take_turn(model, servers, messages):
    """The reply to the last message, after as many calls as the model wants."""
    owners = {tool["name"]: server for server in servers for tool in server.tools}
    offered = [
        {
            "type": "function",
            "function": {
                "name": tool["name"],
                "description": tool.get("description", ""),
                "parameters": tool["inputSchema"],
            },
        }
        for server in servers
        for tool in server.tools
    ]
    key = {"Authorization": f"Bearer {model['api_key']}"}
    for _ in range(20):
        body = {"model": model["name"], "messages": messages, "tools": offered}
        _, text = post(f"{model['base_url']}/chat/completions", body, key)
        message = json.loads(text)["choices"][0]["message"]
        messages.append(message)
        if not message.get("tool_calls"):
            return message["content"]
        for call in message["tool_calls"]:
            wanted = call["function"]
            try:
                result = owners[wanted["name"]].call(
                    wanted["name"], json.loads(wanted["arguments"])
                )
            except (KeyError, ValueError, RuntimeError) as error:
                result = f"Error: {error}"
            messages.append({"role": "tool", "tool_call_id": call["id"], "content": result})
    raise RuntimeError("20 requests, and no reply")


@asynccontextmanager
async def open_desk(trial):
    servers = [await asyncio.to_thread(Server, s["url"]) for s in trial.servers.values()]
    messages = [{"role": "system", "content": trial.instructions}]

    async def say(text):
        messages.append({"role": "user", "content": text})
        return await asyncio.to_thread(take_turn, trial.models["main"], servers, messages)

    yield say
