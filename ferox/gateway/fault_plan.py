"""Which fault strikes which call: by number, by seeded share, or always."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from ferox.core.chance import draw
from ferox.core.story import fits_any
from ferox.formats.fault import TOOL_FAULTS, Fault


@dataclass(frozen=True)
class AppliedFault:
    """A fault that takes effect, and its place among the task's."""

    place: int
    fault: Fault


@dataclass
class FaultPlan:
    """A trial's faults. One strikes a call at the most: the first in the script that would."""

    faults: list[Fault]
    seed: int
    _seen: Counter[int] = field(default_factory=Counter)

    def next_fault(self, server: str, tool: str) -> AppliedFault | None:
        """The fault that strikes this call. Every fault that fits it counts it."""
        chosen: AppliedFault | None = None
        for place, fault in enumerate(self.faults):
            fits = fits_any(server, [fault.server]) and fits_any(tool, [fault.tool])
            if fault.do not in TOOL_FAULTS or not fits:
                continue
            self._seen[place] += 1
            if chosen is None and self._fault_strikes(place, fault):
                chosen = AppliedFault(place, fault)
        return chosen

    def next_request(self) -> AppliedFault | None:
        """The fault that strikes this request to the model. Every fault of a model counts it."""
        chosen: AppliedFault | None = None
        for place, fault in enumerate(self.faults):
            if fault.do in TOOL_FAULTS:
                continue
            self._seen[place] += 1
            if chosen is None and self._fault_strikes(place, fault):
                chosen = AppliedFault(place, fault)
        return chosen

    def _fault_strikes(self, place: int, fault: Fault) -> bool:
        count = self._seen[place]
        if fault.rate is not None:
            return draw(self.seed, "fault", fault.seed, place, count) < fault.rate
        return fault.call == count if fault.call is not None else True

    def hides_tool(self, server: str, tool: str) -> bool:
        """Whether a tool is missing from the list from the start."""
        return any(
            f.do == "missing_tool"
            and f.all
            and fits_any(server, [f.server])
            and fits_any(tool, [f.tool])
            for f in self.faults
        )
