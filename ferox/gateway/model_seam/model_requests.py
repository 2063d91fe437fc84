"""What a model was shown: each request in pieces, each piece once however often it is repeated.

A conversation's requests repeat all that came before, so messages and tools are told apart by
their content, and a request's list of tools is a piece itself. Pieces are masked and bounded; what
was not kept is counted.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ferox.core.json_values import content_hash
from ferox.core.masking import Masker
from ferox.gateway.model_seam.model_interface import ParsedRequest

LONGEST_PIECE = 256 * 1024
"""Characters of one message or tool that are kept."""
MOST_OF_A_TRIAL = 8 * 1024 * 1024
"""Characters of all pieces of one trial that are kept."""
NOT_PARAMETERS = ("messages", "input", "instructions", "tools", "model", "stream")


@dataclass(frozen=True)
class SentAnswer:
    """What the agent was sent, as it stood on the wire: to be played back to it some day."""

    status: int
    type: str
    body: str
    retry_after: str | None = None


KeepPiece = Callable[[str, str], None]
KeepRequest = Callable[[str, dict[str, Any]], None]


@dataclass
class ModelRequests:
    """Takes the requests of one trial. `piece` keeps a text under its hash, `request` the rest
    by the id of the request's event."""

    piece: KeepPiece
    request: KeepRequest
    masker: Masker

    def __post_init__(self) -> None:
        self._kept: set[str] = set()
        self._room = MOST_OF_A_TRIAL

    def keep_request(
        self,
        id: str,
        path: str,
        body: dict[str, Any],
        heard: ParsedRequest,
        answer: dict[str, Any] | None,
        sent: SentAnswer | None = None,
    ) -> None:
        """Keep one request and its answer; None: there was none. `sent`: the same as it was
        written for the agent."""
        tools = [
            {"name": name, "description": description, "input": schema}
            for name, (description, schema) in heard.tools.items()
        ]
        parameters = {k: v for k, v in body.items() if k not in NOT_PARAMETERS}
        self.request(
            id,
            {
                "interface": path,
                "messages": [self._keep_piece(m) for m in heard.messages],
                "tools": self._keep_piece([self._keep_piece(t) for t in tools]),
                "parameters": self._keep_piece(parameters),
                "answer": None if answer is None else self._keep_piece(answer),
                "sent": None if sent is None else self._bounded(sent),
            },
        )

    def _bounded(self, sent: SentAnswer) -> dict[str, Any]:
        """What was sent, masked; of too much only how much it was."""
        kept: dict[str, Any] = {"status": sent.status, "type": sent.type}
        if sent.retry_after is not None:
            kept["retry_after"] = sent.retry_after
        if len(sent.body) > min(LONGEST_PIECE, self._room):
            return {**kept, "left_out": len(sent.body)}
        self._room -= len(sent.body)
        return {**kept, "body": self.masker.mask(sent.body)}

    def _keep_piece(self, value: Any) -> str:
        """Keep a piece unless it is there; its hash, or `not kept: N` with its characters."""
        text = json.dumps(self.masker.mask(value), ensure_ascii=False)
        hashed = content_hash(text)
        if hashed in self._kept:
            return hashed
        if len(text) > min(LONGEST_PIECE, self._room):
            return f"not kept: {len(text)}"
        self._room -= len(text)
        self._kept.add(hashed)
        self.piece(hashed, text)
        return hashed
