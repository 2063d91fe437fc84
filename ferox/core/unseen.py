"""What a trace from elsewhere does not tell, in words."""

from __future__ import annotations

from collections.abc import Iterable

from ferox.formats.trace import Unseen

WORDS: dict[Unseen, str] = {
    "calls": "which tools were called",
    "proposals": "what its model proposed",
    "offers": "which tools it was offered",
    "arguments": "the arguments of calls",
    "results": "the results of calls",
    "outcomes": "whether calls failed",
    "times": "when calls began and ended",
    "turns": "how long turns took",
    "words": "the user's words",
    "reply": "the reply",
    "data": "the reply's data",
    "instructions": "the instructions",
    "approvals": "approvals",
    "rules": "which go-ahead the user gave",
    "truth": "the truth that Ferox would have looked up",
    "usage": "the tokens of some requests",
}


def unseen_text(kinds: Iterable[str]) -> str:
    """What is not told, in the order of `WORDS`."""
    wanted = set(kinds)
    return ", ".join(words for kind, words in WORDS.items() if kind in wanted)
