"""What attacks share."""

from __future__ import annotations

import os
import unittest

LONG = "FEROX_LONG_ATTACKS"
long_attack = unittest.skipUnless(os.environ.get(LONG), "takes long; script/attack runs it")
"""An attack that only `script/attack` makes."""
