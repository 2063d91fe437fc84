"""The interface as an OpenAPI document that says every answer there is."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from pydantic import BaseModel

import ferox
from ferox.web.responses import as_json, as_json_text
from ferox.web.routing import REFUSALS, Routes
from ferox.web.runs.shapes import Progress
from ferox.web.shapes import ErrorMessage
from ferox.web.trials.shapes import NewEvents

METHODS = ("get", "post", "put", "delete", "patch")
DOCUMENT = "/openapi/openapi.json"
WATCHED = (
    *("runs", "trials", "calls", "conversations", "drifts", "probes", "looks", "relays"),
    *("exports", "bringings", "shrinks"),
)
"""What can be watched."""
WATCH = "/api/watch/{kind}/{number}"


class Interface(OpenAPI):
    """The Flask application, with its document."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, doc_ui=False, **kwargs)
        self._routes: list[Routes] = []
        self.add_url_rule(DOCUMENT, "document", self._answer_document)

    def add_routes(self, routes: Routes) -> None:
        """Take a place's handlers."""
        self._routes.append(routes)
        self.register_api(routes.blueprint)

    def make_response(self, rv: Any) -> Response:
        """An answer of a handler: a model, perhaps with a status, becomes JSON."""
        body, *status = rv if isinstance(rv, tuple) else (rv,)
        return as_json(body, *status) if isinstance(body, BaseModel) else super().make_response(rv)

    def _answer_document(self) -> Response:
        return as_json_text(self.document)

    @cached_property
    def document(self) -> dict[str, Any]:
        """The OpenAPI document (3.1)."""
        documented = _DocumentedInterface()
        for routes in self._routes:
            documented.register_api(routes.documented())
        document: dict[str, Any] = _without_nulls(documented.api_doc)
        for path in document["paths"].values():
            for operation in path.values():
                for status, answer in operation["responses"].items():
                    answer["description"] = REFUSALS.get(int(status), "As asked")
        for shape in (Progress, NewEvents):
            document["components"]["schemas"] |= _schemas_of(shape)
        for schema in document["components"]["schemas"].values():
            if "properties" in schema:  # further fields are allowed anyhow
                schema.pop("additionalProperties", None)
        document["paths"][WATCH] = _watch_operation(
            document["paths"]["/api/runs/{run}/stop"]["post"]
        )
        return document


class _DocumentedInterface(OpenAPI):
    """What the document is made of; nobody is served by it."""

    def __init__(self) -> None:
        super().__init__(
            __name__,
            info=Info(title="Ferox", version=ferox.__version__),
            validation_error_model=ErrorMessage,
            doc_ui=False,
        )

    def register_api(self, api: APIBlueprint, **options: Any) -> None:
        """Take a place's handlers; another place may answer other methods of the same path."""
        # The library keeps one entry a path: the second place would replace the first's.
        before = dict(self.paths)
        super().register_api(api, **options)
        for path in before.keys() & api.paths.keys():
            earlier = {method: getattr(before[path], method) for method in METHODS}
            added = {method: given for method, given in earlier.items() if given is not None}
            self.paths[path] = self.paths[path].model_copy(update=added)


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


def _watch_operation(like: dict[str, Any]) -> dict[str, Any]:
    """Event streams, which are served beside Flask; refused with the statuses of `like`."""
    event = {"type": "string", "description": "Events `change` (what is shown) and, last, `over`"}
    refusals = {s: a for s, a in like["responses"].items() if int(s) in (401, 403, 404)}
    parameters = [
        {"name": "kind", "in": "path", "required": True, "schema": {"enum": list(WATCHED)}},
        {"name": "number", "in": "path", "required": True, "schema": {"type": "string"}},
    ]
    operation = {
        "summary": "Server-sent events while something goes on; the last says that it is over.",
        "operationId": "watch",
        "parameters": parameters,
        "responses": {
            "200": {"description": "As asked", "content": {"text/event-stream": {"schema": event}}},
            **refusals,
        },
    }
    return {"get": operation}
