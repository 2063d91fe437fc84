"""Comparing two agents of 10,000 trials each, against reading their rows alone."""

from __future__ import annotations

import statistics
import tempfile
import time
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.orm import Session

from bench.screens import BLANK, SUITES, TASKS
from bench.screens import workspace as many_cells
from bench.serving import served
from ferox.runs.comparison import SideName, compare_sides
from ferox.store.database import open_database
from tests.browser import chromium

GOAL_S = 1.0
REPEATS = 20
VISITS = 5
FILLED = """
UPDATE trial SET script = 'x', model_ms = 700, tool_ms = 100 + id % 60, agent_ms = 20 + id % 30,
  first_words_ms = 300 + id % 500, model_calls = 2 + id % 2, tokens_in = 900, tokens_out = 40,
  failed = CASE id % 3 WHEN 0 THEN '["high.called"]' ELSE '[]' END,
  choices = CASE id % 3 WHEN 0 THEN '{"tides/high": {"tides/low": 1}}'
    ELSE '{"tides/high": {"tides/high": 1}}' END
"""


def measure() -> str:
    """Seconds until the report is there, and how often reading the rows that is."""
    with tempfile.TemporaryDirectory() as folder:
        root = many_cells(Path(folder), agents=2, repeats=REPEATS)
        engine = open_database(root)
        with Session(engine) as session, session.begin():
            session.execute(text(FILLED))
        with Session(engine) as session:
            begun = time.perf_counter()
            count = len(session.execute(text("SELECT * FROM trial")).all())
            bound = time.perf_counter() - begun
        with Session(engine) as session:
            begun = time.perf_counter()
            sides = SideName(1, "desk-number-0"), SideName(1, "desk-number-1")
            report = compare_sides(session, *sides)
            took = time.perf_counter() - begun
        engine.dispose()
        page = measure_page(root)
    assert report.shared_tasks == SUITES * TASKS, report.shared_tasks
    return (
        f"comparing two agents of {count // 2:,} trials each: {took:.2f} s "
        f"(goal < {GOAL_S:g} s), {took / bound:.1f} × reading the rows alone ({bound:.2f} s); "
        f"the page shows in {page:.2f} s (goal < {GOAL_S:g} s)"
    )


SHOWN_MS = """
const [css, done] = arguments;
const look = () =>
  document.querySelector(css) ? done(performance.now()) : requestAnimationFrame(look);
look();
"""
"""Milliseconds from the address until an element is drawn, as the page itself tells them."""


def measure_page(root: Path) -> float:
    """Seconds from the address to the metrics on the screen: the median of five visits."""
    with served(root) as url, chromium() as browser:
        took = []
        for _ in range(VISITS + 1):
            browser.get(BLANK)
            browser.get(f"{url}/compare?a=1:desk-number-0&b=1:desk-number-1")
            took.append(browser.execute_async_script(SHOWN_MS, "[data-metric=pass]"))
    return float(statistics.median(took[1:])) / 1000  # the first visit fills the browser's cache


if __name__ == "__main__":
    print(measure())
