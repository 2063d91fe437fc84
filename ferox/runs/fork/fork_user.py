"""The user of a fork: the script, held to what it said in the past."""

from __future__ import annotations

from typing import Any

from ferox.agents.links.link import ApprovalDecision
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import Hold
from ferox.runs.fork.behind_fork import BehindFork
from ferox.runs.trial_user import TrialUser, UserWords
from ferox.servers.sources.source import ServerQuestion


class ForkUser:
    """Says what the script says, so that it is where it was when the point is reached. Words of
    the past that are others now part the fork."""

    def __init__(self, script: TrialUser, fork: BehindFork) -> None:
        self._script, self._fork = script, fork
        self._said = [e.get("text") or "" for e in fork.played_events if e["kind"] == "turn"]
        self._turn = 0

    @property
    def hold(self) -> Hold | None:
        """Who may hold calls."""
        return self._script.hold

    async def opening_words(self, part: int) -> UserWords | None:
        """The part's first words."""
        return self._as_then(await self._script.opening_words(part))

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The part's next words.

        Raises:
            GivenUp: whether a rule fits was not decided in time.
        """
        return self._as_then(await self._script.answer_reply(part, reply))

    def _as_then(self, words: UserWords | None) -> UserWords | None:
        if words is None or self._fork.is_live:
            return words
        self._turn += 1
        if self._turn <= len(self._said):
            if words.text != self._said[self._turn - 1]:
                self._fork.part(f"turn {self._turn}", "the user says something else")
            return words
        if self._fork.origin.kind != "turn":
            return words
        then = self._fork.point.get("text") or ""
        if words.text != then:
            self._fork.part(self._fork.origin.at, "the user says something else")
        self._fork.go_live(self._fork.now())
        said = self._fork.origin.change.say
        return words if said is None else UserWords(said)

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """As the script says."""
        return await self._script.answer_question(server, question)

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """As the script says."""
        return await self._script.approve_call(tool, args)
