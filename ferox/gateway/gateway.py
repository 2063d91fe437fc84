"""The gateway's web server: one private address for each trial and seam.

Traffic is attributed by address, never by guess. The address holds a secret of the
trial's, so that no trial reaches another's.
"""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping
from contextlib import AsyncExitStack, asynccontextmanager
from dataclasses import dataclass
from secrets import token_urlsafe

from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.types import Receive, Scope, Send

from ferox.gateway.listening import from_here, listen_on
from ferox.gateway.model_seam.seam import ModelSeam
from ferox.gateway.tool_seam.seam import ToolSeam


@dataclass(frozen=True)
class SeamAddresses:
    """Where one trial's seams are reached."""

    servers: dict[str, str]
    models: dict[str, str]
    """By the agent's own names, `main` among them."""
    key: str

    @property
    def main_model(self) -> str:
        """The main model's address."""
        return self.models["main"]


@dataclass(frozen=True)
class _Seams:
    tools: dict[str, ToolSeam]
    models: Mapping[str, ModelSeam]


class Gateway:
    """Serves the seams of all trials of this process on one loopback port."""

    def __init__(self) -> None:
        self._trials: dict[str, _Seams] = {}
        self.base = ""

    @asynccontextmanager
    async def serve(self) -> AsyncIterator[Gateway]:
        """Listen on a free port while the context is open."""
        async with listen_on(self._handle_request) as self.base:
            yield self

    @asynccontextmanager
    async def open_seams(
        self,
        tools: dict[str, ToolSeam],
        models: Mapping[str, ModelSeam],
    ) -> AsyncIterator[SeamAddresses]:
        """Serve one trial's seams while the context is open."""
        # An address that cannot be guessed keeps one trial's agent out of another's seams.
        token = token_urlsafe(18)
        async with AsyncExitStack() as stack:
            for seam in tools.values():
                await stack.enter_async_context(seam.run())
            self._trials[token] = _Seams(tools, models)
            stack.callback(self._trials.pop, token)
            root = f"{self.base}/t/{token}"
            servers = {name: f"{root}/{name}/mcp" for name in tools}
            model_urls = {
                name: f"{root}/model/v1" if name == "main" else f"{root}/models/{name}/v1"
                for name in models
            }
            yield SeamAddresses(servers, model_urls, f"trial-{token[:6]}")

    async def _handle_request(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        if not from_here(scope):
            await PlainTextResponse("only this machine may call this", 403)(scope, receive, send)
            return
        request = Request(scope, receive)
        match scope["path"].split("/"):
            case ["", "t", token, "model", "v1", *rest] if token in self._trials:
                await self._handle_model(
                    self._trials[token].models.get("main"), rest, request, send
                )
            case ["", "t", token, "models", name, "v1", *rest] if token in self._trials:
                await self._handle_model(self._trials[token].models.get(name), rest, request, send)
            case ["", "t", token, server, "mcp"] if server in self._tool_seams(token):
                await self._tool_seams(token)[server].handle(scope, receive, send)
            case _:
                message = "no such address: the trial is over, or it has no such server"
                await PlainTextResponse(message, 404)(scope, receive, send)

    def _tool_seams(self, token: str) -> dict[str, ToolSeam]:
        seams = self._trials.get(token)
        return seams.tools if seams else {}

    async def _handle_model(
        self, seam: ModelSeam | None, rest: list[str], request: Request, send: Send
    ) -> None:
        if seam:
            response = await seam.handle("/".join(rest), request)
        else:
            response = PlainTextResponse("this agent has no such model", 404)
        await response(request.scope, request.receive, send)
