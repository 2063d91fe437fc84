"""Trials that were carried out elsewhere, kept as a run."""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.result import Result
from ferox.formats.trace import Trace
from ferox.runs.cell_setup import setup_key
from ferox.runs.snapshot import Snapshot, script_hash
from ferox.store.database import Session
from ferox.store.results import keep_result
from ferox.store.runs import add_cell_setup, add_run
from ferox.store.snapshots import keep_snapshot
from ferox.store.trials import add_trial

BROUGHT_IN, GATHERED = "brought in", "gathered"
"""Where the trials of a run are from."""


class TrialFromElsewhere(NamedTuple):
    """A trial's trace, and when it began, in seconds since the epoch; None if that is not known."""

    trace: Trace
    started_at: float | None


class JudgedTrial(NamedTuple):
    """A trial from elsewhere with its result, and the hash of the script that judged it."""

    trace: Trace
    started_at: float | None
    result: Result
    script: str


class TrialJudge:
    """Judges trials by the scripts of a snapshot."""

    def __init__(self, snapshot: Snapshot) -> None:
        self._snapshot = snapshot
        self._scripts: dict[tuple[str, str, str], tuple[Script, str]] = {}

    def judge(self, trial: TrialFromElsewhere) -> JudgedTrial:
        """Judge a trial.

        Raises:
            ValueError: its clock or zone is none.
        """
        trace, started_at = trial
        key = (trace["agent"], trace["suite"], trace["task"])
        if key not in self._scripts:
            suite, task = self._snapshot.of_arm(key[0]).script_of(*key[1:])
            self._scripts[key] = compile_script(suite, task), script_hash(suite, task)
        script, hashed = self._scripts[key]
        return JudgedTrial(trace, started_at, score_trial(script, trace), hashed)


def keep_run_from_elsewhere(
    session: Session,
    snapshot: Snapshot,
    trials: Iterable[JudgedTrial],
    *,
    setups: Mapping[tuple[str, str], dict[str, str]],
    **fields: Any,
) -> int:
    """Keep trials as a run; its number. `setups`: what each suite and agent was run under;
    `fields`: those of the run's record."""
    run = add_run(session, state="done", **fields).id
    keep_snapshot(session, run, snapshot.document())
    for (suite, agent), setup in sorted(setups.items()):
        add_cell_setup(session, run, suite, agent, key=setup_key(setup), setup=setup)
    for place, (trace, started_at, result, script) in enumerate(trials):
        line = add_trial(
            session,
            run_id=run,
            suite=trace["suite"],
            task=trace["task"],
            agent=trace["agent"],
            number=trace["trial"],
            place=place,
            state="done",
            started_at=started_at,
            changed_at=time.time(),
        )
        keep_result(session, line.id, trace, result, script=script)
    return run
