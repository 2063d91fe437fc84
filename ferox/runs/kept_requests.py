"""What the models of a trial are shown, on its way to the store."""

from __future__ import annotations

from ferox.core.masking import Masker
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.store.writer import Writer


def requests_to(writer: Writer, trial: int, masker: Masker) -> ModelRequests:
    """Who keeps what the models of a trial are shown."""
    return ModelRequests(
        writer.keep_piece, lambda event, body: writer.keep_model_request(trial, event, body), masker
    )
