"""Texts of the workspace's files, read while somebody types: for their errors, their picture
and for trying, so each text is read once."""

from __future__ import annotations

import threading
from functools import lru_cache

from pydantic import BaseModel

from ferox.formats.agent import AgentFile
from ferox.formats.plan import PlanFile
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite
from ferox.formats.workspace import WorkspaceFile
from ferox.intake.collector import collector_at_rest
from ferox.workspace.write import SETTINGS
from ferox.workspace.yaml_files import YamlFile, parse_yaml, validate_file

KINDS: dict[str, type[BaseModel]] = {
    "servers": ServerFile,
    "agents": AgentFile,
    "tasks": Suite,
    "plans": PlanFile,
    "stand_ins": StandInFile,
    SETTINGS: WorkspaceFile,
}
"""What the files of each folder hold, and the workspace's own."""


Parsed = tuple[YamlFile, BaseModel | None]
_one_at_a_time = threading.Lock()


def parse_file(name: str, text: str) -> Parsed:
    """A text as the file of that name. It is shared: nobody changes it."""
    # The same text is asked for its errors and for its picture almost at once.
    with _one_at_a_time, collector_at_rest():
        return _parse_once(name, text)


@lru_cache(maxsize=4)
def _parse_once(name: str, text: str) -> Parsed:
    file = parse_yaml(text, name)
    return file, validate_file(file, KINDS[name.split("/", 1)[0]])
