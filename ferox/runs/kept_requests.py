"""What the models of a trial are shown, on its way to the store."""

from __future__ import annotations

from typing import Any, Protocol

from ferox.core.masking import Masker
from ferox.gateway.model_seam.model_requests import ModelRequests


class RequestKeeper(Protocol):
    """Keeps what models are shown."""

    def keep_piece(self, hashed: str, text: str) -> None:
        """Keep a piece of it."""

    def keep_model_request(self, trial: int, event: str, body: dict[str, Any]) -> None:
        """Keep a request, by its event; its pieces are kept by themselves."""


def requests_to(keeper: RequestKeeper, trial: int, masker: Masker) -> ModelRequests:
    """Who keeps what the models of a trial are shown."""
    return ModelRequests(
        keeper.keep_piece, lambda event, body: keeper.keep_model_request(trial, event, body), masker
    )
