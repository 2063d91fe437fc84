"""Calls held for a person before they go out."""

from __future__ import annotations

from dataclasses import replace

from ferox.gateway.holding import GO, Hold
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.servers.sources.source import Definition, ToolOutput


class Held:
    """Stops the calls that a person wants to see, and does with them what the person decides."""

    def __init__(self, behind: ToolStep, server: str, hold: Hold, recorder: Recorder) -> None:
        self._behind, self._server = behind, server
        self._hold, self._recorder = hold, recorder

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools as they are behind."""
        return self._behind.tools

    async def call(self, call: ToolCall) -> ToolOutput:
        """Hold a call if it is to be held, and pass it on with what was decided."""
        address, tool = f"{self._server}/{call.tool}", self.tools.get(call.tool, {})
        first = not any(e["kind"] in ("call", "hold") for e in self._recorder.events)
        if not self._hold.wants_call(address, tool, first):
            return await self._behind.call(call)
        event = self._recorder.hold(address, call.args)
        decision = await self._hold.wait_for_decision(address, call.args)
        self._recorder.finish_hold(event, decision.do)
        call = replace(
            call,
            args=decision.final_args(call.args),
            hold=event,
            by_hand=None if decision.do == GO else decision.do,
            given_by_hand=decision.given_answer(tool),
        )
        return await self._behind.call(call)
