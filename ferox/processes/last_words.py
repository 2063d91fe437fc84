"""What a process said last: its last error, if it told of one."""

from __future__ import annotations

import re
from collections.abc import Iterable
from itertools import takewhile

ERROR = re.compile(r"(?:Uncaught )?[\w.]*(?:Error|Exception)(?: \[\w+\])?: ")
"""How Python and JavaScript begin the line that says what was raised."""
RECENT = 25
"""Lines from the end among which an error is looked for: what was told before was got over."""
FRAME = "at "
"""How JavaScript begins a line of the stack, which follows the error; Python's comes before it."""


def last_words(log: Iterable[str], most: int) -> str:
    """The last lines of a log that say something, at most so many: from the last error on, up to
    its stack; without an error, its end."""
    lines = [line.strip() for line in log if line.strip()][-RECENT:]
    for place in range(len(lines) - 1, -1, -1):
        if ERROR.match(lines[place]):
            said = takewhile(lambda line: not line.startswith(FRAME), lines[place:])
            return " | ".join(list(said)[:most])
    return " | ".join(lines[-most:])
