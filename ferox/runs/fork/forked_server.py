"""A server of a fork: it says what it said, and from the point on is itself."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ferox.core.json_values import brief_json, equal_json
from ferox.formats.trace import CallEvent
from ferox.runs.replay.played_back import IN_THE_ANSWER, PlayedBackServer, is_alike
from ferox.runs.replay.stored_trial import StoredTrial, own_name
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.source import (
    Caller,
    ProtocolRefusal,
    Source,
    ToolOutput,
    failed_output,
    tool_output,
)

if TYPE_CHECKING:
    from ferox.runs.fork.behind_fork import BehindFork


class ForkedServer(PlayedBackServer):
    """A server that says what it said, and from the point on is itself."""

    def __init__(self, behind: Source, stored: StoredTrial, fork: BehindFork) -> None:
        super().__init__(behind, stored, fork)
        self._fork = fork

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """What the same call got in the past; later, what the server says.

        Raises:
            ProtocolRefusal: the server answers with a protocol error, or it parted.
        """
        stored = self._take_stored(tool, args)
        if stored is not None:
            self._fork.note_fault(self._fork.going_call(stored["tool"], args), stored)
            await self._make_again(stored, args, caller)
            return await self._given(stored, tool)
        if self._fork.is_point(self.name, tool) and is_alike(self._fork.point, args):
            event = self._fork.going_call(f"{self.name}/{tool}", args)
            self._fork.go_live(self._fork.now() if event is None else event["t"])
            return await self._answer_point(tool, args, caller)
        if not self._fork.is_live:
            raise self._part(tool, args)
        return await self._behind.call(tool, args, caller)

    async def _answer_point(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        change = self._fork.origin.change
        if change.what == "error":
            return failed_output(change.error or "")
        if change.what == "answer":
            if isinstance(self._behind, MockServer):  # it was called; only its answer is another
                await self._behind.call(tool, args, caller)
            return tool_output(change.answer, self.tools.get(tool, {}))
        return await self._behind.call(tool, args, caller)

    async def _make_again(self, stored: CallEvent, args: dict[str, Any], caller: Caller) -> None:
        """Have a mock carry out a call of the past, so that its state is what it was."""
        if not isinstance(self._behind, MockServer):
            return
        tool = own_name(stored)
        try:
            given = await self._behind.call(tool, args, caller)
        except ProtocolRefusal as refused:
            given = failed_output(refused.message)
        if stored.get("fault") in IN_THE_ANSWER or stored.get("s") is None:
            return  # what it said then is not known as such
        error = stored.get("error")
        then = stored.get("result") if error is None else error["message"]
        now = given.value if given.error is None else given.error
        if (error is None) != (given.error is None) or not equal_json(then, now):
            self._fork.unlike.append(
                f"{stored['id']} {stored['tool']}: it says {brief_json(now, 200)}, and said "
                f"{brief_json(then, 200)}"
            )
