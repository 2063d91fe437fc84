"""The scripted user: which words come next, and where a new conversation begins."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise
from typing import Any

from ferox.agents.links.link import ApprovalDecision
from ferox.core.clock import Clock, real_now
from ferox.core.matcher import MatchContext
from ferox.core.matchers import compile_matcher
from ferox.core.script import parts_of
from ferox.core.story import fits_any
from ferox.formats.suite import Approval, Part, ServerAnswer, Task, UserRule
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import Hold
from ferox.intake.patterns import compile_pattern
from ferox.runs.trial_user import UserWords
from ferox.servers.sources.source import QuestionAnswer, ServerQuestion


class ScriptedUser:
    """Says what a task's script says. `hold` is a person who may hold calls all the same."""

    def __init__(self, task: Task, hold: Hold | None = None, clock: Clock | None = None) -> None:
        self.hold = hold
        self._task, self._parts = task, parts_of(task)
        self._used: Counter[int] = Counter()
        self._part = 0
        self._clock = clock or Clock(real_now())

    async def opening_words(self, part: int) -> UserWords | None:
        """The part's first words."""
        self._part = part
        text = self._parts[part].say
        return None if text is None else UserWords(text)

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The words of the first rule that fits the reply.

        Raises:
            GivenUp: whether a rule fits was not decided in time.
        """
        rules = self._parts[part].user
        place = next_rule(rules, self._used, reply)
        return None if place is None else UserWords(rules[place].say, place)

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """Answer by the first entry that fits; what none fits is declined."""
        entries = self._parts[self._part].answers
        for place, entry in enumerate(entries):
            spent = entry.at_most is not None and self._used[id(entry)] >= entry.at_most
            if spent or not fits_any(server, [entry.server]):
                continue
            asks = compile_matcher(entry.if_message)
            if asks.holds_for(question.message, MatchContext(self._clock)):
                self._used[id(entry)] += 1
                return AnsweredQuestion(_given_answer(entry), "script", place, entry.as_)
        return AnsweredQuestion(QuestionAnswer("decline", {}), "script")

    def _decides(self, entry: Approval, tool: str) -> bool:
        spent = entry.at_most is not None and self._used[id(entry)] >= entry.at_most
        return not spent and fits_any(tool, [entry.tool])

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Decide by the task's approvals; a call without an entry is denied."""
        entry = next((a for a in self._task.approvals if self._decides(a, tool)), None)
        if entry is not None:
            self._used[id(entry)] += 1
        if entry is None or entry.decision != "approve":
            return ApprovalDecision(approved=False)
        return ApprovalDecision(approved=True, args={**args, **entry.edit} if entry.edit else None)


def _given_answer(entry: ServerAnswer) -> QuestionAnswer:
    if entry.decline or entry.cancel:
        return QuestionAnswer("decline" if entry.decline else "cancel", {})
    return QuestionAnswer("accept", dict(entry.give or {}))


def group_conversations(parts: list[Part]) -> list[tuple[int, int]]:
    """The parts that share a conversation: the first of each, and the one after its last."""
    begins = [0, *(n for n, part in enumerate(parts) if n and part.fresh)]
    return list(pairwise([*begins, len(parts)]))


def next_rule(rules: list[UserRule], used: Counter[int], reply: str) -> int | None:
    """The place of the first rule that answers a reply, which is then used once more.

    `used` counts by rule, for a task's own rules answer in each of its parts.

    Raises:
        GivenUp: whether a rule fits was not decided in time.
    """
    for place, rule in enumerate(rules):
        spent = rule.at_most is not None and used[id(rule)] >= rule.at_most
        if not spent and compile_pattern(rule.if_reply.matches).is_found_in(reply):
            used[id(rule)] += 1
            return place
    return None
