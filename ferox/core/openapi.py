"""An OpenAPI 3 document: its operations as tools, and how a call of one becomes a request.

OpenAPI 3.0 and 3.1 (https://spec.openapis.org/oas/v3.1.1): path and query parameters and the body
become arguments, the first good answer the output. Header parameters are no arguments: what a
client always sends is not for an agent to choose.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ferox.intake.json_text import read_json
from ferox.intake.limits import FILE, IntakeError
from ferox.intake.yaml_text import read_yaml_text

METHODS = ("get", "put", "post", "delete", "patch", "head", "options")
LONGEST_CHAIN = 12
"""References that lead to references; a longer chain goes in circles."""
MOST_SCHEMAS = 20_000
"""Schemas of all operations together, their references written out."""
_KEPT = frozenset(
    "type properties required items enum const format pattern description default minimum maximum"  # noqa: SIM905
    " minLength maxLength minItems maxItems uniqueItems additionalProperties oneOf anyOf allOf not"
    " exclusiveMinimum exclusiveMaximum multipleOf title examples".split()
)


class OpenApiError(ValueError):
    """A document that cannot be used; the message says why."""


@dataclass(frozen=True)
class HttpParameter:
    """An argument that goes into the path or the query, and how a list or an object is written
    there (`style` and `explode` of OpenAPI)."""

    name: str
    place: str
    style: str
    explode: bool


@dataclass(frozen=True)
class Operation:
    """One operation: the tool that it is, and how a call becomes a request.

    `tool` has name, description, input, output and annotations, as a mock's file writes them.
    `body` are the arguments that are the fields of the body; None where the argument `body` is it
    whole; empty where it has none.
    """

    tool: dict[str, Any]
    method: str
    path: str
    parameters: tuple[HttpParameter, ...]
    body: tuple[str, ...] | None
    content_type: str
    described: dict[str, Any]
    """The operation as the document writes it."""
    given: tuple[dict[str, Any], ...]
    """Its parameters as the document writes them, references followed."""

    def definition(self) -> dict[str, Any]:
        """The tool as the protocol writes it."""
        tool = {
            "name": self.tool["name"],
            "description": self.tool["description"],
            "inputSchema": self.tool["input"],
            "outputSchema": self.tool.get("output"),
            "annotations": self.tool.get("annotations"),
        }
        return {key: value for key, value in tool.items() if value is not None}


def read_document(text: str) -> OpenApiDocument:
    """A document in JSON or YAML.

    Raises:
        OpenApiError: it cannot be read, or is not OpenAPI 3.
    """
    try:
        read = read_json(text, FILE)
    except IntakeError as error:
        if text.lstrip()[:1] in ("{", "["):
            raise OpenApiError(f"this is not JSON that can be read: {error}") from None
        yaml = read_yaml_text(text)
        if yaml.faults:
            raise OpenApiError(f"this is neither JSON nor YAML: {yaml.faults[0]}") from None
        read = yaml.value
    if not isinstance(read, dict):
        raise OpenApiError("an OpenAPI document holds keys and values")
    if not str(read.get("openapi", "")).startswith("3."):
        found = f"`swagger: {read['swagger']}`" if "swagger" in read else "no `openapi: 3…`"
        raise OpenApiError(f"this is not an OpenAPI 3 document: {found}")
    return OpenApiDocument(read)


@lru_cache(maxsize=16)
def operations_of(text: str) -> tuple[Operation, ...]:
    """The operations of a document in JSON or YAML; read once for many trials.

    Raises:
        OpenApiError: it cannot be used.
    """
    return tuple(read_document(text).operations())


def object_at(value: Any) -> dict[str, Any]:
    """An object as it stands; what is none, in a document from anywhere, holds nothing."""
    return value if isinstance(value, dict) else {}


def list_at(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []


class OpenApiDocument:
    """A document whose references are followed, within it and within bounds."""

    def __init__(self, root: dict[str, Any]) -> None:
        self.root = root
        self.title = str(object_at(root.get("info")).get("title") or "made from OpenAPI")
        self._schemas = 0
        self._open: list[str] = []
        """The references being written out: one that leads back to itself ends there."""

    def operations(self) -> list[Operation]:
        """The operations, each under a name of its own.

        Raises:
            OpenApiError: there is none, or a reference cannot be followed.
        """
        found: list[Operation] = []
        names: set[str] = set()
        for path, method, described, shared in self._described():
            operation = _operation_of(self, path, method, described, shared)
            while operation.tool["name"] in names:
                operation.tool["name"] += "_2"
            names.add(operation.tool["name"])
            found.append(operation)
        if not found:
            raise OpenApiError("the document has no operation under `paths`")
        return found

    @property
    def base_address(self) -> str | None:
        """Where the document says that the interface is, if it names a web address."""
        url = str(object_at(next(iter(list_at(self.root.get("servers"))), None)).get("url") or "")
        return url if url.startswith(("http://", "https://")) else None

    def good_answer(self, described: dict[str, Any]) -> dict[str, Any]:
        """What the document says of an operation's first good answer."""
        responses = object_at(described.get("responses"))
        good = next((responses[s] for s in sorted(responses) if s.startswith("2")), None)
        return json_content(self.resolve_reference(good if good else responses.get("default")))[1]

    def answer_schema(self, described: dict[str, Any]) -> dict[str, Any] | None:
        """The schema of an operation's first good answer."""
        schema = self.good_answer(described).get("schema")
        return self.json_schema(schema) if schema else None

    def _described(self) -> Iterator[tuple[str, str, dict[str, Any], list[Any]]]:
        """Path, method, operation, and the parameters that all operations of the path share."""
        for path, item in object_at(self.root.get("paths")).items():
            there = object_at(self.resolve_reference(item))
            for method in METHODS:
                if isinstance(there.get(method), dict):
                    yield path, method, there[method], list_at(there.get("parameters"))

    def resolve_reference(self, value: Any) -> Any:
        """A value, or what its reference points to in the document.

        Raises:
            OpenApiError: the reference leaves the document, or leads nowhere.
        """
        for _ in range(LONGEST_CHAIN):
            if not (isinstance(value, dict) and isinstance(value.get("$ref"), str)):
                return value
            value = self._reference_target(value["$ref"])
        return {}

    def _reference_target(self, reference: str) -> Any:
        if not reference.startswith("#/"):
            message = f"`{reference[:200]}` leads out of the document, and no such reference is"
            raise OpenApiError(f"{message} followed: put what it names into the document")
        value: Any = self.root
        for step in reference[2:].split("/"):
            step = step.replace("~1", "/").replace("~0", "~")
            if not isinstance(value, dict) or step not in value:
                raise OpenApiError(f"`{reference[:200]}` leads nowhere")
            value = value[step]
        return value

    def json_schema(self, schema: Any) -> dict[str, Any]:
        """A schema of OpenAPI as JSON Schema 2020-12, its references written out.

        Raises:
            OpenApiError: a reference cannot be followed, or there are too many.
        """
        reference = object_at(schema).get("$ref")
        if not isinstance(reference, str):
            return self._written_out(object_at(schema))
        if reference in self._open:
            return {}
        self._open.append(reference)
        written = self.json_schema(self._reference_target(reference))
        self._open.pop()
        return written

    def _written_out(self, schema: dict[str, Any]) -> dict[str, Any]:
        self._schemas += 1
        if self._schemas > MOST_SCHEMAS:
            message = f"the document's references multiply to more than {MOST_SCHEMAS:,} schemas"
            raise OpenApiError(f"{message}; take out the operations that are not needed")
        kept = {k: v for k, v in schema.items() if k in _KEPT}
        for key in ("items", "not", "additionalProperties"):
            if isinstance(kept.get(key), dict):
                kept[key] = self.json_schema(kept[key])
        for key in ("oneOf", "anyOf", "allOf"):
            if isinstance(kept.get(key), list):
                kept[key] = [self.json_schema(s) for s in kept[key]]
        if isinstance(kept.get("properties"), dict):
            kept["properties"] = {n: self.json_schema(s) for n, s in kept["properties"].items()}
        if schema.get("nullable") and isinstance(kept.get("type"), str):
            kept["type"] = [kept["type"], "null"]
        for key, bound in (("exclusiveMinimum", "minimum"), ("exclusiveMaximum", "maximum")):
            if kept.get(key) is True:  # OpenAPI 3.0 wrote it as a flag
                kept[key] = kept.pop(bound, 0)
            elif kept.get(key) is False:
                kept.pop(key)
        if "example" in schema:
            kept.setdefault("examples", [schema["example"]])
        return kept


