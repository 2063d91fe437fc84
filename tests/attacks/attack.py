"""What attacks share."""

from __future__ import annotations

import os
import unittest
from collections.abc import Callable
from typing import Any

LONG = "FEROX_LONG_ATTACKS"


def long_attack(test: Callable[..., Any]) -> Callable[..., Any]:
    """An attack that takes long: only `script/attack` makes it."""
    return unittest.skipUnless(os.environ.get(LONG), "script/attack makes it")(test)
