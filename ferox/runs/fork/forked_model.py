"""A model of a fork: each voice gets its stored answers, and from the point on it is asked."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from starlette.responses import Response

from ferox.core.replay_verdict import ShownRequest, compare_requests
from ferox.gateway.model_seam.answering import (
    EmbedAnswer,
    EmbedRequest,
    ModelAnswering,
    ModelRequest,
    error_response,
)
from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.completions import as_response, message_of
from ferox.gateway.model_seam.model_requests import NOT_PARAMETERS
from ferox.gateway.model_seam.stand_in_model import StandInModel
from ferox.gateway.recorder import Recorder
from ferox.runs.replay.played_back import PARTED

if TYPE_CHECKING:
    from ferox.runs.fork.behind_fork import BehindFork


def tools_of(request: ModelRequest) -> dict[str, Any]:
    """The tools of a request, as requests are compared."""
    return {
        name: {"description": description, "input": schema}
        for name, (description, schema) in request.parsed.tools.items()
    }


class ForkedModel:
    """A model that gives each voice its stored answers, in order; from the point on it is asked."""

    def __init__(
        self, name: str, live: ModelAnswering, fork: BehindFork, recorder: Recorder
    ) -> None:
        self.simulated = live.simulated
        self._name, self._live, self._fork, self._recorder = name, live, fork, recorder

    async def answer(self, request: ModelRequest) -> Response:
        """The next stored answer; past the last, the model's own."""
        fork = self._fork
        stored = fork.next_answer(request.voice)
        if stored is not None:
            if self._asks_otherwise(request, stored.event["id"], stored.shown):
                return error_response(410, PARTED)
            if isinstance(self._live, StandInModel) and stored.event.get("fault") != "model_status":
                self._live.follow(request)
            fork.note_fault(request.event, stored.event)
            return await fork.give_stored(self._name, stored, request, self._recorder)
        if fork.is_live:
            return await self._live.answer(request)
        if fork.origin.kind != "model":
            fork.part("end", "asks the model once more")
            return error_response(410, PARTED)
        shown = fork.shown_at_point()
        if shown is not None and fork.changes_tools:  # they are another already
            shown = replace(shown, tools=tools_of(request))
        if shown is not None and self._asks_otherwise(request, fork.origin.at, shown):
            return error_response(410, PARTED)
        fork.go_live(request.event["t"])
        return self._changed_answer(request) or await self._live.answer(request)

    def _asks_otherwise(self, request: ModelRequest, at: str, then: ShownRequest) -> bool:
        """Whether the agent asks something else than it did; if so, it parts."""
        mask = self._fork.masker.mask
        parameters = {k: v for k, v in request.body.items() if k not in NOT_PARAMETERS}
        now = ShownRequest(mask(request.parsed.messages), mask(tools_of(request)), mask(parameters))
        found = next(compare_requests(at, then, now), None)
        if found is not None:
            self._fork.part(*found[:2], *found.lines)
        return found is not None

    def _changed_answer(self, request: ModelRequest) -> Response | None:
        """What the change has the model say; None: it is asked."""
        change = self._fork.origin.change
        if change.what not in ("say", "call"):
            return None
        calls = []
        if change.call is not None:
            calls = [
                {
                    "id": f"call_{request.event_id}",
                    "name": self._own_name(request, change.call.tool),
                    "arguments": json.dumps(change.call.args),
                }
            ]
        usage: Any = {"input": 0, "output": 0}
        completion = completion_of(self._name, request.event_id, change.say, calls, usage)
        request.notes.note_answer(request, message_of(completion), None)
        return as_response(request, completion)

    def _own_name(self, request: ModelRequest, tool: str) -> str:
        """A tool's name as the model was shown it."""
        shown = zip(request.event.get("offered") or [], request.parsed.tools, strict=False)
        return next((name for address, name in shown if address == tool), tool.split("/", 1)[1])

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Asked: none are stored."""
        return await self._live.answer_embeddings(request)

    def forget_conversation(self) -> None:
        """A new conversation begins."""
        self._live.forget_conversation()
