"""The interface as an OpenAPI document that says every answer there is."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from flask import Response
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from pydantic import BaseModel

import ferox
from ferox.web import shapes
from ferox.web.responses import as_json_text

REFUSALS: dict[int, str] = {
    401: "A token is asked for",
    403: "Another site, another host, or a link that only looks",
    404: "There is nothing of that name",
    405: "The address takes other methods: see `Allow`",
    409: "It stands against what is there now",
    413: "The body is too large",
    415: "The body is no JSON",
    422: "The request is not as this document says, or what it names cannot be used",
    500: "A fault of Ferox's own, by its number",
    502: "A server or an agent cannot be reached",
    503: "The results or a file cannot be read or written",
}
"""Answers that any operation may give, each with a message."""
DOCUMENT = "/openapi/openapi.json"
STREAM = "/api/runs/{run}/stream"


class Interface(OpenAPI):
    """The Flask application, with its document."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(
            *args,
            info=Info(title="Ferox", version=ferox.__version__),
            responses=dict.fromkeys(REFUSALS, shapes.Fault),
            validation_error_model=shapes.Fault,
            doc_ui=False,
            **kwargs,
        )
        self.add_url_rule(DOCUMENT, "document", self._answer)

    def _answer(self) -> Response:
        return as_json_text(self.document)

    @cached_property
    def document(self) -> dict[str, Any]:
        """The OpenAPI document (3.1)."""
        document: dict[str, Any] = _without_nulls(self.api_doc)
        for path in document["paths"].values():
            for operation in path.values():
                for status, answer in operation["responses"].items():
                    answer["description"] = REFUSALS.get(int(status), "As asked")
        document["components"]["schemas"] |= _schemas_of(shapes.Progress)
        document["paths"][STREAM] = _stream(document["paths"]["/api/runs/{run}/stop"]["post"])
        return document


def _schemas_of(shape: type[BaseModel]) -> dict[str, Any]:
    """A shape's schema and those that it refers to, by their names."""
    schema = shape.model_json_schema(
        mode="serialization", ref_template="#/components/schemas/{model}"
    )
    return {**schema.pop("$defs", {}), shape.__name__: schema}


def _without_nulls(value: Any) -> Any:
    """A document without keywords that say nothing; a default may well be null."""
    if isinstance(value, dict):
        return {
            key: item if key == "default" else _without_nulls(item)
            for key, item in value.items()
            if item is not None or key == "default"
        }
    if isinstance(value, list):
        return [_without_nulls(v) for v in value]
    return value


def _stream(like: dict[str, Any]) -> dict[str, Any]:
    """The progress of a run, which is served beside Flask; its path is that of `like`."""
    event = {"type": "string", "description": "Events `progress` (a Progress) and, last, `over`"}
    answers = {s: a for s, a in like["responses"].items() if int(s) in (401, 403, 404)}
    operation = {
        "summary": "Server-sent events while a run goes on; the last says that it is over.",
        "operationId": "stream_api_runs__int_run__stream_get",
        "parameters": like["parameters"],
        "responses": {
            "200": {"description": "As asked", "content": {"text/event-stream": {"schema": event}}},
            **answers,
        },
    }
    return {"get": operation}
