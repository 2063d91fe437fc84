"""Memory that a process has done with goes back to the system."""

from __future__ import annotations

import ctypes

M_MMAP_THRESHOLD, M_ARENA_MAX = -3, -8
"""Parameters of glibc's `mallopt` (malloc.h)."""
LARGE_BLOCK = 128 * 1024
"""glibc's own threshold to begin with; left alone, it grows to 32 MB with the blocks that are
freed, and holes of that size stay in the heap."""
ARENAS = 2
"""Heaps for all threads together: Python's threads take turns, and gain little by one each."""


def keep_heap_small() -> None:
    """Have this process give large blocks back as they are freed, and keep few heaps. Without it,
    a process through which megabytes pass grows for hours. To be called early: glibc settles the
    number of heaps with the first few threads. With another C library, nothing is done."""
    try:
        set_option = ctypes.CDLL(None).mallopt
    except (OSError, TypeError, AttributeError):
        return
    set_option(M_MMAP_THRESHOLD, LARGE_BLOCK)
    set_option(M_ARENA_MAX, ARENAS)
