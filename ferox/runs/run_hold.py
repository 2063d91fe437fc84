"""Holding calls of a run: its rule, and the decisions that come from the screens."""

from __future__ import annotations

import asyncio
from typing import Any

from ferox.gateway.holding import HoldDecision, HoldRule
from ferox.servers.sources.source import Definition
from ferox.store import holding
from ferox.store.database import Engine, Session

LOOK_EVERY_S = 0.15


class RunHold:
    """A run's rule for holding calls, as it was last read."""

    def __init__(self, engine: Engine, run: int) -> None:
        self._engine, self.run = engine, run
        self.rule: HoldRule | None = None

    def read_rule(self, session: Session) -> None:
        """Read the rule again; it may change while the run goes on."""
        rule = holding.rule_of(session, self.run)
        self.rule = HoldRule(**rule) if rule else None

    def hold_of(self, trial: int) -> TrialHold:
        """Who may hold the calls of a trial."""
        return TrialHold(self, self._engine, trial)


class TrialHold:
    """Holds the calls of one trial."""

    def __init__(self, run: RunHold, engine: Engine, trial: int) -> None:
        self._run, self._engine, self._trial = run, engine, trial

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Whether a call is to be held now."""
        return self._run.rule is not None and self._run.rule.wants_call(address, tool, first)

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Wait until a person decides."""
        held = await asyncio.to_thread(
            holding.hold_call, self._engine, self._run.run, self._trial, address, args
        )
        try:
            while True:
                # Polled: the decision comes from another process, by way of the database.
                found = await asyncio.to_thread(holding.call_decision, self._engine, held)
                if found is not None:
                    return HoldDecision(*found)
                await asyncio.sleep(LOOK_EVERY_S)
        except BaseException:
            # Not in a thread: the trial is being cancelled, and would not wait for it.
            holding.release_call(self._engine, held)
            raise
