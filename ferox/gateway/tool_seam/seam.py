"""The tool seam: MCP, served with the official SDK, in front of one trial's server."""

from __future__ import annotations

import asyncio
import copy
import json
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager, suppress
from dataclasses import replace
from typing import Any, NoReturn

import mcp_types as types
from mcp.server.streamable_http_manager import StreamableHTTPSessionManager
from starlette.requests import Request
from starlette.types import Message, Receive, Scope, Send

from ferox.core.rewording import Rewording
from ferox.core.story import fits_any
from ferox.formats.server import ToolWording
from ferox.formats.trace import Event, OfferedTool, Traffic
from ferox.gateway.fault_plan import AppliedFault, FaultPlan
from ferox.gateway.holding import ANSWER, FAIL, GO, ClientOrPerson, Hold, HoldDecision
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.wire_faults import (
    WIRE_FAULTS,
    StruckRequest,
    WireFaults,
    is_call,
    lost_session,
    replay,
    session_of,
)
from ferox.intake.json_text import read_json
from ferox.servers.by_hand.kept_content import beyond_text
from ferox.servers.offering import Context, Offering
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    Source,
    ToolOutput,
    failed,
)

LET = "ferox.let"
"""Where a request's scope holds what a person decided of its call, and the event that tells it."""
STRUCK = "ferox.struck"
"""Where a request's scope holds the fault that strikes its call."""
CALL = "ferox.call"
"""Where a request's scope holds the id of its call in the trace."""
MOST_OF_A_MESSAGE = 256 * 1024
"""Bytes of a raw message that are kept."""
WireHeard = Callable[[str, str, str], None]
"""Told a call's id, the request and the answer, as they stood on the wire."""
PLANTED = "note"
"""The key under which a planted text stands in a structured result."""


