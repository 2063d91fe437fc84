"""The relay: stands between any client and a live server, and passes every message both ways.

Messages are passed as they are: nothing is added, answered or left out on the way, whatever
the protocol's version or method. On the client's side it speaks streamable HTTP at `/mcp` and
the older event stream at `/sse`; on the server's side whatever the server speaks.
"""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import (
    AbstractAsyncContextManager,
    AsyncExitStack,
    asynccontextmanager,
    suppress,
)
from typing import Any
from uuid import uuid4

from mcp.shared.message import ClientMessageMetadata, SessionMessage
from mcp_types import jsonrpc_message_adapter
from mcp_types.version import HANDSHAKE_PROTOCOL_VERSIONS
from starlette.requests import ClientDisconnect, Request
from starlette.responses import JSONResponse, Response, StreamingResponse
from starlette.types import Receive, Scope, Send

from ferox.gateway.listening import from_here, listening
from ferox.servers.diagnosis import OutOfReach, plain
from ferox.servers.keeper import kept
from ferox.servers.stdio import Streams
from ferox.servers.tap import as_json

Message = dict[str, Any]
Heard = Callable[[int, str, Message], None]
"""Told of each message: session, direction (`to_server` or `to_client`), message."""
Upstream = Callable[[], AbstractAsyncContextManager[Streams]]
"""Opens the streams to the live server, once for each session of a client."""

LARGEST_MESSAGE = 8 * 1024 * 1024
MOST_SESSIONS = 200
MOST_WAITING = 1000
"""Messages kept for a client that opened no stream for them; the oldest go first."""
FIRST_WORD_S = 5.0
"""Seconds without a message, after which an answer becomes an event stream."""
PING_S = 15.0
CLOSED = -32000
_PASSED_ON = ("mcp-protocol-version", "mcp-method", "mcp-name")


class Session:
    """One client's session, with a connection to the live server of its own."""

    def __init__(self, number: int, heard: Heard, remark: Callable[[str], None]) -> None:
        self.number = number
        self.closed = False
        self.shared = False
        self._flooded = False
        self._heard, self._remark = heard, remark
        self._requests: dict[str, asyncio.Queue[Message]] = {}
        self._tokens: dict[str, str] = {}
        self._answered: deque[str] = deque(maxlen=1000)
        self._others: deque[Message] = deque(maxlen=MOST_WAITING)
        self._listener: asyncio.Queue[Message] | None = None
        self._write: Any = None
        self._ready: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        self._task: asyncio.Task[None] | None = None

    async def open(self, upstream: Upstream) -> None:
        """Connect to the live server.

        Raises:
            OutOfReach: with a diagnosis.
        """
        self._task = asyncio.create_task(self._keep(upstream))
        await asyncio.shield(self._ready)

    async def _keep(self, upstream: Upstream) -> None:
        try:
            async with kept(upstream()) as (read, self._write):
                self._ready.set_result(None)
                async for message in read:
                    if isinstance(message, SessionMessage):
                        self._from_server(as_json(message))
                    else:
                        self._remark(f"session {self.number}: the server wrote {message}")
        except asyncio.CancelledError:
            raise
        except Exception as error:
            if not self._ready.done():
                self._ready.set_exception(error)
            elif not self.closed:
                self._remark(f"session {self.number}: {plain(error)}")
        finally:
            self._end()

    def _end(self) -> None:
        """Nobody is left waiting when the server is gone."""
        self.closed = True
        error = {"code": CLOSED, "message": "the connection to the server is closed"}
        for key, queue in self._requests.items():
            queue.put_nowait({"jsonrpc": "2.0", "id": json.loads(key), "error": error})

    async def close(self) -> None:
        """End the session and its connection."""
        self.closed = True
        if self._task:
            self._task.cancel()
            with suppress(asyncio.CancelledError, Exception):
                await self._task

    def _from_server(self, message: Message) -> None:
        self._heard(self.number, "to_client", message)
        if "method" not in message:
            key = json.dumps(message.get("id"))
            queue = self._requests.pop(key, None)
            if queue is None:
                twice = "again " if key in self._answered else ""
                told = f"the server answered {twice}a request that nobody waits for ({key})"
                self._remark(f"session {self.number}: {told}")
                return
            self._answered.append(key)
            queue.put_nowait(message)
            return
        queue = self._belongs_to(message)
        if queue is not None:
            self._put(queue, message)
        else:
            self.tell(message)

    def _put(self, queue: asyncio.Queue[Message], message: Message) -> None:
        """Hand a message on; of a flood that the client does not read, no more than some."""
        if queue.qsize() < MOST_WAITING or "id" in message:
            queue.put_nowait(message)
        elif not self._flooded:
            self._flooded = True
            self._remark(
                f"session {self.number}: more was said than the client reads; some is lost"
            )

    def _belongs_to(self, message: Message) -> asyncio.Queue[Message] | None:
        """The waiting request that a message of the server goes with."""
        params = message.get("params") or {}
        token = params.get("progressToken") if isinstance(params, dict) else None
        if token is not None and json.dumps(token) in self._tokens:
            return self._requests.get(self._tokens[json.dumps(token)])
        if self._listener is not None and len(self._requests) != 1:
            return None
        newest = next(reversed(self._requests), None)
        return self._requests[newest] if newest is not None else None

    def tell(self, message: Message) -> None:
        """Have the client hear a message on its own stream, now or when it opens one."""
        if self._listener is not None:
            self._put(self._listener, message)
        else:
            self._others.append(message)

    async def send(self, message: Message, headers: dict[str, str]) -> None:
        """Pass a message of the client on."""
        self._heard(self.number, "to_server", message)
        metadata = ClientMessageMetadata(headers=headers) if headers else None
        parsed = jsonrpc_message_adapter.validate_python(message, by_name=False)
        with suppress(Exception):  # the end of the stream is told by `_end`
            await self._write.send(SessionMessage(parsed, metadata))

    @asynccontextmanager
    async def asking(
        self, message: Message, headers: dict[str, str]
    ) -> AsyncIterator[AsyncIterator[Message | None]]:
        """Pass a request on; gives what the server says to it, the answer last.

        None whenever nothing came for a while. Clients of the newest protocol share a
        connection; one whose id is taken gets another on the way.
        """
        own, queue = message["id"], asyncio.Queue[Message]()
        alias = own
        while json.dumps(alias) in self._requests:
            alias = uuid4().hex
        key = json.dumps(alias)
        self._requests[key] = queue
        meta = (message.get("params") or {}).get("_meta") or {}
        token = json.dumps(meta["progressToken"]) if "progressToken" in meta else None
        if token:
            self._tokens[token] = key
        await self.send({**message, "id": alias} if alias != own else message, headers)
        answered = False

        async def said() -> AsyncIterator[Message | None]:
            nonlocal answered
            async for item in _items(queue):
                if item is not None and "method" not in item:
                    answered = True
                    yield {**item, "id": own}
                    return
                yield item

        try:
            yield said()
        finally:
            if self._requests.get(key) is queue:
                del self._requests[key]
                self._answered.append(key)
            if token:
                self._tokens.pop(token, None)
            if not answered and self.shared and not self.closed:
                params = {"requestId": alias, "reason": "the client left"}
                method = "notifications/cancelled"
                await self.send({"jsonrpc": "2.0", "method": method, "params": params}, headers)

    @asynccontextmanager
    async def listening(self) -> AsyncIterator[asyncio.Queue[Message]]:
        """The queue of what the server says unasked."""
        queue: asyncio.Queue[Message] = asyncio.Queue()
        while self._others:
            queue.put_nowait(self._others.popleft())
        self._listener = queue
        try:
            yield queue
        finally:
            if self._listener is queue:
                self._listener = None