def _operation_of(
    document: OpenApiDocument, path: str, method: str, described: dict[str, Any], shared: list[Any]
) -> Operation:
    given = [*shared, *list_at(described.get("parameters"))]
    parameters = [object_at(document.resolve_reference(p)) for p in given]
    properties, required = _arguments_of(document, parameters)
    body, content_type = _body_arguments(document, described, properties, required)
    schema: dict[str, Any] = {"type": "object", "properties": properties}
    if required:
        schema["required"] = required
    words = [str(described[k]).strip() for k in ("summary", "description") if described.get(k)]
    text = ". ".join(w.rstrip(".") for w in dict.fromkeys(words))
    tool: dict[str, Any] = {
        "name": _tool_name(path, method, described),
        "description": f"{text}." if text else f"{method.upper()} {path}",
        "input": schema,
    }
    output = document.answer_schema(described)
    if output is not None and output.get("type") == "object":
        tool["output"] = output
    if method in ("get", "head", "options"):
        tool["annotations"] = {"readOnlyHint": True}
    elif method == "delete":
        tool["annotations"] = {"destructiveHint": True}
    return Operation(
        tool=tool,
        method=method.upper(),
        path=path,
        parameters=tuple(_places_of(parameters)),
        body=body,
        content_type=content_type,
        described=described,
        given=tuple(parameters),
    )


