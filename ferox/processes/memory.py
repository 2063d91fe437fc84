"""Memory that a process has done with goes back to the system."""

from __future__ import annotations

import ctypes
from collections.abc import Callable
from functools import cache


@cache
def _trimmer() -> Callable[[int], int] | None:
    try:
        trim: Callable[[int], int] = ctypes.CDLL(None).malloc_trim
    except (OSError, TypeError, AttributeError):  # not glibc
        return None
    return trim


def return_free_memory() -> None:
    """Give back what was freed. Without it, glibc keeps what other threads than the first freed,
    and a process through which megabytes pass grows for as long as it lives. Where the C library
    is another one, nothing is done."""
    if (trim := _trimmer()) is not None:
        trim(0)
