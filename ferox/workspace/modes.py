"""The ways to a server: live, one of its variants, recorded, or mocked."""

from __future__ import annotations

from ferox.formats.server import Reach, ServerFile

LIVE, RECORDED, MOCK = "live", "recorded", "mock"


def modes_of(server: ServerFile) -> list[str]:
    """The ways that a server's file offers."""
    live = [LIVE] if server.live else []
    recorded = [RECORDED] if server.recording else []
    return [*live, *server.variants, *recorded, *([MOCK] if server.mock else [])]


def reach_for_mode(server: ServerFile, way: str) -> Reach | None:
    """How a way reaches the live server; None for a recording and a mock."""
    return server.live if way == LIVE else server.variants.get(way)
