"""Opening a server in one of its modes: live, a variant, recorded, or mocked."""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from pathlib import Path

from ferox.core.masking import Masker
from ferox.core.matcher import MatchContext
from ferox.formats.server import Reach, ServerFile
from ferox.formats.suite import Given
from ferox.recordings.capture import Capture
from ferox.recordings.recording import RecordedLine, Recording
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.connection.keeper import keep_open
from ferox.servers.connection.tap import LineListener
from ferox.servers.sources.live import live_source
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.recorded import RecordedServer
from ferox.servers.sources.source import Source
from ferox.workspace.environment import known_secrets
from ferox.workspace.modes import MOCK, RECORDED, modes_of, reach_for_mode


def reach_of(server: ServerFile, mode: str) -> Reach:
    """How the live server, or one of its variants, is reached.

    Raises:
        ServerUnreachable: the file has no such mode.
    """
    to = reach_for_mode(server, mode)
    if to is None:
        known = ", ".join(modes_of(server)) or "none"
        raise ServerUnreachable("nothing", f"`{server.server}` has no `{mode}`", f"it has {known}")
    return to


def capture_of(
    server: ServerFile,
    mode: str,
    path: Path,
    listener: Callable[[RecordedLine], None] = lambda line: None,
) -> Capture:
    """A capture of what passes to and from a live server, its credentials masked.

    Raises:
        ServerUnreachable: the file has no such mode.
    """
    to = reach_of(server, mode)
    transport = "stdio" if to.command else to.transport
    return Capture(
        path, server.server, transport, masker=Masker(known_secrets()), listener=listener
    )


@dataclass(frozen=True)
class TrialContext:
    """What a source needs of the trial in which it plays.

    `folder` is the workspace; `recording` gives a recording by its path in it; `heard`
    is told of every message to and from a live server.
    """

    folder: Path
    seed: int
    match_context: MatchContext
    recording: Callable[[str], Recording]
    given: Given = field(default_factory=Given)
    heard: LineListener | None = None


@asynccontextmanager
async def open_source(
    server: ServerFile, mode: str, context: TrialContext
) -> AsyncIterator[Source]:
    """A server's source while the context is open.

    Raises:
        ServerUnreachable: a live server cannot be reached, or the file has no such mode.
        RecordingError: the recording cannot be read.
    """
    if mode == MOCK and server.mock is not None:
        yield MockServer(
            server.server,
            server.mock,
            context.seed,
            match_context=context.match_context,
            given=context.given,
        )
    elif mode == RECORDED and server.recording is not None:
        async with _fallback_source(server, context) as fallback:
            recording = context.recording(server.recording)
            yield RecordedServer(server.server, recording, server.replay, fallback)
    else:
        to = reach_of(server, mode)
        async with keep_open(live_source(server.server, to, context.folder, context.heard)) as live:
            yield live


@asynccontextmanager
async def _fallback_source(
    server: ServerFile, context: TrialContext
) -> AsyncIterator[Source | None]:
    """What answers a call that was not recorded, if the file says so."""
    if server.replay.miss == "error":
        yield None
        return
    async with open_source(server, server.replay.miss, context) as source:
        yield source
