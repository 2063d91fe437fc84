"""The user of a trial: who speaks to the agent, decides its approvals, and may hold its calls."""

from __future__ import annotations

from typing import Any, NamedTuple, Protocol

from ferox.agents.links.link import ApprovalDecision
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import Hold
from ferox.servers.sources.source import ServerQuestion


class UserWords(NamedTuple):
    """What the user says, and the place of the rule that gave the words, if one did."""

    text: str
    rule: int | None = None


class TrialUser(Protocol):
    """One user, a script or a person. While it is asked, the trial's time stands still."""

    @property
    def hold(self) -> Hold | None:
        """Who may hold the trial's calls."""

    async def opening_words(self, part: int) -> UserWords | None:
        """The words that open a part; None: nothing is said in it."""

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The words after a reply; None ends the part.

        Raises:
            GivenUp: whether a rule fits was not decided in time.
        """

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """The answer to what a server asks in the middle of a call."""

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Whether a call may go out, and with which arguments."""
