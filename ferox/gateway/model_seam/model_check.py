"""A look at a model before an agent uses it: is it there, does it take tools, how much does
it read?"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import httpx2

from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.endpoint import Endpoint, EndpointUnreachable
from ferox.intake.json_text import read_json
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.tls import TLS
from ferox.workspace.vault import UnsetSecret

PATIENCE_S = 30.0
LONG_TOKENS = 4000
"""About how many tokens the long request has: enough to tell a window that is cut off."""
WINDOWS = ("context_window", "context_length", "max_model_len", "max_context_length", "n_ctx")
"""Under which names endpoints tell how much a model reads."""
READY = {
    "type": "function",
    "function": {
        "name": "say_ready",
        "description": "Say that you are ready. Call this now.",
        "parameters": {"type": "object", "properties": {}},
    },
}


@dataclass(frozen=True)
class Finding:
    """One thing found: well, doubtful or broken (`ok` True, None, False), and what to try."""

    ok: bool | None
    message: str
    advice: str = ""


async def look_at_model(name: str, source: ModelSource) -> list[Finding]:
    """What is found of a model, in order; the first that is broken ends it."""
    if source.stand_in:
        message = f"{name} is a stand-in (simulated): it is there, takes tools and reads any length"
        return [Finding(True, message)]
    if source.recording and source.miss == "error":
        message = f"{name} is replayed from {source.recording}: it answers what was recorded"
        return [Finding(True, message)]
    try:
        endpoint = Endpoint(source, name)
    except UnsetSecret as error:
        advice = "set it where Ferox is started, and restart Ferox"
        return [Finding(False, str(error), advice)]
    found = []
    async with httpx2.AsyncClient(timeout=PATIENCE_S, verify=TLS) as http:
        listed = await _listed_models(http, endpoint, str(source.base_url))
        found += listed.findings
        if any(f.ok is False for f in found):
            return found
    found.append(await _takes_tools(endpoint))
    if found[-1].ok is False:
        return found
    if listed.window:
        found.append(Finding(True, f"it says that it reads {listed.window:,} tokens"))
    else:
        found.append(await _reads_tools(endpoint))
    return found


@dataclass
class _ModelListing:
    findings: list[Finding]
    window: int | None = None


async def _listed_models(http: httpx2.AsyncClient, endpoint: Endpoint, base: str) -> _ModelListing:
    try:
        answer = await http.get(f"{base.rstrip('/')}/models", headers=endpoint.headers)
    except httpx2.ConnectError:
        advice = "start it, or correct `base_url` in ferox.yaml"
        return _ModelListing([Finding(False, f"nothing listens at {base}", advice)])
    except httpx2.HTTPError as error:
        advice = "correct `base_url` in ferox.yaml"
        return _ModelListing([Finding(False, f"{base}: {plain_error(error)}", advice)])
    if answer.status_code in (401, 403):
        advice = "correct its `api_key`"
        message = f"{base} answers HTTP {answer.status_code}: it does not take the key"
        return _ModelListing([Finding(False, message, advice)])
    try:
        entries = [e for e in read_json(answer.content)["data"] if isinstance(e, dict)]
    except (ValueError, KeyError, TypeError):
        return _ModelListing([Finding(None, f"{base} is there, and gives no list of its models")])
    here = next((e for e in entries if e.get("id") == endpoint.name), None)
    if here is None:
        known = ", ".join(_some_names(str(e.get("id")) for e in entries)) or "none"
        message = f"{base} is there, and does not list `{endpoint.name}`; it lists {known}"
        return _ModelListing([Finding(None, message, "correct `name` if the next steps fail")])
    windows = [here[k] for k in WINDOWS if isinstance(here.get(k), int)]
    message = f"{base} is there, and has `{endpoint.name}`"
    return _ModelListing([Finding(True, message)], windows[0] if windows else None)


def _some_names(names: Iterable[str], most: int = 8) -> list[str]:
    listed = list(names)
    return listed if len(listed) <= most else [*listed[:most], f"{len(listed) - most} more"]


async def _ask_once(endpoint: Endpoint, body: dict[str, Any]) -> tuple[int, dict[str, Any]]:
    async with endpoint.ask_model("chat/completions", body) as answer:
        text = await answer.read_whole()
    try:
        body = read_json(text)
    except ValueError:
        body = {"error": text[:200].decode(errors="replace")}
    return answer.status, body if isinstance(body, dict) else {}


async def _takes_tools(endpoint: Endpoint) -> Finding:
    words = {"role": "user", "content": "Call the tool say_ready."}
    try:
        status, body = await _ask_once(endpoint, {"messages": [words], "tools": [READY]})
    except EndpointUnreachable as error:
        return Finding(False, str(error), "see the endpoint's own log")
    if status >= 400:
        said = json.dumps(body.get("error", body), ensure_ascii=False)[:200]
        advice = "choose a model that takes tools" if "tool" in said.lower() else "see what it says"
        return Finding(False, f"a request with a tool is answered by HTTP {status}: {said}", advice)
    try:
        calls = body["choices"][0]["message"].get("tool_calls") or []
    except (KeyError, IndexError, TypeError, AttributeError):
        advice = "it must speak the chat-completions interface"
        return Finding(False, "its answer is not a chat completion", advice)
    if calls:
        return Finding(True, "it takes tools: it called the one that it was asked to call")
    problem = "it took a tool with the request, and did not call it when it was asked to"
    return Finding(None, problem, "it may answer in words only; expect calls that are not proposed")


async def _reads_tools(endpoint: Endpoint) -> Finding:
    lines = [f"Line {n}: the tide comes and goes." for n in range(LONG_TOKENS // 10)]
    text = "\n".join(lines)
    words = {"role": "user", "content": f"{text}\nSay the one word: ready."}
    try:
        status, body = await _ask_once(endpoint, {"messages": [words]})
    except EndpointUnreachable as error:
        return Finding(None, f"a long request was not answered: {error}")
    if status >= 400:
        said = json.dumps(body.get("error", body), ensure_ascii=False)[:200]
        advice = "raise its context window, or offer fewer tools"
        return Finding(None, f"about {LONG_TOKENS:,} tokens are too many for it: {said}", advice)
    usage = body.get("usage")
    count = usage.get("prompt_tokens") if isinstance(usage, dict) else None
    if not isinstance(count, int):
        return Finding(None, "it does not say how many tokens it read")
    if count < len(lines) * 5:
        advice = "raise its context window: it cuts off silently what does not fit"
        return Finding(None, f"of about {LONG_TOKENS:,} tokens it read {count:,}", advice)
    return Finding(True, f"it read {count:,} tokens; its limit was not reached")
