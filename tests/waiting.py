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


def until(happened: Callable[[], T], every_s: float = 0.05) -> T:
    """What `happened` gives once it is true."""
    end = time.monotonic() + HANG_S
    while not (there := happened()):
        if time.monotonic() >= end:
            raise AssertionError(f"waited {HANG_S:g} s in vain")
        time.sleep(every_s)
    return there
