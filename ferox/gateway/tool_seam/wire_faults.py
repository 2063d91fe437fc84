"""Faults on the wire itself: what strikes before the protocol's own answer.

A dropped connection is a dropped connection, garbled bytes are on the wire, and a lost
session is the protocol's own 404 until the client initializes again.
"""

from __future__ import annotations

import asyncio
import json
from contextlib import suppress
from typing import Any, NamedTuple, Protocol

from starlette.responses import JSONResponse, Response
from starlette.types import Receive, Scope, Send

from ferox.formats.fault import Fault
from ferox.formats.trace import CallError, Json

WIRE_FAULTS = frozenset(
    {"timeout", "status", "drop", "garbled", "wrong_shape", "empty", "huge", "lost_session"}
)
# Often enough that a client whose timeout starts anew with every byte never gives up.
PING_S = 1.0
GARBLED = b'{"jsonrpc": "2.0", "id": 1, "result": {"content": [{"ty\x00\xff\xfe tide tide tide'
NO_ANSWER = -32001
"""The JSON-RPC code of a timeout, from the range that servers may define."""


class AnsweredOnWire(Exception):
    """A fault answers a call on the wire: what the protocol's server would say is not sent."""


class FinishCall(Protocol):
    """Ends a call's event."""

    def __call__(self, *, result: Json = None, error: CallError | None = None) -> None:
        """The agent got this result, or this error."""


class StruckRequest(NamedTuple):
    """A struck request: its JSON-RPC id, the connection, and how its event is ended."""

    id: Any
    scope: Scope
    receive: Receive
    send: Send
    finish: FinishCall


class WireFaults:
    """Answers a struck call in place of the server. `over` is set when the trial is."""

    def __init__(self, over: asyncio.Event) -> None:
        self._over = over
        self.lost: set[str] = set()

    async def strike_call(self, fault: Fault, at: StruckRequest) -> None:
        """Do what the fault says, and end the call's event."""
        if fault.do == "timeout":
            await self._never_answer(fault, at)
        elif fault.do == "drop":
            at.finish(error=_call_error("dropped", "the connection was dropped"))
            _transport_under(at.send).abort()
        else:
            await self._fault_response(fault, at)(at.scope, at.receive, at.send)

    def _fault_response(self, fault: Fault, at: StruckRequest) -> Response:
        finish = at.finish
        match fault.do:
            case "status":
                message = f"the server answered HTTP {fault.status}"
                finish(error={**_call_error("protocol_error", message), "status": fault.status})
                headers = {}
                if fault.retry_after_s is not None:
                    headers["Retry-After"] = str(fault.retry_after_s)
                return Response(message, fault.status or 500, headers, "text/plain")
            case "lost_session":
                session = session_of(at.scope)
                if session:
                    self.lost.add(session)
                finish(error=_call_error("protocol_error", "the session was lost (HTTP 404)"))
                return lost_session()
            case "garbled":
                finish(error=_call_error("garbled", "the answer was not JSON"))
                return Response(GARBLED, 200, media_type="application/json")
            case "wrong_shape":
                result: Any = {"content": {"type": "text", "text": 7}, "resultType": "complete"}
                finish(error=_call_error("garbled", "the result had the wrong shape"))
            case "empty":
                result = {"content": [], "resultType": "complete"}
                finish(result="")
            case _:
                text = "tide " * (fault.bytes // 5 + 1)
                block = {"type": "text", "text": text[: fault.bytes]}
                result = {"content": [block], "resultType": "complete"}
                finish(result=f"({fault.bytes} bytes of text)")
        return JSONResponse({"jsonrpc": "2.0", "id": at.id, "result": result})

    async def _never_answer(self, fault: Fault, at: StruckRequest) -> None:
        """Wait; in the end, if there is one, a protocol error says how long it was."""
        pings = fault.style == "pings"
        if pings:
            headers = [(b"content-type", b"text/event-stream"), (b"cache-control", b"no-store")]
            await at.send({"type": "http.response.start", "status": 200, "headers": headers})
        if not await self._wait_unless_ended(
            fault.after_ms, at.receive, at.send if pings else None
        ):
            return
        message = f"no answer in {fault.after_ms:g} ms"
        at.finish(error=_call_error("timeout", message))
        error = {"code": NO_ANSWER, "message": message}
        body = {"jsonrpc": "2.0", "id": at.id, "error": error}
        if pings:
            data = f"event: message\ndata: {json.dumps(body)}\n\n".encode()
            await at.send({"type": "http.response.body", "body": data, "more_body": False})
        else:
            await JSONResponse(body)(at.scope, at.receive, at.send)

    async def _wait_unless_ended(
        self, after_ms: float | None, receive: Receive, pinging: Send | None
    ) -> bool:
        """Whether the time ran out; not if the client left or the trial was over first."""
        gone = asyncio.ensure_future(_until_disconnected(receive))
        over = asyncio.ensure_future(self._over.wait())
        loop = asyncio.get_running_loop()
        end = None if after_ms is None else loop.time() + after_ms / 1000
        try:
            while True:
                left = None if end is None else max(0.0, end - loop.time())
                step = PING_S if left is None else min(PING_S, left)
                done, _ = await asyncio.wait(
                    {gone, over}, timeout=step, return_when=asyncio.FIRST_COMPLETED
                )
                # The client left, or the trial is over: there is nobody to answer.
                if done:
                    return False
                if end is not None and loop.time() >= end:
                    return True
                if pinging:
                    ping = {"type": "http.response.body", "body": b": ping\n\n", "more_body": True}
                    await pinging(ping)
        finally:
            for task in (gone, over):
                task.cancel()
                with suppress(asyncio.CancelledError):
                    await task


async def _until_disconnected(receive: Receive) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass


def _call_error(kind: str, message: str) -> CallError:
    return {"kind": kind, "message": message}


def _transport_under(send: Send) -> asyncio.WriteTransport:
    """The connection under uvicorn's `send`: no ASGI message says *hang up now*."""
    transport: asyncio.WriteTransport = send.__self__.transport  # type: ignore[attr-defined]
    return transport


def session_of(scope: Scope) -> str | None:
    """The MCP session that a request names."""
    for name, value in scope["headers"]:
        if name == b"mcp-session-id":
            return str(value.decode("latin-1"))
    return None


def lost_session() -> Response:
    """The protocol's own answer for a session that is not there."""
    error = {"code": -32600, "message": "Session not found"}
    return JSONResponse({"jsonrpc": "2.0", "id": None, "error": error}, 404)
