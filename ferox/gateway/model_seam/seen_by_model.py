"""What a trial's models were told: voices, and tools as they differ from those offered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ferox.core.json_values import canonical_json
from ferox.core.tool_names import ToolNames
from ferox.formats.agent import OWN
from ferox.formats.trace import OfferedTool
from ferox.gateway.model_seam.model_interface import Tools
from ferox.gateway.model_seam.voices import Voices


@dataclass
class SeenByModel:
    """What one trial's models were told, by all of its model seams together."""

    names: ToolNames
    offered: Mapping[str, OfferedTool]

    def __post_init__(self) -> None:
        self.voices = Voices()
        self.declared: frozenset[str] = frozenset()
        """Names of the agent's own tools, by its file."""
        self.own: dict[str, OfferedTool] = {}
        """Address → a tool of the agent's own as the model saw it."""
        self.shown_as: dict[str, str] = {}
        """Address → the name under which the model saw the tool."""
        self._last: dict[str, OfferedTool] = {}
        self.tools: dict[str, OfferedTool] = {}
        """Address → the tool as the model saw it, where that differs from the tool offered."""
        self._known: set[str] = set()

    def find_address(self, name: str) -> str:
        """A name that was offered: a server's tool, or one of the agent's own."""
        if name in self.declared:
            return f"{OWN}/{name}"
        return self.names.find_address(name) or f"{OWN}/{name}"

    def became_own(self, address: str, own: str) -> None:
        """What the model saw under a served tool's name was a tool of the agent's own."""
        if address in self._last:
            self.own[own] = self._last[address]
        self.tools.pop(address, None)

    def note_tools(self, tools: Tools) -> None:
        """Note how the tools of a request differ from those that Ferox offered."""
        for name, (description, schema) in tools.items():
            address = self.find_address(name)
            there = self.offered.get(address)
            self.shown_as[address] = name
            self._last[address] = {"input": schema, "description": description}
            if there is None:
                self.own[address] = self._last[address]
            if there is None or address in self._known:
                continue
            self._known.add(address)
            differs: OfferedTool = {}
            if name != (there.get("name") or address.split("/", 1)[1]):
                differs["name"] = name
            if (description or "").strip() != (there.get("description") or "").strip():
                differs["description"] = description
            if canonical_json(schema) != canonical_json(there.get("input") or {}):
                differs["input"] = schema
            if differs:
                self.tools[address] = differs
