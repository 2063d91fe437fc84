"""The interface of calls by hand: tried, watched, cancelled, answered, called back."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask import Response
from flask_openapi3.openapi import OpenAPI
from mcp.shared.exceptions import MCPError
from sqlalchemy import Engine

from ferox.core.masking import Masker
from ferox.servers.by_hand.open_server import Try
from ferox.servers.by_hand.open_servers import Busy, Desk
from ferox.servers.connection.diagnosis import OutOfReach
from ferox.store.by_hand import earlier_tries, keep_try
from ferox.web.responses import NotThere, as_json
from ferox.web.servers import shapes
from ferox.web.servers.routes import chosen_way, server_file
from ferox.web.shapes import Fault
from ferox.workspace.environment import known_secrets

AT_ONCE_S = 0.4
"""Seconds that the first answer waits: most calls are over by then."""
WAIT_S = 10.0
"""Seconds that a further answer waits for something to change."""


def try_shape(number: str, tried: Try) -> shapes.TryShape:
    """A try as the screen shows it."""
    question = tried.question
    return shapes.TryShape(
        id=number,
        tool=tried.tool,
        args=tried.args,
        state=tried.state,
        version=tried.version,
        ms=tried.ms,
        content=tried.content,
        structured=tried.structured,
        error=tried.error,
        remark=tried.remark,
        changes=tried.changes,
        before=tried.before,
        after=tried.after,
        events=tried.events,
        told=tried.told,
        question=shapes.QuestionShape(message=question.message, wants=question.schema)
        if question
        else None,
    )


def _keeper(engine: Engine, server: str, mode: str) -> Callable[[Try], None]:
    """Who keeps a try once it is over."""

    def keep(tried: Try) -> None:
        masker = Masker(known_secrets())
        body = {
            "state": tried.state,
            "content": tried.content,
            "structured": tried.structured,
            "error": tried.error,
            "ms": tried.ms,
        }
        keep_try(engine, server, mode, tried.tool, masker.mask(tried.args), masker.mask(body))

    return keep


def _found(tried: Try | None) -> Try:
    if tried is None:
        raise NotThere("this try is not known any more; call the tool again")
    return tried


def add_tries(app: OpenAPI, root: Path, engine: Engine, desk: Desk) -> None:
    """Routes of calls by hand, resources and prompts."""

    @app.post(
        "/api/servers/<server>/tries",
        responses={200: shapes.TryShape, 409: Fault, 502: Fault},
    )
    def begin_try(path: shapes.ServerPath, body: shapes.CallRequest) -> Any:
        """Call a tool by hand; one that takes long is asked for again."""
        file, workspace = server_file(root, path.server)
        mode = chosen_way(file, body.mode)
        try:
            begun = desk.begin(
                file, mode, workspace.root, body.tool, body.args,
                _keeper(engine, file.server, mode),
            )  # fmt: skip
            number, tried = desk.run(begun)
        except OutOfReach as error:
            return as_json(Fault(message=str(error)), 502)
        except Busy as error:
            return as_json(Fault(message=str(error)), 409)
        desk.run(desk.wait(number, 0, AT_ONCE_S))
        return as_json(try_shape(number, tried))

    @app.get("/api/tries/<number>", responses={200: shapes.TryShape, 404: Fault})
    def watch_try(path: shapes.TryPath, query: shapes.SeenQuery) -> Any:
        """A try once it has changed, or after a while."""
        tried = desk.run(desk.wait(path.number, query.seen, WAIT_S))
        return as_json(try_shape(path.number, _found(tried)))

    @app.post("/api/tries/<number>/cancel", responses={200: shapes.TryShape, 404: Fault})
    def cancel_try(path: shapes.TryPath) -> Any:
        """Cancel a call that goes on; the server is told."""
        return as_json(try_shape(path.number, _found(desk.run(desk.cancel(path.number)))))

    @app.post("/api/tries/<number>/answer", responses={200: shapes.TryShape, 404: Fault})
    def answer_try(path: shapes.TryPath, body: shapes.AnswerRequest) -> Any:
        """Answer the question that the server asks."""
        told = desk.run(desk.answer(path.number, body.action, body.content))
        tried = _found(told)
        desk.run(desk.wait(path.number, tried.version, AT_ONCE_S))
        return as_json(try_shape(path.number, tried))

    @app.get("/api/servers/<server>/tries", responses={200: shapes.EarlierTries})
    def earlier(path: shapes.ServerPath, query: shapes.ToolQuery) -> Any:
        """A tool's earlier tries."""
        rows = earlier_tries(engine, path.server, query.tool)
        told = [
            shapes.EarlierTry(
                id=r.id, mode=r.way, at=r.at, args=json.loads(r.args), answer=json.loads(r.body)
            )
            for r in rows
        ]
        return as_json(shapes.EarlierTries(tries=told))

    @app.post("/api/servers/<server>/read", responses={200: shapes.ContentsShape, 502: Fault})
    def read(path: shapes.ServerPath, body: shapes.ReadRequest) -> Any:
        """Read a resource."""
        file, workspace = server_file(root, path.server)

        async def ask() -> list[dict[str, Any]]:
            hand = await desk.hand(file, chosen_way(file, body.mode), workspace.root)
            return await hand.read(body.uri)

        return _contents(desk, ask())

    @app.post("/api/servers/<server>/prompt", responses={200: shapes.ContentsShape, 502: Fault})
    def prompt(path: shapes.ServerPath, body: shapes.PromptRequest) -> Any:
        """Fill in a prompt."""
        file, workspace = server_file(root, path.server)

        async def ask() -> list[dict[str, Any]]:
            hand = await desk.hand(file, chosen_way(file, body.mode), workspace.root)
            return await hand.prompt(body.name, body.args)

        return _contents(desk, ask())


def _contents(desk: Desk, work: Any) -> Response:
    try:
        return as_json(shapes.ContentsShape(items=desk.run(work)))
    except MCPError as error:
        return as_json(Fault(message=f"the server refuses: {error}"), 422)
    except OutOfReach as error:
        return as_json(Fault(message=str(error)), 502)
