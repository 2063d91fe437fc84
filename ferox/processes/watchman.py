"""Stands above what Ferox starts, and ends all of it: `python watchman.py COMMAND...`.

Uses the standard library only. Linux hands the orphans of a process to its nearest *subreaper*;
this is one, so whatever the command starts, in sessions or groups of its own, stays below it.
When the command ends, or Ferox does, or Ferox asks (SIGTERM), everything below is killed. It
holds none of the command's pipes, and ends as the command did.
"""

from __future__ import annotations

import ctypes
import os
import signal
import sys
from contextlib import suppress
from pathlib import Path

SET_PARENT_DEATH_SIGNAL, SET_SUBREAPER = 1, 36
"""Operations of prctl(2)."""


def be_subreaper() -> None:
    """Have the orphans of everything below handed to this process, where Linux is."""
    if sys.platform == "linux":
        ctypes.CDLL(None, use_errno=True).prctl(SET_SUBREAPER, 1, 0, 0, 0)


def end_with(parent: int) -> None:
    """Have SIGTERM sent here when the parent is gone, even if it already is."""
    if sys.platform == "linux":
        ctypes.CDLL(None, use_errno=True).prctl(SET_PARENT_DEATH_SIGNAL, signal.SIGTERM, 0, 0, 0)
    if os.getppid() != parent:
        os.kill(os.getpid(), signal.SIGTERM)


def children_of(pid: int) -> list[int]:
    """The processes that a process started, or that were handed to it."""
    try:
        tasks = list(Path(f"/proc/{pid}/task").iterdir())
        return [int(c) for task in tasks for c in (task / "children").read_text().split()]
    except OSError:
        return []


def kill_below() -> None:
    """Kill everything below, until nothing is: what is killed hands its own children over."""
    while below := children_of(os.getpid()):
        for pid in below:
            with suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
        try:
            os.waitpid(-1, 0)
        except ChildProcessError:
            return


def start(command: list[str]) -> int:
    """Start the command in a group of its own, with the pipes that this process was given."""
    pid = os.fork()
    if pid:
        return pid
    try:
        os.setpgid(0, 0)
        # Handlers are not inherited over exec, but signals that are ignored are.
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            signal.signal(number, signal.SIG_DFL)
        os.execvp(command[0], command)
    except OSError as error:
        os.write(2, f"{command[0]} cannot be started: {error.strerror}\n".encode())
    os._exit(127)


def main(parent: int, command: list[str]) -> None:
    """Start the command, wait for it, and end as it did with nothing left behind."""
    be_subreaper()
    leader = start(command)

    def end(*_: object) -> None:
        kill_below()
        os._exit(128 + signal.SIGTERM)

    def ask(*_: object) -> None:
        with suppress(ProcessLookupError, PermissionError):
            os.killpg(leader, signal.SIGTERM)

    signal.signal(signal.SIGTERM, end)
    signal.signal(signal.SIGUSR1, ask)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    end_with(parent)
    # A pipe ends for its reader when the last holder closes it; the watchman must not be one.
    nothing = os.open(os.devnull, os.O_RDWR)
    for pipe in (0, 1, 2):
        os.dup2(nothing, pipe)
    while True:
        pid, status = os.wait()
        if pid == leader:
            break
    kill_below()
    if os.WIFSIGNALED(status):
        # Ends by the signal that ended the command, so that whoever waits sees the same.
        number = os.WTERMSIG(status)
        if number not in (signal.SIGKILL, signal.SIGSTOP):
            signal.signal(number, signal.SIG_DFL)
        os.kill(os.getpid(), number)
    os._exit(os.waitstatus_to_exitcode(status) & 0xFF)


if __name__ == "__main__":
    main(int(sys.argv[1]), sys.argv[2:])