class ToolSeam(Offering):
    """One server as one trial's agent sees it.

    Every protocol version that the SDK speaks is served at one address. `offer` is
    "all" or globs of tool names, the server's own; what is not offered does not exist
    here. `wording` changes what the agent reads; events hold the server's own names.
    `hold` is a person who may stop a call before it goes out, and answer questions.
    `wire` is told the raw messages of each call, by the call's id in the trace.
    `standing`: the client is a running service, whose session may be older than the trial.
    """

    def __init__(
        self,
        source: Source,
        offer: str | list[str],
        recorder: Recorder,
        faults: FaultPlan | None = None,
        wording: Mapping[str, ToolWording] | None = None,
        standing: bool = False,
        hold: Hold | None = None,
        wire: WireHeard | None = None,
    ) -> None:
        super().__init__(source)
        self._recorder = recorder
        self._faults = faults or FaultPlan([], 0)
        self._wording = Rewording(wording or {})
        self._tools = {
            name: self._wording.shown(tool)
            for name, tool in source.tools.items()
            if (offer == "all" or fits_any(name, list(offer)))
            and not self._faults.hidden(source.name, name)
        }
        self._offered = dict(self._tools)
        self._hold = hold
        self._heard_wire = wire
        self._sessions: set[str] = set()
        self._closed: set[str] = set()
        self._protocols: set[str] = set()
        self._clients: set[str] = set()
        self._lists = 0
        self._over = asyncio.Event()
        self._wire = WireFaults(self._over)
        self._manager = StreamableHTTPSessionManager(self.server, stateless=standing)

    @asynccontextmanager
    async def run(self) -> AsyncIterator[None]:
        """Serve while the context is open."""
        async with self._manager.run():
            try:
                yield
            finally:
                self._over.set()
                self.close()

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one HTTP request, or let a fault do it."""
        session = session_of(scope)
        if session:
            self._sessions.add(session)
            if scope["method"] == "DELETE":
                self._closed.add(session)
        if session in self._wire.lost:
            await lost_session()(scope, receive, send)
            return
        if scope["method"] != "POST" or not (self._faults.faults or self._heard_wire):
            await self._manager.handle_request(scope, receive, send)
            return
        body = await Request(scope, receive).body()
        receive = replay(body, receive)
        message: Any = None
        with suppress(ValueError):
            message = read_json(body)
        if not is_call(message):
            await self._manager.handle_request(scope, receive, send)
            return
        answer = bytearray()

        async def keep(part: Message) -> None:
            answer.extend(part.get("body", b""))
            await send(part)

        own = self._wording.own_name(message["params"]["name"])
        struck = self._faults.next(self.source.name, own)
        try:
            if struck and struck.fault.do in WIRE_FAULTS:
                # A fault on the wire writes past the protocol, so its answer is not kept.
                await self._break(struck, message, scope, receive, send)
            else:
                scope[STRUCK] = struck
                await self._manager.handle_request(scope, receive, keep)
        finally:
            if self._heard_wire and CALL in scope:
                self._heard_wire(scope[CALL], _text(body), _text(answer))

    async def _break(
        self, struck: AppliedFault, message: Any, scope: Scope, receive: Receive, send: Send
    ) -> None:
        params = message["params"]
        own = self._wording.own_name(params["name"])
        args = params.get("arguments") or {}
        let, held = await self._held(own, args)
        if let.do in (ANSWER, FAIL):  # what a person says comes before any fault
            scope[LET] = let, held
            await self._manager.handle_request(scope, receive, send)
            return
        event = self._begin(own, args, struck, let, held)
        scope[CALL] = event["id"]

        def finish(**fields: Any) -> None:
            self._recorder.finish(event, **fields)

        await self._wire.answer(struck.fault, StruckRequest(message, scope, receive, send, finish))

    @property
    def traffic(self) -> Traffic:
        """What passed here besides calls."""
        protocol = max(self._protocols, default=None)
        client = ", ".join(sorted(self._clients)) or None
        return {
            "sessions": len(self._sessions),
            "left_open": len(self._sessions - self._closed - self._wire.lost),
            "lists": self._lists,
            "protocol": protocol,
            "client": client,
        }

    def heard_from(self, context: Context) -> None:
        """Note who asks, and by which version of the protocol."""
        session = context.session
        if session.protocol_version:
            self._protocols.add(str(session.protocol_version))
        params = session.client_params
        if params is not None and params.client_info is not None:
            info = params.client_info
            self._clients.add(f"{info.name} {info.version}")

    async def _list(
        self, context: Context, params: types.PaginatedRequestParams | None
    ) -> types.ListToolsResult:
        self._lists += 1
        self.heard_from(context)
        return await super()._list(context, params)

    def offered(self) -> dict[str, OfferedTool]:
        """Address → the tool as the agent is offered it at the start."""
        return {
            f"{self.source.name}/{name}": _offered(name, tool)
            for name, tool in self._offered.items()
        }

    def tools(self) -> list[Definition]:
        """The tools that the agent is told of at the moment."""
        return list(self._tools.values())

    async def _held(self, tool: str, args: dict[str, Any]) -> tuple[HoldDecision, Event | None]:
        """Hold a call if it is to be held: what a person decided, and the event that tells it."""
        address = f"{self.source.name}/{tool}"
        first = not any(e["kind"] in ("call", "hold") for e in self._recorder.events)
        shown = self._tools.get(tool, {})
        if self._hold is None or not self._hold.wants(address, shown, first):
            return HoldDecision(), None
        own = self._wording.own_args(tool, args)
        event = self._recorder.add("hold", call=None, s=None, tool=address, args=own)
        let = await self._hold.wait(address, own)
        self._recorder.finish(event, did=let.do)
        return let, event

    def _begin(
        self,
        tool: str,
        args: dict[str, Any],
        struck: AppliedFault | None,
        let: HoldDecision,
        held: Event | None,
    ) -> Event:
        address = f"{self.source.name}/{tool}"
        more: dict[str, Any] = {} if struck is None else {"fault_n": struck.place}
        own = let.args(self._wording.own_args(tool, args))
        if own != args:
            more["sent"] = args
        if let.do != GO:
            more["by_hand"] = let.do
        event = self._recorder.begin(
            "call",
            "c",
            seam="tool",
            tool=address,
            args=own,
            result=None,
            error=None,
            fault=struck.fault.do if struck else None,
            proposal=self._recorder.take_proposal(address, own),
            **more,
        )
        if held is not None:
            self._recorder.update(held, call=event["id"])
        return event

    async def answer(
        self, context: Context, tool: str, args: dict[str, Any], caller: Caller
    ) -> ToolOutput:
        """Answer a call, or let a fault do it, and note what happened."""
        scope = context.request.scope if context.request else {}
        struck: AppliedFault | None = scope.get(STRUCK)
        own = self._wording.own_name(tool)
        let, held = scope[LET] if LET in scope else await self._held(own, args)
        event = self._begin(own, args, struck, let, held)
        scope[CALL] = event["id"]
        fault = struck.fault if struck else None
        by_hand = let.instead(self._tools.get(own, {}))
        if by_hand is not None:
            self._finish(event, by_hand)
            return by_hand
        if own not in self._tools or (fault and fault.do == "missing_tool"):
            self._refuse(event, types.INVALID_PARAMS, f"Unknown tool: {tool}")
        if fault and fault.do == "protocol_error":
            self._refuse(event, fault.code, fault.text or "Internal error")
        if fault and fault.do == "tool_error":
            given = failed(fault.text or "The tool failed.")
        else:
            try:
                asker = ClientOrPerson(caller, self._hold, self._recorder) if self._hold else caller
                given = await self.source.call(own, event["args"], asker)
            except ProtocolRefusal as error:
                self._refuse(event, error.code, error.message)
        wait = given.wait_s + ((fault.ms or 0) / 1000 if fault and fault.do == "slow" else 0)
        if wait:
            await asyncio.sleep(wait)
        if fault and fault.do == "planted_text":
            given = planted(given, fault.text or "")
        self._finish(event, given)
        if fault and fault.do == "tools_changed":
            del self._tools[own]
            await self.announce(context)
        return given

    def _refuse(self, event: Event, code: int, message: str) -> NoReturn:
        error = {"kind": "protocol_error", "message": message, "code": code}
        self._recorder.finish(event, error=error)
        raise ProtocolRefusal(code, message)

    def _finish(self, event: Event, given: ToolOutput) -> None:
        marks: dict[str, Any] = {"nearest": True} if given.nearest else {}
        content = beyond_text(given.content)
        if content is not None:
            marks["content"] = content
        if given.is_error:
            error = {"kind": "tool_error", "message": given.error}
            self._recorder.finish(event, error=error, **marks)
        else:
            self._recorder.finish(event, result=given.value, **marks)


def _text(body: bytes | bytearray) -> str:
    cut = body[:MOST_OF_A_MESSAGE].decode(errors="replace")
    return cut if len(body) <= MOST_OF_A_MESSAGE else f"{cut}… ({len(body)} bytes in all)"


def _offered(name: str, tool: Definition) -> OfferedTool:
    told: OfferedTool = {
        "input": tool.get("inputSchema") or {},
        "description": tool.get("description") or "",
    }
    if tool["name"] != name:
        told["name"] = tool["name"]
    return told


def planted(given: ToolOutput, text: str) -> ToolOutput:
    """An answer with a text added to its words and to its structure: some agents read one only."""
    value = given.value
    if isinstance(value, dict):
        value = {**copy.deepcopy(value), PLANTED: text}
        blocks = [{"type": "text", "text": json.dumps(value, ensure_ascii=False)}]
        structured = value if given.structured is not None else None
        return replace(given, content=blocks, structured=structured, raw=None)
    return replace(given, content=[*given.content, {"type": "text", "text": text}], raw=None)
