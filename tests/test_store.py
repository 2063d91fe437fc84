"""The store: the writer's batches, the board's cells and ledger, and what a trial lies beside."""

from __future__ import annotations

import json
import zlib
from typing import Any
from unittest import mock

from alembic import command
from alembic.config import Config
from sqlalchemy import delete, text
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from ferox.core.statistics import wilson_interval
from ferox.formats.agent import AgentFile
from ferox.runs.cell_setup import agent_code
from ferox.runs.records import plan_run
from ferox.runs.snapshot import Snapshot, script_hash, take_snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store import board, tables
from ferox.store.board import keep_counts, read_cells
from ferox.store.database import (
    MIGRATIONS,
    StoreError,
    check_in_place,
    database_path,
    open_database,
    read_session,
    write_session,
)
from ferox.store.holding import (
    call_decision,
    decide_call,
    held_calls,
    hold_call,
    release_call,
    rule_of,
    run_of,
    set_rule,
)
from ferox.store.ledger import Ledger, read_ledger
from ferox.store.pieces import bring_back, put_away
from ferox.store.results import keep_result, results_of, verdict_of
from ferox.store.runs import count_trials
from ferox.store.snapshots import read_snapshot
from ferox.store.traces import read_traces
from ferox.store.trials import neighbouring_trials, trials_of_run
from ferox.workspace import load_workspace
from tests.async_case import AsyncCase
from tests.traces import judged, trace
from tests.workspaces import PLAIN, WorkspaceCase


class StoreCase(WorkspaceCase, AsyncCase):
    def setUp(self) -> None:
        super().setUp()
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)

    def run_of(self, verdicts: str, script: str = "same", agents: Any = ("plain",)) -> int:
        """A finished run of a cell for each agent: p passed, f failed, g failed otherwise,
        u unjudged, e error, w still waiting."""
        loaded = load_workspace(self.root)
        run = plan_run(self.engine, loaded, ["small"], list(agents), len(verdicts), 1)
        with Session(self.engine) as session, session.begin():
            for trial in session.query(tables.Trial).filter_by(run_id=run):
                letter = verdicts[trial.number - 1]
                if letter != "w":
                    keep_result(session, trial.id, trace(), self.result(letter), script)
            session.get_one(tables.Run, run).state = "done"
        return run

    def result(self, letter: str) -> Any:
        done, x = {"matches": "Done"}, {"matches": "x"}
        expect = {"p": {"answer": [done]}, "f": {"answer": [x]}, "g": {"answer": [done, x]}}
        result = judged(expect.get(letter, {}))
        if letter == "e":
            result["verdict"], result["reason"] = "error", "no model"
            result["scores"] = dict.fromkeys(result["scores"])
        return result


class Board(StoreCase):
    def test_a_cell_counts_and_means_leave_errors_and_untested_out(self) -> None:
        run = self.run_of("pfpewu")
        with Session(self.engine) as session:
            (cell,) = read_cells(session, run)
        self.assertEqual((cell.passes, cell.n, cell.errors, cell.waiting), (2, 3, 1, 1))
        self.assertEqual(cell.unjudged, 1)
        self.assertEqual(cell.interval, wilson_interval(2, 3))
        teeth = {t.family: (t.score, t.n) for t in cell.comb}
        self.assertEqual(teeth["outcome"], (0.666667, 3))
        self.assertEqual(teeth["order"], (None, 0))

    def test_trials_that_run_are_counted_apart(self) -> None:
        run = self.run_of("pww")
        with Session(self.engine) as session, session.begin():
            first = session.query(tables.Trial).filter_by(run_id=run, state="waiting").first()
            assert first is not None
            first.state = "running"
        with Session(self.engine) as session:
            (cell,) = read_cells(session, run)
        self.assertEqual((cell.waiting, cell.running, cell.n), (1, 1, 1))

    def test_only_cells_that_changed(self) -> None:
        run = self.run_of("pp")
        with Session(self.engine) as session:
            (trial, _) = session.query(tables.Trial).filter_by(run_id=run)
            self.assertEqual(read_cells(session, run, trial.changed_at + 10), [])
            self.assertEqual(len(read_cells(session, run, trial.changed_at - 10)), 1)

    def test_what_a_trial_lies_beside(self) -> None:
        run = self.run_of("pfwpf")
        with Session(self.engine) as session:
            trials = session.query(tables.Trial).filter_by(run_id=run)
            one, two, _, four, five = trials.order_by(tables.Trial.number)
            near = neighbouring_trials(session, two)
        self.assertEqual((near["previous"], near["next"]), (one.id, four.id))
        self.assertEqual((near["previous_failure"], near["next_failure"]), (None, five.id))


