"""The crew of a run: those who carry its trials out."""

from __future__ import annotations

from typing import Protocol

from ferox.runs.trial_host import TrialHost
from ferox.runs.trial_order import TrialOrder


class Crew(Protocol):
    """Carries trials out. `places`: how many it takes at once."""

    places: int

    async def carry_out(self, order: TrialOrder) -> None:
        """Carry out a trial, and keep it; one that Stop kept from beginning goes on waiting.

        Raises:
            StoreError: it cannot be kept.
        """

    async def stop(self) -> None:
        """End all trials at once."""


class OwnCrew:
    """This process."""

    def __init__(self, host: TrialHost, places: int) -> None:
        self._host, self.places = host, places
        self.carry_out = host.carry_out

    async def stop(self) -> None:
        """End all trials at once."""
        self._host.stop.set()
