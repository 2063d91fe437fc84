"""Simulated models that are made here: their files, and their places among the models."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from ferox.core.naming import free_name
from ferox.formats.stand_in import StandInFile
from ferox.stand_in.manners import manners_of
from ferox.workspace.load import Workspace
from ferox.workspace.models import with_model
from ferox.workspace.write import SETTINGS, read_text, write_text, yaml_text


def manner_names(workspace: Workspace, file: str) -> list[str]:
    """The manners that a model may have of a stand-in's file."""
    return list(manners_of(workspace.stand_ins.get(file)))


class KeptStandIn(NamedTuple):
    """Where a stand-in was kept: its file, and the name of the model that it is."""

    file: str
    model: str


def keep_stand_in(workspace: Workspace, name: str, document: Mapping[str, Any]) -> KeptStandIn:
    """Write a stand-in's file under a free name, and a model that it stands behind.

    Raises:
        WriteError: a file cannot be written.
    """
    StandInFile.model_validate(document)
    folder = workspace.root / "stand_ins"
    name = free_name(name, {path.stem for path in folder.glob("*.yaml")})
    file = f"stand_ins/{name}.yaml"
    model = free_name(f"stand-in-{name}", workspace.settings.models)
    write_text(workspace.root, file, yaml_text({**document, "stand_in": name}), None)
    text, stamp = read_text(workspace.root, SETTINGS)
    write_text(workspace.root, SETTINGS, with_model(text, model, {"stand_in": file}), stamp)
    return KeptStandIn(file, model)