class LedgerTest(StoreCase):
    def ledger(self, run: int, base: int | None = None) -> Ledger:
        with Session(self.engine) as session:
            return read_ledger(session, run, read_cells(session, run), base)

    def ledger_of(self, run: int, base: int | None = None) -> list[tuple[str, Any, Any]]:
        """Kind, counts before and counts now of each entry."""
        groups = self.ledger(run, base).groups
        return [(g.kind, e.before, e.now) for g in groups for e in g.entries]

    def test_what_broke_was_mended_or_wavers(self) -> None:
        one = self.run_of("ppp")
        self.assertEqual(self.ledger_of(one), [])
        two = self.run_of("pff")
        self.assertEqual(self.ledger_of(two), [("broke", (3, 3), (1, 3))])
        three = self.run_of("ppf")
        self.assertEqual(self.ledger_of(three), [("wavers", (1, 3), (2, 3))])  # no more than chance
        four = self.run_of("ppf")
        self.assertEqual(self.ledger_of(four), [("wavers", (2, 3), (2, 3))])
        self.assertEqual(self.ledger(four).bases, [three])

    def test_a_cell_that_wavers_broke_only_by_more_than_chance(self) -> None:
        self.run_of("ppff")
        self.assertEqual(self.ledger_of(self.run_of("pff")), [("wavers", (2, 4), (1, 3))])
        self.run_of("p" * 9 + "f")  # 0.60 to 0.98 by Wilson; then 0.02 to 0.40
        run = self.run_of("p" + "f" * 9)
        self.assertEqual(self.ledger_of(run), [("broke", (9, 10), (1, 10))])
        self.assertEqual(self.ledger_of(self.run_of("ppp")), [("mended", (1, 10), (3, 3))])

        self.run_of("p" + "f" * 9)
        run = self.run_of("p" * 9 + "f")
        self.assertEqual(self.ledger_of(run), [("mended", (1, 10), (9, 10))])

    def test_a_later_run_is_no_predecessor(self) -> None:
        first, second, _ = self.run_of("pp"), self.run_of("ff"), self.run_of("ff")
        self.assertEqual(self.ledger_of(second), [("broke", (2, 2), (0, 2))])
        self.assertEqual(self.ledger(second).bases, [first])

    def test_a_run_that_goes_on_is_no_predecessor(self) -> None:
        one, two = self.run_of("ppp"), self.run_of("fff")
        with Session(self.engine) as session, session.begin():
            session.get_one(tables.Run, two).state = "running"
        three = self.run_of("ppp")
        self.assertEqual((self.ledger(three).bases, self.ledger_of(three)), ([one], []))

    def test_a_run_with_another_model_is_passed_over(self) -> None:
        one = self.run_of("ppp")
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        self.assertEqual(self.ledger(self.run_of("fff")).no_predecessor, 1)
        self.change("agents/plain.yaml", "model: hasty", "model: steady")
        three = self.run_of("ppp")
        self.assertEqual((self.ledger(three).bases, self.ledger_of(three)), ([one], []))

    def test_a_first_run_has_no_predecessor_and_what_fails_stands_first(self) -> None:
        ledger = self.ledger(self.run_of("fff"))
        self.assertEqual((ledger.compared, ledger.no_predecessor), (0, 1))
        self.assertEqual(self.ledger_of(self.run_of("fff")), [])
        self.assertEqual([g.kind for g in ledger.groups], ["fails"])

    def test_what_fails_as_before_is_counted(self) -> None:
        self.run_of("ff")
        ledger = self.ledger(self.run_of("ff"))
        self.assertEqual((ledger.groups, ledger.failing_as_before, ledger.compared), ([], 1, 1))

    def test_a_cell_that_fails_in_another_check(self) -> None:
        self.run_of("ff")
        run = self.run_of("gg")
        (group,) = self.ledger(run).groups
        self.assertEqual((group.kind, group.failed_check), ("otherwise", "answer.1"))
        assert group.entries[0].was is not None
        self.assertEqual(group.entries[0].was.failed_check, "answer.0")

    def test_the_predecessor_has_the_same_model_modes_and_faults(self) -> None:
        first = self.run_of("ppp")
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        other = self.run_of("fff")
        self.assertEqual(self.ledger(other).no_predecessor, 1)
        self.change("agents/plain.yaml", "model: hasty", "model: steady")
        back = self.run_of("ppf")
        self.assertEqual(self.ledger(back).bases, [first])
        chosen = self.ledger(back, other)
        self.assertEqual(chosen.groups[0].kind, "mended")
        self.assertIn("model", chosen.groups[0].differs)

    def test_a_run_without_judged_trials_is_passed_over(self) -> None:
        first = self.run_of("ppp")
        self.run_of("eee")
        self.run_of("uu")
        self.assertEqual(self.ledger(self.run_of("fff")).bases, [first])

    def test_what_differs_in_the_set_up(self) -> None:
        self.run_of("ppp", "old")
        self.change("agents/plain.yaml", "model: steady", "model: steady\ninstructions: Be brief.")
        self.change("servers/tides.yaml", "mock:", "wording: {high_water: {name: hw}}\nmock:")
        (group,) = self.ledger(self.run_of("fff", "new")).groups
        self.assertEqual(group.differs, ("instructions", "wording", "script"))

    def test_the_sentence_and_check_that_most_trials_share(self) -> None:
        self.run_of("ppp")
        run = self.run_of("ffg")
        (group,) = self.ledger(run).groups
        self.assertEqual(group.failed_check, "answer.0")
        self.assertEqual(group.message, "The answer does not match /x/")
        with Session(self.engine) as session:
            trials = session.query(tables.Trial).filter_by(run_id=run).order_by("number")
            self.assertEqual(group.entries[0].cause.trials, tuple(t.id for t in trials))

    def test_equal_causes_are_grouped(self) -> None:
        self.write("agents/other.yaml", PLAIN.replace("agent: plain", "agent: other"))
        for letters in ("pp", "ff"):
            run = self.run_of(letters, agents=["plain", "other"])
        (group,) = self.ledger(run).groups
        self.assertEqual([e.agent for e in group.entries], ["other", "plain"])

    def test_runs_of_before_set_ups_were_kept_are_no_predecessors(self) -> None:
        first = self.run_of("ppp")
        with Session(self.engine) as session, session.begin():
            session.execute(delete(tables.CellSetup).where(tables.CellSetup.run_id == first))
        self.assertEqual(self.ledger(self.run_of("fff")).no_predecessor, 1)

    def test_the_code_of_an_agent_tells_itself_apart(self) -> None:
        self.write("agents/desk.py", "import tools.fares\nfrom helper import x\n")
        self.write("agents/tools/fares.py", "FARE = 4\n")
        self.write("agents/helper.py", "x = 1\n")
        self.write("agents/else.py", "y = 1\n")
        body = {"ferox": 1, "agent": "a", "link": "python", "entry": "agents/desk.py:open_desk"}
        file = AgentFile.model_validate(body)
        first = agent_code(file, self.root)
        assert first is not None
        self.write("agents/else.py", "y = 2\n")
        self.assertEqual(agent_code(file, self.root), first)
        self.write("agents/tools/fares.py", "FARE = 5\n")
        self.assertNotEqual(agent_code(file, self.root), first)
        service = {"ferox": 1, "agent": "a", "link": "chat", "url": "http://127.0.0.1:1"}
        self.assertIsNone(agent_code(AgentFile.model_validate(service), self.root))


