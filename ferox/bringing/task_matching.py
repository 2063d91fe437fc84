"""Which task a trace is of: as it says itself, as it is given, or by the user's first words."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable
from typing import Any, NamedTuple

from ferox.core.likeness import word_bag
from ferox.core.script import parts_of
from ferox.core.writings import split_words
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import Trace

LIKE_ENOUGH = 0.6
"""The least likeness of words that are taken for a task's."""
AHEAD = 0.15
"""By how much the likest task has to be ahead of the next."""


class TaskMatch(NamedTuple):
    """A task that a trace is of, and how sure that is, up to 1."""

    suite: Suite
    task: Task
    sure: float
    by: str
    """`name`: as it says or is given; `words`: by the user's first words."""


class NoTask(ValueError):
    """A trace that fits no task; the message says why."""


def find_task(
    suites: Iterable[Suite], *, suite: str | None, task: str | None, words: str | None
) -> TaskMatch:
    """The task of a trace: by its name, `TASK` or `SUITE/TASK`, else by the user's words.

    Raises:
        NoTask: there is none of the name, or none whose words are like these.
    """
    every = [(one, t) for one in suites for t in one.tasks]
    if task:
        of_name = suite or (task.partition("/")[0] if "/" in task else None)
        name = task.rpartition("/")[2]
        for one, found in every:
            if found.task == name and of_name in (None, one.suite):
                return TaskMatch(one, found, 1.0, "name")
        raise NoTask(f"there is no task `{f'{of_name}/' if of_name else ''}{name}`")
    if not words:
        raise NoTask("it tells neither its task nor the user's words: give --task")
    return _likest_task(every, words)


def _likest_task(every: list[tuple[Suite, Task]], words: str) -> TaskMatch:
    wanted, bag = split_words(words), word_bag(words)
    ranked = []
    for suite, task in every:
        opening = parts_of(task)[0].say
        if split_words(opening) == wanted:
            return TaskMatch(suite, task, 1.0, "words")
        ranked.append((_words_likeness(bag, word_bag(opening)), suite, task))
    ranked.sort(key=lambda one: -one[0])
    quoted = words if len(words) <= 60 else f"{words[:59]}…"
    if not ranked or ranked[0][0] < LIKE_ENOUGH:
        raise NoTask(f"no task begins with words like “{quoted}”: give --task")
    if len(ranked) > 1 and ranked[0][0] - ranked[1][0] < AHEAD:
        both = " and ".join(f"{suite.suite}/{task.task}" for _, suite, task in ranked[:2])
        raise NoTask(f"“{quoted}” is as like {both}: give --task")
    sure, suite, task = ranked[0]
    return TaskMatch(suite, task, round(sure, 2), "words")


def _words_likeness(one: Counter[str], other: Counter[str]) -> float:
    """The cosine of two bags of words."""
    product = sum(count * other[word] for word, count in one.items())
    lengths = math.sqrt(sum(n * n for n in one.values()) * sum(n * n for n in other.values()))
    return product / lengths if lengths else 0.0


def place_turns(trace: Trace, task: Task) -> None:
    """Say of each turn which part it is of, and which rule of the scripted user gave its words:
    as far as these are the script's."""
    parts, part, placed = parts_of(task), 0, True
    turns: list[Any] = [event for event in trace["events"] if event["kind"] == "turn"]
    for turn in turns[1:]:
        said = split_words(turn.get("text") or "")
        turn["part"], turn["rule"] = part, None
        if part + 1 < len(parts) and said == split_words(parts[part + 1].say):
            part += 1
            turn["part"] = part
            continue
        rules = [split_words(rule.say) for rule in parts[part].user]
        if said in rules:
            turn["rule"] = rules.index(said)
        else:
            placed = False
    unseen = trace.get("not_seen")
    if unseen and placed and "words" not in unseen and "rules" in unseen:
        unseen.remove("rules")
