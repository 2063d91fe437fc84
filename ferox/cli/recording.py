"""`ferox record`, `ferox shim` and `ferox drift`: recordings from the command line."""

from __future__ import annotations

import asyncio
import signal
import sys
from contextlib import suppress
from pathlib import Path

import anyio
import click
from mcp.server.stdio import stdio_server
from mcp.shared.message import SessionMessage

from ferox.cli.output import CHECKS_FAILED, COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.json_values import brief_json
from ferox.core.listing import Difference
from ferox.core.naming import counted_noun
from ferox.formats.server import Reach, ServerFile
from ferox.gateway.relay.recording import standing_before
from ferox.recordings.recording import RecordedLine, RecordingError, read_recording
from ferox.servers.connection.connecting import connect_client, open_streams
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.drift import CHANGED, GONE, NOT_ASKED, Drift, find_drift
from ferox.servers.opening import reach_of
from ferox.workspace import Workspace, WorkspaceError
from ferox.workspace.load import load_loosely


def _find_server(workspace: Path, name: str) -> tuple[ServerFile, Workspace]:
    try:
        loaded, problems = load_loosely(workspace)
    except WorkspaceError as error:
        fail(WRONG_USE, error)
    if name not in loaded.servers:
        mine = [p for p in problems if p.file.startswith("servers/")]
        known = ", ".join(sorted(loaded.servers)) or "none"
        fail(WRONG_USE, *mine, f"`{name}`: no such server; there is {known}")
    return loaded.servers[name], loaded


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("server")
@click.option("--out", required=True, type=click.Path(path_type=Path), help="The recording.")
@click.option("--mode", default="live", show_default=True, help="Which way, if there are several.")
@click.option("--port", default=0, help="Port on this machine; left out: a free one.")
def record(workspace: Path, server: str, out: Path, mode: str, port: int) -> None:
    """Stand before the live SERVER until stopped, and write all that passes to a recording.

    A client that is given the address below talks to the live server as before.
    """
    file, loaded = _find_server(workspace, server)
    if out.exists():
        fail(WRONG_USE, f"{out} is there already; give another name with --out")
    try:
        asyncio.run(_run_relay(file, mode, loaded.root, out=out, port=port))
    except ServerUnreachable as error:
        fail(COULD_NOT_RUN, error)
    except OSError as error:
        fail(COULD_NOT_RUN, f"{out} or port {port} cannot be used: {error.strerror}")


async def _run_relay(file: ServerFile, mode: str, root: Path, out: Path, port: int) -> None:
    async with connect_client(reach_of(file, mode), root):
        pass  # so that what is wrong is told before any client comes
    stopped = asyncio.Event()
    loop = asyncio.get_running_loop()
    for number in (signal.SIGINT, signal.SIGTERM):
        loop.add_signal_handler(number, stopped.set)
    async with standing_before(
        file, mode, root, path=out, port=port, listener=_say_line
    ) as standing:
        say(f"Standing before {file.server} ({mode}) at {standing.relay.base}/mcp")
        say(f"For clients that start commands: ferox shim {standing.relay.base}/mcp")
        say("Ctrl-C stops.")
        await stopped.wait()
    for remark in standing.remarks:
        say(f"note: {remark}")
    if standing.recording is None:
        say("nothing passed, and nothing was written")
        return
    calls = len(standing.recording.calls)
    messages = counted_noun(len(standing.recording.lines), "message")
    say(f"{out}: {messages}, {counted_noun(calls, 'call')}")


def _say_line(line: RecordedLine) -> None:
    if line.dir == "to_server" and line.msg.get("method") == "tools/call":
        params = line.msg.get("params") or {}
        say(f"{line.t:9.3f} s  {params.get('name')} {brief_json(params.get('arguments') or {})}")


@click.command()
@click.argument("url")
def shim(url: str) -> None:
    """A stdio MCP server that passes on to URL, for clients that speak only stdio."""
    to = Reach(url=url, transport="sse" if url.rstrip("/").endswith("/sse") else "http")
    try:
        anyio.run(_pass_messages, to)
    except ServerUnreachable as error:
        fail(COULD_NOT_RUN, error)


async def _pass_messages(to: Reach) -> None:
    async with open_streams(to, Path()) as (read, write), stdio_server() as (mine, answer):

        async def back() -> None:
            async for message in read:
                if isinstance(message, SessionMessage):
                    await answer.send(message)

        returning = asyncio.ensure_future(back())
        try:
            async for message in mine:
                if isinstance(message, SessionMessage):
                    await write.send(message)
            await asyncio.sleep(0.2)  # an answer may still be on its way
        finally:
            returning.cancel()
            with suppress(asyncio.CancelledError, Exception):
                await returning


@click.command(cls=WorkspaceFirst)
@workspace_argument
@click.argument("server")
@click.option("--recording", type=click.Path(path_type=Path), help="Left out: the server's own.")
@click.option("--mode", default="live", show_default=True, help="Which way, if there are several.")
@click.option("--also", multiple=True, metavar="TOOL", help="Ask this tool though it may write.")
def drift(
    workspace: Path, server: str, recording: Path | None, mode: str, also: tuple[str, ...]
) -> None:
    """Ask the live SERVER a recording's calls again, and say what has changed.

    Only tools that say that they only read are asked. Status 1 if anything changed.
    """
    file, loaded = _find_server(workspace, server)
    path = recording or (loaded.root / file.recording if file.recording else None)
    if path is None:
        fail(WRONG_USE, f"`{server}` names no recording; give one with --recording")
    try:
        found = asyncio.run(_compare(file, mode, loaded.root, path=path, also=also))
    except RecordingError as error:
        fail(WRONG_USE, error)
    except ServerUnreachable as error:
        fail(COULD_NOT_RUN, error)
    for change in found.tools:
        _say_changed(f"{change.kind:8} tool {change.tool}", change.what)
    for call in found.calls:
        if call.kind in (CHANGED, GONE):
            _say_changed(f"{call.kind:8} {call.tool} {brief_json(call.args)}", call.what)
    left = sum(c.kind == NOT_ASKED for c in found.calls)
    outcome = "drift" if found.has_drifted else "as recorded"
    if not found.has_drifted and left == len(found.calls):
        outcome = "the list of tools is as recorded; of the calls nothing can be said"
    asked = counted_noun(len(found.calls) - left, "call")
    say(f"{asked} asked again, {left} not asked: {outcome}")
    sys.exit(CHECKS_FAILED if found.has_drifted else 0)


def _say_changed(title: str, what: tuple[Difference, ...]) -> None:
    say(title)
    for one in what:
        say(f"         {one.where or '/'}: {brief_json(one.before)} → {brief_json(one.after)}")


async def _compare(
    file: ServerFile, mode: str, root: Path, path: Path, also: tuple[str, ...]
) -> Drift:
    recording = read_recording(path)
    async with connect_client(reach_of(file, mode), root) as client:
        return await find_drift(recording, client, also)
