"""What handlers answer with: models as JSON, and refusals."""

from __future__ import annotations

import json
from typing import Any

from flask import Response
from pydantic import BaseModel


class RequestRefused(Exception):
    """A request that cannot be done; the message says why and what to do."""

    def __init__(self, status: int, message: str) -> None:
        super().__init__(message)
        self.status = status


class NotThere(LookupError):
    """Something that an address names does not exist."""


def as_json_text(value: Any) -> Response:
    """A plain value as a JSON answer."""
    return Response(json.dumps(value, ensure_ascii=False), mimetype="application/json")


def as_json(model: BaseModel, status: int = 200) -> Response:
    """A model as a JSON answer, by the names that the formats have."""
    return Response(model.model_dump_json(by_alias=True), status, mimetype="application/json")
