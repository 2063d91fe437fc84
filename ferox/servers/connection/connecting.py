"""Reaching a live tool server over any of the protocol's transports."""

from __future__ import annotations

import asyncio
import shutil
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from functools import partial
from pathlib import Path
from typing import Any

import httpx2
import mcp_types as types
from mcp import Client
from mcp.client.sse import sse_client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError
from mcp_types.version import SUPPORTED_PROTOCOL_VERSIONS

from ferox.formats.server import Reach
from ferox.processes.subprocess import Subprocess
from ferox.servers.connection.bounded_http import BoundedTransport
from ferox.servers.connection.diagnosis import (
    RequestHeaders,
    SecretNotAgreed,
    ServerUnreachable,
    check_address,
    plain_error,
)
from ferox.servers.connection.http_interface import interface_streams
from ferox.servers.connection.incoming import LARGEST_ANSWER
from ferox.servers.connection.stdio import Streams, start_server
from ferox.servers.connection.tap import LineListener, tap_streams
from ferox.servers.connection.tls import TLS
from ferox.workspace.environment import process_environment, resolve_variable
from ferox.workspace.vault import SecretUseNotAgreed, UnsetSecret, secret_destination, shown_words

PATIENCE_S = 20.0
"""Seconds until a server that started and says nothing is given up."""


@asynccontextmanager
async def open_streams(
    to: Reach, folder: Path, patience_s: float = PATIENCE_S
) -> AsyncIterator[Streams]:
    """The streams to a live server. `folder` is where its command and paths start.

    Raises:
        ServerUnreachable: with a diagnosis, as far as it shows before the protocol is spoken.
    """
    if to.command:
        async with _start_command(to, folder) as (_, streams):
            yield streams
    elif to.openapi:
        sent = _headers_of(to)
        async with interface_streams(to, folder, sent, patience_s) as streams:
            yield streams
    else:
        sent = await _headers_for(to, patience_s)
        async with _transport_for(to, sent, patience_s) as streams:
            yield streams


@asynccontextmanager
async def connect_client(
    to: Reach,
    folder: Path,
    patience_s: float = PATIENCE_S,
    heard: LineListener | None = None,
    **callbacks: Any,
) -> AsyncIterator[Client]:
    """A connected client of a live server. `folder` is where its command and paths start.

    `heard` gets every message; `callbacks` are the SDK client's own. The handshake
    that nearly all servers and frameworks know is tried first, for with it a server can
    ask something back; the newest protocol is spoken to those that know no other.

    Raises:
        ServerUnreachable: with a diagnosis.
    """
    connected = False
    try:
        async with _reach_once(
            to, folder, patience_s, heard, {**callbacks, "mode": "legacy"}
        ) as client:
            connected = True
            yield client
            return
    except ServerUnreachable as error:
        if connected or error.kind not in ("no_session", "version"):
            raise
    async with _reach_once(to, folder, patience_s, heard, {**callbacks, "mode": "auto"}) as client:
        yield client


@asynccontextmanager
async def _reach_once(
    to: Reach,
    folder: Path,
    patience_s: float,
    heard: LineListener | None,
    callbacks: dict[str, Any],
) -> AsyncIterator[Client]:
    if to.command:
        async with _start_command(to, folder) as (process, streams):
            failure = _FailureText(shown_words(to)[0], process)
            async with _new_session(
                streams, failure, patience_s, heard=heard, callbacks=callbacks
            ) as client:
                yield client
    elif to.openapi:
        sent = _headers_of(to)
        async with interface_streams(to, folder, sent, patience_s) as streams:
            failure = _FailureText(str(to.url), None)
            async with _new_session(
                streams, failure, patience_s, heard=heard, callbacks=callbacks
            ) as client:
                yield client
    else:
        sent = await _headers_for(to, patience_s)
        try:
            transport = _transport_for(to, sent, patience_s)
            async with transport as streams:
                failure = _FailureText(str(to.url), None)
                async with _new_session(
                    streams, failure, patience_s, heard=heard, callbacks=callbacks
                ) as client:
                    yield client
        except (httpx2.HTTPError, ExceptionGroup) as error:
            said = f"{to.url} answers, and a session failed: {plain_error(error)}"
            raise ServerUnreachable("no_session", said, "see the server's own log") from None


