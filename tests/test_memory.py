"""What a process keeps of the memory that it has done with."""

from __future__ import annotations

import platform
import subprocess
import sys
import unittest

from tests.waiting import HANG_S

BLOCKS, SIZE = 100, 1 << 20
GROWN = f"""
import psutil
from ferox.processes.memory import keep_heap_small

{{first}}
bytearray(20 * {SIZE})  # freed at once: glibc takes blocks below this for small ones from now on
blocks, pins = [], []
for _ in range({BLOCKS}):
    blocks.append(bytearray({SIZE}))
    pins.append(bytearray(2_000))
full = psutil.Process().memory_info().rss
del blocks
print((full - psutil.Process().memory_info().rss) // {SIZE})
"""
"""Prints how many MB went back of the blocks between which others stay."""


def given_back(first: str = "") -> int:
    command = [sys.executable, "-c", GROWN.format(first=first)]
    return int(subprocess.check_output(command, timeout=HANG_S))


@unittest.skipUnless(platform.libc_ver()[0] == "glibc", "only glibc can be set so")
class Heap(unittest.TestCase):
    def test_large_blocks_are_given_back_while_small_ones_stay(self) -> None:
        self.assertGreater(given_back("keep_heap_small()"), BLOCKS * 0.9)

    def test_left_alone_it_keeps_them(self) -> None:
        self.assertLess(given_back(), BLOCKS * 0.1)
