"""The modes of a server: live, one of its variants, recorded, or mocked."""

from __future__ import annotations

from ferox.formats.server import Reach, ServerFile

LIVE, RECORDED, MOCK = "live", "recorded", "mock"


def modes_of(server: ServerFile) -> list[str]:
    """The modes that a server's file offers."""
    live = [LIVE] if server.live else []
    recorded = [RECORDED] if server.recording else []
    return [*live, *server.variants, *recorded, *([MOCK] if server.mock else [])]


def reach_for_mode(server: ServerFile, mode: str) -> Reach | None:
    """How a mode reaches the live server; None for a recording and a mock."""
    return server.live if mode == LIVE else server.variants.get(mode)
