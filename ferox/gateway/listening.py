"""A web server on a free loopback port, in the loop that asks for it."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, nullcontext
from urllib.parse import urlsplit

import uvicorn
from starlette.types import ASGIApp, Scope

LOOPBACK = ("127.0.0.1", "localhost", "::1")


@asynccontextmanager
async def listening(app: ASGIApp, port: int = 0) -> AsyncIterator[str]:
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
            app,
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
        server.force_exit = True
        await task
        sock.close()


def from_here(scope: Scope) -> bool:
    """Whether Host, and Origin if there is one, name this machine (no DNS rebinding)."""
    told = {name: value.decode("latin-1") for name, value in scope["headers"]}
    hosts = [urlsplit(f"//{told.get(b'host', '')}").hostname]
    if b"origin" in told:
        hosts.append(urlsplit(told[b"origin"]).hostname)
    return all(host in LOOPBACK for host in hosts)
