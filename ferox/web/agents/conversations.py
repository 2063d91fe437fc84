"""The interface of conversations by hand: begun, watched, answered, ended."""

from __future__ import annotations

from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask_openapi3.openapi import OpenAPI
from sqlalchemy import Engine

from ferox.gateway.holding import HoldRule, Let
from ferox.runs.conversation_by_hand import APPROVAL, HELD, QUESTION, WORDS, Talk
from ferox.runs.records import RunError
from ferox.runs.trial_by_hand import SUITE, talk_snapshot
from ferox.servers.by_hand.open_servers import Desk
from ferox.servers.sources.source import Asked
from ferox.web.agents import shapes
from ferox.web.agents.routes import WAIT_S, overrides_from
from ferox.web.responses import NotThere, as_json
from ferox.web.shapes import Fault, HoldChange, HoldShape, LetRequest
from ferox.workspace import load_workspace

MOST_OPEN = 8


def _shape(number: str, talk: Talk) -> shapes.TalkShape:
    waits = talk.waits
    rule = talk.rule
    return shapes.TalkShape(
        id=number,
        agent=talk.agent,
        trial=talk.trial,
        version=talk.version,
        over=talk.over,
        waits=shapes.WaitShape(
            kind=waits.kind, tool=waits.tool, args=waits.args, message=waits.message,
            wants=waits.schema,
        )
        if waits
        else None,
        hold=HoldShape(when=rule.when, tool=rule.tool) if rule else None,
        servers=dict(talk.snapshot.suites[SUITE].servers),
        events=[dict(event) for event in talk.events],
    )  # fmt: skip


def add_talks(app: OpenAPI, root: Path, engine: Engine, desk: Desk) -> None:
    """Routes of conversations by hand."""
    talks: dict[str, Talk] = {}

    async def end_all() -> None:
        for talk in talks.values():
            if not talk.over:
                await talk.end()

    desk.at_close(end_all)

    def told(number: str) -> Any:
        async def look() -> shapes.TalkShape:
            return _shape(number, talks[number])

        return as_json(desk.run(look()))

    def found(number: str) -> Talk:
        if number not in talks:
            raise NotThere("this conversation is not known any more; begin another")
        return talks[number]

    def give(number: str, kind: str, value: Any) -> Any:
        """Give a conversation what it waits for, if it waits for that."""
        talk = found(number)

        async def answer() -> bool:
            if talk.waits is None or talk.waits.kind != kind:
                return False
            seen = talk.version
            talk.answer(value)
            await talk.changes(seen, 0.5)
            return True

        if not desk.run(answer()):
            raise RunError("the conversation does not wait for that now")
        return told(number)

    @app.get("/api/talks", responses={200: shapes.TalkList})
    def open_talks() -> Any:
        """The conversations that go on."""

        async def look() -> list[shapes.TalkShape]:
            return [_shape(n, t) for n, t in talks.items() if not t.over]

        return as_json(shapes.TalkList(talks=desk.run(look())))

    @app.post("/api/agents/<agent>/talks", responses={201: shapes.TalkShape, 409: Fault})
    def begin_talk(path: shapes.AgentPath, body: shapes.TalkRequest) -> Any:
        """Begin a conversation with an agent."""
        if sum(not t.over for t in talks.values()) >= MOST_OPEN:
            raise RunError(f"{MOST_OPEN} conversations go on already; end one first")
        snapshot = talk_snapshot(load_workspace(root), path.agent, overrides_from(body.overrides))
        rule = HoldRule(body.hold.when, body.hold.tool) if body.hold else None

        async def begin() -> Talk:
            talk = Talk(snapshot, path.agent, root.absolute(), engine, rule)
            talk.begin()
            await talk.changes(0, 0.5)
            return talk

        number = token_urlsafe(6)
        talks[number] = desk.run(begin())
        return as_json(desk.run(_later(number, talks[number])), 201)

    @app.get("/api/talks/<number>", responses={200: shapes.TalkShape, 404: Fault})
    def watch_talk(path: shapes.NumberPath, query: shapes.VersionQuery) -> Any:
        """A conversation once something has changed."""
        desk.run(found(path.number).changes(query.seen, WAIT_S))
        return told(path.number)

    @app.post("/api/talks/<number>/say", responses={200: shapes.TalkShape, 409: Fault})
    def say(path: shapes.NumberPath, body: shapes.SayRequest) -> Any:
        """Say something to the agent."""
        return give(path.number, WORDS, body.text)

    @app.post("/api/talks/<number>/decide", responses={200: shapes.TalkShape, 409: Fault})
    def decide(path: shapes.NumberPath, body: shapes.DecideRequest) -> Any:
        """Decide an approval."""
        return give(path.number, APPROVAL, (body.approved, body.args if body.approved else None))

    @app.post("/api/talks/<number>/answer", responses={200: shapes.TalkShape, 409: Fault})
    def answer(path: shapes.NumberPath, body: shapes.QuestionAnswer) -> Any:
        """Answer a server's question."""
        content = body.content if body.action == "accept" else {}
        return give(path.number, QUESTION, Asked(body.action, content))

    @app.post("/api/talks/<number>/let", responses={200: shapes.TalkShape, 409: Fault})
    def let_go(path: shapes.NumberPath, body: LetRequest) -> Any:
        """Let a held call go."""
        return give(path.number, HELD, Let(body.do, body.value))

    @app.post("/api/talks/<number>/hold", responses={200: shapes.TalkShape, 404: Fault})
    def hold_from_now(path: shapes.NumberPath, body: HoldChange) -> Any:
        """Say which calls are held from now on."""
        talk = found(path.number)
        talk.rule = HoldRule(body.hold.when, body.hold.tool) if body.hold else None
        return told(path.number)

    @app.post("/api/talks/<number>/end", responses={200: shapes.TalkShape, 404: Fault})
    def end_talk(path: shapes.NumberPath) -> Any:
        """End a conversation; it is kept as a trial."""
        desk.run(found(path.number).end())
        return told(path.number)


async def _later(number: str, talk: Talk) -> shapes.TalkShape:
    return _shape(number, talk)
