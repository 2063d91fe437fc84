"""The screens: bytes of the first load, a press until the frame that shows it, a large board."""

from __future__ import annotations

import statistics
import tempfile
import time
import urllib.request
from pathlib import Path

from selenium.webdriver import Chrome
from sqlalchemy import text
from sqlalchemy.orm import Session

from bench.filled_run import fill_run
from bench.serving import served, until_shown
from bench.trials import workspace as small_workspace
from ferox.runs.records import plan_run
from ferox.store.board import keep_counts
from ferox.store.database import open_database
from ferox.workspace import load_workspace
from tests.browser import chromium

SUITES, TASKS, AGENTS = 10, 50, 20
GOAL_KB, GOAL_MS = 250, 100
PRESSES, STEPS = 20, 60
REPEATS, VISITS = 20, 5
CALLS = 2_000

FIRST_LOAD = """
    const loaded = [...performance.getEntriesByType('navigation'),
                    ...performance.getEntriesByType('resource')];
    return loaded.filter(e => !e.name.includes('/api/')).reduce((sum, e) => sum + e.transferSize, 0)
"""
# Measured in the page itself: from the press to the frame after the one that shows it.
PRESS = """
    const [selector, times, done] = arguments, took = [];
    const wait = ms => new Promise(over => setTimeout(over, ms));
    (async () => {
      for (let n = 0; n < times; n++) {
        const all = document.querySelectorAll(selector), begun = performance.now();
        all[n % all.length].click();
        await new Promise(over => requestAnimationFrame(() => setTimeout(over)));
        took.push(performance.now() - begun);
        await wait(120);
      }
      done(took);
    })();
"""
SCROLL = """
    const [steps, done] = arguments, frames = [], box = document.querySelector('main');
    let last = performance.now(), left = steps;
    const step = now => {
      frames.push(now - last);
      last = now;
      box.scrollTop += 100;
      if (left-- > 0) requestAnimationFrame(step); else done(frames.slice(2));
    };
    requestAnimationFrame(step);
"""
BLANK = "data:text/html,<button>press</button>"


def measure() -> str:
    """Kilobytes, milliseconds of presses (median and 95 %), and frames of a board in motion."""
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        with served(root) as url, chromium() as page:
            page.get(BLANK)
            bare = statistics.median(page.execute_async_script(PRESS, "button", PRESSES))
            scroll = SCROLL.replace("main", "body")
            still = statistics.median(page.execute_async_script(scroll, STEPS))
            begun = time.perf_counter()
            page.get(f"{url}/board/1")
            until_shown(page, "[data-cell]")
            opened = time.perf_counter() - begun
            size = page.execute_script(FIRST_LOAD) / 1000
            took = page.execute_async_script(PRESS, "[data-cell]", PRESSES)
            frames = page.execute_async_script(SCROLL, STEPS)
    press, worst = statistics.median(took), statistics.quantiles(took, n=20)[-1]
    frame, slow = statistics.median(frames), statistics.quantiles(frames, n=20)[-1]
    return (
        f"screens: first load {size:.0f} kB compressed (goal < {GOAL_KB}); board of "
        f"{SUITES * TASKS * AGENTS:,} cells opens in {opened:.2f} s, a press shows in "
        f"{press:.0f} ms (95 %: {worst:.0f}; goal < {GOAL_MS}), "
        f"{press / bare:.1f} × an empty page ({bare:.0f} ms); "
        f"scrolling, a frame in {frame:.0f} ms (95 %: {slow:.0f}), "
        f"{frame / still:.1f} × an empty page ({still:.0f} ms)"
    )


