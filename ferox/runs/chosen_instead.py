"""What was chosen instead: which tools took the places of others, beside how alike they look."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from itertools import chain
from typing import Any

from ferox.core.scoring.choices import read_choices
from ferox.core.wording import compare_tools, look_alikes
from ferox.formats.comparison import ConfusionReport, LookAlikesReport
from ferox.formats.trace import OfferedTool
from ferox.store.compared_trials import ComparedTrial

MOST_TRIALS = 5
"""Trials of a pair that are named."""
MOST_ALIKE = 20
"""Look-alikes that are told though nothing took them for each other."""
Tools = Mapping[str, dict[str, Any]]
"""Definitions by address."""


@dataclass
class _SideChoices:
    """One side: how often what was chosen for what, in which trials, and of how many."""

    counts: Counter[tuple[str, str]] = field(default_factory=Counter)
    trials: defaultdict[tuple[str, str], list[int]] = field(
        default_factory=lambda: defaultdict(list)
    )
    expected: Counter[str] = field(default_factory=Counter)
    is_whole: bool = True
    """Whether what was chosen as expected was counted, too."""

    @classmethod
    def count(cls, trials: Iterable[ComparedTrial]) -> _SideChoices:
        side = cls()
        for trial in trials:
            if trial.verdict == "error":
                continue
            if not trial.choices:
                side.is_whole = False
                continue
            for expected, chosen, n in read_choices(trial.choices):
                side.expected[expected] += n
                if chosen != expected:
                    side.counts[expected, chosen] += n
                    if len(side.trials[expected, chosen]) < MOST_TRIALS:
                        side.trials[expected, chosen].append(trial.id)
        return side


def report_confusions(
    a: Iterable[ComparedTrial], b: Iterable[ComparedTrial], tools: Tools
) -> tuple[list[ConfusionReport], list[LookAlikesReport]]:
    """What was chosen instead on both sides, look-alikes next to each other; and the look-alikes of
    `tools` that were never confused."""
    one, other = _SideChoices.count(a), _SideChoices.count(b)
    pairs = one.counts.keys() | other.counts.keys()
    alike = look_alikes([{**tool, "name": address} for address, tool in tools.items()])
    places = {address: place for place, address in enumerate(alike.order)}
    last = len(places)
    found = [
        _confusion(pair, one, other, tools)
        for pair in sorted(pairs, key=lambda p: (places.get(p[0], last), places.get(p[1], last), p))
    ]
    confused = {frozenset(pair) for pair in pairs}
    never = [
        LookAlikesReport(one=pair.one, other=pair.other, likeness=pair.likeness)
        for pair in alike.pairs
        if frozenset((pair.one, pair.other)) not in confused
    ]
    return found, never[:MOST_ALIKE]


def _confusion(
    pair: tuple[str, str], one: _SideChoices, other: _SideChoices, tools: Tools
) -> ConfusionReport:
    expected, chosen = pair
    alike = compare_tools(tools[expected], tools[chosen]) if {*pair} <= tools.keys() else None
    return ConfusionReport(
        expected=expected,
        chosen=chosen,
        a=one.counts[pair],
        b=other.counts[pair],
        n_a=one.expected[expected] if one.is_whole else None,
        n_b=other.expected[expected] if other.is_whole else None,
        trials_a=one.trials[pair],
        trials_b=other.trials[pair],
        likeness=alike.likeness if alike else None,
        words_expected=list(alike.only_one) if alike else [],
        words_chosen=list(alike.only_other) if alike else [],
    )


def tools_of(offers: Iterable[Mapping[str, OfferedTool]]) -> Tools:
    """The tools of several offers as the protocol writes them, each once, as the first had it."""
    found: dict[str, dict[str, Any]] = {}
    for address, tool in chain.from_iterable(offer.items() for offer in offers):
        found.setdefault(
            address,
            {
                # A trace names a tool only where the agent reads another name than the server's.
                "name": tool.get("name") or address.split("/", 1)[1],
                "description": tool.get("description") or "",
                "inputSchema": tool.get("input") or {},
            },
        )
    return found