class Relay:
    """Serves clients on a loopback port, and passes on to a live server."""

    def __init__(
        self, upstream: Upstream, heard: Heard, remark: Callable[[str], None] = lambda told: None
    ) -> None:
        self._upstream = upstream
        self._heard = heard
        self.remark = remark
        self._sessions: dict[str, Session] = {}
        self._stateless: Session | None = None
        self._count = 0
        self.base = ""

    @asynccontextmanager
    async def serve(self, port: int = 0) -> AsyncIterator[Relay]:
        """Listen while the context is open.

        Raises:
            OSError: the port is taken.
        """
        try:
            async with listening(self._handle, port) as self.base:
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

    async def _handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        request = Request(scope, receive, send)
        if not from_here(scope):
            response: Response = _refusal(403, "only this machine may call this")
        else:
            response = await self._answer(request)
        with suppress(ClientDisconnect):
            await response(scope, receive, send)

    async def _answer(self, request: Request) -> Response:
        match request.method, request.url.path:
            case "POST", "/mcp":
                return await self._post(request)
            case "GET", "/mcp":
                session = self._sessions.get(request.headers.get("mcp-session-id", ""))
                if session is None:
                    return _refusal(405, "there is no stream without a session")
                return _events(self._listen(session))
            case "DELETE", "/mcp":
                session = self._sessions.pop(request.headers.get("mcp-session-id", ""), None)
                if session is None:
                    return _refusal(404, "Session not found")
                await session.close()
                return Response(status_code=204)
            case "GET", "/sse":
                return await self._old_stream()
            case "POST", "/messages":
                return await self._old_message(request)
            case _:
                return _refusal(404, "the relay is at /mcp, and for older clients at /sse")

    async def _post(self, request: Request) -> Response:
        message = await _read(request)
        if isinstance(message, Response):
            return message
        named = request.headers.get("mcp-session-id")
        fresh = False
        try:
            if named is not None:
                session = self._sessions.get(named)
                if session is None or session.closed:
                    return _refusal(404, "Session not found")
            elif message.get("method") == "initialize":
                named, session = await self._open()
                fresh = True
            else:
                version = request.headers.get("mcp-protocol-version")
                if version is None or version in HANDSHAKE_PROTOCOL_VERSIONS:
                    return _refusal(400, "initialize first, or name the session")
                session = await self._without_session()
        except OutOfReach as error:
            return JSONResponse(_error(message.get("id"), str(error)), 502)
        headers = {k: v for k, v in request.headers.items() if k in _PASSED_ON}
        if fresh:
            headers = {}
        if "method" not in message or "id" not in message:
            await session.send(message, headers)
            return Response(status_code=202)
        answer = {"Mcp-Session-Id": named} if fresh and named else {}
        return await self._exchange(session, message, headers, answer)

    async def _exchange(
        self, session: Session, message: Message, headers: dict[str, str], told: dict[str, str]
    ) -> Response:
        """Pass a request on; what comes back is one JSON answer, or else an event stream."""
        stack = AsyncExitStack()
        said = await stack.enter_async_context(session.asking(message, headers))
        first_word = asyncio.ensure_future(anext(said))
        await asyncio.wait({first_word}, timeout=FIRST_WORD_S)
        if first_word.done():
            first = first_word.result()
            if first is not None and "method" not in first:
                await stack.aclose()
                return JSONResponse(first, headers=told)

        async def stream() -> AsyncIterator[bytes]:
            async with stack:
                yield _event(await first_word)
                async for item in said:
                    yield _event(item)

        return _events(stream(), told)

    async def _listen(self, session: Session) -> AsyncIterator[bytes]:
        async with session.listening() as queue:
            async for item in _items(queue):
                if session.closed:
                    return
                yield _event(item)

    async def _open(self) -> tuple[str, Session]:
        open_ones = [s for s in self._sessions.values() if not s.closed]
        if len(open_ones) >= MOST_SESSIONS:
            raise OutOfReach("full", f"{MOST_SESSIONS} sessions are open", "close some")
        self._count += 1
        session = Session(self._count, self._heard, self.remark)
        await session.open(self._upstream)
        name = uuid4().hex
        self._sessions[name] = session
        return name, session

    async def _without_session(self) -> Session:
        """The one connection for clients of the newest protocol, which knows no sessions."""
        if self._stateless is None or self._stateless.closed:
            self._count += 1
            session = Session(self._count, self._heard, self.remark)
            session.shared = True
            await session.open(self._upstream)
            self._stateless = session
        return self._stateless

    async def _old_stream(self) -> Response:
        try:
            name, session = await self._open()
        except OutOfReach as error:
            return _refusal(502, str(error))

        async def stream() -> AsyncIterator[bytes]:
            yield f"event: endpoint\ndata: /messages?session={name}\n\n".encode()
            try:
                async for part in self._listen(session):
                    yield part
            finally:
                self._sessions.pop(name, None)
                await session.close()

        return _events(stream())

    async def _old_message(self, request: Request) -> Response:
        message = await _read(request)
        if isinstance(message, Response):
            return message
        session = self._sessions.get(request.query_params.get("session", ""))
        if session is None or session.closed:
            return _refusal(404, "Session not found")
        if "method" in message and "id" in message:
            asyncio.create_task(self._old_exchange(session, message))  # noqa: RUF006
        else:
            await session.send(message, {})
        return Response("Accepted", 202)

    async def _old_exchange(self, session: Session, message: Message) -> None:
        """On the older transport everything comes back by the one stream."""
        async with session.asking(message, {}) as said:
            async for item in said:
                if item is not None:
                    session.tell(item)


