"""What came of a trial's forks, point by point and change by change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from ferox.formats.trace import ForkFacts
from ferox.runs.fork.behind_fork import PARTED_BEFORE
from ferox.runs.records import state_of
from ferox.store.database import Session
from ferox.store.runs import runs_of_forks
from ferox.store.tables import Run, Trial
from ferox.store.traces import read_trace
from ferox.store.trials import get_trial, trials_of_run

VERDICTS = {"pass": "passes", "fail": "fails", "error": "error", "unjudged": "not judged"}


@dataclass(frozen=True)
class ForkedTrials:
    """The forks of one run: those with a verdict, those that passed, that parted before their
    point, that were errors else, and that are not done."""

    run: int
    at: str
    change: str
    detail: str | None
    state: str
    trials: list[Trial]
    judged: int
    passed: int
    parted: int
    errors: int
    left: int

    @property
    def words(self) -> str:
        """As *unchanged: 3 of 10 passed, 1 parted*."""
        more = [
            f"{count} {word}"
            for count, word in (
                (self.parted, "parted"),
                (self.errors, "could not be judged"),
                (self.left, "not done"),
            )
            if count
        ]
        counts = [f"{self.passed} of {self.judged} passed"] if self.judged or not more else []
        return f"{self.change}: {', '.join([*counts, *more])}"


def read_forks(session: Session, root: Path, trial: int) -> list[ForkedTrials]:
    """The forks of a trial, run by run, the oldest first."""
    return [_forks_of_run(session, root, run) for run in runs_of_forks(session, trial)]


def _forks_of_run(session: Session, root: Path, run: Run) -> ForkedTrials:
    trials = sorted(trials_of_run(session, run.id), key=lambda trial: trial.id)
    done = [trial for trial in trials if trial.state == "done"]
    judged = [trial for trial in done if trial.verdict in ("pass", "fail")]
    parted = [trial for trial in done if (trial.reason or "").startswith(PARTED_BEFORE)]
    return ForkedTrials(
        run=run.id,
        at=run.fork["at"],
        change=run.fork["change"],
        detail=run.fork["detail"],
        state=state_of(session, root, run),
        trials=trials,
        judged=len(judged),
        passed=sum(trial.verdict == "pass" for trial in judged),
        parted=len(parted),
        errors=len(done) - len(judged) - len(parted),
        left=len(trials) - len(done),
    )


def first_facts(session: Session, forks: ForkedTrials) -> ForkFacts | None:
    """What the trace of the first finished fork says of its past; it is the same for all."""
    for trial in forks.trials:
        trace = read_trace(session, trial.id) if trial.state == "done" else None
        if trace is not None and "fork" in trace:
            return trace["fork"]
    return None


def fork_sentence(session: Session, trial: int, forks: Sequence[ForkedTrials]) -> str:
    """All of it at a point: *as it was: fails; from here unchanged: 3 of 10 passed*."""
    verdict = get_trial(session, trial).verdict or ""
    parts = [f"as it was: {VERDICTS.get(verdict, verdict)}"]
    parts += [f"from here {fork.words}" for fork in forks]
    return "; ".join(parts)
