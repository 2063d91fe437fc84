"""Two ways to one server beside each other: what each offers, and where they differ."""

from __future__ import annotations

from typing import Any

from ferox.core.listing import list_changes
from ferox.recordings.recording import RecordingError
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.servers import shapes
from ferox.web.servers.routes import chosen_mode, server_file
from ferox.web.site import site

routes = Routes("beside")

UNREACHED = 502


@routes.post("/api/servers/<server>/beside")
def set_beside(path: shapes.ServerPath, body: shapes.BesideRequest) -> shapes.BesideShape:
    """Reach a server both ways, and compare their lists of tools."""
    one = _read_offer(path.server, body.mode)
    other = _read_offer(path.server, body.other)
    changes = list_changes(one["tools"], other["tools"])
    differing = {change.tool for change in changes}
    return shapes.BesideShape(
        same=[tool["name"] for tool in one["tools"] if tool["name"] not in differing],
        only_one=[c.tool for c in changes if c.kind == "gone"],
        only_other=[c.tool for c in changes if c.kind == "new"],
        differing=[
            shapes.ListChangeShape.model_validate(c) for c in changes if c.kind == "changed"
        ],
        protocols=(one["protocol"], other["protocol"]),
        instructions=(one["instructions"], other["instructions"]),
    )


def _read_offer(server: str, mode: str) -> dict[str, Any]:
    """What a server offers one way.

    Raises:
        RequestRefused: it cannot be reached that way.
    """
    file, workspace = server_file(site.root, server)
    way = chosen_mode(file, mode)

    async def look() -> dict[str, Any]:
        return await (await site.servers.open(file, way, workspace.root)).read_offer()

    try:
        return site.loop.run(look())
    except ServerUnreachable as error:
        message = f"{server} cannot be reached ({way}): {error.problem}. Next: {error.advice}."
        raise RequestRefused(UNREACHED, message) from None
    except RecordingError as error:
        raise RequestRefused(UNREACHED, f"the recording cannot be read: {error}") from None
