"""Whether a run is looked at again, told without the statistics that a look takes to load."""

from __future__ import annotations

from typing import Any

from ferox.core.arms import arms_of
from ferox.formats.plan import PlanFile
from ferox.store.tables import Run


def may_go_on(plan: PlanFile | None, run: Run) -> bool:
    """Whether a look at a run is still to come that may ask for more trials."""
    if plan is None or plan.until is None:
        return False
    looks: list[dict[str, Any]] = run.looks or []
    stopped = sum(len(look["stopped"]) for look in looks)
    return len(looks) < len(plan.until.looks) and stopped < len(arms_of(plan))