ENDS_WITHIN_S = 1.5
"""Seconds after a session failed in which a process that is about to end has ended."""
LAST_LINES = 6
"""Lines of a server's log that say why it failed."""


class _FailureText:
    """What a failing session is reported as."""

    def __init__(self, name: str, process: Subprocess | None) -> None:
        self.name, self.process = name, process

    async def silent(self, patience_s: float) -> ServerUnreachable:
        if self.process is None:
            problem = f"{self.name} answers, and no session came about in {patience_s:g} s"
            return ServerUnreachable("slow", problem, "try again; it may be starting")
        if not self.process.alive:
            return await self.failed(TimeoutError())
        said = self.process.last_words(LAST_LINES)
        problem = f"`{self.name}` started and gave no answer in {patience_s:g} s"
        advice = "see that it speaks MCP on its standard input and output, and needs no console"
        return ServerUnreachable(
            "silent", problem + (f". It wrote: {said}" if said else ""), advice
        )

    async def failed(self, error: BaseException) -> ServerUnreachable:
        version = _version_problem(error)
        if version is not None:
            return version
        if self.process is None:
            problem = f"{self.name} answers, and a session failed: {plain_error(error)}"
            return ServerUnreachable("no_session", problem, "see the server's own log")
        # Its pipe closes before it has ended, and its last lines may still be on their way.
        with suppress(TimeoutError):
            async with asyncio.timeout(ENDS_WITHIN_S):
                while self.process.alive:
                    await asyncio.sleep(0.02)
        said = self.process.last_words(LAST_LINES)
        problem = f"`{self.name}` started and ended before it could be talked to"
        if self.process.alive:
            problem = f"`{self.name}` started, and a session failed: {plain_error(error)}"
            return ServerUnreachable(
                "no_session", problem, said or "see the server's own documentation"
            )
        advice = "run the command by hand; an unset key or a wrong argument is the usual cause"
        return ServerUnreachable(
            "exited", problem + (f". It wrote: {said}" if said else ""), advice
        )


def _version_problem(error: BaseException) -> ServerUnreachable | None:
    """What a session says that fails over the protocol's version; None for other failures."""
    words = plain_error(error)
    if "protocol version" not in words.lower():
        return None
    known = ", ".join(SUPPORTED_PROTOCOL_VERSIONS)
    problem = f"the server wants a version of the protocol that Ferox does not speak: {words}"
    return ServerUnreachable(
        "version", problem, f"Ferox speaks {known}; update the server or Ferox"
    )


@asynccontextmanager
async def _new_session(
    streams: Streams,
    failure: _FailureText,
    patience_s: float,
    heard: LineListener | None,
    callbacks: dict[str, Any],
) -> AsyncIterator[Client]:
    connected = False  # what goes wrong later is not a matter of reaching the server
    transport = _as_transport(streams)
    try:
        async with asyncio.timeout(patience_s) as patience:
            client = Client(tap_streams(transport, heard) if heard else transport, **callbacks)
            async with client:
                # The SDK's own look has no bound on patterns and time; Ferox takes one itself.
                client.session.validate_tool_result = _left_to_ferox  # type: ignore[method-assign]
                connected = True
                # The patience was for connecting only; a session may last.
                patience.reschedule(None)
                yield client
    except TimeoutError:
        if connected:
            raise
        raise await failure.silent(patience_s) from None
    except ServerUnreachable:
        raise
    except Exception as error:
        if connected:
            raise
        raise await failure.failed(error) from None


