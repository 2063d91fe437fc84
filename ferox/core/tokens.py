"""Tokens, estimated: every model counts differently, and a stand-in not at all."""

CHARACTERS_PER_TOKEN = 4


def estimate_tokens(characters: int) -> int:
    """About how many tokens a text of that length is."""
    return characters // CHARACTERS_PER_TOKEN
