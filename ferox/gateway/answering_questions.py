"""Who answers what servers ask the user in the middle of a call."""

from __future__ import annotations

from typing import Literal, NamedTuple, Protocol

from ferox.servers.sources.source import QuestionAnswer, ServerQuestion


class AnsweredQuestion(NamedTuple):
    """How a server's question was answered, and by whom.

    Of the script `rule` is the place of the entry that answered, and `name` its name; None where
    no entry did.
    """

    answer: QuestionAnswer
    by: Literal["client", "person", "script"]
    rule: int | None = None
    name: str | None = None


class QuestionTaker(Protocol):
    """A user, a script or a person, who answers what an agent's client cannot take."""

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """The answer to a server's question."""
