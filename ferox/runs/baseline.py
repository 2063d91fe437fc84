"""A baseline to hold a run against: an earlier run, an arm of one, or a file of results."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ferox.core.cell_change import Tally
from ferox.formats.base import validation_fault
from ferox.formats.baseline import BaselineCell
from ferox.intake.files import read_bytes
from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError
from ferox.runs.comparison import ComparisonError, SideName
from ferox.store.board import Key, read_cells
from ferox.store.database import Session
from ferox.store.runs import find_run

LARGEST_BASELINE = 64 * 1024 * 1024
"""Bytes of the largest file of results that is read."""


class BaselineError(ValueError):
    """A baseline that is not there, or cannot be read; the message says what to do."""


@dataclass(frozen=True)
class Baseline:
    """Cells to hold others against. `agent`: it is of one arm, which stands against any."""

    name: str
    cells: dict[Key, BaselineCell]
    agent: str | None = None

    def cell_for(self, key: Key) -> BaselineCell | None:
        """What a cell is held against; None if the baseline has no judged trial of it."""
        suite, task, agent = key
        found = self.cells.get((suite, task, self.agent or agent))
        return found if found is not None and found.n else None


def tally_of_baseline(cell: BaselineCell) -> Tally:
    """A cell's passes with the check that failed most."""
    return Tally(cell.passes, cell.n, cell.failed_check)


def baseline_cells(session: Session, run: int) -> list[BaselineCell]:
    """What each cell of a run came to, sorted; cells without judged trials are left out."""
    found = []
    for cell in sorted(read_cells(session, run), key=lambda c: c.key):
        if not cell.n:
            continue
        found.append(
            BaselineCell(
                suite=cell.suite,
                task=cell.task,
                agent=cell.agent,
                passes=cell.passes,
                n=cell.n,
                failed_check=cell.cause.failed_check if cell.cause else None,
                script=cell.scripts[0] if len(cell.scripts) == 1 else None,
            )
        )
    return found


def read_baseline(session: Session, text: str) -> Baseline:
    """A baseline as it is written: RUN, RUN:ARM, or the path of a file of results.

    Raises:
        BaselineError: it is none of these, or there is no such run, arm or file.
    """
    if Path(text).is_file():
        return read_baseline_file(Path(text))
    try:
        side = SideName.parse(text)
    except ComparisonError:
        raise BaselineError(
            f"`{text}` is no baseline: give a run, RUN:ARM, or a file that "
            "`ferox export RUN --format results --brief` wrote"
        ) from None
    if find_run(session, side.run) is None:
        raise BaselineError(f"there is no run {side.run}")
    cells = {(c.suite, c.task, c.agent): c for c in baseline_cells(session, side.run)}
    if side.agent is not None and not any(key[2] == side.agent for key in cells):
        known = ", ".join(sorted({key[2] for key in cells}))
        raise BaselineError(
            f"run {side.run} has no judged trials of `{side.agent}`; it has {known}"
        )
    return Baseline(f"run {side}", cells, side.agent)


def read_baseline_file(path: Path) -> Baseline:
    """A file of results, JSON lines: a cell each, or a trial's result each.

    Raises:
        BaselineError: it cannot be read; the message names file and line.
    """
    try:
        text = read_bytes(path, LARGEST_BASELINE)
    except OSError as error:
        raise BaselineError(f"{path}: {error.strerror}") from None
    except IntakeError as error:
        raise BaselineError(f"{path}: {error}") from None
    cells: dict[Key, BaselineCell] = {}
    results: defaultdict[Key, list[dict[str, Any]]] = defaultdict(list)
    for place, line in _values_of_lines(path, text):
        if isinstance(line, dict) and "verdict" in line:
            results[_key_of(place, line)].append(line)
            continue
        try:
            cell = BaselineCell.model_validate(line)
        except ValidationError as error:
            raise BaselineError(f"{place}: {validation_fault(error)}") from None
        key = (cell.suite, cell.task, cell.agent)
        if key in cells:
            raise BaselineError(f"{place}: {'/'.join(key[:2])} · {key[2]} stands here twice")
        cells[key] = cell
    cells |= {key: _cell_of_results(key, found) for key, found in results.items()}
    if not cells:
        raise BaselineError(f"{path}: it holds no results")
    return Baseline(str(path), cells)


def _values_of_lines(path: Path, text: bytes) -> Iterator[tuple[str, Any]]:
    for n, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        try:
            yield f"{path}:{n}", read_json(line)
        except IntakeError as error:
            raise BaselineError(f"{path}:{n}: {error.message}") from None


def _key_of(place: str, line: dict[str, Any]) -> Key:
    named = (line.get("suite"), line.get("task"), line.get("agent"))
    if not all(isinstance(name, str) for name in named):
        raise BaselineError(f"{place}: a result says its `suite`, `task` and `agent`")
    suite, task, agent = named
    return str(suite), str(task), str(agent)


def _cell_of_results(key: Key, results: list[dict[str, Any]]) -> BaselineCell:
    judged = [r for r in results if r["verdict"] in ("pass", "fail") and r.get("judged", True)]
    failed = Counter(
        check["id"]
        for result in judged
        for check in result.get("checks") or ()
        if isinstance(check, dict) and check.get("passed") is False and "id" in check
    )
    return BaselineCell(
        suite=key[0],
        task=key[1],
        agent=key[2],
        passes=sum(result["verdict"] == "pass" for result in judged),
        n=len(judged),
        failed_check=failed.most_common(1)[0][0] if failed else None,
    )
