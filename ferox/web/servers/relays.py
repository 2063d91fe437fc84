"""The interface of relays: stand before a live server, see the calls come in, stop, keep."""

from __future__ import annotations

import asyncio
import json
import sys
from collections import deque
from dataclasses import dataclass, field
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask_openapi3.openapi import OpenAPI

from ferox.formats.server import ServerFile
from ferox.gateway.relay.recording import Standing, standing_before
from ferox.recordings.recording import Line, Recording
from ferox.servers.by_hand.open_servers import Desk
from ferox.servers.connection.connecting import reach
from ferox.servers.connection.diagnosis import OutOfReach
from ferox.servers.opening import reach_of
from ferox.store.database import folder
from ferox.web.responses import NotThere, as_json
from ferox.web.servers import recording_shapes as shapes
from ferox.web.servers.routes import chosen_way, server_file
from ferox.web.servers.shapes import FileShape, ServerPath
from ferox.web.shapes import Fault
from ferox.workspace.load import file_of
from ferox.workspace.modes import MOCK, RECORDED
from ferox.workspace.write import WriteError, edited, place, read_text, write_text

NEWEST = 60
"""Requests that are shown of a relay, the newest."""
MOST_STANDING = 8


@dataclass
class Stand:
    """A relay of this process: what it stands before, and what passed."""

    id: str
    server: ServerFile
    mode: str
    path: Path
    standing: Standing | None = None
    messages: int = 0
    calls: deque[shapes.CallLine] = field(default_factory=lambda: deque(maxlen=NEWEST))
    over: asyncio.Event = field(default_factory=asyncio.Event)
    task: asyncio.Task[None] | None = None
    _count: int = 0
    _waiting: dict[tuple[int, str], shapes.CallLine] = field(default_factory=dict)

    def heard(self, line: Line) -> None:
        """Keep a request for the screen, and how it was answered."""
        self.messages += 1
        msg = line.msg
        if line.dir == "to_server" and "method" in msg and "id" in msg:
            params = msg.get("params") or {}
            tool = str(params.get("name")) if msg["method"] == "tools/call" else None
            call = shapes.CallLine(
                number=self._count, session=line.session, t=line.t, method=str(msg["method"]),
                tool=tool, args=params.get("arguments") or {}, s=None, error=None,
            )  # fmt: skip
            self._count += 1
            self.calls.append(call)
            self._waiting[line.session, json.dumps(msg["id"])] = call
        elif line.dir == "to_client" and "method" not in msg:
            waiting = self._waiting.pop((line.session, json.dumps(msg.get("id"))), None)
            if waiting:
                waiting.s = round(line.t - waiting.t, 6)
                if "error" in msg:
                    waiting.error = str((msg["error"] or {}).get("message"))
                elif isinstance(msg.get("result"), dict) and msg["result"].get("isError"):
                    waiting.error = "the tool says that it failed"

    def shape(self) -> shapes.RelayShape:
        """The relay as the screen shows it."""
        relay = self.standing.relay if self.standing else None
        address = f"{relay.base}/mcp" if relay else ""
        return shapes.RelayShape(
            id=self.id,
            server=self.server.server,
            mode=self.mode,
            address=address,
            snippets=snippets(self.server.server, address),
            messages=self.messages,
            sessions=relay.open_sessions if relay and not self.over.is_set() else 0,
            calls=list(self.calls),
            remarks=list(self.standing.remarks) if self.standing else [],
            state="stopped" if self.over.is_set() else "standing",
        )


def snippets(server: str, address: str) -> list[shapes.SnippetShape]:
    """What to paste into a client's configuration so that it comes by the relay."""
    by_url = {"mcpServers": {server: {"url": address}}}
    command = {"command": sys.executable, "args": ["-m", "ferox", "shim", address]}
    by_command = {"mcpServers": {server: command}}
    old = address.removesuffix("/mcp") + "/sse"
    return [
        shapes.SnippetShape(title="Address (streamable HTTP)", text=address),
        shapes.SnippetShape(
            title="Configuration block, by address", text=json.dumps(by_url, indent=2)
        ),
        shapes.SnippetShape(
            title="Configuration block, for clients that only start commands",
            text=json.dumps(by_command, indent=2),
        ),
        shapes.SnippetShape(title="Address of the older event stream", text=old),
    ]


