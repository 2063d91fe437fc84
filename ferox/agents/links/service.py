"""What links to running services share: reaching them, and their standing addresses."""

from __future__ import annotations

import asyncio
import time
from abc import abstractmethod
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

import httpx2

from ferox.agents import standing_addresses as standing
from ferox.agents.agent_process import AgentProcess
from ferox.agents.links.link import (
    AgentDidNotStart,
    AgentSetup,
    Conversation,
)
from ferox.agents.standing_addresses import SEAMS
from ferox.agents.starting import start_agent
from ferox.formats.agent import AgentFile
from ferox.processes.subprocess import LAST_WORDS_S
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.tls import TLS
from ferox.workspace.environment import resolve_variable
from ferox.workspace.vault import UnsetSecret, address_origin

LOOK_EVERY_S = 0.1


class ServiceLink:
    """Drives an agent that runs by itself.

    If its file has a `command` and nothing answers at its `url`, it is started, told its
    standing addresses in `FEROX_SEAMS`, and ended with the link.
    """

    def __init__(self, agent: AgentFile, workspace: Path, seams: standing.AddressHolder) -> None:
        self.agent, self.workspace = agent, workspace
        self._seams = seams
        self._process: AgentProcess | None = None
        self._absorbing: asyncio.Task[None] | None = None

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        return unlimited_places()

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        if self.agent.command and not await self._is_listening():
            await self._start_service(start_s)
        conversation = await self.begin_conversation(setup, start_s)
        if self._process is not None:
            conversation.log = self._process.log
        return conversation

    @abstractmethod
    async def begin_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        """Begin a conversation with the service.

        Raises:
            AgentDidNotStart: it is not there, or not what it should be.
        """

    async def shut_down(self) -> None:
        if self._process is not None:
            await self._process.kill()
        if self._absorbing is not None:
            self._absorbing.cancel()

    async def _is_listening(self) -> bool:
        """Whether anything listens where the service should be."""
        to = urlsplit(self.agent.url or "")
        try:
            _, writer = await asyncio.open_connection(to.hostname, to.port or 80)
        except OSError:
            return False
        writer.close()
        return True

    async def _start_service(self, start_s: float) -> None:
        """Start the service, and wait until it listens.

        Raises:
            AgentDidNotStart: it ended, or took too long.
        """
        variables = {SEAMS: self._seams.as_json()}
        process = await start_agent(self.agent, self.workspace, variables)
        self._process = process
        # A pipe that nobody reads fills up, and then stops the service at its next word.
        self._absorbing = asyncio.create_task(process.keep_output_in_log())
        end = time.monotonic() + start_s
        while not await self._is_listening():
            if not process.alive or time.monotonic() > end:
                if not process.alive:  # what it wrote last may still be on its way
                    await process.wait()
                    await asyncio.wait({self._absorbing}, timeout=LAST_WORDS_S)
                words = process.last_words() or "it said nothing"
                ended = f"not within {start_s:g} s" if process.alive else "it ended"
                await process.kill()
                message = f"the service was started, and nothing listens at {self.agent.url}"
                raise AgentDidNotStart(f"{message}: {ended}; its log ends: {words}")
            await asyncio.sleep(LOOK_EVERY_S)

    def request_headers(self) -> dict[str, str]:
        """What every request carries.

        Raises:
            AgentDidNotStart: a secret is not set.
        """
        try:
            to = address_origin(self.agent.url or "")
            return {n: resolve_variable(n, v, to).value for n, v in self.agent.headers.items()}
        except UnsetSecret as error:
            raise AgentDidNotStart(f"headers: {error}") from None

    def http_client(self) -> httpx2.AsyncClient:
        """A client for the service; how long a turn may take is not its concern."""
        timeout = httpx2.Timeout(10, read=None)
        return httpx2.AsyncClient(timeout=timeout, verify=TLS, headers=self.request_headers())

    async def check_reachable(
        self, http: httpx2.AsyncClient, url: str, start_s: float
    ) -> httpx2.Response:
        """See whether anything answers at an address.

        Raises:
            AgentDidNotStart: nothing does.
        """
        try:
            return await http.get(url, timeout=start_s)
        except httpx2.ConnectError:
            message = f"nothing listens at {url}"
            raise AgentDidNotStart(f"{message}; start the service, or correct `url`") from None
        except httpx2.TimeoutException:
            message = f"{url} gave no answer within {start_s:g} s"
            raise AgentDidNotStart(
                f"{message}; raise `timeouts.start_s` if it is just slow"
            ) from None
        except (httpx2.HTTPError, httpx2.InvalidURL) as error:
            raise AgentDidNotStart(f"{url}: {plain_error(error)}; correct `url`") from None


@asynccontextmanager
async def unlimited_places() -> AsyncIterator[None]:
    """A place that anyone may take."""
    yield
