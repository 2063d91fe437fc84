"""The relay: stands between any client and a live server, and passes every message both ways.

Messages are passed as they are: nothing is added, answered or left out on the way, whatever
the protocol's version or method. On the client's side it speaks streamable HTTP at `/mcp` and
the older event stream at `/sse`; on the server's side whatever the server speaks.
"""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Callable
from contextlib import AsyncExitStack, asynccontextmanager
from typing import Any
from uuid import uuid4

from mcp_types import jsonrpc_message_adapter
from mcp_types.version import HANDSHAKE_PROTOCOL_VERSIONS
from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse
from starlette.types import Receive, Scope, Send

from ferox.gateway.listening import from_here, listen_on
from ferox.gateway.relay.session import CLOSED, Heard, Message, RelaySession, Upstream, items_of
from ferox.intake.json_text import read_json
from ferox.servers.connection.diagnosis import ServerUnreachable

LARGEST_MESSAGE = 8 * 1024 * 1024
MOST_SESSIONS = 200
FIRST_WORD_S = 5.0
"""Seconds without a message, after which an answer becomes an event stream."""
_PASSED_ON = ("mcp-protocol-version", "mcp-method", "mcp-name")


class Relay:
    """Serves clients on a loopback port, and passes on to a live server."""

    def __init__(
        self, upstream: Upstream, heard: Heard, remark: Callable[[str], None] = lambda text: None
    ) -> None:
        self._upstream = upstream
        self._heard = heard
        self.remark = remark
        self._sessions: dict[str, RelaySession] = {}
        self._stateless: RelaySession | None = None
        self._count = 0
        self.base = ""

    @asynccontextmanager
    async def serve(self, port: int = 0) -> AsyncIterator[Relay]:
        """Listen while the context is open.

        Raises:
            OSError: the port is taken.
        """
        try:
            async with listen_on(self._handle_request, port) as self.base:
                yield self
        finally:
            for session in self._sessions.values():
                if not session.closed:
                    self.remark(f"session {session.number} was left open by its client")
                await session.close()
            if self._stateless:
                await self._stateless.close()

    @property
    def open_sessions(self) -> int:
        """How many sessions are open at the moment."""
        return sum(not s.closed for s in self._sessions.values())

    async def _handle_request(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        request = Request(scope, receive, send)
        if not from_here(scope):
            response: Response = _refuse_request(403, "only this machine may call this")
        else:
            response = await self._answer_request(request)
        await response(scope, receive, send)

    async def _answer_request(self, request: Request) -> Response:
        match request.method, request.url.path:
            case "POST", "/mcp":
                return await self._answer_post(request)
            case "GET", "/mcp":
                session = self._sessions.get(request.headers.get("mcp-session-id", ""))
                if session is None:
                    return _refuse_request(405, "there is no stream without a session")
                return _event_stream(self._stream_unasked(session))
            case "DELETE", "/mcp":
                session = self._sessions.pop(request.headers.get("mcp-session-id", ""), None)
                if session is None:
                    return _refuse_request(404, "Session not found")
                await session.close()
                return Response(status_code=204)
            case "GET", "/sse":
                return await self._old_stream()
            case "POST", "/messages":
                return await self._old_message(request)
            case _:
                return _refuse_request(404, "the relay is at /mcp, and for older clients at /sse")

    async def _answer_post(self, request: Request) -> Response:
        message = await _read_message(request)
        if isinstance(message, Response):
            return message
        named = request.headers.get("mcp-session-id")
        fresh = False
        try:
            if named is not None:
                session = self._sessions.get(named)
                if session is None or session.closed:
                    return _refuse_request(404, "Session not found")
            elif message.get("method") == "initialize":
                named, session = await self._open_session()
                fresh = True
            else:
                version = request.headers.get("mcp-protocol-version")
                if version is None or version in HANDSHAKE_PROTOCOL_VERSIONS:
                    return _refuse_request(400, "initialize first, or name the session")
                session = await self._without_session()
        except ServerUnreachable as error:
            return JSONResponse(_error_body(message.get("id"), str(error)), 502)
        headers = {k: v for k, v in request.headers.items() if k in _PASSED_ON}
        if fresh:
            headers = {}
        if "method" not in message or "id" not in message:
            await session.send_upstream(message, headers)
            return Response(status_code=202)
        answer = {"Mcp-Session-Id": named} if fresh and named else {}
        streams = "text/event-stream" in request.headers.get("accept", "") and not fresh
        return await self._pass_request_on(session, message, headers, answer, streams=streams)

    async def _pass_request_on(
        self,
        session: RelaySession,
        message: Message,
        headers: dict[str, str],
        answer_headers: dict[str, str],
        *,
        streams: bool,
    ) -> Response:
        """Pass a request on; what comes back is an event stream, as servers give it to a client
        that takes one, or else one JSON answer if nothing comes before it."""
        stack = AsyncExitStack()
        said = await stack.enter_async_context(session.pass_request(message, headers))
        first_word = asyncio.ensure_future(anext(said))
        if not streams:
            await asyncio.wait({first_word}, timeout=FIRST_WORD_S)
        if first_word.done() and not streams:
            first = first_word.result()
            if first is not None and "method" not in first:
                await stack.aclose()
                return JSONResponse(first, headers=answer_headers)

        async def stream() -> AsyncIterator[bytes]:
            async with stack:
                yield _event_bytes(await first_word)
                async for item in said:
                    yield _event_bytes(item)

        return _event_stream(stream(), answer_headers)

    async def _stream_unasked(self, session: RelaySession) -> AsyncIterator[bytes]:
        async with session.unasked_messages() as queue:
            async for item in items_of(queue):
                if session.closed:
                    return
                yield _event_bytes(item)

    async def _open_session(self) -> tuple[str, RelaySession]:
        open_ones = [s for s in self._sessions.values() if not s.closed]
        if len(open_ones) >= MOST_SESSIONS:
            raise ServerUnreachable("full", f"{MOST_SESSIONS} sessions are open", "close some")
        self._count += 1
        session = RelaySession(self._count, self._heard, self.remark)
        await session.open(self._upstream)
        name = uuid4().hex
        self._sessions[name] = session
        return name, session

    async def _without_session(self) -> RelaySession:
        """The one connection for clients of the newest protocol, which knows no sessions."""
        if self._stateless is None or self._stateless.closed:
            self._count += 1
            session = RelaySession(self._count, self._heard, self.remark)
            session.shared = True
            await session.open(self._upstream)
            self._stateless = session
        return self._stateless

    async def _old_stream(self) -> Response:
        try:
            name, session = await self._open_session()
        except ServerUnreachable as error:
            return _refuse_request(502, str(error))

        async def stream() -> AsyncIterator[bytes]:
            yield f"event: endpoint\ndata: /messages?session={name}\n\n".encode()
            try:
                async for part in self._stream_unasked(session):
                    yield part
            finally:
                self._sessions.pop(name, None)
                await session.close()

        return _event_stream(stream())

    async def _old_message(self, request: Request) -> Response:
        message = await _read_message(request)
        if isinstance(message, Response):
            return message
        session = self._sessions.get(request.query_params.get("session", ""))
        if session is None or session.closed:
            return _refuse_request(404, "Session not found")
        if "method" in message and "id" in message:
            asyncio.create_task(self._old_exchange(session, message))  # noqa: RUF006
        else:
            await session.send_upstream(message, {})
        return Response("Accepted", 202)

    async def _old_exchange(self, session: RelaySession, message: Message) -> None:
        """On the older transport everything comes back by the one stream."""
        async with session.pass_request(message, {}) as said:
            async for item in said:
                if item is not None:
                    session.queue_message(item)


async def _read_message(request: Request) -> Message | Response:
    """The message of a POST, or why it is none."""
    body = b""
    async for part in request.stream():
        body += part
        if len(body) > LARGEST_MESSAGE:
            return _refuse_request(413, f"a message of more than {LARGEST_MESSAGE} bytes")
    try:
        message = read_json(body)
        jsonrpc_message_adapter.validate_python(message, by_name=False)
    except ValueError:
        return _refuse_request(400, "no message of the protocol (JSON-RPC 2.0)", -32700)
    return dict(message)


def _event_bytes(message: Message | None) -> bytes:
    if message is None:
        return b": still here\n\n"
    return f"event: message\ndata: {json.dumps(message, ensure_ascii=False)}\n\n".encode()


def _event_stream(parts: AsyncIterator[bytes], headers: dict[str, str] | None = None) -> Response:
    all_headers = {"Cache-Control": "no-store", **(headers or {})}
    return StreamingResponse(parts, media_type="text/event-stream", headers=all_headers)


def _error_body(id: Any, message: str, code: int = CLOSED) -> Message:
    return {"jsonrpc": "2.0", "id": id, "error": {"code": code, "message": message}}


def _refuse_request(status: int, message: str, code: int = -32600) -> Response:
    return JSONResponse(_error_body(None, message, code), status)
