"""A mock from an OpenAPI 3 document: operations become tools, examples become answers.

OpenAPI 3.0 and 3.1 (https://spec.openapis.org/oas/v3.1.1): path, query and header parameters
and the body become arguments, the first good answer the output.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

from ruamel.yaml import YAML
from ruamel.yaml.error import YAMLError

from ferox.making.mocks import MakingError, Tool, literal
from ferox.making.samples import sample

METHODS = ("get", "put", "post", "delete", "patch", "head", "options")
DEEPEST = 12
"""References that are followed inside one schema; a schema that holds itself ends there."""
_KEPT = frozenset(
    "type properties required items enum const format pattern description default minimum maximum"  # noqa: SIM905
    " minLength maxLength minItems maxItems uniqueItems additionalProperties oneOf anyOf allOf not"
    " exclusiveMinimum exclusiveMaximum multipleOf title examples".split()
)


def from_openapi(text: str) -> tuple[str, dict[str, Any], list[str]]:
    """A title, a mock, and what to know of it, from a document in JSON or YAML.

    Raises:
        MakingError: it is no OpenAPI 3 document, or has no operation.
    """
    document = _parsed(text)
    version = str(document.get("openapi", ""))
    if not version.startswith("3."):
        found = f"`swagger: {document['swagger']}`" if "swagger" in document else "no `openapi: 3…`"
        raise MakingError(f"this is no OpenAPI 3 document: {found}")
    notes: list[str] = []
    tools: list[Tool] = []
    names: set[str] = set()
    for path, method, operation, shared in _operations(document):
        tool = _tool(document, path, method, operation, shared)
        while tool["name"] in names:
            tool["name"] += "_2"
        names.add(tool["name"])
        if "todo" in json.dumps(tool["answers"]):
            notes.append(f"{tool['name']}: no example of an answer; fill one in")
        tools.append(tool)
    if not tools:
        raise MakingError("the document has no operation under `paths`")
    title = str((document.get("info") or {}).get("title") or "made from OpenAPI")
    return title, {"tools": tools}, notes


def _parsed(text: str) -> dict[str, Any]:
    try:
        told = json.loads(text)
    except ValueError:
        try:
            told = YAML(typ="safe", pure=True).load(text)
            told = json.loads(json.dumps(told, default=str))
        except (YAMLError, ValueError, TypeError, RecursionError) as error:
            raise MakingError(f"this is neither JSON nor YAML: {error}") from None
    if not isinstance(told, dict):
        raise MakingError("an OpenAPI document holds keys and values")
    return told


def _operations(
    document: dict[str, Any],
) -> Iterator[tuple[str, str, dict[str, Any], list[Any]]]:
    for path, item in (document.get("paths") or {}).items():
        item = _resolved(document, item)
        if not isinstance(item, dict):
            continue
        for method in METHODS:
            if isinstance(item.get(method), dict):
                yield path, method, item[method], item.get("parameters") or []


def _resolved(document: dict[str, Any], value: Any) -> Any:
    """A value, or what its local reference points to.

    Raises:
        MakingError: the reference leaves the document, or leads nowhere.
    """
    for _ in range(DEEPEST):
        if not (isinstance(value, dict) and isinstance(value.get("$ref"), str)):
            return value
        reference = value["$ref"]
        if not reference.startswith("#/"):
            raise MakingError(f"`{reference}`: only references inside the document are followed")
        value = document
        for step in reference[2:].split("/"):
            step = step.replace("~1", "/").replace("~0", "~")
            if not isinstance(value, dict) or step not in value:
                raise MakingError(f"`{reference}` leads nowhere")
            value = value[step]
    return {}


def _schema(document: dict[str, Any], schema: Any, depth: int = 0) -> dict[str, Any]:
    """A schema of OpenAPI as JSON Schema 2020-12, its references written out."""
    schema = _resolved(document, schema)
    if not isinstance(schema, dict) or depth > DEEPEST:
        return {}
    told = {k: v for k, v in schema.items() if k in _KEPT}
    for key in ("items", "not", "additionalProperties"):
        if isinstance(told.get(key), dict):
            told[key] = _schema(document, told[key], depth + 1)
    for key in ("oneOf", "anyOf", "allOf"):
        if isinstance(told.get(key), list):
            told[key] = [_schema(document, s, depth + 1) for s in told[key]]
    if isinstance(told.get("properties"), dict):
        told["properties"] = {
            name: _schema(document, s, depth + 1) for name, s in told["properties"].items()
        }
    if schema.get("nullable") and isinstance(told.get("type"), str):
        told["type"] = [told["type"], "null"]
    for key, bound in (("exclusiveMinimum", "minimum"), ("exclusiveMaximum", "maximum")):
        if told.get(key) is True:  # OpenAPI 3.0 wrote it as a flag
            told[key] = told.pop(bound, 0)
        elif told.get(key) is False:
            told.pop(key)
    if "example" in schema:
        told.setdefault("examples", [schema["example"]])
    return told


def _tool(
    document: dict[str, Any], path: str, method: str, operation: dict[str, Any], shared: list[Any]
) -> Tool:
    parameters = [_resolved(document, p) for p in [*shared, *(operation.get("parameters") or [])]]
    properties, required = _arguments(document, parameters)
    _body(document, operation, properties, required)
    schema: dict[str, Any] = {"type": "object", "properties": properties}
    if required:
        schema["required"] = required
    words = [str(operation[k]).strip() for k in ("summary", "description") if operation.get(k)]
    tool: Tool = {"name": _name(path, method, operation)}
    told = ". ".join(w.rstrip(".") for w in dict.fromkeys(words))
    tool["description"] = f"{told}." if told else f"{method.upper()} {path}"
    tool["input"] = schema
    output, answers = _answers(document, operation, parameters)
    if output:
        tool["output"] = output
    if method in ("get", "head", "options"):
        tool["annotations"] = {"readOnlyHint": True}
    elif method == "delete":
        tool["annotations"] = {"destructiveHint": True}
    tool["answers"] = answers
    return tool


def _name(path: str, method: str, operation: dict[str, Any]) -> str:
    given = str(operation.get("operationId") or f"{method}_{path}")
    return re.sub(r"[^A-Za-z0-9.-]+", "_", given).strip("_")[:128] or method


def _arguments(document: dict[str, Any], parameters: list[Any]) -> tuple[dict[str, Any], list[str]]:
    properties: dict[str, Any] = {}
    required: list[str] = []
    for parameter in parameters:
        if not isinstance(parameter, dict) or parameter.get("in") not in ("path", "query"):
            continue
        name = str(parameter.get("name"))
        content: dict[str, Any] = next(iter((parameter.get("content") or {}).values()), {})
        spec = _schema(document, parameter.get("schema") or content.get("schema"))
        if parameter.get("description"):
            spec["description"] = parameter["description"]
        if "example" in parameter:
            spec.setdefault("examples", [parameter["example"]])
        properties[name] = spec
        if parameter.get("required") and name not in required:
            required.append(name)
    return properties, required


def _json_content(told: Any) -> dict[str, Any]:
    """The JSON kind of a body or an answer, else its first."""
    content = (told or {}).get("content") or {}
    named = next((v for k, v in content.items() if "json" in k), None)
    found = named if named is not None else next(iter(content.values()), {})
    return found if isinstance(found, dict) else {}


def _body(
    document: dict[str, Any],
    operation: dict[str, Any],
    properties: dict[str, Any],
    required: list[str],
) -> None:
    """A body's fields become arguments; one that is no object, or whose names clash, is `body`."""
    body = _resolved(document, operation.get("requestBody"))
    if not isinstance(body, dict):
        return
    schema = _schema(document, _json_content(body).get("schema"))
    fields = schema.get("properties")
    if isinstance(fields, dict) and not fields.keys() & properties.keys():
        properties.update(fields)
        if body.get("required"):
            required += [n for n in schema.get("required") or [] if n in fields]
        return
    properties["body"] = schema
    if body.get("required"):
        required.append("body")


