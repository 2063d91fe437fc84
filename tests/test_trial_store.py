"""What is stored of trials: events and traces, results, and the writer's batches."""

from __future__ import annotations

import asyncio
import json
import sqlite3
import threading
import zlib
from contextlib import closing
from typing import Any
from unittest import mock

from sqlalchemy import text
from sqlalchemy.orm import Session

from ferox.store import tables
from ferox.store import writer as store_writer
from ferox.store.database import StoreError, database_path
from ferox.store.results import (
    keep_judgements,
    keep_result,
    read_result,
    read_results,
    results_of,
)
from ferox.store.runs import (
    BY_HAND,
    TrialCounts,
    change_run,
    count_trials,
    failed_cells,
    get_run,
    is_anything_left,
    newest_run_number,
    newest_runs,
    put_back,
    run_before_with,
    shall_stop,
    waiting_trials,
)
from ferox.store.traces import (
    read_events,
    read_model_request,
    read_piece,
    read_trace,
    read_traces,
    read_wire,
)
from ferox.store.trials import (
    add_trial,
    count_stale,
    find_mark,
    finished_of,
    judged_trials,
    keep_mark,
    newest_events,
    note_begin,
    stale_trials,
    trials_of_cell,
    trials_of_run,
)
from ferox.store.writer import Writer
from tests.test_store import StoreCase
from tests.traces import end, trace, turn
from tests.waiting import HANG_S


