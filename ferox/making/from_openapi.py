"""A mock from an OpenAPI 3 document: operations become tools, examples become answers.

OpenAPI 3.0 and 3.1 (https://spec.openapis.org/oas/v3.1.1): path, query and header parameters
and the body become arguments, the first good answer the output.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

from ferox.intake.json_text import read_json
from ferox.intake.limits import FILE, IntakeError
from ferox.intake.yaml_text import read_yaml_text
from ferox.making.mocks import MakingError, Tool, as_literal
from ferox.making.samples import sample_value

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


def from_openapi(text: str) -> tuple[str, dict[str, Any], list[str]]:
    """A title, a mock, and what to know of it, from a document in JSON or YAML.

    Raises:
        MakingError: it is not an OpenAPI 3 document, has no operation, or its references multiply
            to more than anybody needs.
    """
    document = _Document(_parse_text(text))
    notes: list[str] = []
    tools: list[Tool] = []
    names: set[str] = set()
    for path, method, operation, shared in document.operations():
        tool = _tool_of(document, path, method, operation=operation, shared=shared)
        while tool["name"] in names:
            tool["name"] += "_2"
        names.add(tool["name"])
        if "todo" in json.dumps(tool["answers"]):
            notes.append(f"{tool['name']}: no example of an answer; fill one in")
        tools.append(tool)
    if not tools:
        raise MakingError("the document has no operation under `paths`")
    title = str(_object_at(document.root.get("info")).get("title") or "made from OpenAPI")
    return title, {"tools": tools}, notes


def _parse_text(text: str) -> dict[str, Any]:
    """The document's value, which says that it is OpenAPI 3."""
    try:
        read = read_json(text, FILE)
    except IntakeError as error:
        if text.lstrip()[:1] in ("{", "["):
            raise MakingError(f"this is not JSON that can be read: {error}") from None
        yaml = read_yaml_text(text)
        if yaml.faults:
            raise MakingError(f"this is neither JSON nor YAML: {yaml.faults[0]}") from None
        read = yaml.value
    if not isinstance(read, dict):
        raise MakingError("an OpenAPI document holds keys and values")
    if not str(read.get("openapi", "")).startswith("3."):
        found = f"`swagger: {read['swagger']}`" if "swagger" in read else "no `openapi: 3…`"
        raise MakingError(f"this is not an OpenAPI 3 document: {found}")
    return read


def _object_at(value: Any) -> dict[str, Any]:
    """An object as it stands; what is none, in a document from anywhere, holds nothing."""
    return value if isinstance(value, dict) else {}


def _list_at(value: Any) -> list[Any]:
    return value if isinstance(value, list) else []


class _Document:
    """A document whose references are followed, within it and within bounds."""

    def __init__(self, root: dict[str, Any]) -> None:
        self.root = root
        self._schemas = 0
        self._open: list[str] = []
        """The references being written out: one that leads back to itself ends there."""

    def operations(self) -> Iterator[tuple[str, str, dict[str, Any], list[Any]]]:
        """Path, method, operation, and the parameters that all operations of the path share."""
        for path, item in _object_at(self.root.get("paths")).items():
            there = _object_at(self.resolve_reference(item))
            for method in METHODS:
                if isinstance(there.get(method), dict):
                    yield path, method, there[method], _list_at(there.get("parameters"))

    def resolve_reference(self, value: Any) -> Any:
        """A value, or what its reference points to in the document.

        Raises:
            MakingError: the reference leaves the document, or leads nowhere.
        """
        for _ in range(LONGEST_CHAIN):
            if not (isinstance(value, dict) and isinstance(value.get("$ref"), str)):
                return value
            value = self._reference_target(value["$ref"])
        return {}

    def _reference_target(self, reference: str) -> Any:
        if not reference.startswith("#/"):
            message = f"`{reference[:200]}` leads out of the document, and no such reference is"
            raise MakingError(f"{message} followed: put what it names into the document")
        value: Any = self.root
        for step in reference[2:].split("/"):
            step = step.replace("~1", "/").replace("~0", "~")
            if not isinstance(value, dict) or step not in value:
                raise MakingError(f"`{reference[:200]}` leads nowhere")
            value = value[step]
        return value

    def json_schema(self, schema: Any) -> dict[str, Any]:
        """A schema of OpenAPI as JSON Schema 2020-12, its references written out.

        Raises:
            MakingError: a reference cannot be followed, or there are too many.
        """
        reference = _object_at(schema).get("$ref")
        if not isinstance(reference, str):
            return self._written_out(_object_at(schema))
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
            raise MakingError(f"{message}; take out the operations that are not needed")
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


