"""The gateway's web server: one private address for each trial and seam.

Traffic is attributed by address, never by guess. The address holds a secret of the
trial's, so that no trial reaches another's.
"""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping
from contextlib import AsyncExitStack, asynccontextmanager
from dataclasses import dataclass, field
from secrets import token_urlsafe

from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.types import Receive, Scope, Send

from ferox.gateway.listening import from_here, listening
from ferox.gateway.model_seam import ModelSeam
from ferox.gateway.tool_seam import ToolSeam


@dataclass(frozen=True)
class Addresses:
    """Where one trial's seams are reached."""

    servers: dict[str, str]
    model: str
    key: str
    named: dict[str, str] = field(default_factory=dict)
    """The agent's further models, by the names that its file gives them."""


@dataclass(frozen=True)
class _Seams:
    tools: dict[str, ToolSeam]
    model: ModelSeam | None
    named: Mapping[str, ModelSeam]


class Gateway:
    """Serves the seams of all trials of this process on one loopback port."""

    def __init__(self) -> None:
        self._trials: dict[str, _Seams] = {}
        self.base = ""

    @asynccontextmanager
    async def serve(self) -> AsyncIterator[Gateway]:
        """Listen on a free port while the context is open."""
        async with listening(self._handle) as self.base:
            yield self

    @asynccontextmanager
    async def open(
        self,
        tools: dict[str, ToolSeam],
        model: ModelSeam | None,
        named: Mapping[str, ModelSeam] | None = None,
    ) -> AsyncIterator[Addresses]:
        """Serve one trial's seams while the context is open."""
        token = token_urlsafe(18)
        async with AsyncExitStack() as stack:
            for seam in tools.values():
                await stack.enter_async_context(seam.run())
            self._trials[token] = _Seams(tools, model, named or {})
            stack.callback(self._trials.pop, token)
            root = f"{self.base}/t/{token}"
            servers = {name: f"{root}/{name}/mcp" for name in tools}
            more = {name: f"{root}/models/{name}/v1" for name in named or {}}
            yield Addresses(servers, f"{root}/model/v1", f"trial-{token[:6]}", more)

    async def _handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        if not from_here(scope):
            await PlainTextResponse("only this machine may call this", 403)(scope, receive, send)
            return
        request = Request(scope, receive)
        match scope["path"].split("/"):
            case ["", "t", token, "model", "v1", *rest] if token in self._trials:
                await self._model(self._trials[token].model, rest, request, send)
            case ["", "t", token, "models", name, "v1", *rest] if token in self._trials:
                await self._model(self._trials[token].named.get(name), rest, request, send)
            case ["", "t", token, server, "mcp"] if server in self._tools(token):
                await self._tools(token)[server].handle(scope, receive, send)
            case _:
                told = "no such address: the trial is over, or it has no such server"
                await PlainTextResponse(told, 404)(scope, receive, send)

    def _tools(self, token: str) -> dict[str, ToolSeam]:
        seams = self._trials.get(token)
        return seams.tools if seams else {}

    async def _model(
        self, seam: ModelSeam | None, rest: list[str], request: Request, send: Send
    ) -> None:
        if seam and rest == ["chat", "completions"] and request.method == "POST":
            response = await seam.complete(request)
        elif seam and rest == ["models"] and request.method == "GET":
            response = await seam.list_models(request)
        else:
            told = "only chat/completions and models are served here"
            response = PlainTextResponse(told, 404)
        await response(request.scope, request.receive, send)