async def _items(queue: asyncio.Queue[Message]) -> AsyncIterator[Message | None]:
    """What comes, and None whenever nothing came for a while."""
    while True:
        try:
            yield await asyncio.wait_for(queue.get(), PING_S)
        except TimeoutError:
            yield None


async def _read(request: Request) -> Message | Response:
    """The message of a POST, or why it is none."""
    body = b""
    async for part in request.stream():
        body += part
        if len(body) > LARGEST_MESSAGE:
            return _refusal(413, f"a message of more than {LARGEST_MESSAGE} bytes")
    try:
        message = json.loads(body)
        jsonrpc_message_adapter.validate_python(message, by_name=False)
    except (ValueError, RecursionError):
        return _refusal(400, "no message of the protocol (JSON-RPC 2.0)", -32700)
    return dict(message)


def _event(message: Message | None) -> bytes:
    if message is None:
        return b": still here\n\n"
    return f"event: message\ndata: {json.dumps(message, ensure_ascii=False)}\n\n".encode()


def _events(parts: AsyncIterator[bytes], headers: dict[str, str] | None = None) -> Response:
    told = {"Cache-Control": "no-store", **(headers or {})}
    return StreamingResponse(parts, media_type="text/event-stream", headers=told)


def _error(id: Any, message: str, code: int = CLOSED) -> Message:
    return {"jsonrpc": "2.0", "id": id, "error": {"code": code, "message": message}}


def _refusal(status: int, message: str, code: int = -32600) -> Response:
    return JSONResponse(_error(None, message, code), status)
