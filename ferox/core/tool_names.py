"""Names at the model seam → addresses: frameworks clean, prefix and shorten names."""

from __future__ import annotations

import re
from collections.abc import Mapping


def plain_name(name: str) -> str:
    """A name with every sign that some framework would change made an underscore."""
    return re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")


class ToolNames:
    """Which address a name at the model seam stands for."""

    def __init__(self, shown: Mapping[str, str]) -> None:
        """`shown`: address → the tool's name as the agent is told it."""
        self._exact: dict[str, str] = {}
        self._loose: dict[str, str] = {}
        for address, tool in shown.items():
            server = address.split("/", 1)[0]
            self._exact.setdefault(tool, address)
            for written in (tool, f"{server}_{tool}", f"mcp_{server}_{tool}"):
                self._loose.setdefault(plain_name(written), address)

    def find_address(self, name: str) -> str | None:
        """The address, or None if the name fits no tool."""
        return self._exact.get(name) or self._loose.get(plain_name(name))
