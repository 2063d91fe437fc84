"""The user of a stored trial, who says the same words once more."""

from __future__ import annotations

from ferox.agents.links.link import ApprovalDecision
from ferox.formats.trace import Trace
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.runs.trial_user import UserWords
from ferox.servers.sources.source import QuestionAnswer, ServerQuestion


class StoredUser:
    """Says what was said, whatever the agent replies, and decides approvals as they were."""

    hold = None

    def __init__(self, trace: Trace) -> None:
        self._turns = [e for e in trace["events"] if e["kind"] == "turn"]
        self._asks = [e for e in trace["events"] if e["kind"] == "ask"]

    async def opening_words(self, part: int) -> UserWords | None:
        """The part's first words; None if it was not reached."""
        return self._next(part)

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The part's next words."""
        return self._next(part)

    def _next(self, part: int) -> UserWords | None:
        if not self._turns or (self._turns[0].get("part") or 0) != part:
            return None
        turn = self._turns.pop(0)
        return UserWords(turn.get("text") or "", turn.get("rule"))

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """No server asks: its answers are stored."""
        return AnsweredQuestion(QuestionAnswer("decline", {}), "script")

    async def approve_call(self, tool: str, args: dict[str, object]) -> ApprovalDecision:
        """As the next stored approval of the tool was decided; denied if there is none."""
        ask = next((ask for ask in self._asks if ask["tool"] == tool), None)
        if ask is None:
            return ApprovalDecision(approved=False)
        self._asks.remove(ask)
        edited = ask.get("edited")
        return ApprovalDecision(
            approved=ask.get("decision") == "approve",
            args=edited if isinstance(edited, dict) else None,
        )
