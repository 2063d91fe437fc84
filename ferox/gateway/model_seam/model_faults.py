"""Faults at the model seam: what a model's answer looks like on a bad day."""

from __future__ import annotations

import copy
from typing import Any

ALTERING = frozenset({"model_bad_arguments", "model_unknown_tool", "model_cut_off"})
"""Faults that change an answer; the others delay it or stand in its place."""
STRANGER = "_at_once"
"""What is put behind a tool's name so that nobody offered it."""


def altered(completion: dict[str, Any], do: str) -> dict[str, Any]:
    """A chat completion as the fault leaves it; one that it cannot touch stays as it is."""
    told = copy.deepcopy(completion)
    for choice in told.get("choices") or []:
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
                message["content"] = _half(message["content"])
            for function in calls:
                function["arguments"] = _half(function.get("arguments") or "{}")
    return told


def _half(text: str) -> str:
    return text[: max(1, len(text) // 2)]
