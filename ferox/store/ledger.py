"""The ledger: what changed since each cell's last comparable run, and what never held."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session, aliased

from ferox.core.cell_change import Tally, kind_of_change
from ferox.store.board import Cause, Cell, Key, read_cells
from ferox.store.tables import CellSetup, Run, Trial

LOOKED_BACK = 40
"""Earlier runs among which a cell's predecessor is looked for."""
ORDER = ("broke", "otherwise", "mended", "fails", "wavers", "known")
"""Kinds of entries, the most pressing first."""


class LedgerEntry(NamedTuple):
    """A cell that changed since its predecessor, or that never or only sometimes holds.

    `kind`: broke, mended (neither is said of a cell that wavers before and after by no more
    than chance may do), `otherwise` (it fails in another check than before), `fails` (it has
    no predecessor, and never passed), wavers, or `known`: its suite says that it fails for now.
    One that is said to fail and passes always is mended. `known` is what the suite says; `base`
    the predecessor's run, None if there is none; `differs` the parts of the set-up that are not
    the same there.
    """

    kind: str
    suite: str
    task: str
    agent: str
    now: tuple[int, int]
    cause: Cause
    base: int | None = None
    before: tuple[int, int] | None = None
    was: Cause | None = None
    differs: tuple[str, ...] = ()
    known: str | None = None

    @property
    def why(self) -> Cause:
        """What went wrong: of a cell that was mended, before."""
        return self.was if self.kind == "mended" and self.was else self.cause


@dataclass(frozen=True)
class LedgerGroup:
    """Entries of one kind with the same cause."""

    kind: str
    message: str | None
    failed_check: str | None
    differs: tuple[str, ...]
    entries: tuple[LedgerEntry, ...]
    known: str | None = None


@dataclass
class Ledger:
    """What changed in a run. Cells that have no predecessor cannot have changed."""

    compared: int = 0
    no_predecessor: int = 0
    failing_as_before: int = 0
    """Cells that pass never, as before and in the same check."""
    bases: list[int] = field(default_factory=list)
    groups: list[LedgerGroup] = field(default_factory=list)


def read_ledger(
    session: Session,
    run: int,
    board: list[Cell],
    base: int | None = None,
    known: Mapping[Key, str] | None = None,
) -> Ledger:
    """The ledger of a run, whose cells are `board`: each beside its predecessor, or beside the
    run `base`. `known`: why cells are known to fail."""
    cells = [c for c in board if c.n]
    bases = _find_predecessors(session, run) if base is None else {c.key: base for c in cells}
    runs = sorted({bases[c.key] for c in cells if c.key in bases})
    old = {one: {c.key: c for c in read_cells(session, one) if c.n} for one in runs}
    parts = {one: read_setups(session, one) for one in (run, *runs)}
    ledger = Ledger(bases=[one for one in runs if any(bases.get(k) == one for k in old[one])])
    entries = []
    for cell in cells:
        other = bases.get(cell.key)
        was = old[other].get(cell.key) if other is not None else None
        if was is None:
            ledger.no_predecessor += 1
        else:
            ledger.compared += 1
        now = cell.cause or Cause()
        before = (was.cause if was else None) or Cause()
        excuse = (known or {}).get(cell.key)
        tally_before = None if was is None else tally_of(was, before)
        kind = kind_of_change(tally_before, tally_of(cell, now), known=excuse is not None)
        if kind is None:
            ledger.failing_as_before += cell.passes < cell.n
            continue
        entry = LedgerEntry(kind, *cell.key, (cell.passes, cell.n), now, known=excuse)
        if was is not None and other is not None:
            differs = _differing_parts(parts[run], parts[other], cell)
            if len({*cell.scripts, *was.scripts}) > 1:
                differs += ("script",)
            entry = entry._replace(
                base=other, before=(was.passes, was.n), was=before, differs=differs
            )
        entries.append(entry)
    ledger.groups = _group_entries(entries)
    return ledger


def _find_predecessors(session: Session, run: int) -> dict[Key, int]:
    """For each cell the last run before with judged trials of it under a comparable set-up."""
    mine, other = aliased(CellSetup), aliased(CellSetup)
    recent = (
        select(other.run_id)
        .join(
            mine,
            (mine.suite == other.suite) & (mine.agent == other.agent) & (mine.key == other.key),
        )
        .join(Run, Run.id == other.run_id)
        .where(mine.run_id == run, other.run_id < run, Run.state.in_(("done", "stopped")))
        .distinct()
        .order_by(other.run_id.desc())
        .limit(LOOKED_BACK)
    )
    runs = list(session.scalars(recent))
    query = (
        select(Trial.suite, Trial.task, Trial.agent, func.max(Trial.run_id))
        .join(
            other,
            (other.run_id == Trial.run_id)
            & (other.suite == Trial.suite)
            & (other.agent == Trial.agent),
        )
        .join(
            mine,
            (mine.suite == other.suite) & (mine.agent == other.agent) & (mine.key == other.key),
        )
        .where(
            mine.run_id == run,
            Trial.run_id.in_(runs),
            Trial.verdict.in_(("pass", "fail")),
        )
        .group_by(Trial.suite, Trial.task, Trial.agent)
    )
    return {(suite, task, agent): one for suite, task, agent, one in session.execute(query)}


def tally_of(cell: Cell, cause: Cause) -> Tally:
    """A cell's passes with what went wrong in the rest of its trials."""
    return Tally(cell.passes, cell.n, cause.failed_check)


def read_setups(session: Session, run: int) -> dict[tuple[str, str], dict[str, str]]:
    """Under what each agent's trials of each suite ran, by suite and agent, part by part."""
    query = select(CellSetup).where(CellSetup.run_id == run)
    return {(row.suite, row.agent): row.body for row in session.scalars(query)}


def _differing_parts(
    mine: dict[tuple[str, str], dict[str, str]],
    other: dict[tuple[str, str], dict[str, str]],
    cell: Cell,
) -> tuple[str, ...]:
    """The parts of the set-up that are known in both and not the same."""
    one, two = (of.get((cell.suite, cell.agent), {}) for of in (mine, other))
    return tuple(part for part in one if part in two and one[part] != two[part])


def _group_entries(entries: Iterable[LedgerEntry]) -> list[LedgerGroup]:
    """Entries of one kind, cause and difference together, the most pressing first."""
    groups: dict[tuple[str, str | None, tuple[str, ...], str | None], list[LedgerEntry]] = {}
    for entry in sorted(entries, key=lambda e: (e.suite, e.task, e.agent)):
        alike = (entry.kind, entry.why.message, entry.differs, entry.known)
        groups.setdefault(alike, []).append(entry)
    made = []
    for (kind, message, differs, known), found in groups.items():
        made.append(
            LedgerGroup(
                kind,
                message,
                found[0].why.failed_check,
                differs=differs,
                entries=tuple(found),
                known=known,
            )
        )
    return sorted(made, key=lambda g: (ORDER.index(g.kind), -len(g.entries)))