def _tool_of(
    document: _Document, path: str, method: str, operation: dict[str, Any], shared: list[Any]
) -> Tool:
    given = [*shared, *_list_at(operation.get("parameters"))]
    parameters = [_object_at(document.resolve_reference(p)) for p in given]
    properties, required = _arguments_of(document, parameters)
    _body_arguments(document, operation, properties, required)
    schema: dict[str, Any] = {"type": "object", "properties": properties}
    if required:
        schema["required"] = required
    words = [str(operation[k]).strip() for k in ("summary", "description") if operation.get(k)]
    tool: Tool = {"name": _tool_name(path, method, operation)}
    text = ". ".join(w.rstrip(".") for w in dict.fromkeys(words))
    tool["description"] = f"{text}." if text else f"{method.upper()} {path}"
    tool["input"] = schema
    output, answers = _answers_of(document, operation, parameters)
    if output:
        tool["output"] = output
    if method in ("get", "head", "options"):
        tool["annotations"] = {"readOnlyHint": True}
    elif method == "delete":
        tool["annotations"] = {"destructiveHint": True}
    tool["answers"] = answers
    return tool


def _tool_name(path: str, method: str, operation: dict[str, Any]) -> str:
    given = str(operation.get("operationId") or f"{method}_{path}")[:400]
    return re.sub(r"[^A-Za-z0-9.-]+", "_", given).strip("_")[:128] or method


def _arguments_of(
    document: _Document, parameters: list[dict[str, Any]]
) -> tuple[dict[str, Any], list[str]]:
    properties: dict[str, Any] = {}
    required: list[str] = []
    for parameter in parameters:
        if parameter.get("in") not in ("path", "query"):
            continue
        name = str(parameter.get("name"))
        content = _object_at(next(iter(_object_at(parameter.get("content")).values()), {}))
        spec = document.json_schema(parameter.get("schema") or content.get("schema"))
        if parameter.get("description"):
            spec["description"] = parameter["description"]
        if "example" in parameter:
            spec.setdefault("examples", [parameter["example"]])
        properties[name] = spec
        if parameter.get("required") and name not in required:
            required.append(name)
    return properties, required


def _json_content(described: Any) -> dict[str, Any]:
    """The JSON kind of a body or an answer, else its first."""
    content = _object_at(_object_at(described).get("content"))
    named = next((v for k, v in content.items() if "json" in k), None)
    return _object_at(named if named is not None else next(iter(content.values()), {}))


def _body_arguments(
    document: _Document,
    operation: dict[str, Any],
    properties: dict[str, Any],
    required: list[str],
) -> None:
    """A body's fields become arguments; one that is no object, or whose names clash, is `body`."""
    body = document.resolve_reference(operation.get("requestBody"))
    if not isinstance(body, dict):
        return
    schema = document.json_schema(_json_content(body).get("schema"))
    fields = schema.get("properties")
    if isinstance(fields, dict) and not fields.keys() & properties.keys():
        properties.update(fields)
        if body.get("required"):
            required += [n for n in _list_at(schema.get("required")) if n in fields]
        return
    properties["body"] = schema
    if body.get("required"):
        required.append("body")


def _answers_of(
    document: _Document, operation: dict[str, Any], parameters: list[dict[str, Any]]
) -> tuple[dict[str, Any] | None, list[dict[str, Any]]]:
    """The schema of the first good answer, and rules from its examples."""
    responses = _object_at(operation.get("responses"))
    good = next((responses[s] for s in sorted(responses) if s.startswith("2")), None)
    content = _json_content(document.resolve_reference(good if good else responses.get("default")))
    schema = document.json_schema(content.get("schema")) if content.get("schema") else None
    named = {
        name: _object_at(document.resolve_reference(example)).get("value")
        for name, example in _object_at(content.get("examples")).items()
    }
    rules = [
        {**_condition_of(parameters, name), "give": as_literal(value)}
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
    output = schema if schema and schema.get("type") == "object" else None
    return output, rules


def _condition_of(parameters: list[dict[str, Any]], name: str) -> dict[str, Any]:
    """An example of an answer goes with the parameters' examples of the same name."""
    examples = {str(p.get("name")): _object_at(p.get("examples")).get(name) for p in parameters}
    when = {n: e.get("value") for n, e in examples.items() if isinstance(e, dict)}
    return {"when": when} if when else {}
