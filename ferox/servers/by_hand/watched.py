"""What goes on and is watched: whoever watches waits for the next change."""

from __future__ import annotations

import asyncio


class Watched:
    """Something that changes until it is over. All of it happens in one event loop.

    `version` counts the changes, so that a watcher who has seen one does not miss the next.
    """

    def __init__(self) -> None:
        self.version = 0
        self.over = False
        self._changed = asyncio.Event()

    def note_change(self, *, over: bool = False) -> None:
        """Wake everybody who waits for a change."""
        self.over = self.over or over
        self.version += 1
        self._changed.set()
        self._changed = asyncio.Event()

    async def wait_for_change(self, seen: int, most_s: float) -> None:
        """Wait until there is a change since version `seen`, it is over, or the time is up."""
        end = asyncio.get_running_loop().time() + most_s
        while self.version == seen and not self.over:
            left = end - asyncio.get_running_loop().time()
            if left <= 0:
                return
            try:
                await asyncio.wait_for(self._changed.wait(), left)
            except TimeoutError:
                return
