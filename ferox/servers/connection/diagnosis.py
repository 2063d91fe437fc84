"""Why a tool server cannot be reached, in plain words, with the next thing to try."""

from __future__ import annotations

import asyncio
import socket
import ssl
from collections.abc import AsyncIterator
from dataclasses import dataclass
from urllib.parse import urlsplit

import httpx2

from ferox.formats.server import Reach
from ferox.workspace.vault import SecretUseNotAgreed

BEGINNING = 4096
"""Bytes of an answer that are looked at."""
JSON_RPC_PING = {"jsonrpc": "2.0", "id": "ferox", "method": "ping"}


@dataclass(frozen=True)
class RequestHeaders:
    """What every request to an address carries."""

    headers: dict[str, str]
    params: dict[str, str]


class ServerUnreachable(Exception):
    """A server that cannot be reached: `problem` says what is wrong, `advice` what to try next."""

    def __init__(self, kind: str, problem: str, advice: str) -> None:
        self.kind, self.problem, self.advice = kind, problem, advice
        super().__init__(f"{problem}; {advice}")


class SecretNotAgreed(ServerUnreachable):
    """A server whose secret may not go to it yet."""

    def __init__(self, error: SecretUseNotAgreed) -> None:
        self.secret, self.to = error.secret, error.to
        advice = f"agree to it, or: ferox agree {error.secret} '{error.to}'"
        problem = f"the secret {error.secret} would go to {error.to} for the first time"
        super().__init__("unagreed", problem, advice)


def plain_error(error: BaseException) -> str:
    """An error in one line; of a group, its first."""
    while isinstance(error, BaseExceptionGroup):
        error = error.exceptions[0]
    return f"{type(error).__name__}: {error}" if str(error) else type(error).__name__


async def check_address(to: Reach, sent: RequestHeaders, patience_s: float) -> None:
    """Look at how the address answers before the protocol is spoken to it."""
    assert to.url
    parts = urlsplit(to.url)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        problem = f"`{to.url}` is not a web address"
        raise ServerUnreachable("no_address", problem, "it starts with http:// or https://")
    await _resolve_host(parts.hostname, parts.port or (443 if parts.scheme == "https" else 80))
    status, kind, body = await _ask_address(to, sent, patience_s)
    if status in (401, 403):
        what = "wants to know who is asking" if status == 401 else "does not let you in"
        problem = f"{to.url} answered {status}: it {what}"
        given = ", ".join(f"`{name}`" for name in sent.headers)
        advice = 'give a header `Authorization: {secret: NAME, prefix: "Bearer "}`'
        if given:
            advice = f"what it was sent is not what it wants: correct the value of {given}"
        raise ServerUnreachable("refused", problem, advice)
    if to.transport == "http" and status in (404, 405):
        await _other_transport(to, sent, patience_s, status)
    if to.transport == "sse" and "event-stream" not in kind and status < 500:
        await _newer_transport(to, sent, patience_s)
    if "text/html" in kind:
        problem = f"{to.url} answered with a web page (HTTP {status}), not with MCP"
        raise ServerUnreachable(
            "not_mcp", problem, "the endpoint is often at /mcp; see its documentation"
        )
    if status >= 500:
        problem = f"{to.url} answered HTTP {status}: {body[:120]}"
        raise ServerUnreachable("broken", problem, "see the server's own log")


async def _other_transport(to: Reach, sent: RequestHeaders, patience_s: float, status: int) -> None:
    """Whether the address speaks the older transport; if nothing does, say so."""
    other = to.model_copy(update={"transport": "sse"})
    with_sse = await _ask_address(other, sent, patience_s)
    if "text/event-stream" in with_sse[1]:
        problem = f"{to.url} does not speak streamable HTTP, but answers with an event stream"
        raise ServerUnreachable("transport", problem, "set `transport: sse`")
    older = _sibling_address(to.url or "", "/mcp", "/sse")
    if older and "event-stream" in (await _quiet_ask(other, older, sent, patience_s)):
        problem = f"{to.url} is not an MCP endpoint, but the older transport answers at {older}"
        raise ServerUnreachable("transport", problem, f"set `url: {older}` and `transport: sse`")
    problem = f"{to.url} answered {status}: there is no MCP endpoint at this address"
    raise ServerUnreachable(
        "not_mcp", problem, "the endpoint is often at /mcp; see its documentation"
    )