def _places_of(parameters: list[dict[str, Any]]) -> Iterator[HttpParameter]:
    for parameter in parameters:
        place = str(parameter.get("in"))
        if place in ("path", "query"):
            style = str(parameter.get("style") or ("simple" if place == "path" else "form"))
            explode = parameter.get("explode", style == "form")
            yield HttpParameter(str(parameter.get("name")), place, style, explode=bool(explode))


def _tool_name(path: str, method: str, operation: dict[str, Any]) -> str:
    given = str(operation.get("operationId") or f"{method}_{path}")[:400]
    return re.sub(r"[^A-Za-z0-9.-]+", "_", given).strip("_")[:128] or method


def _arguments_of(
    document: OpenApiDocument, parameters: list[dict[str, Any]]
) -> tuple[dict[str, Any], list[str]]:
    properties: dict[str, Any] = {}
    required: list[str] = []
    for parameter in parameters:
        if parameter.get("in") not in ("path", "query"):
            continue
        name = str(parameter.get("name"))
        content = object_at(next(iter(object_at(parameter.get("content")).values()), {}))
        spec = document.json_schema(parameter.get("schema") or content.get("schema"))
        if parameter.get("description"):
            spec["description"] = parameter["description"]
        if "example" in parameter:
            spec.setdefault("examples", [parameter["example"]])
        properties[name] = spec
        if parameter.get("required") and name not in required:
            required.append(name)
    return properties, required


def json_content(described: Any) -> tuple[str, dict[str, Any]]:
    """The JSON kind of a body or an answer, else its first: its type, and what is said of it."""
    content = object_at(object_at(described).get("content"))
    named = next((kind for kind in content if "json" in kind), next(iter(content), ""))
    return named, object_at(content.get(named))


def _body_arguments(
    document: OpenApiDocument,
    operation: dict[str, Any],
    properties: dict[str, Any],
    required: list[str],
) -> tuple[tuple[str, ...] | None, str]:
    """A body's fields become arguments; one that is no object, or whose names clash, is `body`.
    Which those are, and the type of its content."""
    body = document.resolve_reference(operation.get("requestBody"))
    if not isinstance(body, dict):
        return (), ""
    content_type, content = json_content(body)
    schema = document.json_schema(content.get("schema"))
    fields = schema.get("properties")
    if isinstance(fields, dict) and not fields.keys() & properties.keys():
        properties.update(fields)
        if body.get("required"):
            required += [n for n in list_at(schema.get("required")) if n in fields]
        return tuple(fields), content_type
    properties["body"] = schema
    if body.get("required"):
        required.append("body")
    return None, content_type
