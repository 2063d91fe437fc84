"""Waiting for what will happen. No test depends on how fast a machine is: what is waited for
comes when it comes, and only a hang ends the wait."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")

HANG_S = float(os.environ.get("FEROX_TEST_HANG_S", "180"))
"""Seconds after which nothing more is hoped for, on the slowest of machines."""


def until(happened: Callable[[], T]) -> T:
    """What `happened` gives once it is true."""
    begun = time.monotonic()
    while not (there := happened()):
        waited = time.monotonic() - begun
        if waited >= HANG_S:
            raise AssertionError(f"waited {HANG_S:g} s in vain")
        # To look takes processor time from what is waited for: the longer that takes, the seldomer.
        time.sleep(min(max(0.05, waited / 10), 0.25))
    return there