class Stands:
    """The relays of this process, in the desk's loop."""

    def __init__(self, desk: Desk, root: Path) -> None:
        self._desk, self._root = desk, root
        self._all: dict[str, Stand] = {}

    def of(self, number: str) -> Stand:
        """A relay by its number.

        Raises:
            NotThere: there is none.
        """
        if number not in self._all:
            raise NotThere("this relay is no longer there")
        return self._all[number]

    def every(self) -> list[Stand]:
        """Every relay that was not yet kept or thrown away."""
        return list(self._all.values())

    def start(self, server: ServerFile, mode: str) -> Stand:
        """Stand before a server, once it has shown that it answers.

        Raises:
            OutOfReach: it does not.
        """
        if sum(not s.over.is_set() for s in self.every()) >= MOST_STANDING:
            raise OutOfReach("full", f"{MOST_STANDING} relays stand already", "stop one first")
        return self._desk.run(self._start(server, mode))

    async def _start(self, server: ServerFile, mode: str) -> Stand:
        async with reach(reach_of(server, mode), self._root):
            pass
        number = token_urlsafe(6)
        path = folder(self._root) / "relays" / f"{number}.jsonl"
        stand = Stand(number, server, mode, path)
        given: asyncio.Future[Standing] = asyncio.get_running_loop().create_future()

        async def keep() -> None:
            try:
                async with standing_before(
                    server, mode, self._root, path, listener=stand.heard
                ) as standing:
                    given.set_result(standing)
                    await stand.over.wait()
            except Exception as error:
                if not given.done():
                    given.set_exception(error)

        stand.task = asyncio.create_task(keep())
        stand.standing = await given
        self._all[number] = stand
        return stand

    def stop(self, stand: Stand) -> None:
        """End a relay; what passed is on disk."""

        async def end() -> None:
            stand.over.set()
            if stand.task:
                await stand.task

        self._desk.run(end())

    def drop(self, stand: Stand) -> None:
        """Forget a relay and what passed."""
        self.stop(stand)
        stand.path.unlink(missing_ok=True)
        self._all.pop(stand.id, None)


def add_relays(app: OpenAPI, root: Path, desk: Desk) -> None:
    """Routes of relays."""
    stands = Stands(desk, root)

    @app.get("/api/relays", responses={200: shapes.RelayList})
    def relays() -> Any:
        """Every relay that stands, or waits to be kept."""
        return as_json(shapes.RelayList(relays=[s.shape() for s in stands.every()]))

    @app.post("/api/servers/<server>/relay", responses={200: shapes.RelayShape, 502: Fault})
    def start_relay(path: ServerPath, body: shapes.RelayRequest) -> Any:
        """Stand before a live server."""
        file, _ = server_file(root, path.server)
        mode = chosen_way(file, body.mode)
        if mode in (MOCK, RECORDED):
            raise NotThere(f"a relay stands before a live server, and `{mode}` is none")
        try:
            stand = stands.start(file, mode)
        except OutOfReach as error:
            return as_json(Fault(message=str(error)), 502)
        return as_json(stand.shape())

    @app.get("/api/relays/<relay>", responses={200: shapes.RelayShape, 404: Fault})
    def watch_relay(path: shapes.RelayPath) -> Any:
        """A relay as it is now."""
        return as_json(stands.of(path.relay).shape())

    @app.post("/api/relays/<relay>/stop", responses={200: shapes.RelayShape, 404: Fault})
    def stop_relay(path: shapes.RelayPath) -> Any:
        """End a relay; its recording waits to be kept."""
        stand = stands.of(path.relay)
        stands.stop(stand)
        return as_json(stand.shape())

    @app.post("/api/relays/<relay>/keep", responses={200: FileShape, 409: Fault})
    def keep_relay(path: shapes.RelayPath, body: shapes.KeepRequest) -> Any:
        """Keep what passed as a recording of the workspace."""
        stand = stands.of(path.relay)
        stands.stop(stand)
        if not stand.path.is_file():
            raise WriteError("nothing passed, so there is nothing to keep")
        kept = keep_recording(root, Recording.read(stand.path), body.name)
        if body.use:
            use_recording(root, stand.server.server, kept.name)
        stands.drop(stand)
        return as_json(kept)

    @app.post("/api/relays/<relay>/drop", responses={200: shapes.RelayList, 404: Fault})
    def drop_relay(path: shapes.RelayPath) -> Any:
        """Throw away what passed."""
        stands.drop(stands.of(path.relay))
        return as_json(shapes.RelayList(relays=[s.shape() for s in stands.every()]))


def keep_recording(root: Path, found: Recording, name: str) -> FileShape:
    """Write a new recording into the workspace.

    Raises:
        WriteError: the name is none, or taken.
    """
    file = f"recordings/{name}.jsonl"
    path = place(root, file)
    if path.exists():
        raise WriteError(f"{file} is there already; take another name")
    path.parent.mkdir(exist_ok=True)
    found.write(path)
    return FileShape(name=file, text="", stamp="")


def use_recording(root: Path, server: str, file: str) -> None:
    """Have a server's file name a recording.

    Raises:
        WriteError: the file cannot be written.
    """
    _, workspace = server_file(root, server)
    name = file_of(workspace, "servers", "server", server).name
    text, stamp = read_text(root, name)

    def put(document: Any) -> None:
        document["recording"] = file

    write_text(root, name, edited(text, put), stamp)
