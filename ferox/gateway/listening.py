"""A web server on a free loopback port, in the loop that asks for it."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, nullcontext, suppress
from urllib.parse import urlsplit

import uvicorn
from starlette.requests import ClientDisconnect
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ferox.intake.limits import MESSAGE

LOOPBACK = ("127.0.0.1", "localhost", "::1")


@asynccontextmanager
async def listen_on(app: ASGIApp, port: int = 0) -> AsyncIterator[str]:
    """Serve on a port, by default a free one, while the context is open; gives the base URL.

    Raises:
        OSError: the port is taken.
    """
    # With its protocol named, asyncio switches Nagle's algorithm off on what it accepts;
    # otherwise an answer in two writes waits 40 ms for the client's acknowledgement.
    sock = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    try:
        if port:
            sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        sock.bind(("127.0.0.1", port))
    except OSError:
        sock.close()
        raise
    server = uvicorn.Server(
        uvicorn.Config(
            limit_request_size(app),
            log_level="error",
            lifespan="off",
            interface="asgi3",
            access_log=False,
            timeout_keep_alive=60,
        )
    )
    server.capture_signals = nullcontext  # type: ignore[assignment]  # signals are the caller's
    task = asyncio.create_task(server.serve(sockets=[sock]))
    try:
        while not server.started:
            await asyncio.sleep(0.005)
            if task.done():
                task.result()
        yield f"http://127.0.0.1:{sock.getsockname()[1]}"
    finally:
        server.should_exit = True
        server.force_exit = True  # event streams that an agent never closes would hold it up
        await task
        sock.close()


def from_here(scope: Scope) -> bool:
    """Whether Host names this machine (no DNS rebinding), and no page of another origin asks:
    agents and services send no Origin, and no page is served here."""
    headers = {name: value.decode("latin-1") for name, value in scope["headers"]}
    host = headers.get(b"host", "")
    try:
        here = urlsplit(f"//{host}").hostname in LOOPBACK
    except ValueError:
        return False
    return here and headers.get(b"origin", f"http://{host}") == f"http://{host}"


def limit_request_size(app: ASGIApp, most: int = MESSAGE.max_bytes) -> ASGIApp:
    """An application whose requests are cut off when they grow too large."""

    async def handle(scope: Scope, receive: Receive, send: Send) -> None:
        size = 0

        async def counted() -> Message:
            nonlocal size
            message = await receive()
            size += len(message.get("body", b""))
            if size > most:
                raise _TooLarge
            return message

        try:
            with suppress(ClientDisconnect):  # nobody is left who could be answered
                await app(scope, counted, send)  # as it is: faults on the wire reach past it
        except _TooLarge:
            reason = f"a request of more than {most} bytes is not taken"
            with suppress(RuntimeError):  # an answer has begun already
                await PlainTextResponse(reason, 413)(scope, receive, send)

    return handle


class _TooLarge(Exception):
    pass
