"""Serving the web application on loopback."""

from __future__ import annotations

import fcntl
import signal
import socket
import sys
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from waitress import create_server

from ferox.runs.standing import standing_door
from ferox.store.database import folder, open_database
from ferox.web.app import create_app
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_loosely

THREADS = 32
"""Each open screen holds one for its live updates."""


class ServeError(Exception):
    """The application cannot be served; the message says why and what to do."""


def serve(workspace: Path, port: int, started: Callable[[str], None]) -> None:
    """Serve until interrupted; `started` is told the address.

    Raises:
        ServeError: the workspace is served already, or the port is taken.
        StoreError: its results cannot be opened.
    """
    url = f"http://127.0.0.1:{port}"
    lock = (folder(workspace) / "serve.lock").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        lock.seek(0)
        raise ServeError(
            f"this workspace is served already at {lock.read().strip() or 'another address'}; "
            "open that, or stop it first"
        ) from None
    _check_free(port)
    app = create_app(workspace, open_database(workspace))
    with suppress(WorkspaceError):  # its screens say what is wrong with it
        files, _ = load_loosely(workspace)
        app.extensions["desk"].keep(lambda: standing_door(files.root, files))
    server = create_server(
        app,
        host="127.0.0.1",
        port=port,
        threads=THREADS,
        send_bytes=1,  # server-sent events must not wait for more
        channel_timeout=600,
        ident="ferox",
    )
    lock.seek(0)
    lock.truncate()
    lock.write(url)
    lock.flush()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))  # so that what was started is ended
    started(url)
    try:
        server.run()
    finally:
        app.extensions["desk"].close()


def _check_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            told = f"port {port} cannot be used ({error.strerror}); choose one with --port"
            raise ServeError(told) from None
