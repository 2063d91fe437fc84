"""Values too long for a screen, cut for it: the whole stays in the store, and is sent in pieces."""

from __future__ import annotations

from typing import Any

from ferox.servers.by_hand.kept_content import LONGEST_DATA

LONGEST_TEXT = 20_000
"""Characters of a text that a cut value keeps."""
MOST_ITEMS = 200
"""Entries of a list or an object that a cut value keeps."""
DEEPEST = 60
"""Levels that a screen is sent; deeper ones are a word."""
PIECE = 200_000
"""Characters of the whole that are sent at a time."""
ROOM = 2_000_000
"""Characters that all events of a trial take together."""
LEAST, MOST = 2_000, 200_000
"""Characters of one event that are sent at least, and at most."""


def room_for_each(count: int) -> int:
    """Characters that each of so many values may take."""
    return max(LEAST, min(MOST, ROOM // max(count, 1)))


def shorten_value(value: Any, room: int) -> tuple[Any, bool]:
    """A JSON value that takes about `room` characters, and whether anything was left out."""
    left = _Allowance(room)
    kept = left.cut_value(value, 0)
    return kept, left.short


class _Allowance:
    """What is left of the room while a value is walked through."""

    def __init__(self, room: int) -> None:
        self._left = room
        self.short = False

    def cut_value(self, value: Any, depth: int) -> Any:
        """The value, as much of it as there is room for."""
        if isinstance(value, str):
            return self._cut_text(value)
        # About what a value's signs and indentation take on the screen.
        self._left -= 8
        if not isinstance(value, dict | list) or not value:
            return value
        if _is_media(value):
            return value
        if depth >= DEEPEST:
            self.short = True
            return "… nested more deeply"
        if isinstance(value, list):
            items = []
            for item in value[:MOST_ITEMS]:
                if self._left <= 0:
                    break
                items.append(self.cut_value(item, depth + 1))
            self.short |= len(items) < len(value)
            return items
        kept = {}
        for key, item in list(value.items())[:MOST_ITEMS]:
            if self._left <= 0:
                break
            self._left -= len(key)
            kept[key] = self.cut_value(item, depth + 1)
        self.short |= len(kept) < len(value)
        return kept

    def _cut_text(self, text: str) -> str:
        most = max(0, min(LONGEST_TEXT, self._left))
        self._left -= min(len(text), most)
        if len(text) <= most:
            return text
        self.short = True
        return f"{text[:most]}… ({len(text):,} characters in all)"


def _is_media(value: Any) -> bool:
    """Whether it is an image or a sound, of which a part is of no use; stored ones are bounded."""
    data = value.get("data") or value.get("blob") if isinstance(value, dict) else None
    return isinstance(data, str) and "mimeType" in value and len(data) <= LONGEST_DATA
