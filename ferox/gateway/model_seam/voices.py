"""Voices: the parts of an agent that speak to a model, told apart by what they are told.

A pipeline of sub-agents may think with one model. Each has instructions of its own, and
perhaps tools of its own; by these the model seam tells them apart.
"""

from __future__ import annotations

import re

from ferox.formats.trace import Voice
from ferox.gateway.model_seam.model_interface import Tools

SAME_START = 160
"""Characters of the instructions that must be the same: what follows may hold a time or results."""
KEPT = 2000
"""Characters of a voice's instructions that a trace keeps."""
_ROLE = re.compile(
    r"(?i)\byou(?:'re| are) (?:an?|the|our) ([a-z][\w -]{1,40}?)"
    r"(?=[.,;:\n(]|$| of | for | who | that | at | in | on | and )"
)


class Voices:
    """The voices of one trial, in the order in which they first spoke."""

    def __init__(self) -> None:
        self._names: dict[tuple[str, str, tuple[str, ...]], str] = {}
        self.by_name: dict[str, Voice] = {}

    def voice_of(self, model: str, instructions: str, tools: Tools) -> str:
        """The voice that speaks. `model`: by which of the agent's models, `main` or named.

        It is called by the role that its instructions give it; else the first to speak as its
        model, and a further one by its number.
        """
        start = " ".join(instructions.split())[:SAME_START]
        key = (model, start, () if start else tuple(sorted(tools)))
        if key not in self._names:
            first = all(of != model for of, _, _ in self._names)
            number = len(self.by_name) + 1
            name = self._free_name(_role_in(start) or (model if first else f"{model}-{number}"))
            self._names[key] = name
            self.by_name[name] = {"instructions": instructions[:KEPT], "tools": sorted(tools)}
        return self._names[key]

    def _free_name(self, name: str) -> str:
        count, free = 1, name
        while free in self.by_name:
            count += 1
            free = f"{name}-{count}"
        return free


def _role_in(instructions: str) -> str | None:
    """The role that instructions give: `You are the duty clerk.` → `duty-clerk`."""
    found = _ROLE.search(instructions)
    return re.sub(r"[^a-z0-9]+", "-", found[1].lower()).strip("-") if found else None