class Traces(StoreCase):
    """Two trials side by side: each is read by itself."""

    async def asyncSetUp(self) -> None:
        run = self.run_of("ww")
        with Session(self.engine) as session:
            query = session.query(tables.Trial).filter_by(run_id=run).order_by(tables.Trial.number)
            self.one, self.two = (trial.id for trial in query)
        self.events: dict[int, list[Any]] = {
            trial: [{"t": float(n), "kind": "turn", "text": f"{words} {n} äöü"} for n in range(3)]
            for trial, words in ((self.one, "one"), (self.two, "two"))
        }
        async with Writer(self.engine) as writer:
            for trial, events in self.events.items():
                for n, event in enumerate(events):
                    writer.keep_event(trial, n, event)
            writer.keep_wire(self.one, "c1", "request", "answer")
            writer.keep_piece("h1", '[{"name": "high_water"}]')
            body = {"tools": "h1", "messages": ["h2"]}
            writer.keep_model_request(self.one, "m1", body)

    async def finish(self) -> None:
        """Both trials are over: what was rows is packed."""
        async with Writer(self.engine) as writer:
            # What came with the last batch, and what came since.
            writer._with_rows |= {self.one, self.two}
            writer.keep_wire(self.one, "c2", "request 2", "answer 2")
            for trial, events in self.events.items():
                whole = {**trace(), "events": events}
                await writer.keep_result(trial, whole, self.result("p"), "same")  # type: ignore[arg-type]

    def rows(self) -> int:
        with Session(self.engine) as session:
            return sum(
                session.query(table).count()
                for table in (tables.EventRow, tables.WireMessages, tables.ModelRequest)
            )

    async def test_what_is_finished_reads_as_it_did_while_it_went_on(self) -> None:
        def read() -> Any:
            with Session(self.engine) as session:
                return [
                    *(read_events(session, trial, 1) for trial in self.events),
                    read_piece(session, self.one, 1, "text", start=2, size=7),
                    read_piece(session, self.one, 1, None, start=0, size=999),
                    read_wire(session, self.one, "c1"),
                    read_wire(session, self.two, "c1"),
                    read_model_request(session, self.one, "m1"),
                    read_model_request(session, self.two, "m1"),
                ]

        before = read()
        self.assertEqual(self.rows(), 8)
        await self.finish()
        self.assertEqual(read(), before)
        self.assertEqual(self.rows(), 0)
        with Session(self.engine) as session:
            self.assertEqual(read_wire(session, self.one, "c2"), ("request 2", "answer 2"))
            one, two = (
                session.get_one(tables.PackedTrace, trial) for trial in (self.one, self.two)
            )
        self.assertEqual((one.like, two.like), (None, self.one))
        self.assertLess(len(two.body), len(one.body) / 2)

    async def test_what_a_trial_is_packed_against_is_of_its_cell_and_done(self) -> None:
        other = self.run_of("ww", agents=["plain"])
        with Session(self.engine) as session, session.begin():
            first, second = session.query(tables.Trial).filter_by(run_id=other)
            keep_result(session, first.id, trace(end(1, "stopped")), self.result("p"), "same")
            keep_result(session, second.id, trace(), self.result("p"), "same")
            kept = session.query(tables.PackedTrace)
            self.assertEqual([row.like for row in kept], [None, None])

    def test_events_from_a_place_on(self) -> None:
        with Session(self.engine) as session:
            self.assertEqual([e["t"] for e in read_events(session, self.one)], [0, 1, 2])
            later = read_events(session, self.two, 1)
        self.assertEqual([e["text"] for e in later], ["two 1 äöü", "two 2 äöü"])

    def test_a_piece_of_an_event(self) -> None:
        with Session(self.engine) as session:
            self.assertEqual(
                read_piece(session, self.two, 1, "text", start=0, size=5), ("two 1", 9)
            )
            self.assertEqual(read_piece(session, self.two, 1, "text", start=6, size=9), ("äöü", 9))
            whole = read_piece(session, self.one, 2, None, start=0, size=999)
            assert whole is not None
            self.assertEqual(json.loads(whole.text)["text"], "one 2 äöü")
            self.assertEqual(whole.total, len(whole.text))
            for trial, place, field in (
                (self.one, 3, "text"),
                (self.one, 1, "nothing"),
                (99, 1, "text"),
            ):
                self.assertIsNone(read_piece(session, trial, place, field, start=0, size=9))

    async def test_whole_traces_of_finished_trials_only(self) -> None:
        await self.finish()
        waiting = self.run_of("w")
        with Session(self.engine) as session:
            (third,) = session.query(tables.Trial).filter_by(run_id=waiting)
            traces = read_traces(session, [self.two, third.id])
            self.assertEqual(list(traces), [self.two])
            self.assertEqual(traces[self.two], read_trace(session, self.two))
            self.assertEqual(traces[self.two]["events"], read_events(session, self.two))
            self.assertEqual(traces[self.two]["tools"], trace()["tools"])
            self.assertIsNone(read_trace(session, third.id))

    def test_what_stands_beside_a_trace(self) -> None:
        with Session(self.engine) as session:
            wire = read_wire(session, self.one, "c1")
            assert wire is not None
            self.assertEqual(wire, ("request", "answer"))
            self.assertIsNone(read_wire(session, self.two, "c1"))
            shown = read_model_request(session, self.one, "m1")
            self.assertEqual(shown, {"tools": [{"name": "high_water"}], "messages": ["h2"]})
            self.assertIsNone(read_model_request(session, self.one, "m2"))


