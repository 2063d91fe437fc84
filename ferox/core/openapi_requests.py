"""How a call of an OpenAPI operation becomes a request (OpenAPI 3.1, parameter serialization)."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any
from urllib.parse import quote

from ferox.core.openapi import HttpParameter, OpenApiError, Operation


@dataclass(frozen=True)
class HttpCall:
    """A request: what follows the base address, the query, and the body with its type."""

    method: str
    path: str
    query: tuple[tuple[str, str], ...]
    body: bytes | None
    content_type: str | None


def request_of(operation: Operation, args: dict[str, Any]) -> HttpCall:
    """The request that a call becomes.

    Raises:
        OpenApiError: an argument cannot stand in the path.
    """
    path = operation.path
    query: list[tuple[str, str]] = []
    for parameter in operation.parameters:
        if parameter.name not in args:
            continue
        value = args[parameter.name]
        if parameter.place == "path":
            path = path.replace(f"{{{parameter.name}}}", _in_path(parameter.name, value))
        else:
            query += _in_query(parameter, value)
    if "{" in path:
        raise OpenApiError(f"the address {path} lacks an argument")
    body = _body_of(operation, args)
    if body is None:
        return HttpCall(operation.method, path, tuple(query), None, None)
    if "form-urlencoded" in operation.content_type:
        fields = body if isinstance(body, dict) else {"body": body}
        written = "&".join(
            f"{_quoted(str(key))}={_quoted(_plain_text(item))}" for key, item in fields.items()
        )
        return HttpCall(
            operation.method, path, tuple(query), written.encode(), operation.content_type
        )
    if isinstance(body, str) and "json" not in operation.content_type:
        kind = operation.content_type or "text/plain"
        return HttpCall(operation.method, path, tuple(query), body.encode(errors="replace"), kind)
    kind = operation.content_type if "json" in operation.content_type else "application/json"
    written_json = json.dumps(body).encode()
    return HttpCall(operation.method, path, tuple(query), written_json, kind)


def _body_of(operation: Operation, args: dict[str, Any]) -> Any:
    if operation.body is None:
        return args.get("body")
    fields = {name: args[name] for name in operation.body if name in args}
    return fields or ({} if operation.body and operation.method != "GET" else None)


def _plain_text(value: Any) -> str:
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def _in_path(name: str, value: Any) -> str:
    """A value as one step of a path (style `simple`); it never leads to another place."""
    text = ",".join(map(_plain_text, value)) if isinstance(value, list) else _plain_text(value)
    if text in ("", ".", ".."):
        raise OpenApiError(f"`{name}` cannot be {text!r}: it is a step of the address")
    return _quoted(text)


def _quoted(text: str) -> str:
    """A text in an address. Half characters, which no encoding has, are replaced."""
    return quote(text, safe="", errors="replace")


_SEPARATORS = {"form": ",", "spaceDelimited": " ", "pipeDelimited": "|"}


def _in_query(parameter: HttpParameter, value: Any) -> list[tuple[str, str]]:
    """A value as parameters of a query (OpenAPI 3.1, style values)."""
    name = parameter.name
    if isinstance(value, list):
        texts = [_plain_text(item) for item in value]
        if parameter.explode:
            return [(name, text) for text in texts]
        return [(name, _SEPARATORS.get(parameter.style, ",").join(texts))]
    if isinstance(value, dict):
        pairs = [(str(key), _plain_text(item)) for key, item in value.items()]
        if parameter.style == "deepObject":
            return [(f"{name}[{key}]", text) for key, text in pairs]
        if parameter.explode:
            return pairs
        return [(name, ",".join(part for pair in pairs for part in pair))]
    return [(name, _plain_text(value))]
