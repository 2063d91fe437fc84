"""What every handler works with: the workspace, its results, and what outlives a request."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from secrets import token_urlsafe
from typing import TYPE_CHECKING, Generic, TypeVar, cast

from flask import current_app
from werkzeug.local import LocalProxy

from ferox.runs.judging import JudgePool
from ferox.servers.by_hand.open_servers import OpenServers
from ferox.store.database import Engine
from ferox.web.background_loop import BackgroundLoop
from ferox.web.responses import NotThere

if TYPE_CHECKING:
    from ferox.runs.conversation_by_hand import ConversationByHand
    from ferox.servers.by_hand.open_server import CallByHand
    from ferox.web.agents.probing import RunningProbe
    from ferox.web.models.looking import RunningLook
    from ferox.web.servers.drift_jobs import DriftJob
    from ferox.web.servers.open_relays import OpenRelay
    from ferox.web.sharing.bringings import RunningBringing
    from ferox.web.sharing.exports import RunningExport
    from ferox.web.shrinking.routes import RunningShrink

Thing = TypeVar("Thing")


class Numbered(Generic[Thing]):
    """Things that a screen asks for again by a number; the oldest are forgotten."""

    def __init__(self, *, most: int, missing: str) -> None:
        self._most, self._missing = most, missing
        self._things: dict[str, Thing] = {}

    def add(self, thing: Thing) -> str:
        """Keep a thing; its number."""
        number = token_urlsafe(8)
        self._things[number] = thing
        while len(self._things) > self._most:
            self._things.pop(next(iter(self._things)))
        return number

    def find(self, number: str) -> Thing:
        """A thing by its number.

        Raises:
            NotThere: it was forgotten, or never was.
        """
        if number not in self._things:
            raise NotThere(self._missing)
        return self._things[number]

    def remove(self, number: str) -> None:
        """Forget a thing."""
        self._things.pop(number, None)

    def items(self) -> Iterator[tuple[str, Thing]]:
        """Every thing with its number, the oldest first."""
        return iter(list(self._things.items()))


def _empty_calls() -> Numbered[CallByHand]:
    return Numbered(most=200, missing="this call is no longer known; call the tool again")


def _empty_conversations() -> Numbered[ConversationByHand]:
    return Numbered(most=200, missing="this conversation is no longer known; start another")


def _empty_probes() -> Numbered[RunningProbe]:
    return Numbered(most=20, missing="this probe is no longer known; probe the agent again")


def _empty_looks() -> Numbered[RunningLook]:
    return Numbered(most=20, missing="this look is no longer known; look at the model again")


def _empty_drifts() -> Numbered[DriftJob]:
    return Numbered(most=20, missing="this comparison is no longer known; start it again")


def _empty_relays() -> Numbered[OpenRelay]:
    return Numbered(most=200, missing="this relay is no longer there")


def _empty_exports() -> Numbered[RunningExport]:
    return Numbered(most=20, missing="this export is no longer known; start it again")


def _empty_bringings() -> Numbered[RunningBringing]:
    return Numbered(most=20, missing="this file is no longer known; drop it again")


def _empty_shrinks() -> Numbered[RunningShrink]:
    return Numbered(most=20, missing="this is no longer known; shrink the trial again")


@dataclass
class Site:
    """One workspace as it is served.

    `loop` runs whatever outlives a request, and everything numbered here belongs to it.
    `pasted_secrets` are credentials from pasted configurations that are not written yet.
    """

    root: Path
    engine: Engine
    loop: BackgroundLoop = field(default_factory=BackgroundLoop)
    servers: OpenServers = field(default_factory=OpenServers)
    calls: Numbered[CallByHand] = field(default_factory=_empty_calls)
    conversations: Numbered[ConversationByHand] = field(default_factory=_empty_conversations)
    probes: Numbered[RunningProbe] = field(default_factory=_empty_probes)
    looks: Numbered[RunningLook] = field(default_factory=_empty_looks)
    drifts: Numbered[DriftJob] = field(default_factory=_empty_drifts)
    relays: Numbered[OpenRelay] = field(default_factory=_empty_relays)
    exports: Numbered[RunningExport] = field(default_factory=_empty_exports)
    bringings: Numbered[RunningBringing] = field(default_factory=_empty_bringings)
    shrinks: Numbered[RunningShrink] = field(default_factory=_empty_shrinks)
    pasted_secrets: dict[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.judges = JudgePool(self.root)
        self.loop.at_close(self._end_conversations)
        self.loop.at_close(self._end_shrinks)
        self.loop.at_close(self.servers.close)
        self.loop.at_close(self._end_judges)

    async def _end_judges(self) -> None:
        self.judges.close()

    async def _end_shrinks(self) -> None:
        for _, running in self.shrinks.items():
            await running.end()

    async def _end_conversations(self) -> None:
        for _, conversation in self.conversations.items():
            if not conversation.over:
                await conversation.end()


site = cast(Site, LocalProxy(lambda: current_app.extensions["ferox"]))
"""The site of the application that answers the current request."""
