"""The web application as tests need it: called directly, served here, or by `ferox serve`."""

from __future__ import annotations

import asyncio
import json
import socket
import subprocess
import sys
import threading
import urllib.error
import urllib.request
from collections.abc import Callable
from typing import Any

from ferox.store.database import open_database
from ferox.web.access import Access
from ferox.web.app import create_app
from ferox.web.runs.progress import RunProgress
from ferox.web.serve import new_server
from ferox.web.watching import Watching
from ferox.workspace.vault import Vault, install_vault
from tests.waiting import HANG_S
from tests.workers import work_in_threads
from tests.workspaces import WorkspaceCase


class Answer:
    """An HTTP answer: status, headers, and the body parsed if it is JSON."""

    def __init__(self, status: int, headers: Any, body: bytes) -> None:
        self.status = status
        self.headers = headers
        is_json = headers.get("Content-Type", "").startswith("application/json")
        self.body: Any = json.loads(body) if is_json else body.decode(errors="replace")


class AppCase(WorkspaceCase):
    """A workspace with the application in this process: for what needs no real server."""

    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)
        app = create_app(self.root, self.engine)
        self.addCleanup(app.extensions["ferox"].loop.close)
        self.site = app.extensions["ferox"]
        self.client = app.test_client()

    def ask(self, path: str, body: Any = None, method: str | None = None) -> Answer:
        """GET, or POST if there is a body, or another method."""
        does = method or ("GET" if body is None else "POST")
        given = self.client.open(path, method=does, json=body, base_url="http://127.0.0.1")
        return Answer(given.status_code, given.headers, given.get_data())

    def follow(self, run: int) -> str:
        """The events of a run until it is over, as its stream sends them."""

        async def heard() -> str:
            progress = RunProgress(self.engine, self.root)
            return "".join([event.encode().decode() async for event in progress.follow(run)])

        return asyncio.run(heard())

    def watch(self, kind: str, number: str, until: Callable[[Any], object]) -> Any:
        """What a screen is shown of something, once that is as hoped for, or it is over."""

        async def follow() -> Any:
            shown = None
            async for event in await Watching(self.site).find_events(kind, number):
                if event.event == "change":
                    shown = json.loads(event.data)
                    if until(shown):
                        break
            return shown

        return asyncio.run(asyncio.wait_for(follow(), HANG_S))


class HttpCase(WorkspaceCase):
    """Asks whatever is served at `self.url`."""

    url: str

    def ask(self, path: str, body: Any = None, method: str | None = None, **headers: str) -> Answer:
        """GET, or POST if there is a body, or another method."""
        data = None if body is None else json.dumps(body).encode()
        if data is not None:
            headers = {"Content-Type": "application/json", **headers}
        names = {k.replace("_", "-"): v for k, v in headers.items()}
        request = urllib.request.Request(self.url + path, data, names, method=method)
        try:
            with urllib.request.urlopen(request, timeout=HANG_S) as answer:
                return Answer(answer.status, answer.headers, answer.read())
        except urllib.error.HTTPError as error:
            with error:
                return Answer(error.code, error.headers, error.read())


class ServedCase(HttpCase):
    """A workspace with the application served by a thread of this process, front end, streams and
    all: a process of its own takes seconds to start."""

    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)
        engine = open_database(self.root)
        self.addCleanup(engine.dispose)
        self.addCleanup(install_vault, Vault(None))
        self.engine = engine
        self.stop_serving = self.start_serving()

    def start_serving(self, port: int = 0) -> Callable[[], None]:
        """Serve at a port, by default a free one; what ends that, which the test's end does too."""
        server, site = new_server(self.root, self.engine, Access())
        self.addCleanup(site.loop.close)
        listening = socket.create_server(("127.0.0.1", port))
        self.port = listening.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]})
        thread.start()

        def stop() -> None:
            server.should_exit = True
            thread.join(HANG_S)

        self.addCleanup(stop)
        return stop


class OwnProcessCase(HttpCase):
    """A workspace with a real `ferox serve` in front of it."""

    def setUp(self) -> None:
        super().setUp()
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        command = [sys.executable, "-m", "ferox", "serve", str(self.root)]
        self.server = subprocess.Popen(
            [*command, "--port", str(self.port)],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        self.addCleanup(self._end)
        assert self.server.stdout is not None
        self.server.stdout.readline()

    def _end(self) -> None:
        self.server.terminate()
        self.server.wait(HANG_S)
        if self.server.stdout:
            self.server.stdout.close()
