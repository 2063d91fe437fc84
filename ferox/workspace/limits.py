"""What the language knows and this version does not carry out yet.

It is refused, with its place: to pass it over would be to promise a check that
is never made.
"""

from __future__ import annotations

from collections.abc import Iterator

from ferox.formats.suite import Task
from ferox.workspace.yaml_files import Path_

_LATER = "is part of the language and comes with a later version of Ferox"


def not_yet(task: Task) -> Iterator[tuple[Path_, str]]:
    """Path and message of everything in a task that would be passed over."""
    if task.parts is not None:
        yield ("parts",), f"`parts` {_LATER}"
