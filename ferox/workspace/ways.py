"""The ways to a server: live, one of its variants, recorded, or mocked."""

from __future__ import annotations

from ferox.formats.server import ServerFile

LIVE, RECORDED, MOCK = "live", "recorded", "mock"


def ways(server: ServerFile) -> list[str]:
    """The ways that a server's file offers."""
    live = [LIVE] if server.live else []
    recorded = [RECORDED] if server.recording else []
    return [*live, *server.variants, *recorded, *([MOCK] if server.mock else [])]
