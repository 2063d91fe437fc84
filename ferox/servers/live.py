"""Reaching a live tool server, and saying in plain words why it cannot be reached."""

from __future__ import annotations

import asyncio
import shutil
import socket
import ssl
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any, TextIO
from urllib.parse import urlsplit

import httpx2
from mcp import Client
from mcp.client.sse import sse_client
from mcp.client.stdio import StdioServerParameters, stdio_client
from mcp.client.streamable_http import streamable_http_client

from ferox.formats.server import Reach
from ferox.workspace.environment import UnsetSecret, environment, resolve

PATIENCE_S = 20.0
"""Seconds until a server that started and says nothing is given up."""
LAST_LINES = 6
JSON_RPC_PING = {"jsonrpc": "2.0", "id": "ferox", "method": "ping"}


class OutOfReach(Exception):
    """A server that cannot be reached: `told` says what is wrong, `then` what to try next."""

    def __init__(self, kind: str, told: str, then: str) -> None:
        self.kind, self.told, self.then = kind, told, then
        super().__init__(f"{told}; {then}")


@asynccontextmanager
async def reach(to: Reach, folder: Path, patience_s: float = PATIENCE_S) -> AsyncIterator[Client]:
    """A connected client of a live server. `folder` is where its command and paths start.

    Raises:
        OutOfReach: with a diagnosis.
    """
    if to.command:
        async with _started(to, folder, patience_s) as client:
            yield client
    elif to.url:
        async with _addressed(to, patience_s) as client:
            yield client
    else:
        raise OutOfReach("nothing", "the file names neither `command` nor `url`", "add one of them")


@asynccontextmanager
async def _started(to: Reach, folder: Path, patience_s: float) -> AsyncIterator[Client]:
    assert to.command
    cwd = (folder / to.cwd).resolve() if to.cwd else folder
    if not cwd.is_dir():
        told = f"the working directory `{to.cwd}` does not exist"
        raise OutOfReach("no_folder", told, "correct `cwd`, which starts at the workspace")
    env = _environment(to)
    program = to.command[0]
    there = shutil.which(program, path=env.get("PATH")) or (cwd / program).is_file()
    if not there:
        then = "install it, or give its full path in `command`"
        raise OutOfReach("no_command", f"the command `{program}` was not found", then)
    parameters = StdioServerParameters(
        command=program, args=list(to.command[1:]), env=env, cwd=str(cwd)
    )
    connected = False  # what goes wrong later is not a matter of reaching the server
    with tempfile.TemporaryFile("w+") as log:
        try:
            async with asyncio.timeout(patience_s) as patience:
                async with Client(stdio_client(parameters, errlog=log)) as client:
                    connected = True
                    patience.reschedule(None)
                    yield client
        except TimeoutError:
            raise _silent(program, _tail(log), patience_s) from None
        except OutOfReach:
            raise
        except Exception as error:
            if connected:
                raise
            raise _exited(program, _tail(log), error) from None


def _silent(program: str, tail: str, patience_s: float) -> OutOfReach:
    told = f"`{program}` started and gave no answer in {patience_s:g} s"
    said = f". It wrote: {tail}" if tail else ""
    then = "see that it speaks MCP on its standard input and output, and needs no console"
    return OutOfReach("silent", told + said, then)


def _exited(program: str, tail: str, error: Exception) -> OutOfReach:
    told = f"`{program}` started and ended before it could be talked to"
    said = f". It wrote: {tail}" if tail else f" ({_plain(error)})"
    then = "run the command by hand; an unset key or a wrong argument is the usual cause"
    return OutOfReach("exited", told + said, then)


def _tail(log: TextIO) -> str:
    log.seek(0)
    lines = [line.strip() for line in log.read()[-8000:].splitlines() if line.strip()]
    return " | ".join(lines[-LAST_LINES:])


def _plain(error: BaseException) -> str:
    while isinstance(error, BaseExceptionGroup):
        error = error.exceptions[0]
    return f"{type(error).__name__}: {error}" if str(error) else type(error).__name__


def _environment(to: Reach) -> dict[str, str]:
    try:
        return environment(to.env)
    except UnsetSecret as error:
        raise OutOfReach("unset", str(error), "or take the variable out of the file") from None


def _headers(to: Reach) -> dict[str, str]:
    try:
        return {name: resolve(name, value).value for name, value in to.headers.items()}
    except UnsetSecret as error:
        raise OutOfReach("unset", str(error), "or take the header out of the file") from None


