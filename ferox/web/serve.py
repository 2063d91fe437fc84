"""Serving the web application: on loopback, or to others who have the token."""

from __future__ import annotations

import fcntl
import gc
import re
import secrets
import signal
import socket
import sys
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TextIO

import uvicorn
from a2wsgi import WSGIMiddleware
from sse_starlette import EventSourceResponse
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from ferox.runs.standing_addresses import serve_standing_addresses
from ferox.store.database import Engine, StoreError, open_database, results_folder
from ferox.web.access import COOKIE, Access
from ferox.web.app import create_app
from ferox.web.interface import WATCHED, Interface
from ferox.web.responses import NotThere
from ferox.web.site import Site
from ferox.web.watching import Watching
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_loosely

THREADS = 32
"""Requests that are answered at once. Screens that only listen hold none."""
ENDING_S = 10
GRACE_S = 1
"""Seconds that open connections get when it ends."""
HERE = "127.0.0.1"
STILL_HERE_S = 10
"""Seconds of silence after which a screen hears that its connection stands."""
_WATCH = re.compile(rf"/api/watch/({'|'.join(WATCHED)})/([\w-]{{1,40}})")


class ServeError(Exception):
    """The application cannot be served; the message says why and what to do."""


@dataclass(frozen=True)
class Address:
    """Where to serve. `public_url` is the address behind a proxy; with `read_only` there is a
    second token for those who only look."""

    port: int
    host: str = HERE
    public_url: str | None = None
    read_only: bool = False

    @property
    def for_others(self) -> bool:
        """Whether anybody but this machine may come, so that a token is asked for."""
        return self.host != HERE or self.public_url is not None

    def access(self) -> Access:
        """The rules for whoever comes, with fresh tokens if others may."""
        if not self.for_others:
            return Access()
        look = secrets.token_urlsafe(24) if self.read_only else None
        return Access(secrets.token_urlsafe(24), look, self.public_url)


def serve(workspace: Path, address: Address, started: Callable[[str, Access], None]) -> None:
    """Serve until interrupted; `started` is told the address, and the tokens if there are any.

    Raises:
        ServeError: the workspace is served already, or the port is taken.
        StoreError: its results cannot be opened.
    """
    lock = _claim_workspace(workspace)
    sock = _listening_socket(address)
    shown = f"[{address.host}]" if ":" in address.host else address.host
    # Port 0 asks for any that is free: which one that is, is known now.
    url = address.public_url or f"http://{shown}:{sock.getsockname()[1]}"
    engine = open_database(workspace)
    access = address.access()
    server, site = new_server(workspace, engine, access)
    # Whoever tries to serve the same workspace is told this address.
    lock.seek(0)
    lock.truncate()
    lock.write(url)
    lock.flush()
    started(url, access)
    # What was imported stays: the collector, which large answers set off, need not look at it.
    gc.collect()
    gc.freeze()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))  # so that what was started is ended
    try:
        server.run(sockets=[sock])
    finally:
        # A handler's thread cannot be cancelled from outside; the alarm ends the process.
        signal.alarm(ENDING_S)  # whatever hangs in a request, the process ends
        site.loop.close()


def new_server(workspace: Path, engine: Engine, access: Access) -> tuple[uvicorn.Server, Site]:
    """A server of a workspace, and what it keeps open: `loop` is to be closed after it."""
    app = create_app(workspace, engine, access)
    site: Site = app.extensions["ferox"]
    with suppress(WorkspaceError):  # its screens say what is wrong with it
        files, _ = load_loosely(workspace)
        site.loop.keep_open(lambda: serve_standing_addresses(files.root, files))
    config = uvicorn.Config(
        with_events(app, access),
        log_level="error",
        lifespan="off",
        access_log=False,
        timeout_graceful_shutdown=GRACE_S,
        forwarded_allow_ips=HERE,  # a proxy on this machine says who is behind it
        server_header=False,
    )
    return uvicorn.Server(config), site


def with_events(app: Interface, access: Access) -> ASGIApp:
    """The application with its event streams, which hold no thread, served beside it."""
    watching = Watching(app.extensions["ferox"])

    async def watch(request: Request, kind: str, number: str) -> Response:
        host, cookie = request.headers.get("host", ""), request.cookies.get(COOKIE)
        refusal = access.refusal("GET", host, request.headers, cookie)
        if refusal is not None:
            return JSONResponse({"message": refusal.message}, refusal.status)
        try:
            events = await watching.find_events(kind, number)
        except NotThere as error:
            return JSONResponse({"message": str(error)}, 404)
        return EventSourceResponse(events, ping=STILL_HERE_S)

    flask: Any = app  # Flask is WSGI in all but its types
    wsgi: Any = WSGIMiddleware(flask, workers=THREADS, send_queue_size=10)

    async def serve_one(scope: Scope, receive: Receive, send: Send) -> None:
        found = _WATCH.fullmatch(scope.get("path", ""))
        if scope["type"] == "http" and scope["method"] == "GET" and found:
            request = Request(scope, receive)
            await (await watch(request, found[1], found[2]))(scope, receive, send)
        else:
            await wsgi(scope, receive, send)

    return serve_one


def _claim_workspace(workspace: Path) -> TextIO:
    try:
        lock = (results_folder(workspace) / "serve.lock").open("a+")
    except OSError as error:
        raise StoreError(f"{workspace / '.ferox'} may not be written: {error.strerror}") from None
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        lock.seek(0)
        raise ServeError(
            f"this workspace is served already at {lock.read().strip() or 'another address'}; "
            "open that, or stop it first"
        ) from None
    return lock


def _listening_socket(address: Address) -> socket.socket:
    try:
        family, kind, number, _, at = socket.getaddrinfo(
            address.host, address.port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE
        )[0]
    except socket.gaierror as error:
        raise ServeError(f"`{address.host}` is not an address of this machine: {error}") from None
    sock = socket.socket(family, kind, number or socket.IPPROTO_TCP)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        sock.bind(at)
        sock.listen(512)
    except OSError as error:
        sock.close()
        message = f"{address.host}, port {address.port} cannot be used ({error.strerror})"
        raise ServeError(f"{message}; choose one with --port") from None
    return sock
