"""A client's session at the relay, with a connection to the live server of its own."""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import AbstractAsyncContextManager, asynccontextmanager, suppress
from typing import Any
from uuid import uuid4

from mcp.shared.message import ClientMessageMetadata, SessionMessage
from mcp_types import jsonrpc_message_adapter

from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.keeper import keep_open
from ferox.servers.connection.stdio import Streams
from ferox.servers.connection.tap import as_json

Message = dict[str, Any]
Heard = Callable[[int, str, Message], None]
"""Told of each message: session, direction (`to_server` or `to_client`), message."""
Upstream = Callable[[], AbstractAsyncContextManager[Streams]]
"""Opens the streams to the live server, once for each session of a client."""

MOST_WAITING = 1000
"""Messages kept for a client that opened no stream for them; the oldest go first."""
PING_S = 15.0
CLOSED = -32000


class RelaySession:
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
        # A client may call before it opens a stream of its own; what was said meanwhile waits here.
        self._others: deque[Message] = deque(maxlen=MOST_WAITING)
        self._listener: asyncio.Queue[Message] | None = None
        self._write: Any = None
        self._ready: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        self._task: asyncio.Task[None] | None = None

    async def open(self, upstream: Upstream) -> None:
        """Connect to the live server.

        Raises:
            ServerUnreachable: with a diagnosis.
        """
        self._task = asyncio.create_task(self._keep_connected(upstream))
        # A client that gives up while connecting must not take the connection's future with it.
        await asyncio.shield(self._ready)

    async def _keep_connected(self, upstream: Upstream) -> None:
        try:
            async with keep_open(upstream()) as (read, self._write):
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
                self._remark(f"session {self.number}: {plain_error(error)}")
        finally:
            self._release_waiting()

    def _release_waiting(self) -> None:
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
                remark = f"the server answered {twice}a request that nobody waits for ({key})"
                self._remark(f"session {self.number}: {remark}")
                return
            self._answered.append(key)
            queue.put_nowait(message)
            return
        queue = self._belongs_to(message)
        if queue is not None:
            self._put_bounded(queue, message)
        else:
            self.queue_message(message)

    def _put_bounded(self, queue: asyncio.Queue[Message], message: Message) -> None:
        """Hand a message on; of a flood that the client does not read, no more than some."""
        # A question of the server's is never dropped: it would wait for its answer for ever.
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
        # Without a token nothing says to which request a message belongs. If one request waits,
        # it is that one's; if several do, a client that has a stream of its own hears it there.
        if self._listener is not None and len(self._requests) != 1:
            return None
        newest = next(reversed(self._requests), None)
        return self._requests[newest] if newest is not None else None

    def queue_message(self, message: Message) -> None:
        """Have the client hear a message on its own stream, now or when it opens one."""
        if self._listener is not None:
            self._put_bounded(self._listener, message)
        else:
            self._others.append(message)

    async def send_upstream(self, message: Message, headers: dict[str, str]) -> None:
        """Pass a message of the client on."""
        self._heard(self.number, "to_server", message)
        metadata = ClientMessageMetadata(headers=headers) if headers else None
        parsed = jsonrpc_message_adapter.validate_python(message, by_name=False)
        with suppress(Exception):  # `_release_waiting` tells of the end
            await self._write.send(SessionMessage(parsed, metadata))

    @asynccontextmanager
    async def pass_request(
        self, message: Message, headers: dict[str, str]
    ) -> AsyncIterator[AsyncIterator[Message | None]]:
        """Pass a request on; gives what the server says to it, the answer last.

        None whenever nothing came for a while. Clients of the newest protocol share a
        connection; one whose id is taken gets another on the way.
        """
        own, queue = message["id"], asyncio.Queue[Message]()
        alias = own
        # Two clients on one connection may both have a request 1: the server must see two ids.
        while json.dumps(alias) in self._requests:
            alias = uuid4().hex
        key = json.dumps(alias)
        self._requests[key] = queue
        meta = (message.get("params") or {}).get("_meta") or {}
        token = json.dumps(meta["progressToken"]) if "progressToken" in meta else None
        if token:
            self._tokens[token] = key
        await self.send_upstream({**message, "id": alias} if alias != own else message, headers)
        answered = False

        async def said() -> AsyncIterator[Message | None]:
            nonlocal answered
            async for item in items_of(queue):
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
            # A connection of its own ends with its client. On a shared one the server has to be
            # told that nobody waits any more.
            if not answered and self.shared and not self.closed:
                params = {"requestId": alias, "reason": "the client left"}
                method = "notifications/cancelled"
                await self.send_upstream(
                    {"jsonrpc": "2.0", "method": method, "params": params}, headers
                )

    @asynccontextmanager
    async def unasked_messages(self) -> AsyncIterator[asyncio.Queue[Message]]:
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


async def items_of(queue: asyncio.Queue[Message]) -> AsyncIterator[Message | None]:
    """What comes, and None whenever nothing came for a while."""
    while True:
        try:
            yield await asyncio.wait_for(queue.get(), PING_S)
        except TimeoutError:
            yield None
