"""The garbage collector, at rest while much is made that is kept."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def collector_at_rest() -> Iterator[None]:
    """Nearly all that is made in this context is kept, so that looking for garbage meanwhile finds
    none: of a file with hundreds of tasks, or a board of thousands of cells, that takes as long as
    all the rest."""
    was_at_work = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_at_work:
            gc.enable()