class Trials(StoreCase):
    """Trials of several tasks and runs: each query keeps to its own."""

    def setUp(self) -> None:
        super().setUp()
        self.first, self.second = self.run_of("pfw"), self.run_of("pp", script="newer")
        with Session(self.engine) as session, session.begin():
            for task in ("before", "zenith"):  # one by name before the task, one after it
                for number, verdict in ((1, "pass"), (2, "fail")):
                    add_trial(
                        session, run_id=self.first, suite="small", task=task, agent="plain",
                        number=number, state="done", verdict=verdict, script="same", place=number,
                        changed_at=1.0,
                    )  # fmt: skip

    def numbers(self, run: int, task: str = "high") -> list[int]:
        with Session(self.engine) as session:
            query = session.query(tables.Trial).filter_by(run_id=run, task=task)
            return [trial.id for trial in query.order_by(tables.Trial.number)]

    def test_judged_trials_of_a_task_the_newest_first(self) -> None:
        done = [*self.numbers(self.first)[:2], *self.numbers(self.second)]
        with Session(self.engine) as session:
            found = [trial.id for trial in judged_trials(session, "small", "high", 9)]
            self.assertEqual(found, sorted(done, reverse=True))
            self.assertEqual(len(judged_trials(session, "small", "high", 3)), 3)
            self.assertEqual(judged_trials(session, "other", "high", 9), [])

    def test_trials_that_were_scored_under_another_script(self) -> None:
        old = self.numbers(self.first)[:2]
        with Session(self.engine) as session:
            self.assertEqual(count_stale(session, "small", {"high": "newer"}), 2)

            def stale(after: int, most: int) -> list[tables.Trial]:
                return stale_trials(
                    session, "small", "high", script="newer", after=after, most=most
                )

            self.assertEqual([t.id for t in stale(0, 9)], sorted(old))
            self.assertEqual(
                {t.id: t.verdict for t in stale(0, 9)}, {old[0]: "pass", old[1]: "fail"}
            )
            self.assertEqual([t.id for t in stale(0, 1)], [min(old)])
            self.assertEqual([t.id for t in stale(min(old), 9)], [max(old)])
            self.assertEqual(count_stale(session, "small", {"high": "same"}), 2)
            self.assertEqual(count_stale(session, "small", {"high": "third"}), 4)
            self.assertEqual(count_stale(session, "small", {"high": "third", "before": "x"}), 6)
            self.assertEqual(count_stale(session, "other", {"high": "third"}), 0)

    def test_only_trials_with_a_whole_trace_are_finished(self) -> None:
        with Session(self.engine) as session:
            trials = trials_of_run(session, self.first)
            self.assertEqual(
                [t.task for t in trials], ["before"] * 2 + ["high"] * 3 + ["zenith"] * 2
            )
            found = [trial.id for trial in finished_of(session, trials)]
        self.assertEqual(found, self.numbers(self.first)[:2])

    def test_only_the_trial_that_begins_is_running(self) -> None:
        *_, waiting = self.numbers(self.first)
        with Session(self.engine) as session, session.begin():
            note_begin(session, waiting, 12.5)
        with Session(self.engine) as session:
            query = session.query(tables.Trial).filter_by(state="running")
            self.assertEqual([(t.id, t.started_at) for t in query], [(waiting, 12.5)])

    async def test_the_newest_events_are_of_trials_that_run(self) -> None:
        one, _, waiting = self.numbers(self.first)
        async with Writer(self.engine) as writer:
            for trial in (one, waiting):
                for n in range(3):
                    event: Any = {"t": float(n), "kind": "turn", "text": str(trial)}
                    writer.keep_event(trial, n, event)
            writer.do_later(lambda session: note_begin(session, waiting, 1.0))
        with Session(self.engine) as session:
            found = newest_events(session, self.first, 2)
            self.assertEqual([(t.id, e["t"]) for t, e in found], [(waiting, 2.0), (waiting, 1.0)])
            self.assertEqual(newest_events(session, self.second, 2), [])

    def test_marks_stand_beside_the_trials_of_a_cell(self) -> None:
        one, two, three = self.numbers(self.first)
        with Session(self.engine) as session, session.begin():
            keep_mark(session, two, "right", "as it should be")
        with Session(self.engine) as session:
            cell = trials_of_cell(session, self.first, "small", "high", "plain")
            self.assertEqual([t.id for t, _ in cell], [one, two, three])
            self.assertEqual([m.note if m else None for _, m in cell],
                             [None, "as it should be", None])  # fmt: skip
            self.assertIsNone(find_mark(session, one))


