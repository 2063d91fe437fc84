"""The scripted user: which words come next, and where a new conversation begins."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise

from ferox.formats.suite import Part, UserRule
from ferox.intake.patterns import pattern


def conversations(parts: list[Part]) -> list[tuple[int, int]]:
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
        if not spent and pattern(rule.if_reply.matches).fits(reply):
            used[id(rule)] += 1
            return place
    return None
