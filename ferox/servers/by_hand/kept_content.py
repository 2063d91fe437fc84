"""Content blocks as they are kept: bounded, and saying what was left out."""

from __future__ import annotations

from typing import Any

LONGEST_TEXT = 200_000
"""Characters of a text that are kept."""
LONGEST_DATA = 800_000
"""Characters of base64 data that are kept."""


def bounded_block(block: dict[str, Any]) -> dict[str, Any]:
    """A content block, what is too long of it replaced by a word on its length."""
    inner = block.get("resource")
    if isinstance(inner, dict):
        return {**block, "resource": bounded_block(inner)}
    text = block.get("text")
    if isinstance(text, str) and len(text) > LONGEST_TEXT:
        note = f"\n… {len(text) - LONGEST_TEXT} more characters are not kept"
        return {**block, "text": text[:LONGEST_TEXT] + note}
    for key in ("data", "blob"):
        data = block.get(key)
        if isinstance(data, str) and len(data) > LONGEST_DATA:
            kept = {k: v for k, v in block.items() if k != key}
            return {**kept, "type": "text", "text": f"({len(data)} characters of data, not kept)"}
    return block


def beyond_text(content: list[dict[str, Any]]) -> list[dict[str, Any]] | None:
    """All blocks of a result that holds more than text (images, sounds, resources), bounded;
    None if it holds none."""
    if all(block.get("type") == "text" for block in content):
        return None
    return [bounded_block(block) for block in content]