class Runs(StoreCase):
    """Two runs side by side, one of them half done."""

    def setUp(self) -> None:
        super().setUp()
        self.whole, self.half = self.run_of("pfe"), self.run_of("pfww")
        with Session(self.engine) as session, session.begin():
            waiting = session.query(tables.Trial).filter_by(run_id=self.half, state="waiting")
            waiting.first().state = "running"  # type: ignore[union-attr]

    def test_how_far_a_run_is(self) -> None:
        with Session(self.engine) as session:
            self.assertEqual(
                count_trials(session, self.whole),
                TrialCounts(total=3, done=3, running=0, passes=1, judged=2, errors=1),
            )
            self.assertEqual(
                count_trials(session, self.half),
                TrialCounts(total=4, done=2, running=1, passes=1, judged=2, errors=0),
            )
            self.assertEqual(count_trials(session, 99).total, 0)
            left = [is_anything_left(session, run) for run in (self.whole, self.half, 99)]
        self.assertEqual(left, [False, True, False])

    def test_waiting_trials_the_last_to_be_carried_out_first(self) -> None:
        run = self.run_of("www")
        with Session(self.engine) as session:
            places = [trial.place for trial in waiting_trials(session, run)]
            self.assertEqual(places, [2, 1, 0])
            self.assertEqual(len(waiting_trials(session, self.half)), 1)

    def test_what_failed(self) -> None:
        good = self.run_of("pp")
        with Session(self.engine) as session:
            self.assertEqual(failed_cells(session, self.whole), {("small", "high", "plain")})
            self.assertEqual(failed_cells(session, good), set())

    def test_what_is_not_done_waits_again_with_nothing_left_of_it(self) -> None:
        with Session(self.engine) as session, session.begin():
            trial = session.query(tables.Trial).filter_by(run_id=self.half, state="running").one()
            number = trial.id
            keep_mark(session, number, "right", "")
            change_run(session, self.half, state="stopped", stop=True, message="stopped")
        with Session(self.engine) as session, session.begin():
            self.assertEqual(put_back(session, self.half), 2)
            self.assertEqual(put_back(session, self.whole), 0)
        with Session(self.engine) as session:
            run = get_run(session, self.half)
            self.assertEqual((run.state, run.stop, run.message), ("waiting", False, None))
            self.assertEqual(get_run(session, self.whole).state, "done")
            self.assertEqual(len(waiting_trials(session, self.half)), 2)
            self.assertIsNone(find_mark(session, number))
            self.assertEqual(count_trials(session, self.half).judged, 2)

    def test_runs_the_newest_first_and_those_by_hand_left_out(self) -> None:
        with Session(self.engine) as session, session.begin():
            change_run(session, self.half, title=BY_HAND, state="running")
        last = self.run_of("p")
        with Session(self.engine) as session:
            self.assertEqual([run.id for run in newest_runs(session)], [last, self.whole])
            self.assertEqual([run.id for run in newest_runs(session, most=1)], [last])
            self.assertEqual(newest_runs(session, states=["running"]), [])
            self.assertEqual(newest_run_number(session), last)
            self.assertEqual(run_before_with(session, "plain", last), self.whole)
            self.assertIsNone(run_before_with(session, "plain", self.whole))
            self.assertIsNone(run_before_with(session, "other", last))

    def test_stop_is_of_one_run(self) -> None:
        with Session(self.engine) as session, session.begin():
            change_run(session, self.half, stop=True)
        with Session(self.engine) as session:
            asked = [shall_stop(session, run) for run in (self.whole, self.half, 99)]
        self.assertEqual(asked, [False, True, False])


