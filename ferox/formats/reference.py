"""The formats' JSON Schemas and their reference pages; `script/formats` writes them."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel, TypeAdapter

from ferox.formats.agent import AgentFile
from ferox.formats.baseline import BaselineCell
from ferox.formats.described import described_schema
from ferox.formats.plan import PlanFile
from ferox.formats.recording import (
    ModelExchange,
    ModelRecordingHeader,
    RecordedMessage,
    RecordingHeader,
)
from ferox.formats.result import Result
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite
from ferox.formats.trace import trace_adapter
from ferox.formats.workspace import WorkspaceFile

FILES: dict[str, tuple[str, type[BaseModel]]] = {
    "workspace": ("`ferox.yaml`", WorkspaceFile),
    "server": ("`servers/*.yaml`", ServerFile),
    "agent": ("`agents/*.yaml`", AgentFile),
    "suite": ("`tasks/*.yaml`", Suite),
    "plan": ("`plans/*.yaml`", PlanFile),
    "stand-in": ("`stand_ins/*.yaml`", StandInFile),
    "recording": ("The first line of `recordings/*.jsonl`", RecordingHeader),
    "recording-message": ("Each further line of `recordings/*.jsonl`", RecordedMessage),
    "model-recording": ("The first line of a model's recording", ModelRecordingHeader),
    "model-exchange": ("Each further line of a model's recording", ModelExchange),
    "baseline": ("Each line of a baseline", BaselineCell),
}
DIALECT = "https://json-schema.org/draft/2020-12/schema"


def format_schemas() -> dict[str, dict[str, Any]]:
    """Each format's JSON Schema (2020-12), by name."""
    made: dict[str, dict[str, Any]] = {
        name: described_schema(model) for name, (_, model) in FILES.items()
    }
    made["trace"] = trace_adapter().json_schema()
    made["result"] = TypeAdapter(Result).json_schema()
    return {name: {"$schema": DIALECT, **schema} for name, schema in made.items()}


def _kind_of(schema: dict[str, Any]) -> str:
    """A property's type as a reader says it."""
    if "$ref" in schema:
        return f"[{(name := schema['$ref'].rsplit('/', 1)[-1])}](#{name.lower()})"
    if "const" in schema:
        return f"`{json.dumps(schema['const'])}`"
    if "enum" in schema:
        return " or ".join(f"`{value}`" for value in schema["enum"])
    for key in ("anyOf", "oneOf"):
        if key in schema:
            kinds = [_kind_of(s) for s in schema[key] if s.get("type") != "null"]
            return " or ".join(dict.fromkeys(kinds))
    if schema.get("type") == "array":
        return f"list of {_kind_of(schema.get('items', {}))}"
    if schema.get("type") == "object" and isinstance(schema.get("additionalProperties"), dict):
        return f"map of {_kind_of(schema['additionalProperties'])}"
    return str(schema.get("type", "any JSON"))


def _fields_table(schema: dict[str, Any]) -> list[str]:
    rows = ["| key | value | default | meaning |", "|---|---|---|---|"]
    required = schema.get("required", [])
    for key, spec in schema.get("properties", {}).items():
        default = spec.get("default")
        if key in required:
            shown = "required"
        else:
            shown = f"`{json.dumps(default)}`" if default not in (None, [], {}) else ""
        meaning = " ".join(str(spec.get("description", "")).split()).replace("|", "\\|")
        rows.append(f"| `{key}` | {_kind_of(spec)} | {shown} | {meaning} |")
    return rows


def reference_page(name: str, where: str, schema: dict[str, Any]) -> str:
    """A format's reference page, made from its schema."""
    lines = [f"# {where}", "", "Made from the format's schema by `script/formats`.", ""]
    lines += [schema.get("description", ""), "", *_fields_table(schema)]
    for part, definition in sorted(schema.get("$defs", {}).items()):
        lines += ["", f"## {part}", "", *str(definition.get("description", "")).splitlines(), ""]
        lines += (
            _fields_table(definition) if definition.get("properties") else [_kind_of(definition)]
        )
    return "\n".join(lines) + "\n"


def reference_pages() -> dict[str, str]:
    """Every reference page, by file name."""
    places = {
        **{name: where for name, (where, _) in FILES.items()},
        "trace": "A trace",
        "result": "A result",
    }
    return {
        f"{n}.md": reference_page(n, places[n], schema) for n, schema in format_schemas().items()
    }
