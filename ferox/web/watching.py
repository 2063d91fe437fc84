"""What goes on, as server-sent events: one way for every screen to follow it.

Served beside Flask in the event loop: a screen that only listens holds no thread. Each stream
sends `change` events with all that a screen shows, and at last `over`.
"""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel
from sse_starlette import ServerSentEvent

from ferox.servers.by_hand.watched import Watched
from ferox.web.agents.conversations import conversation_shape
from ferox.web.responses import NotThere
from ferox.web.runs.progress import RunProgress
from ferox.web.servers.calls_by_hand import call_shape
from ferox.web.site import Numbered, Site
from ferox.web.trials.progress import TrialProgress

EVERY_S = 0.1
"""Seconds between two events of one stream, however fast things change."""
WAIT_S = 30.0
NOTHING_SEEN = -1


@dataclass(frozen=True)
class _Kind:
    """Things of one kind that can be watched, and how a screen sees one."""

    things: Numbered[Any]
    shape: Callable[[str, Any], BaseModel]


class Watching:
    """Everything of a site that can be watched."""

    def __init__(self, site: Site) -> None:
        self._loop = site.loop
        self._stored: dict[str, RunProgress | TrialProgress] = {
            "runs": RunProgress(site.engine, site.root),
            "trials": TrialProgress(site.engine, site.root),
        }

        def shape(number: str, thing: Any) -> BaseModel:
            shown: BaseModel = thing.shape(number)
            return shown

        self._kinds = {
            "calls": _Kind(site.calls, call_shape),
            "conversations": _Kind(site.conversations, conversation_shape),
            "drifts": _Kind(site.drifts, shape),
            "probes": _Kind(site.probes, shape),
            "looks": _Kind(site.looks, shape),
            "relays": _Kind(site.relays, shape),
            "exports": _Kind(site.exports, shape),
            "bringings": _Kind(site.bringings, shape),
            "shrinks": _Kind(site.shrinks, shape),
        }

    async def find_events(self, kind: str, number: str) -> AsyncIterator[ServerSentEvent]:
        """The events of a run or a trial, or of something that was begun by hand.

        Raises:
            NotThere: there is no such thing.
        """
        if kind in self._stored:
            stored = self._stored[kind]
            if not number.isdecimal() or not await asyncio.to_thread(stored.is_there, int(number)):
                raise NotThere(f"there is no {kind.removesuffix('s')} {number}")
            return stored.follow(int(number))
        found = self._kinds[kind]
        return self._follow_watched(number, found.things.find(number), found.shape)

    async def _follow_watched(
        self, number: str, watched: Watched, shape: Callable[[str, Any], BaseModel]
    ) -> AsyncIterator[ServerSentEvent]:
        seen = NOTHING_SEEN

        async def next_change() -> tuple[int, bool, str]:
            await watched.wait_for_change(seen, WAIT_S)
            return watched.version, watched.over, shape(number, watched).model_dump_json()

        while True:
            # Things live in the site's own loop, and are looked at there only.
            version, over, text = await asyncio.wrap_future(self._loop.submit(next_change()))
            if version != seen or over:
                yield ServerSentEvent(text, event="change")
            if over:
                yield ServerSentEvent("null", event="over")
                return
            seen = version
            await asyncio.sleep(EVERY_S)