@asynccontextmanager
async def _as_transport(streams: Streams) -> AsyncIterator[Streams]:
    yield streams


@asynccontextmanager
async def _start_command(to: Reach, folder: Path) -> AsyncIterator[tuple[Subprocess, Streams]]:
    assert to.command
    cwd = (folder / to.cwd).resolve() if to.cwd else folder
    if not cwd.is_dir():
        problem = f"the working directory `{to.cwd}` does not exist"
        raise ServerUnreachable(
            "no_folder", problem, "correct `cwd`, which starts at the workspace"
        )
    try:
        env = process_environment(to.env, secret_destination(to))
        words = [resolve_variable("command", w, secret_destination(to)).value for w in to.command]
    except SecretUseNotAgreed as error:
        raise SecretNotAgreed(error) from None
    except UnsetSecret as error:
        raise ServerUnreachable(
            "unset", str(error), "or take the variable out of the file"
        ) from None
    program = words[0]
    found = shutil.which(program, path=env.get("PATH"))
    if not found and (cwd / program).is_file():
        found = str(cwd / program)
    if not found:
        advice = "install it, or give its full path in `command`"
        raise ServerUnreachable("no_command", f"the command `{program}` was not found", advice)
    try:
        async with start_server([found, *words[1:]], cwd, env) as given:
            yield given
    except PermissionError:
        problem = f"the command `{program}` may not be run"
        raise ServerUnreachable("no_command", problem, "make it executable") from None


async def _headers_for(to: Reach, patience_s: float) -> RequestHeaders:
    """What is sent to an address, once it has shown that it answers."""
    sent = _headers_of(to)
    await check_address(to, sent, patience_s)
    return sent


def _headers_of(to: Reach) -> RequestHeaders:
    """What is sent to an address, its secrets known.

    Raises:
        ServerUnreachable: there is no address, or a secret is not set or may not go there yet.
    """
    if not to.url:
        raise ServerUnreachable(
            "nothing", "the file names neither `command` nor `url`", "add one of them"
        )
    try:
        at = secret_destination(to)
        return RequestHeaders(
            {n: resolve_variable(n, v, at).value for n, v in to.headers.items()},
            {n: resolve_variable(n, v, at).value for n, v in to.query.items()},
        )
    except SecretUseNotAgreed as error:
        raise SecretNotAgreed(error) from None
    except UnsetSecret as error:
        raise ServerUnreachable("unset", str(error), "or take it out of the file") from None


@asynccontextmanager
async def _transport_for(
    to: Reach, sent: RequestHeaders, patience_s: float
) -> AsyncIterator[Streams]:
    assert to.url
    client = partial(_bounded_client, params=sent.params)
    if to.transport == "sse":
        async with sse_client(
            to.url, headers=sent.headers, timeout=patience_s, httpx_client_factory=client
        ) as streams:
            yield streams
        return
    timeout = httpx2.Timeout(patience_s, read=None)
    async with (
        client(sent.headers, timeout) as http,
        streamable_http_client(
            to.url, http_client=http, max_sse_event_size=LARGEST_ANSWER
        ) as streams,
    ):
        yield streams


async def _left_to_ferox(name: str, result: types.CallToolResult) -> None:
    """Results are held against their schemas where they are used."""


def _bounded_client(
    headers: dict[str, str] | None = None,
    timeout: httpx2.Timeout | None = None,
    auth: httpx2.Auth | None = None,
    params: dict[str, str] | None = None,
) -> httpx2.AsyncClient:
    """A client whose answers are bounded."""
    bounded = BoundedTransport(httpx2.AsyncHTTPTransport(verify=TLS))
    return httpx2.AsyncClient(
        headers=headers, timeout=timeout, auth=auth, params=params, transport=bounded
    )


def failure_reason(error: Exception) -> str:
    """What a failed call says of itself."""
    return (
        f"protocol error {error.code}: {error}"
        if isinstance(error, MCPError)
        else plain_error(error)
    )
