"""Formats' schemas with what stands in the source under each field.

Pydantic can read it too, but only as it makes the models: each command would wait for it.
"""

from __future__ import annotations

import ast
import inspect
from itertools import pairwise
from textwrap import dedent
from typing import Any

from pydantic import BaseModel

from ferox.formats.base import Strict


def described_schema(model: type[BaseModel]) -> dict[str, Any]:
    """A model's JSON Schema; fields that have no description of their own have their docstring."""
    schema = model.model_json_schema(by_alias=True)
    parts = {part.__name__: part for part in _subclasses(Strict)}
    for name, definition in schema.get("$defs", {}).items():
        if name in parts:
            _describe_fields(definition, parts[name])
    _describe_fields(schema, model)
    return schema


def _describe_fields(definition: dict[str, Any], model: type[BaseModel]) -> None:
    docs = {name: text for one in reversed(model.__mro__) for name, text in _docs_of(one).items()}
    for name, field in model.model_fields.items():
        described = definition["properties"].get(field.alias or name)
        if described is not None and name in docs:
            described.setdefault("description", docs[name])


def _docs_of(kind: type) -> dict[str, str]:
    """The docstrings of a class's attributes: texts that follow their annotations."""
    if kind.__module__.partition(".")[0] != "ferox":
        return {}
    (written,) = ast.parse(dedent(inspect.getsource(kind))).body
    assert isinstance(written, ast.ClassDef)
    docs = {}
    for field, text in pairwise(written.body):
        match field, text:
            case ast.AnnAssign(target=ast.Name(id=name)), ast.Expr(
                value=ast.Constant(value=str(doc))
            ):
                docs[name] = inspect.cleandoc(doc)
    return docs


def _subclasses(kind: type[BaseModel]) -> list[type[BaseModel]]:
    return [one for sub in kind.__subclasses__() for one in (sub, *_subclasses(sub))]
