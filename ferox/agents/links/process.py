"""Links over a process of the agent's: any command, or a factory in its own interpreter.

Both speak the link protocol. A process is kept warm, and serves one trial at a time.
"""

from __future__ import annotations

import asyncio
from collections.abc import Mapping
from contextlib import AbstractAsyncContextManager, suppress
from pathlib import Path
from typing import Any

from ferox.agents import link_host
from ferox.agents.agent_process import AgentEnded, AgentProcess
from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.agents.starting import start_agent, start_command
from ferox.formats.agent import AgentFile

CLOSE_S = 5.0
"""How long an agent may take to close before it is ended with everything it started."""


def _reply_of(message: dict[str, Any]) -> AgentReply:
    """A reply; what is not text is told by its type."""
    text = message.get("text")
    of = message.get("of") or (None if isinstance(text, str) else type(text).__name__)
    return AgentReply("" if text is None else str(text), message.get("data"), of)


class _ProcessConversation(Conversation):
    def __init__(self, link: ProcessLink, process: AgentProcess) -> None:
        self._link = link
        self._process = process
        # The process outlives the trial, so its counts are those of all its trials.
        self._before = process.unreadable_lines, process.repaired_messages
        self.log = process.log

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        try:
            await self._process.send({"op": "turn", "text": text})
            while True:
                message = await self._process.receive()
                match message.get("op"):
                    case "reply":
                        return _reply_of(message)
                    case "failed":
                        raise AgentCrashed(str(message.get("reason")))
                    case "ask":
                        await self._decide_approval(message, hooks)
                    case "local_call":
                        hooks.local_call(message)
                    case "partial":
                        hooks.partial(str(message.get("text") or ""))
        except AgentEnded as error:
            raise AgentCrashed(str(error)) from None

    async def _decide_approval(self, message: dict[str, Any], hooks: AgentHooks) -> None:
        id, args = str(message.get("id")), message.get("args") or {}
        decision = await hooks.ask(id, str(message.get("tool")), args)
        answer: dict[str, Any] = {"op": "decide", "id": id}
        answer["decision"] = "approve" if decision.approved else "deny"
        answer["args"] = args if decision.args is None else decision.args
        await self._process.send(answer)

    @property
    def unreadable_lines(self) -> int:  # type: ignore[override]
        """Lines of this trial that were not messages."""
        return self._process.unreadable_lines - self._before[0]

    @property
    def repaired_messages(self) -> int:  # type: ignore[override]
        """Messages of this trial in which half characters were replaced."""
        return self._process.repaired_messages - self._before[1]

    async def close(self) -> bool:
        return await self._link.give_back(self._process)


class ProcessLink:
    """Drives one agent by its `command`.

    At most `processes` of it run, each serving one trial at a time.

    `variables` are Ferox's own for its environment. `starts` staggers the start of processes, of
    this and of other agents: many at once would slow each other past their time to start.
    """

    def __init__(
        self,
        agent: AgentFile,
        workspace: Path,
        starts: asyncio.Semaphore,
        variables: Mapping[str, str] | None = None,
    ) -> None:
        self._agent = agent
        self._variables = variables or {}
        self._starts = starts
        self._workspace = workspace
        self._idle: list[AgentProcess] = []
        self._all: set[AgentProcess] = set()
        self._places = asyncio.Semaphore(agent.processes)

    @property
    def idle_processes(self) -> list[AgentProcess]:
        """The processes that wait for a trial."""
        return list(self._idle)

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        return self._places

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        process: AgentProcess | None = None
        try:
            process = await self._ready_process(start_s)
            await process.send(setup.open_message())
            await self._await_message(process, "ready", start_s)
            return _ProcessConversation(self, process)
        # Cancelled by Stop or a limit, too: a process in an unknown state serves no other trial.
        except BaseException as error:
            if process:
                await self._end_process(process)
            if isinstance(error, AgentEnded):
                raise AgentDidNotStart(str(error)) from None
            raise

    async def _ready_process(self, start_s: float) -> AgentProcess:
        # The one that was used last: the others may grow cold, and one that died meanwhile is left.
        while self._idle:
            process = self._idle.pop()
            if process.alive:
                return process
            self._all.discard(process)
        # Held until it is loaded, for loading a framework is what takes the processor.
        async with self._starts:
            process = await self._start_process()
            try:
                await self._wait_until_loaded(process, start_s)
            except BaseException:
                await self._end_process(process)
                raise
            return process

    async def _wait_until_loaded(self, process: AgentProcess, start_s: float) -> None:
        """Wait until the process can be told of a trial; a command's own says nothing before."""

    async def _start_process(self) -> AgentProcess:
        process = await start_agent(self._agent, self._workspace, self._variables)
        self._all.add(process)
        return process

    async def _await_message(self, process: AgentProcess, op: str, start_s: float) -> None:
        try:
            async with asyncio.timeout(start_s):
                while (message := await process.receive()).get("op") != op:
                    if message.get("op") == "failed":
                        raise AgentDidNotStart(str(message.get("reason")))
        except TimeoutError:
            problem = f"not {op} within {start_s:g} s; raise `timeouts.start_s` if it is just slow"
            words = process.last_words()
            raise AgentDidNotStart(
                f"{problem}; its log ends: {words}" if words else problem
            ) from None

    async def give_back(self, process: AgentProcess) -> bool:
        """Close the trial; the process is kept if it closed well, and ended otherwise."""
        try:
            async with asyncio.timeout(CLOSE_S):
                await process.send({"op": "close"})
                while (await process.receive()).get("op") != "closed":
                    pass
            if self._agent.fresh_process:
                await self._end_process(process)
            else:
                self._idle.append(process)
            return True
        except (AgentEnded, TimeoutError) as error:
            await self._end_process(process)
            return not isinstance(error, TimeoutError)
        except asyncio.CancelledError:
            await self._end_process(process)
            raise

    async def _end_process(self, process: AgentProcess) -> None:
        with suppress(ProcessLookupError):
            await process.kill()
        self._all.discard(process)

    async def shut_down(self) -> None:
        for process in list(self._all):
            await self._end_process(process)
        self._idle.clear()


class PythonLink(ProcessLink):
    """Drives a Python factory: Ferox's own file runs it in the agent's interpreter."""

    async def _wait_until_loaded(self, process: AgentProcess, start_s: float) -> None:
        await self._await_message(process, "loaded", start_s)

    async def _start_process(self) -> AgentProcess:
        python = self._workspace / (self._agent.python or "")
        entry = self._workspace / (self._agent.entry or "")
        if not python.exists():
            raise AgentDidNotStart(
                f"the interpreter `{self._agent.python}` does not exist; make the agent's "
                f"environment, or correct `python` in its file"
            )
        command = [str(python), "-u", link_host.__file__, str(entry)]
        process = await start_command(command, self._workspace, self._agent, self._variables)
        self._all.add(process)
        return process