class CountedCells(StoreCase):
    """What a cell comes to is kept, and is never older than its trials."""

    def kept(self) -> list[bool]:
        with Session(self.engine) as session:
            cells = session.query(tables.CountedCell).order_by(tables.CountedCell.run_id)
            return [cell.body is not None for cell in cells]

    def cells(self, run: int) -> Any:
        with Session(self.engine) as session:
            return read_cells(session, run), count_trials(session, run)

    def change(self, *_: Any) -> None:
        with self.engine.begin() as connection:
            connection.execute(text("UPDATE trial SET verdict = 'fail' WHERE number = 1"))

    def test_what_is_kept_is_what_is_counted(self) -> None:
        run, other = self.run_of("pfgeuw"), self.run_of("pp")
        self.assertEqual(self.kept(), [False, False])
        before = self.cells(run)
        keep_counts(self.engine, [run])
        self.assertEqual(self.kept(), [True, False])
        self.assertEqual(self.cells(run), before)
        keep_counts(self.engine, [run, other])
        self.assertEqual(self.kept(), [True, True])
        (cell,), counts = before
        self.assertEqual((cell.cause.failed_check, len(cell.cause.trials)), ("answer.0", 2))
        self.assertEqual((cell.total, cell.done, cell.passes, cell.n), (6, 5, 1, 3))
        self.assertEqual((counts.total, counts.done, counts.errors), (6, 5, 1))

    def test_whoever_changes_a_trial_its_cell_is_counted_again(self) -> None:
        run = self.run_of("pp")
        for change in (
            "UPDATE trial SET verdict = 'fail' WHERE number = 1",
            "DELETE FROM trial WHERE number = 2",
            "INSERT INTO trial (run_id, suite, task, agent, number, place, state, changed_at,"
            f" calls, verdict) VALUES ({run},'small','high','plain', 9, 9, 'done', 1, 0, 'pass')",
        ):
            keep_counts(self.engine, [run])
            with self.engine.begin() as connection:
                if change.startswith("DELETE"):
                    for table in ("packed_trace", "result"):
                        connection.execute(text(f"DELETE FROM {table}"))
                connection.execute(text(change))
            self.assertEqual(self.kept(), [False], change)
        ((cell,), _) = self.cells(run)
        self.assertEqual((cell.total, cell.passes, cell.n), (2, 1, 2))

    def test_a_change_while_it_is_counted_is_not_lost(self) -> None:
        run = self.run_of("pp")
        count = board._count_cells

        def count_then_change(*given: Any) -> Any:
            counted = count(*given)
            self.change()
            return counted

        with mock.patch.object(board, "_count_cells", count_then_change):
            keep_counts(self.engine, [run])
        self.assertEqual(self.kept(), [False])
        ((cell,), _) = self.cells(run)
        self.assertEqual((cell.passes, cell.n), (1, 2))

    def test_only_cells_that_changed_are_read_again(self) -> None:
        self.write("agents/other.yaml", PLAIN.replace("agent: plain", "agent: other"))
        run = self.run_of("pp", agents=["plain", "other"])
        keep_counts(self.engine, [run])
        with self.engine.begin() as connection:
            far = "UPDATE trial SET changed_at = 9e9 WHERE agent = 'other' AND number = 1"
            connection.execute(text(far))
        with Session(self.engine) as session:
            (cell,) = read_cells(session, run, 8e9)
        self.assertEqual(cell.agent, "other")


