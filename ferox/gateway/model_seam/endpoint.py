"""A compatible model endpoint behind the model seam: passed on to, with its own key.

The agent never sees the key. What is passed is the agent's request with the endpoint's own
name of the model in it, and the endpoint's answer as it came.
"""

from __future__ import annotations

import time
from collections.abc import AsyncIterator
from contextlib import AbstractAsyncContextManager, AsyncExitStack, asynccontextmanager
from typing import Any, Protocol, runtime_checkable

import httpx2

from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.turns import OWN_TURNS, ModelTurns
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.tls import TLS
from ferox.workspace.environment import resolve_variable
from ferox.workspace.vault import address_origin

LONGEST_WAIT_S = 60.0
"""Seconds that one request waits at the most because the endpoint asks for it, all its waits
together."""
LEAST_WAIT_S = 0.005
"""Seconds in the row for a turn that count as waiting."""
_HEADERS = ("retry-after", "content-type")


class EndpointUnreachable(Exception):
    """The endpoint gives no answer at all; the message says why."""


class ModelAnswer(Protocol):
    """An answer from beyond the seam: status, headers, and the body whole or as it comes.

    `waited_s`: how long a rate limit was waited out before it.
    """

    status: int
    headers: dict[str, str]
    waited_s: float

    async def read_whole(self) -> bytes:
        """The body.

        Raises:
            EndpointUnreachable: it broke off.
        """

    def stream_lines(self) -> AsyncIterator[str]:
        """The lines of an event stream; it ends where it was broken off."""


@runtime_checkable
class AnswerSource(Protocol):
    """What answers beyond the seam: an endpoint, or a recording of one."""

    def ask_model(
        self, path: str, body: dict[str, Any]
    ) -> AbstractAsyncContextManager[ModelAnswer]:
        """Ask something.

        Raises:
            EndpointUnreachable: nobody answers.
        """


class Endpoint:
    """One model of a compatible endpoint.

    Raises:
        UnsetSecret: its key is not set.
    """

    def __init__(self, source: ModelSource, name: str, turns: ModelTurns = OWN_TURNS) -> None:
        assert source.base_url
        self._source, self._turns = source, turns
        self.name, self._alias = source.name or name, name
        self._url = source.base_url.rstrip("/")
        self.headers = {}
        if source.api_key:
            key = resolve_variable("api_key", source.api_key, address_origin(self._url)).value
            self.headers["Authorization"] = f"Bearer {key}"

    @asynccontextmanager
    async def ask_model(self, path: str, body: dict[str, Any]) -> AsyncIterator[ModelAnswer]:
        """Pass a request on; a rate limit is waited out, within a limit.

        Raises:
            EndpointUnreachable: nobody answers.
        """
        waited = asked = 0.0
        # No limit on reading: a model may think for minutes, and the trial has limits of its own.
        timeout = httpx2.Timeout(30, read=None)
        async with AsyncExitStack() as stack:
            http = await stack.enter_async_context(httpx2.AsyncClient(timeout=timeout, verify=TLS))
            while True:
                begun = time.monotonic()
                turn = AsyncExitStack()
                await turn.enter_async_context(self._turns.take_turn(self._alias, self._source))
                stack.push_async_exit(turn)
                in_row = time.monotonic() - begun
                request = http.build_request(
                    "POST",
                    f"{self._url}/{path}",
                    json={**body, "model": self._model_name(path, body)},
                    headers=self.headers,
                )
                try:
                    response = await http.send(request, stream=True)
                except httpx2.HTTPError as error:
                    raise EndpointUnreachable(
                        f"the model at {self._url}: {plain_error(error)}"
                    ) from None
                waited += in_row if in_row >= LEAST_WAIT_S else 0
                pause = _rate_limit_pause(response)
                if pause is None or asked + pause > LONGEST_WAIT_S:
                    break
                await response.aclose()
                await turn.aclose()
                asked += pause
                waited += pause
                await self._turns.wait_out(pause)
            try:
                yield EndpointAnswer(response, waited)
            finally:
                await response.aclose()

    def _model_name(self, path: str, body: dict[str, Any]) -> str:
        """The endpoint's own name of the model, or of another that is asked for embeddings."""
        asked = body.get("model")
        if path == "embeddings" and isinstance(asked, str) and asked != self._alias:
            return asked
        return self.name


def _rate_limit_pause(response: httpx2.Response) -> float | None:
    """Seconds that a rate limit asks for; None if there is none."""
    if response.status_code != 429:
        return None
    try:
        return max(0.0, float(response.headers.get("retry-after", "2")))
    except ValueError:
        return 2.0


class EndpointAnswer:
    """An endpoint's answer: status, headers, and the body whole or as it comes."""

    def __init__(self, response: httpx2.Response, waited_s: float) -> None:
        self.status = response.status_code
        self.waited_s = waited_s
        self.headers = {k: v for k, v in response.headers.items() if k in _HEADERS}
        self._response = response

    async def read_whole(self) -> bytes:
        """The body.

        Raises:
            EndpointUnreachable: it broke off.
        """
        try:
            return await self._response.aread()
        except httpx2.HTTPError as error:
            raise EndpointUnreachable(
                f"the model's answer broke off: {plain_error(error)}"
            ) from None

    async def stream_lines(self) -> AsyncIterator[str]:
        """The lines of an event stream; it ends where the endpoint breaks off."""
        try:
            async for line in self._response.aiter_lines():
                yield line
        except httpx2.HTTPError:
            return
