"""Checking a workspace of 100 suites with 50 tasks each, against reading its YAML alone."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

import yaml

from ferox.workspace.load import load_loosely

DEMO = Path(__file__).resolve().parents[1] / "demo"
SUITES, TASKS = 100, 50
GOAL_S = 5.0


def suite_of(name: str, tasks: int) -> str:
    """The demo's arrivals again and again, each task under a name of its own."""
    text = (DEMO / "tasks/arrivals.yaml").read_text()
    head, body = text.split("tasks:\n", 1)
    body = body.split("\nknown:")[0] + "\n"
    pieces = [f"  - task: {piece}" for piece in body.split("  - task: ")[1:]]
    made = []
    for number in range(tasks):
        first, rest = pieces[number % len(pieces)].split("\n", 1)
        made.append(f"{first}-{number}\n{rest}")
    return head.replace("suite: arrivals", f"suite: {name}") + "tasks:\n" + "".join(made)


def workspace(folder: Path, suites: int, tasks: int) -> Path:
    """The demo's servers and models, with many suites."""
    for name in ("servers", "stand_ins", "recordings"):
        shutil.copytree(DEMO / name, folder / name)
    shutil.copy(DEMO / "ferox.yaml", folder)
    (folder / "tasks").mkdir()
    for number in range(suites):
        (folder / f"tasks/s{number}.yaml").write_text(suite_of(f"s{number}", tasks))
    return folder


def measure() -> str:
    """Seconds until every file is loaded and cross-checked, nothing kept from before."""
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder), SUITES, TASKS)
        begun = time.perf_counter()
        for path in root.glob("tasks/*.yaml"):
            yaml.load(path.read_text(), Loader=yaml.CSafeLoader)
        bound = time.perf_counter() - begun
        begun = time.perf_counter()
        loaded, problems = load_loosely(root)
        took = time.perf_counter() - begun
    count = sum(len(s.tasks) for s in loaded.suites.values())
    assert not problems and count == SUITES * TASKS, problems[:3]
    return (
        f"checking {SUITES} suites × {TASKS} tasks: {took:.2f} s (goal < {GOAL_S:g} s), "
        f"{took / bound:.2f} × reading the YAML alone ({bound:.2f} s)"
    )
