"""The base of tests that run in an event loop."""

from __future__ import annotations

import asyncio
import unittest


class AsyncCase(unittest.IsolatedAsyncioTestCase):
    """A test in a loop without debug mode, which unittest switches on: it keeps the stack of
    every step that is scheduled, and then takes longer than all that is tested."""

    async def asyncSetUp(self) -> None:
        asyncio.get_running_loop().set_debug(False)
