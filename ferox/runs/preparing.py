"""Preparing live servers for trials, and restoring them: by calls and commands, past all faults."""

from __future__ import annotations

import asyncio
import time
from collections.abc import AsyncIterator, Iterable, Mapping
from contextlib import AsyncExitStack, asynccontextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from ferox.agents.standing_addresses import hold_addresses
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.matcher import MatchContext
from ferox.formats.preparing import Step
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.formats.trace import CallError, StepOutcome
from ferox.processes.starting import find_program
from ferox.processes.subprocess import Subprocess
from ferox.runs.snapshot import Snapshot
from ferox.runs.truth import looked_up
from ferox.servers.opening import TrialContext, open_source
from ferox.servers.sources.source import Source
from ferox.workspace.environment import process_environment
from ferox.workspace.modes import MOCK, RECORDED
from ferox.workspace.vault import UnsetSecret, step_destination

LONGEST_LINE = 64 * 1024
"""Bytes of a line of a command's output that are kept."""
LAST_LINES = 6
"""Lines of a command's output that say why it failed."""


@dataclass(frozen=True)
class ServerStep:
    """A step, and the address of the tool that it calls, if it calls one."""

    step: Step
    tool: str | None

    def __str__(self) -> str:
        return self.tool or " ".join(self.step.command or ())


class NotPrepared(Exception):
    """A step failed; `done` are the outcomes so far, its own the last."""

    def __init__(self, step: ServerStep, done: list[StepOutcome]) -> None:
        self.done = done
        error = done[-1]["error"]
        super().__init__(f"preparing: {step}: {error['message'] if error else ''}")


def live_servers(suite: Suite) -> list[str]:
    """The servers of a suite that are live, and so may remember."""
    return [server for server, mode in suite.servers.items() if mode not in (MOCK, RECORDED)]


def remembering_servers(suite: Suite, servers: Mapping[str, ServerFile]) -> list[str]:
    """The live servers whose trials meet each other's state, so that one goes on at a time."""
    files = ((name, servers[name]) for name in live_servers(suite))
    suite_steps = bool(suite.prepare or suite.restore)
    return sorted(
        name
        for name, file in files
        if not file.separate and (file.prepare or file.restore or file.state or suite_steps)
    )


def steps_of(
    suite: Suite,
    servers: Mapping[str, ServerFile],
    kind: Literal["prepare", "restore"],
    each: Literal["trial", "run"],
) -> list[ServerStep]:
    """What is to be done: first the servers' own steps, then the suite's; to restore, the other
    way round. Nothing where no server is live: a mock begins afresh, a recording never changes."""
    live = live_servers(suite)
    if not live:
        return []
    own = [
        ServerStep(step, None if step.tool is None else f"{name}/{step.tool}")
        for name in live
        for step in getattr(servers[name], kind)
    ]
    of_suite = [
        ServerStep(step, step.tool)
        for step in getattr(suite, kind)
        if step.tool is None or step.tool.split("/")[0] in live
    ]
    ordered = [*own, *of_suite] if kind == "prepare" else [*of_suite, *own]
    return [one for one in ordered if one.step.each == each]


async def carry_out_steps(
    steps: Iterable[ServerStep],
    sources: Mapping[str, Source],
    folder: Path,
    names: Mapping[str, Any],
    *,
    go_on: bool,
) -> list[StepOutcome]:
    """Do the steps one after another. `names` are what their templates know; `go_on` past one
    that fails.

    Raises:
        NotPrepared: a step failed, and the others were not done.
    """
    done: list[StepOutcome] = []
    for one in steps:
        begun = time.perf_counter()
        error, result = await _carry_out(one, sources, folder, names)
        seconds = round(time.perf_counter() - begun, 6)
        done.append({"what": str(one), "s": seconds, "result": result, "error": error})
        if error is not None and not go_on:
            raise NotPrepared(one, done)
    return done


async def _carry_out(
    one: ServerStep, sources: Mapping[str, Source], folder: Path, names: Mapping[str, Any]
) -> tuple[CallError | None, Any]:
    try:
        async with asyncio.timeout(one.step.within_s):
            if one.tool is not None:
                args = render_value(one.step.args, names)
                found = await looked_up(sources, one.tool, args)
                return found.get("error"), found["result"]
            return await _run_command(one.step, folder)
    except ExpressionError as error:
        return {"kind": "template", "message": str(error)}, None
    except TimeoutError:
        return {"kind": "timeout", "message": f"not done within {one.step.within_s:g} s"}, None


async def _run_command(step: Step, folder: Path) -> tuple[CallError | None, Any]:
    """Run a command to its end: its last lines, and why it failed if it did."""
    command = step.command or []
    cwd = (folder / (step.cwd or ".")).resolve()
    program = find_program(command[0], cwd)
    if not cwd.is_dir():
        return {"kind": "command", "message": f"`{step.cwd}`: no such folder"}, None
    if program is None:
        return {"kind": "command", "message": f"`{command[0]}` was not found"}, None
    try:
        env = process_environment(step.env, step_destination(step))
        process = await Subprocess.start(
            [program, *command[1:]], cwd, env, longest_line=LONGEST_LINE
        )
    except (OSError, UnsetSecret) as error:
        return {"kind": "command", "message": str(error)}, None
    output = asyncio.create_task(process.keep_output_in_log())
    try:
        status = await process.wait()
        await asyncio.wait({output}, timeout=1)
    finally:
        output.cancel()
        await process.kill()
    said = process.last_words(LAST_LINES)
    if status:
        return {"kind": "command", "message": f"it ended with status {status}: {said}"}, None
    return None, said


async def prepare_run(
    snapshot: Snapshot, suite: Suite, folder: Path, kind: Literal["prepare", "restore"]
) -> list[StepOutcome]:
    """Do what is done once for a whole run, before its first trial of a suite or after the last.

    Raises:
        NotPrepared: a step failed, and the run is being prepared.
        ServerUnreachable, UnsetSecret: a server whose tool is called is out of reach.
    """
    steps = steps_of(suite, snapshot.servers, kind, "run")
    clock = snapshot.clock_of(suite)
    context = TrialContext(
        folder=folder,
        seed=0,
        match_context=MatchContext(clock),
        recording=snapshot.find_recording,
    )
    async with AsyncExitStack() as stack:
        sources: dict[str, Source] = {}
        for server in sorted({one.tool.split("/")[0] for one in steps if one.tool}):
            source = open_source(snapshot.servers[server], suite.servers[server], context)
            sources[server] = await stack.enter_async_context(source)
        names = step_names(clock.now, clock.today.isoformat(), "")
        return await carry_out_steps(steps, sources, folder, names, go_on=kind == "restore")


@asynccontextmanager
async def hold_servers(folder: Path, servers: Iterable[str]) -> AsyncIterator[None]:
    """Hold live servers that remember, waiting for a trial of any process that holds them now."""
    async with AsyncExitStack() as stack:
        # Always in one order, so that no two trials wait for each other.
        for server in sorted(servers):
            await stack.enter_async_context(hold_addresses(folder, f"server-{server}"))
        yield


def step_names(now: str, today: str, trial: str) -> dict[str, Any]:
    """What templates of steps know."""
    return {"now": now, "today": today, "trial": trial}
