"""A look at a model before an agent uses it: is it there, does it take tools, how much does
it read?"""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Iterable
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
LOCAL_S = 1.0
LOCAL_PORTS = (1234, 4000, 5000, 8000, 8001, 8080, 8081, 9000, 9005, 11434)
"""Where programs that serve models on one's own machine usually listen."""
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


async def look_at_model(name: str, source: ModelSource) -> AsyncIterator[Finding]:
    """What is found of a model, in order; the first that is broken is the last."""
    if source.stand_in:
        message = f"{name} is a stand-in (simulated): it is there, takes tools and reads any length"
        yield Finding(True, message)
        return
    if source.recording and source.miss == "error":
        message = f"{name} is replayed from {source.recording}: it answers what was recorded"
        yield Finding(True, message)
        return
    try:
        endpoint = Endpoint(source, name)
    except UnsetSecret as error:
        yield Finding(False, str(error), "then look again: nothing has to be restarted")
        return
    async with httpx2.AsyncClient(timeout=PATIENCE_S, verify=TLS) as http:
        listed = await _listed_models(http, endpoint, str(source.base_url))
    yield listed.finding
    if listed.finding.ok is False:
        return
    takes_tools = await _takes_tools(endpoint)
    yield takes_tools
    if takes_tools.ok is False:
        return
    if listed.window:
        yield Finding(True, f"it says that it reads {listed.window:,} tokens")
    else:
        yield await _reads_tools(endpoint)


def look_at_price(source: ModelSource) -> Finding:
    """What is known of a model's price."""
    if source.is_free:
        return Finding(True, "it costs nothing")
    price = source.price
    if price is None:
        message = "its price is not known: what a run costs is not told"
        return Finding(None, message, "give its price, if it has one")
    cached = "" if price.cached_in is None else f", {price.cached_in:g} if kept from before"
    per = f"{price.currency} per {price.per:,} tokens"
    return Finding(True, f"{per}: {price.in_:g} sent{cached}, {price.out:g} answered")


@dataclass(frozen=True)
class FoundEndpoint:
    """An endpoint that answered, and the names of its models."""

    base_url: str
    models: list[str]


async def find_local_endpoints() -> list[FoundEndpoint]:
    """The endpoints on this machine's usual ports that list their models."""
    async with httpx2.AsyncClient(timeout=LOCAL_S) as http:
        bases = [f"http://127.0.0.1:{port}/v1" for port in LOCAL_PORTS]
        found = await asyncio.gather(*(_names_at(http, base) for base in bases))
    return [
        FoundEndpoint(base, names)
        for base, names in zip(bases, found, strict=True)
        if names is not None
    ]


async def list_model_names(source: ModelSource) -> list[str]:
    """The names of the models that an endpoint lists.

    Raises:
        UnsetSecret: its key is not set, or may not go there yet.
        EndpointUnreachable: it does not answer with a list.
    """
    endpoint, base = Endpoint(source, "?"), str(source.base_url)
    async with httpx2.AsyncClient(timeout=PATIENCE_S, verify=TLS) as http:
        listed = await _listed_models(http, endpoint, base)
    if listed.names is None:
        raise EndpointUnreachable(listed.finding.message)
    return listed.names


async def _names_at(http: httpx2.AsyncClient, base: str) -> list[str] | None:
    try:
        answer = await http.get(f"{base}/models")
        return [str(e["id"]) for e in read_json(answer.content)["data"]]
    except (httpx2.HTTPError, ValueError, KeyError, TypeError):
        return None


@dataclass
class _ModelListing:
    finding: Finding
    names: list[str] | None = None
    window: int | None = None


async def _listed_models(http: httpx2.AsyncClient, endpoint: Endpoint, base: str) -> _ModelListing:
    try:
        answer = await http.get(f"{base.rstrip('/')}/models", headers=endpoint.headers)
    except httpx2.ConnectError:
        advice = "start it, or correct `base_url` in ferox.yaml"
        return _ModelListing(Finding(False, f"nothing listens at {base}", advice))
    except httpx2.HTTPError as error:
        advice = "correct `base_url` in ferox.yaml"
        return _ModelListing(Finding(False, f"{base}: {plain_error(error)}", advice))
    if answer.status_code in (401, 403):
        advice = "correct its `api_key`"
        message = f"{base} answers HTTP {answer.status_code}: it does not take the key"
        return _ModelListing(Finding(False, message, advice))
    try:
        entries = [e for e in read_json(answer.content)["data"] if isinstance(e, dict)]
    except (ValueError, KeyError, TypeError):
        return _ModelListing(Finding(None, f"{base} is there, and gives no list of its models"))
    names = [str(e.get("id")) for e in entries]
    here = next((e for e in entries if e.get("id") == endpoint.name), None)
    if here is None:
        known = ", ".join(_some_names(names)) or "none"
        message = f"{base} is there, and does not list `{endpoint.name}`; it lists {known}"
        return _ModelListing(Finding(None, message, "correct `name` if the next steps fail"), names)
    windows = [here[k] for k in WINDOWS if isinstance(here.get(k), int)]
    message = f"{base} is there, and has `{endpoint.name}`"
    return _ModelListing(Finding(True, message), names, windows[0] if windows else None)


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
