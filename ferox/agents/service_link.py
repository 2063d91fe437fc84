"""What links to running services share: reaching them, and their standing addresses."""

from __future__ import annotations

import ssl
from abc import abstractmethod
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from pathlib import Path

import httpx2

from ferox.agents import standing
from ferox.agents.link import Conversation, DidNotStart, Hooks, Reply, Setup
from ferox.formats.agent import AgentFile
from ferox.servers.diagnosis import plain
from ferox.workspace.environment import UnsetSecret, resolve

TLS = ssl.create_default_context()
"""Made once: it takes longer than many a request."""


class ServiceLink:
    """Drives an agent that runs by itself, and takes one trial at a time.

    `folder` is the workspace's `.ferox`, where the trials of its processes agree on who is
    next.
    """

    def __init__(self, agent: AgentFile, workspace: Path, folder: Path) -> None:
        self.agent, self.workspace, self.folder = agent, workspace, folder

    def place(self) -> AbstractAsyncContextManager[None]:
        return standing.alone(self.folder, self.agent.agent)

    async def open(self, setup: Setup, start_s: float) -> Conversation:
        standing.take(self.folder, self.agent.agent, setup)
        try:
            return Held(self, await self.begin(setup, start_s))
        except BaseException:
            standing.leave(self.folder, self.agent.agent)
            raise

    @abstractmethod
    async def begin(self, setup: Setup, start_s: float) -> Conversation:
        """Begin a conversation with the service.

        Raises:
            DidNotStart: it is not there, or not what it should be.
        """

    async def shut(self) -> None:
        return None

    def headers(self) -> dict[str, str]:
        """What every request carries.

        Raises:
            DidNotStart: a secret is not set.
        """
        try:
            return {name: resolve(name, v).value for name, v in self.agent.headers.items()}
        except UnsetSecret as error:
            raise DidNotStart(f"headers: {error}") from None

    def client(self) -> httpx2.AsyncClient:
        """A client for the service; how long a turn may take is not its concern."""
        timeout = httpx2.Timeout(10, read=None)
        return httpx2.AsyncClient(timeout=timeout, verify=TLS, headers=self.headers())

    async def knock(self, http: httpx2.AsyncClient, url: str, start_s: float) -> httpx2.Response:
        """See whether anything answers at an address.

        Raises:
            DidNotStart: nothing does.
        """
        try:
            return await http.get(url, timeout=start_s)
        except httpx2.ConnectError:
            told = f"nothing listens at {url}"
            raise DidNotStart(f"{told}; start the service, or correct `url`") from None
        except httpx2.TimeoutException:
            told = f"{url} gave no answer within {start_s:g} s"
            raise DidNotStart(f"{told}; raise `timeouts.start_s` if it is just slow") from None
        except (httpx2.HTTPError, httpx2.InvalidURL) as error:
            raise DidNotStart(f"{url}: {plain(error)}; correct `url`") from None


class Held(Conversation):
    """A conversation while the agent's standing addresses lead to its trial."""

    def __init__(self, link: ServiceLink, inner: Conversation) -> None:
        self._link, self._inner = link, inner

    async def turn(self, text: str, hooks: Hooks) -> Reply:
        return await self._inner.turn(text, hooks)

    async def close(self) -> None:
        try:
            await self._inner.close()
        finally:
            standing.leave(self._link.folder, self._link.agent.agent)


@asynccontextmanager
async def freely() -> AsyncIterator[None]:
    """A place that anyone may take."""
    yield
