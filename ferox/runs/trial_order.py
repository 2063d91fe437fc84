"""An order: a trial of a run that is to be carried out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ferox.formats.trace import StepOutcome
from ferox.store.tables import Trial


@dataclass(frozen=True, kw_only=True)
class TrialOrder:
    """A trial of a run that is to be carried out.

    `prepared`: what was done to live servers for the whole run; `unprepared`: why that failed,
    and the trial is not carried out.
    """

    trial: int
    suite: str
    task: str
    agent: str
    number: int
    prepared: Sequence[StepOutcome] = ()
    unprepared: str | None = None

    @classmethod
    def of_trial(cls, trial: Trial) -> TrialOrder:
        """A stored trial, to be carried out."""
        return cls(
            trial=trial.id,
            suite=trial.suite,
            task=trial.task,
            agent=trial.agent,
            number=trial.number,
        )
