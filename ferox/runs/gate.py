"""Holding the line: a run against floors and a baseline."""

from __future__ import annotations

from dataclasses import dataclass

from ferox.core.gate import GateRules, RuleVerdict, judge_broken, judge_floor, judge_no_worse
from ferox.runs.baseline import Baseline
from ferox.runs.changes import Changes, changes_in_ledger, changes_since
from ferox.store.board import Key, read_judged_values
from ferox.store.database import Session


@dataclass(frozen=True)
class GateReport:
    """What came of each rule, and what changed. Cells that are known to fail are in no rule."""

    verdicts: list[RuleVerdict]
    strict: bool
    changes: Changes

    @property
    def failing(self) -> list[RuleVerdict]:
        """The rules that fail the run."""
        return [verdict for verdict in self.verdicts if verdict.fails(strict=self.strict)]


def judge_run(
    session: Session, run: int, rules: GateRules, baseline: Baseline | None = None
) -> GateReport:
    """Hold a run against floors, and against a baseline if there is one."""
    changes = (
        changes_since(session, run, baseline)
        if baseline is not None
        else changes_in_ledger(session, run)
    )
    verdicts = [
        judge_floor(metric, least, _values_of(session, run, metric, leave_out=changes.known))
        for metric, least in rules.floors.items()
    ]
    if baseline is not None:
        broke = [
            f"{cell_name(one.key)} ({counts_text(one.before)} → {counts_text(one.now)})"
            for one in changes.of_kind("broke")
        ]
        verdicts.append(judge_broken(broke, changes.compared))
        if rules.no_worse is not None:
            before, now = ([pair[side] for pair in changes.shared] for side in (0, 1))
            verdicts.append(judge_no_worse(before, now, most=rules.no_worse, strict=rules.strict))
    return GateReport(verdicts, rules.strict, changes)


def counts_text(counts: tuple[int, int] | None) -> str:
    """Passes of judged trials as they are told; of none a dash."""
    return f"{counts[0]}/{counts[1]}" if counts else "–"


def cell_name(key: Key) -> str:
    """A cell as it is told: `suite/task · agent`."""
    return f"{key[0]}/{key[1]} · {key[2]}"


def _values_of(session: Session, run: int, metric: str, leave_out: dict[Key, str]) -> list[float]:
    """A metric's values over the judged trials that have one."""
    return [
        value for key, value in read_judged_values(session, run, metric) if key not in leave_out
    ]