@asynccontextmanager
async def _addressed(to: Reach, patience_s: float) -> AsyncIterator[Client]:
    assert to.url
    headers = _headers(to)
    await _knock(to, headers, patience_s)
    connected = False
    async with httpx2.AsyncClient(headers=headers, timeout=patience_s) as http:
        transport: Any = (
            sse_client(to.url, headers=headers)
            if to.transport == "sse"
            else streamable_http_client(to.url, http_client=http)
        )
        try:
            async with asyncio.timeout(patience_s) as patience:
                async with Client(transport) as client:
                    connected = True
                    patience.reschedule(None)
                    yield client
        except TimeoutError:
            told = f"{to.url} answers, and no session came about in {patience_s:g} s"
            raise OutOfReach("slow", told, "try again; it may be starting") from None
        except OutOfReach:
            raise
        except Exception as error:
            if connected:
                raise
            told = f"{to.url} answers, and a session failed: {_plain(error)}"
            raise OutOfReach("no_session", told, "see the server's own log") from None


async def _knock(to: Reach, headers: dict[str, str], patience_s: float) -> None:
    """Look at how the address answers before the protocol is spoken to it."""
    assert to.url
    parts = urlsplit(to.url)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        told = f"`{to.url}` is no web address"
        raise OutOfReach("no_address", told, "it starts with http:// or https://")
    await _resolve(parts.hostname, parts.port or (443 if parts.scheme == "https" else 80))
    status, kind, body = await _ask(to, headers, patience_s)
    if status in (401, 403):
        what = "wants to know who is asking" if status == 401 else "does not let you in"
        told = f"{to.url} answered {status}: it {what}"
        raise OutOfReach(
            "refused", told, 'give a header `Authorization: {secret: NAME, prefix: "Bearer "}`'
        )
    if to.transport == "http" and status in (404, 405):
        await _other_transport(to, headers, patience_s, status)
    if "text/html" in kind:
        told = f"{to.url} answered with a web page (HTTP {status}), not with MCP"
        raise OutOfReach("not_mcp", told, "the endpoint is often at /mcp; see its documentation")
    if status >= 500:
        told = f"{to.url} answered HTTP {status}: {body[:120]}"
        raise OutOfReach("broken", told, "see the server's own log")


async def _other_transport(
    to: Reach, headers: dict[str, str], patience_s: float, status: int
) -> None:
    """Whether the address speaks the older transport; if nothing does, say so."""
    other = to.model_copy(update={"transport": "sse"})
    with_sse = await _ask(other, headers, patience_s)
    if "text/event-stream" in with_sse[1]:
        told = f"{to.url} does not speak streamable HTTP, but answers with an event stream"
        raise OutOfReach("transport", told, "set `transport: sse`")
    told = f"{to.url} answered {status}: there is no MCP endpoint at this address"
    raise OutOfReach("not_mcp", told, "the endpoint is often at /mcp; see its documentation")


async def _resolve(host: str, port: int) -> None:
    try:
        await asyncio.get_running_loop().getaddrinfo(host, port)
    except socket.gaierror:
        told = f"the name `{host}` does not resolve"
        raise OutOfReach("no_name", told, "look for a typing mistake, or the network") from None


async def _ask(to: Reach, headers: dict[str, str], patience_s: float) -> tuple[int, str, str]:
    """Status, content type and the beginning of the body."""
    assert to.url
    accept = {"Accept": "application/json, text/event-stream", **headers}
    method = "GET" if to.transport == "sse" else "POST"
    body = None if method == "GET" else JSON_RPC_PING
    try:
        async with (
            httpx2.AsyncClient(timeout=patience_s) as http,
            http.stream(method, to.url, headers=accept, json=body) as response,
        ):
            kind = response.headers.get("content-type", "")
            streaming = "event-stream" in kind
            text = "" if streaming else (await response.aread()).decode(errors="replace")
            return response.status_code, kind, text
    except httpx2.ConnectError as error:
        raise _no_connection(to.url, error) from None
    except httpx2.TimeoutException:
        told = f"{to.url} took the connection and gave no answer in {patience_s:g} s"
        raise OutOfReach("slow", told, "try again; it may be starting") from None
    except httpx2.HTTPError as error:
        told = f"{to.url} does not answer in HTTP: {_plain(error)}"
        raise OutOfReach("not_http", told, "look for a wrong port or https for http") from None


def _no_connection(url: str, error: Exception) -> OutOfReach:
    cause: BaseException | None = error
    while cause:
        if isinstance(cause, ssl.SSLError) or "SSL" in str(cause) or "certificate" in str(cause):
            told = f"{url} has no certificate that can be trusted: {_plain(error)}"
            return OutOfReach("tls", told, "use http:// if it has none, or SSL_CERT_FILE for yours")
        cause = cause.__cause__ or cause.__context__
    parts = urlsplit(url)
    told = f"nothing listens at {parts.hostname}:{parts.port or parts.scheme}"
    return OutOfReach("nobody", told, "start the server, or correct the port")
