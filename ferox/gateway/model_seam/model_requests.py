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
    ) -> None:
        """Keep one request and its answer; None: there was none."""
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
            },
        )

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
