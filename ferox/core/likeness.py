"""Lexical likeness: how near some words are to a tool's name and description.

Each text becomes a bag of stemmed words, weighed by how rare a word is among the
tools on offer (inverse document frequency); likeness is the cosine of two bags. So
a tool's wording, and the tools beside it, decide what a stand-in takes it for.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import Any

from ferox.core.definitions import properties_of
from ferox.core.writings import split_words

_STOP = frozenset(
    "a an and are as at be by can for from in into is it its of on or one that the this to with "  # noqa: SIM905
    "all any get if not only their them then what when which will you your".split()
)
NAME_WEIGHT = 2.0
ARGUMENT_WEIGHT = 0.5


@lru_cache(maxsize=20_000)
def stem_word(word: str) -> str:
    """A word without its commonest English endings."""
    for ending in ("ings", "ing", "ies", "ed", "es", "s"):
        if word.endswith(ending) and len(word) - len(ending) >= 3:
            return word[: -len(ending)] + ("y" if ending == "ies" else "")
    return word


def word_bag(text: str) -> Counter[str]:
    """Stemmed words of a text with their counts; `tide_window` is two words."""
    return Counter(stem_word(w) for w in split_words(text.replace("_", " ")) if w not in _STOP)


class ToolWords:
    """The tools on offer, as bags of words.

    `tools` maps a tool's name to its description and input schema.
    """

    def __init__(self, tools: Mapping[str, tuple[str, Any]]) -> None:
        self._bags = {name: tool_bag(name, *texts) for name, texts in tools.items()}
        spread = Counter(word for b in self._bags.values() for word in b)
        total = len(self._bags)
        self._rarity = {w: math.log(1 + total / n) for w, n in spread.items()}
        self._norms = {name: self._norm(b) for name, b in self._bags.items()}

    def _norm(self, weights: Mapping[str, float]) -> float:
        return math.sqrt(sum((n * self._rarity.get(w, 1.0)) ** 2 for w, n in weights.items()))

    def ranked_tools(self, intent: str) -> list[tuple[float, str]]:
        """Likeness (0 to 1) and name of every tool, the nearest first, ties by name."""
        wanted = word_bag(intent)
        norm = self._norm(wanted)
        scored = []
        for name, weights in self._bags.items():
            shared = sum(
                n * weights[w] * self._rarity[w] ** 2 for w, n in wanted.items() if w in weights
            )
            scale = norm * self._norms[name]
            scored.append((shared / scale if scale else 0.0, name))
        return sorted(scored, key=lambda pair: (-pair[0], pair[1]))


def tool_bag(name: str, description: str, schema: Any) -> dict[str, float]:
    """A tool's words with their weights: its name's count double, its arguments' half."""
    weights: dict[str, float] = {}
    properties = properties_of(schema)
    parts: Iterable[tuple[str, float]] = (
        (name, NAME_WEIGHT),
        (description, 1.0),
        (" ".join(properties), ARGUMENT_WEIGHT),
    )
    for text, weight in parts:
        for word, count in word_bag(text).items():
            weights[word] = weights.get(word, 0.0) + weight * count
    return weights


def cosine_likeness(a: Mapping[str, float], b: Mapping[str, float]) -> float:
    """Cosine of two weighted bags of words; 0 if one is empty."""
    shared = sum(n * b[w] for w, n in a.items() if w in b)
    scale = math.sqrt(sum(n * n for n in a.values()) * sum(n * n for n in b.values()))
    return shared / scale if scale else 0.0


def text_likeness(a: str, b: str) -> float:
    """Cosine of two texts' bags of words, every word weighing the same."""
    return cosine_likeness(word_bag(a), word_bag(b))