class Results(StoreCase):
    def test_each_trial_has_its_own_and_the_newest_counts(self) -> None:
        run = self.run_of("pf")
        with Session(self.engine) as session, session.begin():
            query = session.query(tables.Trial).filter_by(run_id=run).order_by(tables.Trial.number)
            one, two = (trial.id for trial in query)
            keep_judgements(session, {one: self.result("g")}, "another")
        with Session(self.engine) as session:
            verdicts = [read_result(session, id)["verdict"] for id in (one, two)]  # type: ignore[index]
            newest, first = results_of(session, one)
            rows = session.query(tables.ResultRow).order_by(tables.ResultRow.id)
            self.assertEqual([row.like for row in rows], [None, rows[0].id, rows[0].id])
            self.assertEqual(
                (verdicts, newest.script, first.script), (["fail", "fail"], "another", "same")
            )
            earlier = read_result(session, one, first.id)
            assert earlier is not None
            self.assertEqual(earlier["verdict"], "pass")
            self.assertIsNone(read_result(session, two, first.id))
            self.assertIsNone(read_result(session, 99))
            self.assertEqual(
                {id: r["verdict"] for id, r in read_results(session, [one, two, 99]).items()},
                {one: "fail", two: "fail"},
            )
            trial = session.get_one(tables.Trial, one)
            self.assertEqual(
                (trial.script, trial.failed, trial.state), ("another", ["answer.1"], "done")
            )

    def test_a_stopped_trial_is_kept_as_stopped(self) -> None:
        run = self.run_of("w")
        ended = trace(turn(), end(1, "stopped"))
        with Session(self.engine) as session, session.begin():
            (trial,) = session.query(tables.Trial).filter_by(run_id=run)
            keep_result(session, trial.id, ended, self.result("p"), "same")
            session.refresh(trial)
            self.assertEqual(trial.state, "stopped")


