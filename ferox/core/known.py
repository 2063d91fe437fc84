"""Known failures: which cells of a suite are known to fail on a day."""

from __future__ import annotations

from datetime import date

from ferox.core.arms import agent_of_arm
from ferox.formats.suite import KnownFailure, Suite


def known_failure(suite: Suite, task: str, agent: str, on: date) -> KnownFailure | None:
    """What a suite says of a cell that is known to fail, with an agent or an arm of it.

    One past its last day is not known any more: it counts again.
    """
    for known in suite.known:
        if known.task != task or (known.until is not None and on > known.until):
            continue
        if not known.agents or agent in known.agents or agent_of_arm(agent) in known.agents:
            return known
    return None