async def _newer_transport(to: Reach, sent: RequestHeaders, patience_s: float) -> None:
    """Whether the address speaks streamable HTTP, if it has no event stream to offer."""
    newer = to.model_copy(update={"transport": "http"})
    _, kind, _ = await _ask_address(newer, sent, patience_s)
    if "json" in kind or "event-stream" in kind:
        problem = f"{to.url} has no event stream of the older kind, but speaks streamable HTTP"
        raise ServerUnreachable("transport", problem, "set `transport: http`, or leave it out")
    there = _sibling_address(to.url or "", "/sse", "/mcp")
    kind = await _quiet_ask(newer, there, sent, patience_s) if there else ""
    if "json" in kind or "event-stream" in kind:
        problem = f"{to.url} has no event stream, but streamable HTTP answers at {there}"
        raise ServerUnreachable("transport", problem, f"set `url: {there}` and `transport: http`")


def _sibling_address(url: str, ending: str, other: str) -> str | None:
    """The address beside this one at which the other transport usually is."""
    bare = url.rstrip("/")
    return f"{bare.removesuffix(ending)}{other}" if bare.endswith(ending) else None


async def _quiet_ask(to: Reach, url: str, sent: RequestHeaders, patience_s: float) -> str:
    """The content type of what an address answers; empty if nothing is there."""
    try:
        status, kind, _ = await _ask_address(to.model_copy(update={"url": url}), sent, patience_s)
    except ServerUnreachable:
        return ""
    return kind if status != 404 and status < 500 else ""


async def _resolve_host(host: str, port: int) -> None:
    try:
        await asyncio.get_running_loop().getaddrinfo(host, port)
    except socket.gaierror:
        problem = f"the name `{host}` does not resolve"
        raise ServerUnreachable(
            "no_name", problem, "look for a typing mistake, or the network"
        ) from None


async def _ask_address(to: Reach, sent: RequestHeaders, patience_s: float) -> tuple[int, str, str]:
    """Status, content type and the beginning of the body."""
    assert to.url
    accept = {"Accept": "application/json, text/event-stream", **sent.headers}
    method = "GET" if to.transport == "sse" else "POST"
    body = None if method == "GET" else JSON_RPC_PING
    try:
        async with (
            httpx2.AsyncClient(timeout=patience_s, params=sent.params) as http,
            http.stream(method, to.url, headers=accept, json=body) as response,
        ):
            kind = response.headers.get("content-type", "")
            streaming = "event-stream" in kind
            text = b""
            async for part in response.aiter_bytes() if not streaming else _nothing_there():
                text += part
                if len(text) > BEGINNING:
                    break
            return response.status_code, kind, text[:BEGINNING].decode(errors="replace")
    except httpx2.ConnectError as error:
        raise _no_connection(to.url, error) from None
    except httpx2.TimeoutException:
        problem = f"{to.url} took the connection and gave no answer in {patience_s:g} s"
        raise ServerUnreachable("slow", problem, "try again; it may be starting") from None
    except httpx2.HTTPError as error:
        problem = f"{to.url} does not answer in HTTP: {plain_error(error)}"
        raise ServerUnreachable(
            "not_http", problem, "look for a wrong port or https for http"
        ) from None


async def _nothing_there() -> AsyncIterator[bytes]:
    return
    yield b""


def _no_connection(url: str, error: Exception) -> ServerUnreachable:
    cause: BaseException | None = error
    while cause:
        if isinstance(cause, ssl.SSLError) or "SSL" in str(cause) or "certificate" in str(cause):
            problem = f"{url} has no certificate that can be trusted: {plain_error(error)}"
            return ServerUnreachable(
                "tls", problem, "use http:// if it has none, or SSL_CERT_FILE for yours"
            )
        cause = cause.__cause__ or cause.__context__
    parts = urlsplit(url)
    problem = f"nothing listens at {parts.hostname}:{parts.port or parts.scheme}"
    return ServerUnreachable("nobody", problem, "start the server, or correct the port")
