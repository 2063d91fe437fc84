"""Faults that a task scripts for the calls of a server."""

from __future__ import annotations

import asyncio
import copy
import json
from dataclasses import replace
from functools import partial

import mcp_types as types

from ferox.formats.fault import Fault
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.gateway.tool_seam.wire_faults import WIRE_FAULTS, AnsweredOnWire
from ferox.servers.sources.source import Definition, ProtocolRefusal, ToolOutput, failed_output

PLANTED = "note"
"""The key under which a planted text stands in a structured result."""


class Faulted:
    """Passes calls on, but for those that a fault strikes."""

    def __init__(
        self, behind: ToolStep, server: str, faults: FaultPlan, recorder: Recorder
    ) -> None:
        self._behind, self._server = behind, server
        self._faults, self._recorder = faults, recorder
        self._gone = {n for n in behind.tools if faults.hides_tool(server, n)}

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools that no fault has taken away."""
        return {n: tool for n, tool in self._behind.tools.items() if n not in self._gone}

    async def call(self, call: ToolCall) -> ToolOutput:
        """Pass a call on, or do to it what a fault says."""
        struck = self._faults.next_fault(self._server, call.tool)
        if struck is not None and call.event is not None:
            self._recorder.apply_fault(call.event, struck)
        if call.wire is not None:
            if struck is not None and struck.fault.do in WIRE_FAULTS and call.event is not None:
                finish = partial(self._recorder.finish_call, call.event)
                call.wire.strike_call(struck.fault, finish)
                raise AnsweredOnWire
            # From here on the protocol's own server answers, so what it held back may go out.
            await call.wire.let_pass()
        if struck is None:
            return await self._behind.call(call)
        return await self._apply_fault(struck.fault, call)

    async def _apply_fault(self, fault: Fault, call: ToolCall) -> ToolOutput:
        """Do what a fault says that strikes within the protocol."""
        match fault.do:
            case "missing_tool":
                raise ProtocolRefusal(types.INVALID_PARAMS, f"Unknown tool: {call.sent_name}")
            case "protocol_error":
                raise ProtocolRefusal(fault.code, fault.text or "Internal error")
            case "tool_error":
                return failed_output(fault.text or "The tool failed.")
        given = await self._behind.call(call)
        match fault.do:
            case "slow":
                await asyncio.sleep((fault.ms or 0) / 1000)
            case "planted_text":
                return plant_text(given, fault.text or "")
            case "tools_changed":
                self._gone.add(call.tool)
                await call.announce_change()
        return given


def plant_text(given: ToolOutput, text: str) -> ToolOutput:
    """An answer with a text added to its words and to its structure: some agents read one only."""
    value = given.value
    if isinstance(value, dict):
        # A copy, for others get the same value: it may be a recording's, or a mock's own state.
        value = {**copy.deepcopy(value), PLANTED: text}
        blocks = [{"type": "text", "text": json.dumps(value, ensure_ascii=False)}]
        structured = value if given.structured is not None else None
        return replace(given, content=blocks, structured=structured, raw=None)
    return replace(given, content=[*given.content, {"type": "text", "text": text}], raw=None)
