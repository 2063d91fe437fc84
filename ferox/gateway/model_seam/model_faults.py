"""Faults at the model seam: what a model's answer looks like on a bad day."""

from __future__ import annotations

import asyncio
import copy
from typing import Any

from starlette.responses import Response

from ferox.formats.fault import Fault
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.model_seam.answering import (
    EmbedAnswer,
    EmbedRequest,
    ModelAnswering,
    ModelRequest,
    error_response,
)
from ferox.gateway.recorder import Recorder

ALTERING = frozenset({"model_bad_arguments", "model_unknown_tool", "model_cut_off"})
"""Faults that change an answer; the others delay it or stand in its place."""
STRANGER = "_at_once"
"""What is put behind a tool's name so that nobody offered it."""


class FaultedModel:
    """Passes requests on, but for those that a fault of the task's strikes."""

    def __init__(self, behind: ModelAnswering, faults: FaultPlan, recorder: Recorder) -> None:
        self.simulated = behind.simulated
        self._behind, self._faults, self._recorder = behind, faults, recorder

    async def answer(self, request: ModelRequest) -> Response:
        """Pass a request on, or do to it what a fault says."""
        struck = self._faults.next_request()
        if struck is not None:
            self._recorder.apply_fault(request.event, struck)
            match struck.fault.do:
                case "model_status":
                    return _status_response(struck.fault, request)
                case "model_slow":
                    await asyncio.sleep((struck.fault.ms or 0) / 1000)
                case do if do in ALTERING:
                    request.altering = do
        return await self._behind.answer(request)

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Pass a request on: no fault strikes embeddings."""
        return await self._behind.answer_embeddings(request)

    def forget_conversation(self) -> None:
        """A new conversation begins."""
        self._behind.forget_conversation()


def _status_response(fault: Fault, request: ModelRequest) -> Response:
    """An HTTP error in the model's place."""
    message = f"HTTP {fault.status}"
    request.notes.note_failure(request, "status", message)
    response = error_response(fault.status or 500, f"the model answered {message}")
    if fault.retry_after_s is not None:
        response.headers["Retry-After"] = str(fault.retry_after_s)
    return response


def alter_completion(completion: dict[str, Any], do: str) -> dict[str, Any]:
    """A chat completion as the fault leaves it; one that it cannot touch stays as it is."""
    changed = copy.deepcopy(completion)
    for choice in changed.get("choices") or []:
        message = choice.get("message") or {}
        calls = [c["function"] for c in message.get("tool_calls") or [] if "function" in c]
        if do == "model_bad_arguments":
            for function in calls:
                function["arguments"] = f"{(function.get('arguments') or '{}')[:-1]},"
        elif do == "model_unknown_tool":
            for function in calls[:1]:
                function["name"] = f"{function.get('name')}{STRANGER}"
        elif do == "model_cut_off":
            choice["finish_reason"] = "length"
            if isinstance(message.get("content"), str):
                message["content"] = _first_half(message["content"])
            for function in calls:
                function["arguments"] = _first_half(function.get("arguments") or "{}")
    return changed


def _first_half(text: str) -> str:
    return text[: max(1, len(text) // 2)]
