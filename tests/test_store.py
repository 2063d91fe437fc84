"""The store: the writer's batches, the board's cells and ledger, and what a trial lies beside."""

from __future__ import annotations

import unittest
from typing import Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from ferox.core.statistics import wilson
from ferox.runs.records import plan_run
from ferox.runs.results import keep_result
from ferox.runs.snapshot import Snapshot, script_hash, take_snapshot
from ferox.store import tables
from ferox.store.board import read_cells, read_ledger
from ferox.store.database import StoreError, open_database
from ferox.store.traces import neighbours, read_events
from ferox.store.writer import Writer
from ferox.workspace import load_workspace
from tests.traces import judged, trace
from tests.workspaces import WorkspaceCase


class StoreCase(WorkspaceCase, unittest.IsolatedAsyncioTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)

    def run_of(self, verdicts: str, script: str = "same") -> int:
        """A finished run of one cell: p passed, f failed, e error, w still waiting."""
        loaded = load_workspace(self.root)
        run = plan_run(self.engine, loaded, ["small"], ["plain"], len(verdicts), 1)
        with Session(self.engine) as session, session.begin():
            trials = session.query(tables.Trial).filter_by(run_id=run)
            for trial, letter in zip(trials.order_by(tables.Trial.number), verdicts, strict=True):
                if letter != "w":
                    keep_result(session, trial.id, trace(), self.result(letter), script)
            session.get_one(tables.Run, run).state = "done"
        return run

    def result(self, letter: str) -> Any:
        expect = {"p": {"answer": [{"matches": "Done"}]}, "f": {"answer": [{"matches": "x"}]}}
        result = judged(expect.get(letter, {}))
        if letter == "e":
            result["verdict"], result["reason"] = "error", "no model"
            result["scores"] = dict.fromkeys(result["scores"])
        return result


class Board(StoreCase):
    def test_a_cell_counts_and_means_leave_errors_and_untested_out(self) -> None:
        run = self.run_of("pfpew")
        with Session(self.engine) as session:
            (cell,) = read_cells(session, run)
        self.assertEqual((cell.passes, cell.n, cell.errors, cell.waiting), (2, 3, 1, 1))
        self.assertEqual(cell.interval, wilson(2, 3))
        teeth = {t.family: (t.score, t.n) for t in cell.comb}
        self.assertEqual(teeth["outcome"], (0.666667, 3))
        self.assertEqual(teeth["order"], (None, 0))

    def test_only_cells_that_changed(self) -> None:
        run = self.run_of("pp")
        with Session(self.engine) as session:
            (trial, _) = session.query(tables.Trial).filter_by(run_id=run)
            self.assertEqual(read_cells(session, run, trial.changed_at + 10), [])
            self.assertEqual(len(read_cells(session, run, trial.changed_at - 10)), 1)

    def ledger(self, run: int) -> tuple[int | None, list[tuple[str, Any, Any]]]:
        with Session(self.engine) as session:
            before, entries = read_ledger(session, run)
        return before, [(e.kind, e.before, e.now) for e in entries]

    def test_what_broke_was_mended_or_wavers(self) -> None:
        one = self.run_of("ppp")
        self.assertEqual(self.ledger(one), (None, []))
        two = self.run_of("pff")
        self.assertEqual(self.ledger(two), (one, [("broke", (3, 3), (1, 3))]))
        three = self.run_of("ppf")
        self.assertEqual(self.ledger(three), (two, [("mended", (1, 3), (2, 3))]))
        four = self.run_of("ppf")
        self.assertEqual(self.ledger(four), (three, [("wavers", (2, 3), (2, 3))]))

    def test_another_script_is_not_compared(self) -> None:
        self.run_of("ppp", "old")
        self.assertEqual(self.ledger(self.run_of("fff", "new")), (None, []))

    def test_the_check_that_tipped_is_the_one_that_failed_most(self) -> None:
        self.run_of("pp")
        run = self.run_of("ff")
        with Session(self.engine) as session:
            _, (entry,) = read_ledger(session, run)
        self.assertEqual(entry.tipped, "answer.0")
        self.assertEqual(len(entry.trials), 2)

    def test_what_a_trial_lies_beside(self) -> None:
        run = self.run_of("pfwpf")
        with Session(self.engine) as session:
            trials = session.query(tables.Trial).filter_by(run_id=run)
            one, two, _, four, five = trials.order_by(tables.Trial.number)
            near = neighbours(session, two)
        self.assertEqual((near["previous"], near["next"]), (one.id, four.id))
        self.assertEqual((near["previous_failure"], near["next_failure"]), (None, five.id))


class Batches(StoreCase):
    def first(self) -> int:
        run = self.run_of("w")
        with Session(self.engine) as session:
            return int(session.query(tables.Trial).filter_by(run_id=run).one().id)

    async def test_the_newest_form_of_an_event_is_kept_in_its_place(self) -> None:
        trial = self.first()
        event: Any = {"t": 1.0, "kind": "call", "id": "c1", "s": None}
        async with Writer(self.engine) as writer:
            writer.event(trial, 1, {"t": 2.0, "kind": "end"})
            writer.event(trial, 0, event)
            await writer.flush()
            event["s"] = 0.5
            writer.event(trial, 0, event)
        with Session(self.engine) as session:
            told = read_events(session, trial)
        self.assertEqual([(e["t"], e.get("s")) for e in told], [(1.0, 0.5), (2.0, None)])

    async def test_what_could_not_be_stored_is_kept_for_the_next_try(self) -> None:
        trial = self.first()
        writer = Writer(self.engine)
        writer.event(trial, 0, {"t": 1.0, "kind": "end"})
        done: list[str] = []
        writer.later(lambda session: done.append("work"))
        with self.engine.begin() as connection:
            connection.execute(text("ALTER TABLE event RENAME TO away"))
        with self.assertRaises(StoreError):
            await writer.flush()
        with self.engine.begin() as connection:
            connection.execute(text("ALTER TABLE away RENAME TO event"))
        await writer.flush()
        with Session(self.engine) as session:
            self.assertEqual(len(read_events(session, trial)), 1)
        self.assertEqual(done, ["work"])


class Snapshots(WorkspaceCase):
    def test_it_holds_all_that_a_run_uses_and_reads_back_the_same(self) -> None:
        self.change("agents/plain.yaml", "model:", "instructions: Be brief.\nmodel:")
        snapshot = take_snapshot(load_workspace(self.root), ["small"], ["plain"])
        again = Snapshot.model_validate_json(snapshot.text())
        self.assertEqual(again.text(), snapshot.text())
        self.assertEqual(set(again.models), {"steady"})
        self.assertEqual(again.instructions, {"plain": "Be brief."})
        self.assertEqual(again.task("small", "high").say, "When is high water today?")

    def test_a_scripts_hash_changes_with_what_judges_and_only_then(self) -> None:
        def hashed() -> str:
            suite = load_workspace(self.root).suites["small"]
            return script_hash(suite, suite.tasks[0])

        before = hashed()
        self.change("servers/tides.yaml", '"14:31"', '"15:31"')
        self.change("tasks/small.yaml", "ferox: 1", "# a comment\nferox: 1")
        self.assertEqual(hashed(), before)
        self.change("tasks/small.yaml", "is: 1}", "is: 2}")
        self.assertNotEqual(hashed(), before)
