"""A mock from an OpenAPI 3 document: operations become tools, examples become answers."""

from __future__ import annotations

import json
from typing import Any

from ferox.core.openapi import (
    OpenApiDocument,
    OpenApiError,
    Operation,
    object_at,
    read_document,
)
from ferox.making.mocks import MakingError, Tool, as_literal
from ferox.making.samples import sample_value


def from_openapi(text: str) -> tuple[str, dict[str, Any], list[str]]:
    """A title, a mock, and what to know of it, from a document in JSON or YAML.

    Raises:
        MakingError: it is not an OpenAPI 3 document, has no operation, or its references multiply
            to more than anybody needs.
    """
    try:
        document = read_document(text)
        operations = document.operations()
        tools: list[Tool] = [
            {**operation.tool, "answers": _answers_of(document, operation)}
            for operation in operations
        ]
    except OpenApiError as error:
        raise MakingError(str(error)) from None
    notes = [
        f"{tool['name']}: no example of an answer; fill one in"
        for tool in tools
        if "todo" in json.dumps(tool["answers"])
    ]
    if document.base_address is not None:
        live = f"live: {{openapi: FILE, url: {document.base_address}}}"
        notes.append(f"to call it for real too, keep the document as a file and add `{live}`")
    return document.title, {"tools": tools}, notes


def _answers_of(document: OpenApiDocument, operation: Operation) -> list[dict[str, Any]]:
    """Rules from the examples of an operation's first good answer."""
    content = document.good_answer(operation.described)
    schema = document.answer_schema(operation.described)
    named = {
        name: object_at(document.resolve_reference(example)).get("value")
        for name, example in object_at(content.get("examples")).items()
    }
    rules = [
        {**_condition_of(operation.given, name), "give": as_literal(value)}
        for name, value in named.items()
    ]
    rules = [r for r in rules if "when" in r] + [r for r in rules if "when" not in r][:1]
    if not rules or "when" in rules[-1]:
        if "example" in content:
            rules.append({"give": as_literal(content["example"])})
        elif schema and not rules:
            rules.append({"give": as_literal(sample_value(schema))})
        elif not rules:
            rules.append({"give": {"todo": "what this operation answers"} if content else {}})
    return rules


def _condition_of(parameters: tuple[dict[str, Any], ...], name: str) -> dict[str, Any]:
    """An example of an answer goes with the parameters' examples of the same name."""
    examples = {str(p.get("name")): object_at(p.get("examples")).get(name) for p in parameters}
    when = {n: e.get("value") for n, e in examples.items() if isinstance(e, dict)}
    return {"when": when} if when else {}
