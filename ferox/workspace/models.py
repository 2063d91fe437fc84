"""The models of `ferox.yaml`: added, changed and taken out, with its comments kept."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ferox.workspace.write import as_yaml, edit_document


def with_model(text: str, name: str, source: Mapping[str, Any]) -> str:
    """The workspace's file with a model, in place of the one of that name if there is one.

    Raises:
        WriteError: the text is not a YAML document of keys and values.
    """

    def put(document: Any) -> None:
        if not isinstance(document.get("models"), dict):
            document["models"] = {}
        document["models"][name] = as_yaml(dict(source))

    return edit_document(text, put)


def without_model(text: str, name: str) -> str:
    """The workspace's file without a model.

    Raises:
        WriteError: the text is not a YAML document of keys and values.
    """

    def take_out(document: Any) -> None:
        if isinstance(document.get("models"), dict):
            document["models"].pop(name, None)

    return edit_document(text, take_out)