class Batches(StoreCase):
    async def test_pieces_of_requests_are_kept_once(self) -> None:
        trial = self.first()
        for _ in range(2):
            async with Writer(self.engine) as writer:
                writer.keep_piece("h1", "the same words")
                writer.keep_model_request(trial, "m1", {"messages": ["h1"]})
        with Session(self.engine) as session:
            (piece,) = session.query(tables.Piece).filter_by(hash="h1")
            self.assertEqual(zlib.decompress(piece.body).decode(), "the same words")
            (request,) = session.query(tables.ModelRequest)
            self.assertEqual((request.trial_id, request.event), (trial, "m1"))

    def first(self) -> int:
        run = self.run_of("w")
        with Session(self.engine) as session:
            return int(session.query(tables.Trial).filter_by(run_id=run).one().id)

    async def test_the_newest_form_of_an_event_is_kept_in_its_place(self) -> None:
        trial = self.first()
        event: Any = {"t": 1.0, "kind": "call", "id": "c1", "s": None}
        async with Writer(self.engine) as writer:
            writer.keep_event(trial, 1, {"t": 2.0, "kind": "end"})
            writer.keep_event(trial, 0, event)
            await writer.flush()
            event["s"] = 0.5
            writer.keep_event(trial, 0, event)
        with Session(self.engine) as session:
            found = read_events(session, trial)
        self.assertEqual([(e["t"], e.get("s")) for e in found], [(1.0, 0.5), (2.0, None)])

    async def test_the_first_events_of_a_trial_wait_for_more(self) -> None:
        trial = self.first()
        done: list[str] = []
        async with Writer(self.engine) as writer:
            with mock.patch.object(store_writer, "YOUNG_S", HANG_S):
                writer.keep_event(trial, 0, {"t": 1.0, "kind": "turn"})
                writer.keep_wire(trial, "c1", "request", "answer")
                await writer.do_now(lambda session: done.append("work"))
                self.assertEqual((self.events_of(trial), done), (0, ["work"]))
                await writer.flush()
                self.assertEqual(self.events_of(trial), 1)
                writer.keep_event(trial, 1, {"t": 2.0, "kind": "turn"})  # young no longer
                await writer.do_now(lambda session: None)
                self.assertEqual(self.events_of(trial), 2)
                await writer.forget(trial)
                writer.keep_event(trial, 0, {"t": 1.0, "kind": "turn"})
            with mock.patch.object(store_writer, "YOUNG_S", 0.0):
                await writer.do_now(lambda session: None)
            self.assertEqual(self.events_of(trial), 1)

    async def test_a_small_batch_is_committed_at_once_unless_another_writes(
        self,
    ) -> None:
        trial = self.first()
        threads: list[int] = []

        def note(session: Session) -> None:
            threads.append(threading.get_ident())

        with mock.patch.object(store_writer, "YOUNG_S", 0.0):
            async with Writer(self.engine) as writer:
                writer.keep_event(trial, 0, {"t": 1.0, "kind": "turn"})
                await writer.do_now(note)
                self.assertEqual((self.events_of(trial), threads), (1, [threading.get_ident()]))
                with closing(sqlite3.connect(database_path(self.root))) as other:
                    other.execute("BEGIN IMMEDIATE")
                    writer.keep_event(trial, 1, {"t": 2.0, "kind": "turn"})
                    later = asyncio.create_task(writer.do_now(note))
                    await asyncio.sleep(0.05)
                    self.assertEqual(self.events_of(trial), 1)
                    other.rollback()
                    await later
                self.assertEqual(self.events_of(trial), 2)
                for n in range(store_writer.FEW + 1):
                    writer.keep_event(trial, n, {"t": 1.0, "kind": "turn"})
                del threads[:]
                await writer.do_now(note)
                self.assertNotIn(threading.get_ident(), threads)

    def events_of(self, trial: int) -> int:
        with Session(self.engine) as session:
            return session.query(tables.EventRow).filter_by(trial_id=trial).count()

    async def test_what_could_not_be_stored_is_kept_for_the_next_try(self) -> None:
        trial = self.first()
        writer = Writer(self.engine)
        writer.keep_event(trial, 0, {"t": 1.0, "kind": "end"})
        done: list[str] = []
        writer.do_later(lambda session: done.append("work"))
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

    async def test_work_that_fails_harms_nothing_else_and_says_so(self) -> None:
        trial = self.first()
        done: list[str] = []

        def fails(session: Session) -> None:
            raise ZeroDivisionError("no such number")

        async with Writer(self.engine) as writer:
            writer.keep_event(trial, 0, {"t": 1.0, "kind": "end"})
            writer.do_later(lambda session: done.append("other work"))
            with self.assertRaisesRegex(ZeroDivisionError, "no such number"):
                await writer.do_now(fails)
            await writer.do_now(lambda session: done.append("later work"))
        self.assertEqual(done[-2:], ["other work", "later work"])
        with Session(self.engine) as session:
            self.assertEqual(len(read_events(session, trial)), 1)

    async def test_work_in_a_batch_that_the_database_refuses_is_reported(self) -> None:
        self.first()

        def fails(session: Session) -> None:
            raise ZeroDivisionError

        async with Writer(self.engine) as writer:
            writer.do_later(fails)
            with self.assertRaises(StoreError):
                await writer.do_now(lambda s: s.execute(text("INSERT INTO nowhere VALUES (1)")))
            writer._due.work.clear()

    async def test_a_writer_remembers_only_so_many_pieces(self) -> None:
        self.first()
        with mock.patch.object(store_writer, "MOST_KNOWN", 2):
            async with Writer(self.engine) as writer:
                for hashed in ("h1", "h2", "h3", "h1", "h1"):
                    writer.keep_piece(hashed, f"words of {hashed}")
                    self.assertLessEqual(len(writer._known_pieces), 2)
                self.assertEqual([p["hash"] for p in writer._due.pieces], ["h1", "h2", "h3", "h1"])
                writer.do_later(lambda session: None)
        with Session(self.engine) as session:
            kept = {p.hash for p in session.query(tables.Piece) if p.hash.startswith("h")}
        self.assertLessEqual({"h1", "h2", "h3"}, kept)
