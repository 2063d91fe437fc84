"""A workspace with one finished run of many trials, all alike, brought in from a file."""

from __future__ import annotations

from pathlib import Path

from bench.scoring import trial
from bench.trials import workspace
from ferox.bringing.bringing import BringingOptions, bring_files
from ferox.exports.results import json_line
from ferox.formats.suite import Suite
from ferox.store.database import open_database
from ferox.workspace.load import load_workspace


def fill_run(root: Path, trials: int, more_calls: int = 2) -> Suite:
    """Fill an empty folder; the suite that the run's trials were judged by."""
    suite, trace = trial(more_calls)
    workspace(root)
    for old in (root / "tasks").glob("*.yaml"):
        old.unlink()
    tools = [{"name": address.split("/", 1)[1]} for address in trace["tools"]]
    server = {"ferox": 1, "server": "s", "mock": {"tools": tools}}
    (root / "servers/s.yaml").write_text(json_line(server))
    document = suite.model_dump(mode="json", by_alias=True, exclude_unset=True)
    document |= {"ferox": 1, "servers": {"s": "mock"}}
    (root / "tasks/s.yaml").write_text(json_line(document))
    with (root / "traces.jsonl").open("w") as file:
        for _ in range(trials):
            file.write(json_line(trace))
    loaded = load_workspace(root)
    engine = open_database(root)
    bring_files(engine, loaded, [root / "traces.jsonl"], BringingOptions())
    engine.dispose()
    return loaded.suites[suite.suite]
