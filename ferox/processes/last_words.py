"""What a process said last: its last error, if it told of one."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import takewhile

RECENT = 25
"""Lines from the end among which an error is looked for: what was told before was got over."""
FRAME = "at "
"""How JavaScript begins a line of the stack, which follows the error; Python's comes before it."""


def last_words(log: Iterable[str], most: int) -> str:
    """The last lines of a log that say something, at most so many: from the last error on, up to
    its stack; without an error, its end."""
    lines = [line.strip() for line in log if line.strip()][-RECENT:]
    for place in range(len(lines) - 1, -1, -1):
        if _tells_error(lines[place]):
            said = takewhile(lambda line: not line.startswith(FRAME), lines[place:])
            return " | ".join(list(said)[:most])
    return " | ".join(lines[-most:])


def _tells_error(line: str) -> bool:
    """Whether a line says what was raised, as Python and JavaScript write that:
    `tides.EbbError: no water`, `Error [NO_WATER]: ebb`."""
    name, colon, _ = line.removeprefix("Uncaught ").partition(": ")
    name = name.partition(" [")[0]
    return bool(colon) and name.endswith(("Error", "Exception")) and " " not in name