class Pieces(StoreCase):
    def test_a_document_comes_back_as_it_was_put_away(self) -> None:
        document = {"a": 1, "tools": {"t": "ü"}, "suites": {"one": [1], "two": [1]}, "none": None}
        with write_session(self.engine) as session:
            kept = put_away(session, document, whole=["tools", "gone"], by_entry=["suites"])
            self.assertEqual(bring_back(session, [kept, {"b": 2}]), [document, {"b": 2}])
        pieces = kept["pieces"]
        self.assertEqual(set(kept), {"a", "none", "pieces"})
        self.assertEqual(pieces["suites"]["one"], pieces["suites"]["two"])

    def test_what_is_alike_is_stored_once(self) -> None:
        run = self.run_of("pp")
        with read_session(self.engine) as session:
            before = session.query(tables.Piece).count()
        self.run_of("pp")
        with read_session(self.engine) as session:
            self.assertEqual(session.query(tables.Piece).count(), before)
            ids = [t.id for t in trials_of_run(session, run)]
            whole = read_traces(session, ids)
            self.assertEqual(whole[ids[0]]["tools"], trace()["tools"])
            packed = session.query(tables.PackedTrace).filter_by(like=None).first()
            assert packed is not None
            self.assertNotIn("tools", json.loads(zlib.decompress(packed.body))["head"])
            self.assertEqual(snapshot_of(session, run), snapshot_of(session, run + 1))

    def test_more_pieces_than_sqlite_takes_at_once(self) -> None:
        document = {"servers": {f"s{n}": n for n in range(1200)}}
        with write_session(self.engine) as session:
            kept = put_away(session, document, by_entry=["servers"])
            self.assertEqual(bring_back(session, [kept]), [document])

    def test_a_database_of_an_older_ferox_reads_the_same(self) -> None:
        run = self.run_of("pfg")
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))

        def whole() -> Any:
            with read_session(self.engine) as session:
                ids = [t.id for t in trials_of_run(session, run)]
                return (
                    read_traces(session, ids),
                    [results_of(session, id) for id in ids],
                    read_snapshot(session, run),
                )

        before = whole()
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.downgrade(config, "0005")
        with read_session(self.engine) as session:
            (old,) = session.execute(text("SELECT body FROM trace_head LIMIT 1")).one()
            self.assertEqual(json.loads(old)["tools"], trace()["tools"])
        self.engine.dispose()
        self.engine = open_database(self.root)
        self.assertEqual(whole(), before)


