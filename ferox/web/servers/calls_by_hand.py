"""Calls by hand: made, watched, cancelled, answered, and called back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ferox.core.masking import Masker
from ferox.servers.by_hand.open_server import CallByHand
from ferox.store.by_hand import earlier_calls as stored_calls
from ferox.store.by_hand import keep_call
from ferox.store.database import Engine
from ferox.web.routing import Routes
from ferox.web.servers import shapes
from ferox.web.servers.routes import chosen_mode, server_file
from ferox.web.site import site
from ferox.workspace.environment import known_secrets

AT_ONCE_S = 0.4
"""Seconds that an answer waits for the call to be over: most are by then."""
CANCELLING_S = 2.0

routes = Routes("calls_by_hand")


def call_shape(number: str, call: CallByHand) -> shapes.CallByHandShape:
    """A call as the screen shows it."""
    question = call.question
    return shapes.CallByHandShape(
        id=number,
        tool=call.tool,
        args=call.args,
        state=call.state,
        version=call.version,
        ms=call.ms,
        content=call.content,
        structured=call.structured,
        error=call.error,
        remark=call.remark,
        changes=call.changes,
        before=call.before,
        after=call.after,
        events=call.events,
        log=call.log,
        question=shapes.QuestionShape(
            message=question.asked.message, wants=question.asked.schema, url=question.asked.url
        )
        if question
        else None,
    )


def _keep_when_over(engine: Engine, server: str, mode: str) -> Callable[[CallByHand], None]:
    """Who keeps a call once it is over."""

    def keep(call: CallByHand) -> None:
        masker = Masker(known_secrets())
        body = {
            "state": call.state,
            "content": call.content,
            "structured": call.structured,
            "error": call.error,
            "ms": call.ms,
        }
        keep_call(
            engine,
            server,
            mode,
            tool=call.tool,
            args=masker.mask(call.args),
            answer=masker.mask(body),
        )

    return keep


async def _shape_soon(number: str) -> shapes.CallByHandShape:
    """A call once it is over, or has changed, or after a moment."""
    call = site.calls.find(number)
    await call.wait_for_change(call.version, AT_ONCE_S)
    return call_shape(number, call)


@routes.post("/api/servers/<server>/calls")
def call_tool(path: shapes.ServerPath, body: shapes.CallRequest) -> shapes.CallByHandShape:
    """Call a tool by hand; a call that takes long is watched."""
    file, workspace = server_file(site.root, path.server)
    mode = chosen_mode(file, body.mode)
    ended = _keep_when_over(site.engine, file.server, mode)
    begun = site.servers.begin_call(
        file, mode, workspace.root, tool=body.tool, args=body.args, ended=ended
    )
    number = site.calls.add(site.loop.run(begun))
    return site.loop.run(_shape_soon(number))


@routes.get("/api/calls/<number>")
def call_now(path: shapes.CallByHandPath) -> shapes.CallByHandShape:
    """A call as it is now."""
    return call_shape(path.number, site.calls.find(path.number))


@routes.post("/api/calls/<number>/cancel")
def cancel_call(path: shapes.CallByHandPath) -> shapes.CallByHandShape:
    """Cancel a call that goes on; the server is told."""
    call = site.calls.find(path.number)

    async def cancel() -> shapes.CallByHandShape:
        call.cancel()
        await call.wait_for_change(call.version, CANCELLING_S)
        return call_shape(path.number, call)

    return site.loop.run(cancel())


@routes.post("/api/calls/<number>/answer")
def answer_question(
    path: shapes.CallByHandPath, body: shapes.AnswerRequest
) -> shapes.CallByHandShape:
    """Answer the question that the server asks."""
    call = site.calls.find(path.number)

    async def answer() -> shapes.CallByHandShape:
        call.answer_question(body.action, body.content)
        return await _shape_soon(path.number)

    return site.loop.run(answer())


@routes.get("/api/servers/<server>/calls")
def earlier_calls(path: shapes.ServerPath, query: shapes.ToolQuery) -> shapes.EarlierCalls:
    """A tool's earlier calls by hand."""
    rows = stored_calls(site.engine, path.server, query.tool)
    calls = [
        shapes.EarlierCall(id=r.id, mode=r.mode, at=r.at, args=r.args, answer=r.body) for r in rows
    ]
    return shapes.EarlierCalls(calls=calls)


@routes.post("/api/servers/<server>/read")
def read_resource(path: shapes.ServerPath, body: shapes.ReadRequest) -> shapes.ContentsShape:
    """Read a resource."""
    file, workspace = server_file(site.root, path.server)

    async def read() -> list[dict[str, Any]]:
        server = await site.servers.open(file, chosen_mode(file, body.mode), workspace.root)
        return await server.read_resource(body.uri)

    return shapes.ContentsShape(items=site.loop.run(read()))


@routes.post("/api/servers/<server>/prompt")
def fill_in_prompt(path: shapes.ServerPath, body: shapes.PromptRequest) -> shapes.ContentsShape:
    """Fill in a prompt."""
    file, workspace = server_file(site.root, path.server)

    async def fill_in() -> list[dict[str, Any]]:
        server = await site.servers.open(file, chosen_mode(file, body.mode), workspace.root)
        return await server.fill_prompt(body.name, body.args)

    return shapes.ContentsShape(items=site.loop.run(fill_in()))