def boards() -> str:
    """Seconds to the first byte of boards of 10,000 and of 100,000 trials, and until they show."""
    found = []
    for tasks, agents in ((5, 10), (50, 10)):
        with tempfile.TemporaryDirectory() as folder:
            root = workspace(Path(folder), tasks=tasks, agents=agents, repeats=REPEATS)
            bound = _select_seconds(root)
            with served(root) as url, chromium() as page:
                bytes_at = [_first_byte(f"{url}/api/runs/1/board") for _ in range(VISITS)]
                shown = _seconds_to_show(page, f"{url}/board/1", "[data-cell]")
        first = statistics.median(bytes_at)
        found.append(
            f"board of {SUITES * tasks * agents * REPEATS:,} trials: first byte in "
            f"{first * 1000:.0f} ms (goal < 300), {first / bound:.1f} × a SELECT of the same "
            f"counts ({bound * 1000:.0f} ms); the page shows in {shown:.2f} s (goal < 1)"
        )
    return "; ".join(found)


def long_trial() -> str:
    """Seconds until a trial of many calls shows, and a short one."""
    few, many = (_trial_seconds(more) for more in (2, CALLS - 6))
    return (
        f"a trial of {CALLS:,} calls shows in {many:.2f} s (goal < 1), {many / few:.1f} × one "
        f"of 8 ({few:.2f} s)"
    )


def _trial_seconds(more_calls: int) -> float:
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        fill_run(root, 1, more_calls)
        with served(root) as url, chromium() as page:
            return _seconds_to_show(page, f"{url}/trial/1", "[data-testid=tracks]")


def _seconds_to_show(page: Chrome, address: str, css: str) -> float:
    """From an empty page: the median of some visits."""
    shown = []
    for _ in range(VISITS):
        page.get(BLANK)
        begun = time.perf_counter()
        page.get(address)
        until_shown(page, css)
        shown.append(time.perf_counter() - begun)
    return statistics.median(shown)


def _select_seconds(root: Path) -> float:
    """The counts of a board's cells by SQL alone: the least of five."""
    query = (
        "SELECT suite, task, agent, count(*), sum(verdict = 'pass') FROM trial WHERE run_id = 1"
        " GROUP BY suite, task, agent"
    )
    engine = open_database(root)
    took = []
    with Session(engine) as session:
        for _ in range(VISITS):
            begun = time.perf_counter()
            session.execute(text(query)).all()
            took.append(time.perf_counter() - begun)
    engine.dispose()
    return min(took)


def _first_byte(address: str) -> float:
    begun = time.perf_counter()
    with urllib.request.urlopen(address) as answer:
        answer.read(1)
        return time.perf_counter() - begun


def workspace(root: Path, *, tasks: int = TASKS, agents: int = AGENTS, repeats: int = 1) -> Path:
    """Many tasks and agents, and a run of them as if it were over."""
    small_workspace(root)
    (root / "agents/plain.yaml").unlink()
    (root / "tasks/small.yaml").unlink()
    names = [f"desk-number-{n}" for n in range(agents)]
    for name in names:
        agent = f"ferox: 1\nagent: {name}\nlink: plain\nmodel: m\n"
        (root / f"agents/{name}.yaml").write_text(agent)
    suites = [f"suite-{n}" for n in range(SUITES)]
    for name in suites:
        listed = "".join(f"  - {{task: {name}-task-{n}, say: Hello}}\n" for n in range(tasks))
        suite = f"ferox: 1\nsuite: {name}\nservers: {{tides: mock}}\ntasks:\n{listed}"
        (root / f"tasks/{name}.yaml").write_text(suite)
    engine = open_database(root)
    run = plan_run(engine, load_workspace(root), suites, names, repeats, 1)
    with Session(engine) as session, session.begin():
        session.execute(
            text(
                "UPDATE trial SET state = 'done', calls = 2, turn_ms = 900, score_arguments = 1,"
                " score_choice = id % 3 > 0, verdict = CASE id % 3 WHEN 0 THEN 'fail'"
                " ELSE 'pass' END WHERE run_id = :run"
            ),
            {"run": run},
        )
        session.execute(text("UPDATE run SET state = 'done' WHERE id = :run"), {"run": run})
    keep_counts(engine, [run])  # as the run's worker does
    engine.dispose()
    return root


if __name__ == "__main__":
    print(measure())
    print(boards())
    print(long_trial())