class Holding(StoreCase):
    """Held calls of two runs, which nobody may mix up."""

    def setUp(self) -> None:
        super().setUp()
        self.runs = [self.run_of("w"), self.run_of("w")]
        self.held = []
        for run in self.runs:
            with read_session(self.engine) as session:
                (trial,) = trials_of_run(session, run)
            self.held.append(hold_call(self.engine, run, trial.id, "tides/high_water", {"n": run}))

    def test_each_run_has_its_own_rule(self) -> None:
        set_rule(self.engine, self.runs[1], {"when": "any"})
        with read_session(self.engine) as session:
            self.assertIsNone(rule_of(session, self.runs[0]))
            self.assertEqual(rule_of(session, self.runs[1]), {"when": "any"})

    def test_each_run_has_its_own_calls(self) -> None:
        with read_session(self.engine) as session:
            for run, held in zip(self.runs, self.held, strict=True):
                (call,) = held_calls(session, run)
                self.assertEqual((call.id, call.args), (held, {"n": run}))
                self.assertEqual(run_of(self.engine, held), run)

    def test_only_the_call_that_is_meant_is_decided_and_only_once(self) -> None:
        first, second = self.held
        self.assertTrue(decide_call(self.engine, second, "go", None))
        self.assertFalse(decide_call(self.engine, second, "fail", None))
        self.assertEqual(call_decision(self.engine, second), ("go", None))
        self.assertIsNone(call_decision(self.engine, first))
        release_call(self.engine, first)
        self.assertEqual(call_decision(self.engine, first), ("gone", None))


class InPlace(StoreCase):
    def test_a_file_that_was_replaced_is_reported(self) -> None:
        check_in_place(self.engine)
        path = database_path(self.root)
        self.assertTrue(path.is_file())
        path.write_bytes(path.rename(path.with_name("elsewhere")).read_bytes())
        with self.assertRaisesRegex(StoreError, "removed or replaced"):
            check_in_place(self.engine)

    def test_what_belongs_to_nothing_is_not_stored(self) -> None:
        with self.assertRaises(IntegrityError), write_session(self.engine) as session:
            session.add(tables.StoredSnapshot(run_id=999, body={}))


class Lines(StoreCase):
    """What a trial's own line tells of its result."""

    def test_turns_are_summed_and_those_without_a_reply_left_out(self) -> None:
        run = self.run_of("w")
        result = self.result("p")
        result["latency"]["turn_ms"] = [300.0, None, 200.0]
        with write_session(self.engine) as session:
            (trial,) = trials_of_run(session, run)
            keep_result(session, trial.id, trace(), result, "same")
        with read_session(self.engine) as session:
            self.assertEqual(trials_of_run(session, run)[0].turn_ms, 500.0)

    def test_a_result_of_before_it_was_told_counts_as_judged(self) -> None:
        result = self.result("p")
        del result["judged"]
        self.assertEqual(verdict_of(result), "pass")


class Snapshots(StoreCase):
    def test_each_run_reads_back_its_own(self) -> None:
        first = self.run_of("p")
        self.change("agents/plain.yaml", "model:", "instructions: Be brief.\nmodel:")
        second = self.run_of("p")
        with read_session(self.engine) as session:
            self.assertEqual(snapshot_of(session, first).instructions, {"plain": ""})
            self.assertEqual(snapshot_of(session, second).instructions, {"plain": "Be brief."})

    def test_it_holds_all_that_a_run_uses_and_reads_back_the_same(self) -> None:
        self.change("agents/plain.yaml", "model:", "instructions: Be brief.\nmodel:")
        snapshot = take_snapshot(load_workspace(self.root), ["small"], ["plain"])
        again = Snapshot.model_validate_json(json.dumps(snapshot.document()))
        self.assertEqual(again.document(), snapshot.document())
        self.assertEqual(set(again.models), {"steady"})
        self.assertEqual(again.instructions, {"plain": "Be brief."})
        self.assertEqual(again.find_task("small", "high").say, "When is high water today?")

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
