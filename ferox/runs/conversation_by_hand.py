"""A conversation by hand as it goes on: what was said, and what it waits for."""

from __future__ import annotations

import asyncio
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal

from ferox.agents.links.link import ApprovalDecision
from ferox.core.masking import Masker
from ferox.formats.trace import Event
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import Hold, HoldDecision, HoldRule
from ferox.runs.kept_requests import requests_to
from ferox.runs.linking import open_link
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_by_hand import begin_by_hand, end_by_hand, job_by_hand
from ferox.runs.trial_seams import SeamTaps
from ferox.runs.trial_user import UserWords
from ferox.servers.by_hand.watched import Watched
from ferox.servers.sources.source import Definition, QuestionAnswer, ServerQuestion
from ferox.store.database import Engine
from ferox.store.writer import Writer

WORDS, APPROVAL, QUESTION, HELD = "words", "approval", "question", "held"
END_S = 15.0
"""Seconds that a conversation may take to end once it is told to."""


@dataclass
class PendingInput:
    """What the conversation waits for: words, or a decision about something."""

    kind: Literal["words", "approval", "question", "held"]
    answer: asyncio.Future[Any]
    tool: str | None = None
    args: dict[str, Any] | None = None
    message: str | None = None
    schema: dict[str, Any] | None = None
    url: str | None = None


@dataclass(eq=False)
class ConversationByHand(Watched):
    """A conversation by hand with one agent, and its user. Everything happens in one loop."""

    snapshot: Snapshot
    agent: str
    root: Path
    engine: Engine
    rule: HoldRule | None = None
    events: list[Event] = field(default_factory=list)
    without: dict[str, str] = field(default_factory=dict)
    """Servers that it goes on without, and why."""
    waits: PendingInput | None = None
    trial: int = 0

    def __post_init__(self) -> None:
        super().__init__()
        self._stop = asyncio.Event()
        self._lock = RunLock(self.root)
        self._task: asyncio.Task[None] | None = None

    def begin(self) -> int:
        """Begin; the number of its trial."""
        self.trial = begin_by_hand(self.engine, self.snapshot, self.agent, self._lock)
        self._task = asyncio.create_task(self._carry_out())
        return self.trial

    async def end(self) -> None:
        """End it at once, whatever goes on, and keep what was said."""
        if self.waits is not None and self.waits.kind == WORDS:
            self.give_input(None)
        else:
            self._stop.set()
        if self._task is not None:
            with suppress(TimeoutError):
                await asyncio.wait_for(asyncio.shield(self._task), END_S)

    def give_input(self, value: Any) -> None:
        """Give what it waits for."""
        if self.waits is not None and not self.waits.answer.done():
            self.waits.answer.set_result(value)

    async def _carry_out(self) -> None:
        masker = Masker(self.snapshot.secret_values(), names=False)
        try:
            async with (
                open_link(self.snapshot, self.agent, self.root) as (gateway, link),
                Writer(self.engine) as writer,
            ):

                def heard(n: int, event: Event) -> None:
                    writer.keep_event(self.trial, n, event)
                    self.events[n:] = [event, *self.events[n + 1 :]]
                    self.note_change()

                def went_without(server: str, reason: str) -> None:
                    self.without[server] = reason
                    self.note_change()

                surroundings = TrialSurroundings(
                    gateway=gateway,
                    link=link,
                    folder=self.root,
                    listener=heard,
                    stop=self._stop,
                    go_without_any=True,
                    leaves_servers_alone=True,
                    note_missing_server=went_without,
                    taps=SeamTaps(
                        wire=lambda *messages: writer.keep_wire(self.trial, *messages),
                        requests=requests_to(writer, self.trial, masker),
                    ),
                )
                job = job_by_hand(self.snapshot, self.agent)
                trace = await TrialRun(job, surroundings, user=self).carry_out()
                await writer.flush()
                end_by_hand(self.engine, self.snapshot, self.trial, trace)
        finally:
            self._lock.release()
            self.waits = None
            self.note_change(over=True)

    async def _wait_for_person(self, kind: Any, **about: Any) -> Any:
        wait = PendingInput(kind, asyncio.get_running_loop().create_future(), **about)
        before, self.waits = self.waits, wait
        self.note_change()
        try:
            return await wait.answer
        finally:
            self.waits = before if before and not before.answer.done() else None
            self.note_change()

    # What the trial asks of its user.

    @property
    def hold(self) -> Hold:
        """The person may hold any call."""
        return self

    async def opening_words(self, part: int) -> UserWords | None:
        """The first words of the person."""
        text: str | None = await self._wait_for_person(WORDS)
        return None if text is None else UserWords(text)

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The next words of the person."""
        return await self.opening_words(part)

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Have the person decide an approval."""
        approved, edited = await self._wait_for_person(APPROVAL, tool=tool, args=args)
        return ApprovalDecision(approved, edited)

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Whether a call is to be held now."""
        return self.rule is not None and self.rule.wants_call(address, tool, first)

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Wait until the person lets a held call go."""
        decided: HoldDecision = await self._wait_for_person(HELD, tool=address, args=args)
        return decided

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """Put a server's question to the person."""
        answer: QuestionAnswer = await self._wait_for_person(
            QUESTION, message=question.message, schema=question.schema, url=question.url
        )
        return AnsweredQuestion(answer, "person")
