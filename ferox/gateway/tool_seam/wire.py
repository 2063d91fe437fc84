"""The HTTP exchanges of a tool seam, in front of the protocol's own server."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Any

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ferox.formats.fault import Fault
from ferox.gateway.tool_seam.wire_faults import (
    FinishCall,
    StruckRequest,
    WireFaults,
    lost_session,
    session_of,
)

EXCHANGE = "ferox.exchange"
"""Where a request's scope holds its exchange."""
MOST_OF_A_MESSAGE = 256 * 1024
"""Bytes of a raw message that are kept."""
WireHeard = Callable[[str, str, str], None]
"""Told a call's id, the request and the answer, as they stood on the wire."""


class WireExchange:
    """A request and its answer, kept as they pass.

    With `hold_head`, the head of the answer waits until it is known that no fault strikes: one
    that sets the HTTP status has to come before it.
    """

    def __init__(self, receive: Receive, send: Send, *, hold_head: bool) -> None:
        self._receive, self._send = receive, send
        self._holds_head = hold_head
        self._head: Message | None = None
        self.request, self.answer = bytearray(), bytearray()
        self.request_id: Any = None
        """The JSON-RPC id of the call."""
        self.call_id: str | None = None
        """The call's id in the trace."""
        self.struck: tuple[Fault, FinishCall] | None = None

    async def receive(self) -> Message:
        """What the client sends."""
        message = await self._receive()
        self.request.extend(message.get("body", b""))
        return message

    async def send(self, message: Message) -> None:
        """Send a part of the server's answer, unless a fault answers in its place."""
        if self.struck is not None:
            return
        # The SDK sends the head of an event stream before it calls the tool.
        if self._holds_head and message["type"] == "http.response.start":
            self._head = message
            return
        await self.let_pass()
        self.answer.extend(message.get("body", b""))
        await self._send(message)

    async def let_pass(self) -> None:
        """No fault strikes on the wire: what was held back is sent."""
        self._holds_head = False
        if self._head is not None:
            head, self._head = self._head, None
            await self._send(head)

    def strike_call(self, fault: Fault, finish: FinishCall) -> None:
        """Have a fault answer the call; `finish` ends its event."""
        self.struck = fault, finish
        self.answer.clear()  # what a fault writes past the protocol is not kept


class Wire:
    """Passes requests to the protocol's server, keeps what it is to, and lets faults strike.

    `may_strike`: the trial has faults on the wire. `heard` is told the raw messages of calls.
    """

    def __init__(
        self, server: ASGIApp, *, may_strike: bool, heard: WireHeard | None = None
    ) -> None:
        self._server, self._may_strike, self._heard = server, may_strike, heard
        self._over = asyncio.Event()
        self._faults = WireFaults(self._over)
        self._sessions: set[str] = set()
        self._closed: set[str] = set()

    @property
    def sessions(self) -> int:
        """How many sessions were seen."""
        return len(self._sessions)

    @property
    def left_open(self) -> int:
        """How many sessions the client never closed."""
        # A lost session is gone at the server: the client has nothing left to close.
        return len(self._sessions - self._closed - self._faults.lost)

    def end_trial(self) -> None:
        """The trial is over: no fault makes anybody wait any longer."""
        self._over.set()

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one HTTP request, or let a fault do it."""
        session = session_of(scope)
        if session:
            self._sessions.add(session)
            if scope["method"] == "DELETE":
                self._closed.add(session)
        if session in self._faults.lost:
            await lost_session()(scope, receive, send)
        # Calls are POSTs. A GET is a client's standing stream, and a DELETE ends its session.
        elif scope["method"] == "POST" and (self._may_strike or self._heard):
            await self._handle_exchange(scope, receive, send)
        else:
            await self._server(scope, receive, send)

    async def _handle_exchange(self, scope: Scope, receive: Receive, send: Send) -> None:
        exchange = WireExchange(receive, send, hold_head=self._may_strike)
        scope[EXCHANGE] = exchange
        try:
            # A struck call raises within the SDK, which ends its own exchange in order; what it
            # says of that is not sent, and the fault then has the connection for itself.
            await self._server(scope, exchange.receive, exchange.send)
            if exchange.struck is not None:
                fault, finish = exchange.struck
                struck = StruckRequest(
                    exchange.request_id, scope, receive, send=send, finish=finish
                )
                await self._faults.strike_call(fault, struck)
            else:
                await exchange.let_pass()
        finally:
            # Also when the client hung up half-way: what had passed by then is evidence.
            if self._heard is not None and exchange.call_id is not None:
                self._heard(
                    exchange.call_id, _kept_text(exchange.request), _kept_text(exchange.answer)
                )


def _kept_text(body: bytearray) -> str:
    text = body[:MOST_OF_A_MESSAGE].decode(errors="replace")
    return text if len(body) <= MOST_OF_A_MESSAGE else f"{text}… ({len(body)} bytes in all)"
