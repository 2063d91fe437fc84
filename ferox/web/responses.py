"""Answers of the interface: shapes as JSON, and what does not exist."""

from __future__ import annotations

import json
from typing import Any

from flask import Response
from pydantic import BaseModel


class NotThere(LookupError):
    """Something that an address names does not exist."""


def as_json_text(value: Any) -> Response:
    """A plain value as a JSON answer."""
    return Response(json.dumps(value, ensure_ascii=False), mimetype="application/json")


def as_json(shape: BaseModel, status: int = 200) -> Response:
    """A shape as a JSON answer."""
    return Response(shape.model_dump_json(), status, mimetype="application/json")
