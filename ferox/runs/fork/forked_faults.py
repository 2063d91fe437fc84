"""The faults of a fork: those of its past, then those of its own chance."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from ferox.formats.fault import Fault
from ferox.gateway.fault_plan import AppliedFault, FaultPlan
from ferox.runs.replay.played_back import IN_ITS_PLACE, IN_THE_ANSWER, is_alike

if TYPE_CHECKING:
    from ferox.runs.fork.behind_fork import BehindFork


ANSWERS_ITSELF = IN_ITS_PLACE | {"model_status"}
"""Faults that answer in place of a server or a model."""
FROM_THERE_ON = ("model", "without", "wording")
"""Changes that leave what stands at the point as it is."""


class ForkedFaults(FaultPlan):
    """Plays the faults of the past, then a plan of its own chance.

    What strikes in the past is counted in both, so that the n-th call stays the n-th.
    """

    def __init__(self, faults: list[Fault], seed: int, fork: BehindFork) -> None:
        super().__init__(faults, seed)
        self._live = FaultPlan(faults, fork.seed)
        self._fork = fork
        self._calls = Counter(call["tool"] for call in fork.played_calls)
        self._requests = fork.played_requests

    def next_fault(self, server: str, tool: str) -> AppliedFault | None:
        """The fault that strikes this call."""
        then, now = super().next_fault(server, tool), self._live.next_fault(server, tool)
        address = f"{server}/{tool}"
        if self._calls[address]:
            self._calls[address] -= 1
            return None if then is not None and then.fault.do in IN_THE_ANSWER else then
        if not self._fork.is_point(server, tool):
            return now
        event = self._fork.going_call(address)
        if event is None or not is_alike(self._fork.point, event.get("args") or {}):
            return None  # it is over, or parts
        return self._at_point(now, event["t"])

    def next_request(self) -> AppliedFault | None:
        """The fault that strikes this request to the model."""
        super().next_request()
        now = self._live.next_request()
        if self._requests:
            self._requests -= 1
            return None  # what a fault made of a model's answer is stored
        if self._fork.is_live or self._fork.origin.kind != "model":
            return now
        return self._at_point(now, self._fork.now())

    def _at_point(self, now: AppliedFault | None, at: float) -> AppliedFault | None:
        """At the point nothing strikes but what the change says, unless it leaves it to itself.
        What strikes may answer in place of the server or model, which then hears of nothing."""
        change = self._fork.origin.change
        if change.what == "fault":
            now = AppliedFault(len(self.faults) - 1, self.faults[-1])
        elif change.what not in (None, *FROM_THERE_ON):
            now = None
        if now is not None and now.fault.do in ANSWERS_ITSELF:
            self._fork.go_live(at)
        return now
