"""Credentials masked at capture: by the names of fields, and by values known to be secret."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import Any

from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError

MASK = "•••"
SHORTEST = 6
"""Characters of the shortest known secret that is looked for; shorter ones are ordinary words."""
_NAMES = re.compile(
    r"\A(?:.*_)?(?:password|passwd|passphrase|secret|api_?key|access_key|private_key|credentials?"
    r"|authorization|bearer|cookie|(?:access|auth|refresh|id|session|bearer|api)_token|token)"
)
_NOT_SECRET = {"progress_token", "page_token", "next_page_token", "continuation_token"}
"""Names that end like a credential's and are the protocol's or a list's own."""


def says_secret(name: str) -> bool:
    """Whether a field's name says that it holds a credential."""
    snake = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", "_", name).replace("-", "_").lower()
    return snake not in _NOT_SECRET and _NAMES.fullmatch(snake) is not None


class Masker:
    """Masks JSON values. `known` are secret values wherever they stand.

    With `names`, fields whose names say that they hold a credential are masked too.
    """

    def __init__(self, known: Iterable[str] = (), names: bool = True) -> None:
        self._names = names
        values = sorted({v for v in known if len(v) >= SHORTEST}, key=len, reverse=True)
        self._known = re.compile("|".join(map(re.escape, values))) if values else None

    def mask(self, value: Any) -> Any:
        """The same value without its credentials; what holds none is the same object's equal."""
        if not self._names and self._known is None:  # then it can find none
            return value
        if isinstance(value, dict):
            return {
                self._mask_plain_text(key): MASK
                if isinstance(item, str | int | float)
                and not isinstance(item, bool)
                and item != ""
                and self._names
                and says_secret(key)
                else self.mask(item)
                for key, item in value.items()
            }
        if isinstance(value, list):
            return [self.mask(item) for item in value]
        return self._mask_words(value) if isinstance(value, str) else value

    def _mask_words(self, text: str) -> str:
        """A text; one that is itself JSON, as tool results often are, is masked inside."""
        if text[:1] in "{[" and text[-1:] in "}]":
            try:
                inner = read_json(text)
            except IntakeError:
                return self._mask_plain_text(text)
            masked = self.mask(inner)
            if masked != inner:
                return json.dumps(masked, ensure_ascii=False)
        return self._mask_plain_text(text)

    def _mask_plain_text(self, text: str) -> str:
        return self._known.sub(MASK, text) if self._known else text
