"""The interface of beginnings: a workspace made in an empty folder."""

from __future__ import annotations

from ferox.making.connecting import CONNECTIONS, find_connection
from ferox.making.new_workspace import cannot_begin, make_workspace
from ferox.web.beginning import shapes
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.site import site

routes = Routes("beginning")


@routes.get("/api/beginning")
def beginning_kinds() -> shapes.BeginningKinds:
    """With what a workspace may begin."""
    return shapes.BeginningKinds(
        folder=str(site.root),
        kinds=[
            shapes.BeginningKind(name=c.name, title=c.title, needs=c.needs) for c in CONNECTIONS
        ],
        refused=cannot_begin(site.root),
    )


@routes.post("/api/beginning", status=201)
def begin_workspace(body: shapes.BeginningRequest) -> shapes.BegunWorkspace:
    """Make a workspace in the folder that is served, if there is none yet."""
    connection = find_connection(body.kind)
    if connection is None:
        raise RequestRefused(422, f"`{body.kind}`: no such kind of agent")
    made = make_workspace(site.root, connection, body.server.strip() or None)
    return shapes.BegunWorkspace(
        files=made.files, notes=made.notes, agent=made.agent, needs=connection.needs
    )
