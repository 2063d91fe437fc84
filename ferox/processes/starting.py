"""Starting a command below a watchman, so that all it starts can be found and ended."""

from __future__ import annotations

import asyncio
import os
import shutil
import signal
import sys
from asyncio.subprocess import PIPE, Process
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from pathlib import Path

import psutil

from ferox.processes import watchman

END_S = 3.0
"""Seconds that a watchman may take to end everything below it."""


LOOK_EVERY_S = 0.02


class _Watched:
    """The watchmen of this process."""

    def __init__(self) -> None:
        self.alive: set[int] = set()
        self.starting = 0
        self.adopts = False
        """Whether orphans of what was started are handed to this process."""


_watched = _Watched()


def adopt_orphans() -> None:
    """Have what outlives its watchman handed to this process, which then ends it.

    Only for a process that starts nothing but by `start_watched`.
    """
    watchman.be_subreaper()
    _watched.adopts = True


def find_program(word: str, cwd: Path) -> str | None:
    """Where the program is that a command's first word names: on the path, or from the folder
    where the command starts; None if it is in neither."""
    local = cwd / word
    return shutil.which(word) or (str(local) if local.is_file() else None)


async def start_watched(
    command: Sequence[str], cwd: Path, env: Mapping[str, str], limit: int = 65536
) -> Process:
    """Start a command with exactly this environment; `limit` bounds a line that is read of it.

    Raises:
        OSError: it cannot be started.
    """
    if not os.access(command[0], os.X_OK):
        if not Path(command[0]).exists():
            raise FileNotFoundError(2, "no such file", command[0])
        raise PermissionError(13, "it may not be run", command[0])
    # A command on its way is in nobody's list yet; `end_orphans` would take it for an orphan.
    _watched.starting += 1
    try:
        process = await asyncio.create_subprocess_exec(
            *(sys.executable, "-I", "-S", watchman.__file__, str(os.getpid())),
            *command,
            cwd=cwd,
            env=dict(env),
            stdin=PIPE,
            stdout=PIPE,
            stderr=PIPE,
            limit=limit,
            start_new_session=True,
        )
    finally:
        _watched.starting -= 1
    _watched.alive.add(process.pid)
    return process


async def wait_until_gone(process: Process) -> int:
    """The status of a process once it is gone; `wait` waits for its pipes too, which others may
    hold."""
    while process.returncode is None:
        await asyncio.sleep(LOOK_EVERY_S)
    return process.returncode


def ask_to_end(process: Process) -> None:
    """Send SIGTERM to the command's own group: it may still tidy up."""
    with suppress(ProcessLookupError):
        process.send_signal(signal.SIGUSR1)


async def end_watched(process: Process) -> None:
    """End a command and everything it started, whatever that did to get away."""
    # Looked up first: once the watchman is gone, nothing says any more what was below it.
    below = _all_below(process.pid)
    with suppress(ProcessLookupError):
        process.terminate()
    with suppress(TimeoutError):
        await asyncio.wait_for(wait_until_gone(process), END_S)
    # A watchman that was stopped or killed by those it watches leaves this to be done here.
    _kill_all([*below, *_all_below(process.pid)])
    with suppress(ProcessLookupError):
        process.kill()
    await wait_until_gone(process)
    _watched.alive.discard(process.pid)
    if _watched.adopts and not _watched.starting:
        end_orphans()


def end_orphans() -> None:
    """Kill everything below this process that no watchman of its stands above."""
    for child in _children_of(os.getpid()):
        if child.pid not in _watched.alive:
            _kill_all([child, *_all_below(child.pid)])


def _children_of(pid: int, *, recursive: bool = False) -> list[psutil.Process]:
    try:
        return psutil.Process(pid).children(recursive=recursive)
    except psutil.Error:
        return []


def _all_below(pid: int) -> list[psutil.Process]:
    return _children_of(pid, recursive=True)


def _kill_all(processes: Iterable[psutil.Process]) -> None:
    for process in processes:
        with suppress(psutil.Error):
            process.kill()
