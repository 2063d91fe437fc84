"""Text that is not ours, made harmless to show: what steers a terminal or turns text around
is written out."""

from __future__ import annotations

import re

_HIDDEN = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f"  # control characters but for line ends and tabs
    "\u2028\u2029\ud800-\udfff"  # other ends of lines and paragraphs, and half characters
    "\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]"  # marks of direction (Unicode, UAX 9)
)
"""What steers a terminal or turns the text around it."""


def visible_text(text: str) -> str:
    """A text whose control characters and marks of direction are shown instead of obeyed.

    Line ends and tabs stay; escape becomes `␛`, a mark of direction `⟨U+202E⟩`.
    """
    return _HIDDEN.sub(lambda found: _shown_character(found[0]), text)


def _shown_character(sign: str) -> str:
    if sign < " ":
        return chr(0x2400 + ord(sign))
    return "␡" if sign == "\x7f" else f"⟨U+{ord(sign):04X}⟩"


def visible_json(text: str) -> str:
    """A JSON text of the same value, in which such characters are escaped."""
    return _HIDDEN.sub(lambda found: _escaped_character(found[0]), text)


def _escaped_character(sign: str) -> str:
    return "".join(f"\\u{unit:04x}" for unit in _utf16(sign))


def _utf16(sign: str) -> list[int]:
    pairs = sign.encode("utf-16-be", "surrogatepass")
    return [int.from_bytes(pairs[i : i + 2], "big") for i in range(0, len(pairs), 2)]
