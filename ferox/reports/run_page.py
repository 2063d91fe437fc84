"""A run as a page that stands by itself: no script, and nothing that it would ask of anywhere."""

from __future__ import annotations

import math

from ferox.core.gate import RuleVerdict
from ferox.formats.result import FAMILIES
from ferox.reports.pages import page_template
from ferox.reports.tracks_picture import TracksPicture, draw_tracks
from ferox.reports.words import (
    KINDS,
    changed_cells,
    changes_sentence,
    family_text,
    passed_text,
    run_name,
    set_up_lines,
    tokens_text,
)
from ferox.runs.run_report import AgentSummary, FailingCell, RunReport

MOST_ABREAST = 8
"""Agents side by side on a board."""
CLASSES = {
    "broke": "broke",
    "otherwise": "broke",
    "mended": "holds",
    "fails": "broke",
    "wavers": "doubt",
    "known": "soft",
}


def run_page(report: RunReport, verdicts: list[RuleVerdict] | None = None) -> str:
    """The page; with the rules of a gate, what came of them."""
    return page_template("run.html").render(
        report=report,
        name=run_name(report),
        changed=changes_sentence(report.changes),
        verdicts=verdicts or [],
        set_up=set_up_lines(report),
        changes=changed_cells(report.changes),
        kinds=KINDS,
        classes=CLASSES,
        families=FAMILIES,
        boards=_split_boards(report.agents),
        rows=sorted({key[:2] for key in report.cells}),
        anchors={cell.key: f"cell-{place}" for place, cell in enumerate(report.failing, 1)},
        pictures={cell.key: _tracks_of(cell) for cell in report.failing},
        passed=passed_text,
        family=family_text,
        tokens=tokens_text,
    )


def _split_boards(agents: list[AgentSummary]) -> list[list[AgentSummary]]:
    """Agents as they stand side by side: as many on each board, and no more than fit."""
    boards = max(1, math.ceil(len(agents) / MOST_ABREAST))
    size = max(1, math.ceil(len(agents) / boards))
    return [agents[i : i + size] for i in range(0, len(agents), size)]


def _tracks_of(cell: FailingCell) -> TracksPicture | None:
    if cell.trace is None or cell.result is None or cell.script is None:
        return None
    return draw_tracks(cell.trace, cell.result, cell.script)