def _answers(
    document: dict[str, Any], operation: dict[str, Any], parameters: list[Any]
) -> tuple[dict[str, Any] | None, list[dict[str, Any]]]:
    """The schema of the first good answer, and rules from its examples."""
    responses = operation.get("responses") or {}
    good = next((responses[s] for s in sorted(responses) if str(s).startswith("2")), None)
    content = _json_content(_resolved(document, good if good else responses.get("default")))
    schema = _schema(document, content.get("schema")) if content.get("schema") else None
    named = {
        str(name): _resolved(document, example).get("value")
        for name, example in (content.get("examples") or {}).items()
        if isinstance(_resolved(document, example), dict)
    }
    rules = [
        {**_condition(parameters, name), "give": literal(value)} for name, value in named.items()
    ]
    rules = [r for r in rules if "when" in r] + [r for r in rules if "when" not in r][:1]
    if not rules or "when" in rules[-1]:
        if "example" in content:
            rules.append({"give": literal(content["example"])})
        elif schema and not rules:
            rules.append({"give": literal(sample(schema))})
        elif not rules:
            rules.append({"give": {"todo": "what this operation answers"} if content else {}})
    output = schema if schema and schema.get("type") == "object" else None
    return output, rules


def _condition(parameters: list[Any], name: str) -> dict[str, Any]:
    """An example of an answer goes with the parameters' examples of the same name."""
    when = {
        str(p["name"]): (p.get("examples") or {})[name].get("value")
        for p in parameters
        if isinstance(p, dict) and name in (p.get("examples") or {})
    }
    return {"when": when} if when else {}
