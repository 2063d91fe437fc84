"""Text that is not ours, made harmless to show: what steers a terminal or turns text around
is written out."""

from __future__ import annotations

import unicodedata

_LAYOUT = frozenset("\n\t")
_STEERING = frozenset({"Cc", "Cs", "Zl", "Zp"})
_TURNING = frozenset("\u061c\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")
"""Marks that change the direction of the text around them (Unicode, UAX 9)."""


def visible_text(text: str) -> str:
    """A text whose control characters and marks of direction are shown instead of obeyed.

    Line ends and tabs stay; escape becomes `␛`, a mark of direction `⟨U+202E⟩`.
    """
    if text.isascii() and text.isprintable():
        return text
    return "".join(_shown_character(sign) for sign in text)


def _shown_character(sign: str) -> str:
    if sign in _LAYOUT:
        return sign
    if sign < " ":
        return chr(0x2400 + ord(sign))
    if sign == "\x7f":
        return "␡"
    if sign in _TURNING or unicodedata.category(sign) in _STEERING:
        return f"⟨U+{ord(sign):04X}⟩"
    return sign


def visible_json(text: str) -> str:
    """A JSON text of the same value, in which such characters are escaped."""
    return "".join(s if _shown_character(s) == s else _escaped_character(s) for s in text)


def _escaped_character(sign: str) -> str:
    return "".join(f"\\u{unit:04x}" for unit in _utf16(sign))


def _utf16(sign: str) -> list[int]:
    pairs = sign.encode("utf-16-be", "surrogatepass")
    return [int.from_bytes(pairs[i : i + 2], "big") for i in range(0, len(pairs), 2)]
