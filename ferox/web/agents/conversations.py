"""Conversations by hand: begun, watched, answered, ended."""

from __future__ import annotations

from typing import Any

from ferox.gateway.holding import HoldDecision, HoldRule
from ferox.runs.conversation_by_hand import APPROVAL, HELD, QUESTION, WORDS, ConversationByHand
from ferox.runs.overrides import Overrides
from ferox.runs.records import RunError
from ferox.runs.trial_by_hand import SUITE, prepare_by_hand
from ferox.servers.sources.source import QuestionAnswer
from ferox.web.agents import shapes
from ferox.web.routing import Routes
from ferox.web.shapes import HoldChange, HoldDecisionRequest, HoldShape
from ferox.web.site import site

MOST_OPEN = 8
AT_ONCE_S = 0.5
"""Seconds that an answer waits for the conversation to go on."""

routes = Routes("conversations")


def conversation_shape(number: str, conversation: ConversationByHand) -> shapes.ConversationShape:
    """A conversation as the screen shows it."""
    waits = conversation.waits
    rule = conversation.rule
    return shapes.ConversationShape(
        id=number,
        agent=conversation.agent,
        trial=conversation.trial,
        version=conversation.version,
        over=conversation.over,
        waits=shapes.PendingInputShape(
            kind=waits.kind, tool=waits.tool, args=waits.args, message=waits.message,
            wants=waits.schema, url=waits.url,
        )
        if waits
        else None,
        hold=HoldShape(when=rule.when, tool=rule.tool) if rule else None,
        servers=dict(conversation.snapshot.suites[SUITE].servers),
        clock=_clock_shape(conversation),
        without=conversation.without,
        events=[dict(event) for event in conversation.events],
    )  # fmt: skip


def _clock_shape(conversation: ConversationByHand) -> shapes.ClockShape:
    suite = conversation.snapshot.suites[SUITE]
    clock = conversation.snapshot.clock_of(suite)
    return shapes.ClockShape(now=clock.now, zone=clock.zone, suite=None)


def _hold_rule(hold: HoldShape | None) -> HoldRule | None:
    return HoldRule(hold.when, hold.tool) if hold else None


async def _shape_of(number: str) -> shapes.ConversationShape:
    return conversation_shape(number, site.conversations.find(number))


def _give_input(number: str, kind: str, value: Any) -> shapes.ConversationShape:
    """Give a conversation what it waits for, if it waits for that."""
    conversation = site.conversations.find(number)

    async def give() -> shapes.ConversationShape:
        if conversation.waits is None or conversation.waits.kind != kind:
            raise RunError("the conversation does not wait for that now")
        seen = conversation.version
        conversation.give_input(value)
        await conversation.wait_for_change(seen, AT_ONCE_S)
        return conversation_shape(number, conversation)

    return site.loop.run(give())


@routes.get("/api/conversations")
def open_conversations() -> shapes.ConversationList:
    """The conversations that go on."""

    async def list_open() -> list[shapes.ConversationShape]:
        found = site.conversations.items()
        return [conversation_shape(n, c) for n, c in found if not c.over]

    return shapes.ConversationList(conversations=site.loop.run(list_open()))


@routes.post("/api/agents/<agent>/conversations", status=201)
def start_conversation(
    path: shapes.AgentPath, body: shapes.ConversationRequest
) -> shapes.ConversationShape:
    """Begin a conversation with an agent."""
    if sum(not c.over for _, c in site.conversations.items()) >= MOST_OPEN:
        raise RunError(f"{MOST_OPEN} conversations are open already; end one first")
    overrides = Overrides.model_validate(body.overrides.model_dump())
    prepared = prepare_by_hand(site.root, path.agent, overrides, body.offer)

    async def start() -> shapes.ConversationShape:
        conversation = ConversationByHand(
            prepared.snapshot,
            path.agent,
            site.root.absolute(),
            engine=site.engine,
            rule=_hold_rule(body.hold),
            without=prepared.without,
        )
        conversation.begin()
        await conversation.wait_for_change(0, AT_ONCE_S)
        return conversation_shape(site.conversations.add(conversation), conversation)

    return site.loop.run(start())


@routes.get("/api/conversations/<number>")
def conversation_now(path: shapes.NumberPath) -> shapes.ConversationShape:
    """A conversation as it is now."""
    return site.loop.run(_shape_of(path.number))


@routes.post("/api/conversations/<number>/say")
def say_words(path: shapes.NumberPath, body: shapes.SayRequest) -> shapes.ConversationShape:
    """Say something to the agent."""
    return _give_input(path.number, WORDS, body.text)


@routes.post("/api/conversations/<number>/decide")
def decide_approval(
    path: shapes.NumberPath, body: shapes.DecideRequest
) -> shapes.ConversationShape:
    """Decide an approval."""
    args = body.args if body.approved else None
    return _give_input(path.number, APPROVAL, (body.approved, args))


@routes.post("/api/conversations/<number>/answer")
def answer_question(
    path: shapes.NumberPath, body: shapes.QuestionAnswerRequest
) -> shapes.ConversationShape:
    """Answer a server's question."""
    content = body.content if body.action == "accept" else {}
    return _give_input(path.number, QUESTION, QuestionAnswer(body.action, content))


@routes.post("/api/conversations/<number>/hold-decision")
def decide_held_call(
    path: shapes.NumberPath, body: HoldDecisionRequest
) -> shapes.ConversationShape:
    """Let a held call go."""
    return _give_input(path.number, HELD, HoldDecision(body.do, body.value))


@routes.post("/api/conversations/<number>/hold")
def change_hold(path: shapes.NumberPath, body: HoldChange) -> shapes.ConversationShape:
    """Say which calls are held from now on."""
    site.conversations.find(path.number).rule = _hold_rule(body.hold)
    return site.loop.run(_shape_of(path.number))


@routes.post("/api/conversations/<number>/end")
def end_conversation(path: shapes.NumberPath) -> shapes.ConversationShape:
    """End a conversation; it is kept as a trial."""
    site.loop.run(site.conversations.find(path.number).end())
    return site.loop.run(_shape_of(path.number))
