"""What changed in a run since a baseline, or since each cell's predecessor."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from ferox.core.cell_change import kind_of_change
from ferox.core.comparison.compare import METRICS, TrialTable, compare
from ferox.core.comparison.verdict import SAME_WITHIN
from ferox.core.comparison.words import verdict_sentence
from ferox.runs.baseline import Baseline, baseline_cells, tally_of_baseline
from ferox.runs.comparison import metric_report
from ferox.runs.known_cells import known_cells
from ferox.store.board import Key, read_cells
from ferox.store.database import Session
from ferox.store.ledger import read_ledger
from ferox.store.runs import get_run

Counts = tuple[int, int]
"""Passes of judged trials."""


class Change(NamedTuple):
    """A cell that is not as it was, or never or only sometimes passes: a kind of the ledger.

    `before` is None where it has no predecessor; `known` is what its suite says of the failure.
    """

    kind: str
    key: Key
    before: Counts | None
    now: Counts
    known: str | None = None


@dataclass
class Changes:
    """What changed since `since`, of so many cells compared. `shared`: each compared cell that is
    in the rules, before and now; `other_script` were judged by another script before."""

    since: str | None
    changes: list[Change] = field(default_factory=list)
    compared: int = 0
    shared: list[tuple[Counts, Counts]] = field(default_factory=list)
    known: dict[Key, str] = field(default_factory=dict)
    mended_known: list[Key] = field(default_factory=list)
    other_script: list[Key] = field(default_factory=list)

    def of_kind(self, kind: str) -> list[Change]:
        """The changes of one kind."""
        return [change for change in self.changes if change.kind == kind]


def changes_since(session: Session, run: int, baseline: Baseline) -> Changes:
    """Every cell of a run beside a baseline. Cells that are known to fail are in no comparison."""
    cells = {(c.suite, c.task, c.agent): c for c in baseline_cells(session, run)}
    excused = known_cells(session, get_run(session, run), cells)
    found = Changes(baseline.name)
    for key, cell in cells.items():
        base, why = baseline.cell_for(key), excused.get(key)
        now, before = (cell.passes, cell.n), (base.passes, base.n) if base else None
        if base and base.script and cell.script and base.script != cell.script:
            found.other_script.append(key)
            base = before = None
            if why is None:
                continue
        was = tally_of_baseline(base) if base else None
        kind = kind_of_change(was, tally_of_baseline(cell), known=why is not None)
        if kind is not None:
            found.changes.append(Change(kind, key, before, now, known=why))
        if kind == "known" and why is not None:
            found.known[key] = why
            continue
        if why is not None:
            found.mended_known.append(key)
        if before is not None:
            found.compared += 1
            found.shared.append((before, now))
    return found


def changes_in_ledger(session: Session, run: int) -> Changes:
    """The same since each cell's last comparable run, as the ledger has it."""
    cells = read_cells(session, run)
    known = known_cells(session, get_run(session, run), [c.key for c in cells])
    ledger = read_ledger(session, run, cells, known=known)
    since = f"run {ledger.bases[0]}" if len(ledger.bases) == 1 else None
    found = Changes(since or ("each cell's last comparable run" if ledger.bases else None))
    found.compared = ledger.compared
    for group in ledger.groups:
        for entry in group.entries:
            key = (entry.suite, entry.task, entry.agent)
            found.changes.append(
                Change(group.kind, key, entry.before, entry.now, known=entry.known)
            )
            if group.kind == "known":
                found.known[key] = entry.known or ""
            elif entry.known is not None:
                found.mended_known.append(key)
    return found


def pass_sentence(shared: list[tuple[Counts, Counts]]) -> str | None:
    """What B, the run, does against A, the baseline, by its passes; None if no cell is in both."""
    if not shared:
        return None
    sides = [_table_of([pair[side] for pair in shared]) for side in (0, 1)]
    rate = compare(sides[0], sides[1], len(shared))[0]
    return verdict_sentence(metric_report(rate, SAME_WITHIN))


def _table_of(tallies: list[Counts]) -> TrialTable:
    """Passes as values of 1 and 0, task by task; nothing else is known of the trials."""
    task = np.repeat(np.arange(len(tallies)), [n for _, n in tallies])
    passed = np.concatenate([np.arange(n) < passes for passes, n in tallies]).astype(np.float64)
    nothing = np.full(len(task), np.nan)
    values: Mapping[str, np.ndarray[tuple[int], np.dtype[np.float64]]] = {
        metric: passed if metric == "pass" else nothing for metric in METRICS
    }
    return TrialTable(task=task.astype(np.int64), values=values)
