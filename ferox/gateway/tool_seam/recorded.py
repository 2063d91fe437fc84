"""Calls as events of the trace."""

from __future__ import annotations

from dataclasses import replace

from ferox.formats.trace import CallEvent
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.servers.by_hand.kept_content import beyond_text
from ferox.servers.sources.source import Definition, ProtocolRefusal, ToolOutput


class Recorded:
    """Notes when a call goes out, and what came back."""

    def __init__(self, behind: ToolStep, server: str, recorder: Recorder) -> None:
        self._behind, self._server, self._recorder = behind, server, recorder

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools as they are behind."""
        return self._behind.tools

    async def call(self, call: ToolCall) -> ToolOutput:
        """Pass a call on, unless a person has answered it, and note what it gave."""
        event = self._begin_call(call)
        if call.given_by_hand is not None:
            self._finish_call(event, call.given_by_hand)
            return call.given_by_hand
        try:
            given = await self._behind.call(replace(call, event=event))
        except ProtocolRefusal as error:
            self._recorder.finish_call(
                event,
                error={"kind": "protocol_error", "message": error.message, "code": error.code},
            )
            raise
        self._finish_call(event, given)
        return given

    def _begin_call(self, call: ToolCall) -> CallEvent:
        address = f"{self._server}/{call.tool}"
        event = self._recorder.call(
            address,
            call.args,
            proposal=self._recorder.take_proposal(address, call.args),
            sent=call.sent_args if call.sent_args != call.args else None,
            by_hand=call.by_hand,
        )
        if call.hold is not None:
            call.hold["call"] = event["id"]
            self._recorder.update_event(call.hold)
        if call.wire is not None:
            call.wire.call_id = event["id"]
        return event

    def _finish_call(self, event: CallEvent, given: ToolOutput) -> None:
        content = beyond_text(given.content)
        if given.is_error:
            self._recorder.finish_call(
                event,
                error={"kind": "tool_error", "message": given.error or ""},
                content=content,
                nearest=given.nearest,
            )
        else:
            self._recorder.finish_call(
                event, result=given.value, content=content, nearest=given.nearest
            )
