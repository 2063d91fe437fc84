"""What the language knows and this version does not carry out yet.

It is refused, with its place: to pass it over would be to promise a check that
is never made.
"""

from __future__ import annotations

from collections.abc import Iterator

from ferox.formats.fault import TOOL_FAULTS
from ferox.formats.suite import Expect, Task
from ferox.workspace.yaml_files import Path_

_LATER = "is part of the language and comes with a later version of Ferox"


def not_yet(task: Task) -> Iterator[tuple[Path_, str]]:
    """Path and message of everything in a task that would be passed over."""
    if task.parts is not None:
        yield ("parts",), f"`parts` {_LATER}"
    for i, fault in enumerate(task.faults):
        if fault.do not in TOOL_FAULTS:
            yield ("faults", i, "do"), f"`{fault.do}` {_LATER}"
    yield from _expected(task.expect, ("expect",))
    for i, alternative in enumerate(task.expect.either or ()):
        yield from _expected(alternative, ("expect", "either", i))


def _expected(expect: Expect, at: Path_) -> Iterator[tuple[Path_, str]]:
    for i, answer in enumerate(expect.answer):
        if answer.values is not None:
            yield (*at, "answer", i, "values"), f"`values` {_LATER}"
