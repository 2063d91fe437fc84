"""Holding the line: a run against floors and a baseline."""

from __future__ import annotations

from dataclasses import dataclass, field

from ferox.core.cell_change import kind_of_change
from ferox.core.gate import GateRules, RuleVerdict, judge_broken, judge_floor, judge_no_worse
from ferox.runs.baseline import Baseline, baseline_cells, tally_of_baseline
from ferox.runs.known_cells import known_cells
from ferox.store.board import Key, read_judged_values
from ferox.store.database import Session
from ferox.store.runs import get_run


@dataclass(frozen=True)
class GateReport:
    """What came of each rule. Cells that are `known` to fail are in none of them; `mended` are
    said to fail, and pass always; `other_script` are judged by another script than in the
    baseline, and not compared."""

    verdicts: list[RuleVerdict]
    strict: bool
    known: dict[Key, str] = field(default_factory=dict)
    mended: list[Key] = field(default_factory=list)
    other_script: list[Key] = field(default_factory=list)

    @property
    def failing(self) -> list[RuleVerdict]:
        """The rules that fail the run."""
        return [verdict for verdict in self.verdicts if verdict.fails(strict=self.strict)]


def judge_run(
    session: Session, run: int, rules: GateRules, baseline: Baseline | None = None
) -> GateReport:
    """Hold a run against floors, and against a baseline if there is one."""
    cells = {(c.suite, c.task, c.agent): c for c in baseline_cells(session, run)}
    excused = known_cells(session, get_run(session, run), cells)
    known = {key: why for key, why in excused.items() if cells[key].passes < cells[key].n}
    verdicts = [
        judge_floor(metric, least, _values_of(session, run, metric, leave_out=known))
        for metric, least in rules.floors.items()
    ]
    other_script = []
    if baseline is not None:
        broke, before, now = [], [], []
        for key, cell in cells.items():
            base = baseline.cell_for(key)
            if base is None or key in known:
                continue
            if base.script and cell.script and base.script != cell.script:
                other_script.append(key)
                continue
            kind = kind_of_change(tally_of_baseline(base), tally_of_baseline(cell))
            if kind == "broke":
                counts = f"{base.passes}/{base.n} → {cell.passes}/{cell.n}"
                broke.append(f"{cell_name(key)} ({counts})")
            before.append((base.passes, base.n))
            now.append((cell.passes, cell.n))
        verdicts.append(judge_broken(broke, len(now)))
        if rules.no_worse is not None:
            verdicts.append(judge_no_worse(before, now, most=rules.no_worse, strict=rules.strict))
    return GateReport(
        verdicts,
        rules.strict,
        known=known,
        mended=[key for key in excused if key not in known],
        other_script=other_script,
    )


def cell_name(key: Key) -> str:
    """A cell as it is told: `suite/task · agent`."""
    return f"{key[0]}/{key[1]} · {key[2]}"


def _values_of(session: Session, run: int, metric: str, leave_out: dict[Key, str]) -> list[float]:
    """A metric's values over the judged trials that have one."""
    return [
        value for key, value in read_judged_values(session, run, metric) if key not in leave_out
    ]
