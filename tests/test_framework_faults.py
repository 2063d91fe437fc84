"""Real frameworks on bad days: whatever they do, every trial ends, and what explains it is told."""

from __future__ import annotations

import re
import shutil
import tempfile
import unittest
from collections import defaultdict
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ferox.core.remarks import trial_remarks
from ferox.runs.records import plan_run, start_worker
from ferox.store import tables
from ferox.store.database import open_database
from ferox.store.traces import read_trace
from ferox.workspace import load_workspace
from tests.test_demo import STEADY, copy_demo
from tests.waiting import HANG_S

AGENTS = [n for n in STEADY if n not in ("plain-desk-steady", "desk-code-steady")]
"""One agent of each framework."""
HANGING_FAULTS = ("silent", "pings", "http-401", "http-500", "dropped", "garbled")
"""What leaves some framework waiting until its time is up."""
HANGING_TURN_S, TURN_S = 15, 60
FAULTS = {
    "silent": "do: timeout, style: silent",
    "pings": "do: timeout, style: pings",
    "tool-error": "do: tool_error, text: Out of order.",
    "protocol-error": "do: protocol_error",
    "http-401": "do: status, status: 401",
    "http-500": "do: status, status: 500",
    "dropped": "do: drop",
    "garbled": "do: garbled",
    "wrong-shape": "do: wrong_shape",
    "empty": "do: empty",
    "huge": "do: huge",
    "lost-session": "do: lost_session",
    "missing": "do: missing_tool",
    "changed": "do: tools_changed",
    "no-json": "do: model_bad_arguments",
    "unknown": "do: model_unknown_tool",
    "cut-off": "do: model_cut_off",
    "model-500": "do: model_status, status: 500",
}


def write_suite(root: Path, suite: str, faults: list[str]) -> None:
    """A suite with a task for each of the faults."""
    lines = ["ferox: 1", f"suite: {suite}", "servers: {tides: mock}", "tasks:"]
    for name in faults:
        lines += [
            f"  - task: {name}",
            "    say: When is high water tomorrow?",
            f"    faults: [{{server: tides, call: 1, {FAULTS[name]}}}]",
            "    expect: {calls: [{as: high, tool: tides/high_water}]}",
        ]
    (root / f"tasks/{suite}.yaml").write_text("\n".join(lines) + "\n")


class BadDays(unittest.TestCase):
    traces: dict[tuple[str, str], Any]
    trials: dict[tuple[str, str], tables.Trial]

    @classmethod
    def setUpClass(cls) -> None:
        """Every fault, once, against every framework: one run for those that may hang, which are
        given less time, and one for the rest.
        """
        folder = Path(tempfile.mkdtemp(prefix="ferox-faults-"))
        cls.addClassCleanup(shutil.rmtree, folder)
        root = copy_demo(folder)
        write_suite(root, "hanging", [*HANGING_FAULTS])
        write_suite(root, "bad-days", [name for name in FAULTS if name not in HANGING_FAULTS])
        engine = open_database(root)
        workers = []
        for suite, turn_s in (("hanging", HANGING_TURN_S), ("bad-days", TURN_S)):
            for path in (root / "agents").glob("*.yaml"):
                path.write_text(re.sub(r"turn_s: \d+", f"turn_s: {turn_s}", path.read_text()))
            run = plan_run(engine, load_workspace(root), [suite], AGENTS, 1, 5)
            workers.append(start_worker(root, run))
        assert [w.wait(3 * HANG_S) for w in workers] == [0, 0]
        with Session(engine) as session:
            found = session.scalars(select(tables.Trial)).all()
            cls.trials = {(t.agent, t.task): t for t in found}
            cls.traces = {key: read_trace(session, t.id) for key, t in cls.trials.items()}
            session.expunge_all()
        engine.dispose()

    def kinds(self, agent: str, task: str) -> list[str]:
        return [r.kind for r in trial_remarks(self.traces[agent, task])]

    def test_every_trial_ends_with_a_verdict_that_is_the_agents(self) -> None:
        self.assertEqual(len(self.trials), len(AGENTS) * len(FAULTS))
        for key, trial in self.trials.items():
            self.assertEqual(trial.state, "done", key)
            self.assertIn(trial.verdict, ("pass", "fail"), (key, trial.reason))

    def test_every_fault_was_met(self) -> None:
        met: dict[str, int] = defaultdict(int)
        for (_, task), trace in self.traces.items():
            met[task] += any(e.get("fault") for e in trace["events"])
        self.assertEqual(dict(met), dict.fromkeys(FAULTS, len(AGENTS)))

    def test_an_agent_that_hangs_is_reported(self) -> None:
        for (agent, task), trace in self.traces.items():
            *_, last = [e for e in trace["events"] if e["kind"] in ("turn", "call", "model")]
            # One that has its answer, or waits for its model, has not been left time to go on.
            stuck = last["kind"] == "call" and (last["s"] is None or last["error"] is not None)
            if trace["events"][-1]["why"] != "no_reply" or not stuck:
                continue
            found = self.kinds(agent, task)
            self.assertTrue(
                {"hangs_after_error", "waits_for_ever"} & {*found}, (agent, task, found)
            )
        self.assertIn("waits_for_ever", self.kinds("duty-officer-steady", "pings"))

    def test_most_frameworks_go_on_after_a_tools_own_error(self) -> None:
        ends = {a: self.traces[a, "tool-error"]["events"][-1]["why"] for a in AGENTS}
        self.assertEqual(set(ends.values()), {"done"}, ends)

    def test_rewritten_schemas_are_reported(self) -> None:
        self.assertIn("schema_rewritten", self.kinds("desk-smolagents-steady", "tool-error"))
