"""Which actual call answers which expected call: an optimal assignment.

The weight of a pair is 1 + fit. The sum of weights is maximal; among equals, in
this order: fewest calls that ended in an error; most required expected calls;
most `from` checks that hold; then expected calls in list order each take, among
the calls that an optimal matching still allows, the earliest that starts after
the one matched before it, else the earliest.

Only calls of the same tool can match, so the problem falls into one assignment
for each tool. The first three criteria are linear and become one whole number
for each pair; the fourth looks at pairs of pairs, so the optimal matchings are
walked in the order of the fifth, and the first with the most `from` checks wins.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import lcm

from ferox.core.script import Copy
from ferox.core.story import Call

MOST_MATCHINGS = 2_000
"""How many optimal matchings are weighed by their `from` checks. Past it, the best of
those seen stands: they come in the order of preference, so a cut loses little."""

Matching = dict[Copy, Call]
Fit = Callable[[Copy, Call], tuple[int, int]]
"""How many of a pair's own arguments hold, and how many there are (1, 1 if none)."""
CountFrom = Callable[[Matching], int]


@dataclass
class _Group:
    """The copies and calls of one tool, with the whole-number value of each pair."""

    copies: list[Copy]
    calls: list[Call]
    value: dict[Copy, dict[Call, int]]
    best: int = 0

    def best_sum(self, copies: list[Copy], calls: list[Call]) -> int:
        """The greatest sum of values; every pair has a positive one."""
        if not copies or not calls:
            return 0
        table = [[self.value[c][k] for k in calls] for c in copies]
        if len(copies) > len(calls):
            table = [list(column) for column in zip(*table, strict=True)]
        undisputed = _undisputed_sum(table)
        if undisputed is not None:
            return undisputed
        # These take half a second to import, and most commands and trials do without them.
        import numpy as np
        from scipy.optimize import linear_sum_assignment

        values = np.array(table, dtype=float)
        rows, columns = linear_sum_assignment(values, maximize=True)
        return int(values[rows, columns].sum())


def _undisputed_sum(table: list[list[int]]) -> int | None:
    """The greatest sum of an assignment whose rows can each have a greatest value of their own,
    taken in order; None if two want the same. No assignment gives more."""
    taken: set[int] = set()
    for row in table:
        most = max(row)
        place = next((i for i, value in enumerate(row) if value == most and i not in taken), None)
        if place is None:
            return None
        taken.add(place)
    return sum(map(max, table))


def _group_by_tool(copies: list[Copy], calls: list[Call], fit: Fit) -> dict[str, _Group]:
    groups: dict[str, _Group] = {}
    for copy in copies:
        groups.setdefault(copy.tool, _Group([], [], {})).copies.append(copy)
    for call in calls:
        if call.tool in groups:
            groups[call.tool].calls.append(call)
    for group in groups.values():
        lone = len(group.copies) == len(group.calls) == 1  # matches, however well it fits
        fits = {x: {y: (1, 1) if lone else fit(x, y) for y in group.calls} for x in group.copies}
        # The criteria are the digits of one number: the weight, then failed calls, then whether
        # the copy is required. `base` is more than any sum of a lesser digit, so that no lesser
        # criterion ever outweighs a greater.
        scale = lcm(*(total for row in fits.values() for _, total in row.values()), 1)
        base = len(group.copies) + 1
        for x, row in fits.items():
            group.value[x] = {
                y: (scale + held * scale // total) * base * base - y.failed * base + x.is_required
                for y, (held, total) in row.items()
            }
        group.best = group.best_sum(group.copies, group.calls)
    return groups


def _by_preference(calls: list[Call], previous: Call | None) -> list[Call]:
    if previous is None:
        return calls
    later = [c for c in calls if c.index > previous.index]
    return later + [c for c in calls if c.index < previous.index]


def _optimal_matchings(
    copies: list[Copy], groups: dict[str, _Group], branching: set[str]
) -> Iterator[Matching]:
    """Optimal matchings in the order of preference; only `branching` tools are varied."""

    def step(
        place: int, left: dict[str, list[Call]], need: dict[str, int], previous: Call | None
    ) -> Iterator[Matching]:
        if place == len(copies):
            yield {}
            return
        copy = copies[place]
        tool = copy.expected.tool
        group, calls = groups[tool], left[tool]
        others = [c for c in copies[place + 1 :] if c.expected.tool == tool]
        for call in [*_by_preference(calls, previous), None]:
            rest = [c for c in calls if c is not call]
            gained = group.value[copy][call] if call else 0
            # No optimal matching chooses so: the rest cannot make up for what it gives away.
            if gained + group.best_sum(others, rest) != need[tool]:
                continue
            after = step(
                place + 1,
                {**left, tool: rest},
                {**need, tool: need[tool] - gained},
                call or previous,
            )
            for tail in after:
                yield {copy: call, **tail} if call else tail
            # No `from` check looks at this tool: the first, which is preferred, will do.
            if tool not in branching:
                return

    left = {tool: g.calls for tool, g in groups.items()}
    need = {tool: g.best for tool, g in groups.items()}
    return step(0, left, need, None)


def match_calls(copies: list[Copy], calls: list[Call], fit: Fit, count_from: CountFrom) -> Matching:
    """The optimal matching of expected copies (in list order) with calls (by start).

    `fit` judges a pair by its own arguments; `count_from` gives the number of `from`
    checks that hold under a matching.
    """
    groups = _group_by_tool(copies, calls, fit)
    linked = _linked_tools(copies)
    branching = {t for t in linked if t in groups and _is_ambiguous(groups[t])}
    best: Matching = {}
    most = -1
    possible = sum(len(c.expected.from_args) for c in copies)
    for number, matching in enumerate(_optimal_matchings(copies, groups, branching)):
        if not branching:
            return matching
        holding = count_from(matching)
        if holding > most:
            best, most = matching, holding
        if most == possible or number >= MOST_MATCHINGS:
            break
    return best


def _linked_tools(copies: list[Copy]) -> set[str]:
    """Tools whose calls are a source of, or subject to, a `from` check."""
    by_name = {c.expected.name: c.expected.tool for c in copies}
    tools = set()
    for copy in copies:
        for matcher in copy.expected.from_args.values():
            tools.add(copy.expected.tool)
            tools |= {by_name[s.name] for s in matcher.sources if s.name in by_name}
    return tools


def _is_ambiguous(group: _Group) -> bool:
    return len(group.calls) > 1 or len(group.copies) > 1
