"""What is stored of trials: events and traces, results, and the writer's batches."""

from __future__ import annotations

import json
import zlib
from typing import Any
from unittest import mock

from sqlalchemy import text
from sqlalchemy.orm import Session

from ferox.store import tables
from ferox.store import writer as store_writer
from ferox.store.database import StoreError
from ferox.store.results import (
    keep_judgements,
    keep_result,
    read_result,
    read_results,
    results_of,
)
from ferox.store.traces import (
    read_events,
    read_model_request,
    read_piece,
    read_trace,
    read_traces,
    read_wire,
)
from ferox.store.writer import Writer
from tests.test_store import StoreCase
from tests.traces import end, trace, turn


class Traces(StoreCase):
    """Two trials side by side: each is read by itself."""

    async def asyncSetUp(self) -> None:
        run = self.run_of("pf")
        with Session(self.engine) as session:
            query = session.query(tables.Trial).filter_by(run_id=run).order_by(tables.Trial.number)
            self.one, self.two = (trial.id for trial in query)
        async with Writer(self.engine) as writer:
            for trial, words in ((self.one, "one"), (self.two, "two")):
                for n in range(3):
                    event: Any = {"t": float(n), "kind": "turn", "text": f"{words} {n} äöü"}
                    writer.keep_event(trial, n, event)
            writer.keep_wire(self.one, "c1", "request", "answer")
            writer.keep_piece("h1", '[{"name": "high_water"}]')
            body = {"tools": "h1", "messages": ["h2"]}
            writer.model_request(self.one, "m1", body)

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

    def test_whole_traces_of_finished_trials_only(self) -> None:
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
            self.assertEqual((wire.request, wire.answer), ("request", "answer"))
            self.assertIsNone(read_wire(session, self.two, "c1"))
            shown = read_model_request(session, self.one, "m1")
            self.assertEqual(shown, {"tools": [{"name": "high_water"}], "messages": ["h2"]})
            self.assertIsNone(read_model_request(session, self.one, "m2"))


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
                writer.model_request(trial, "m1", {"messages": ["h1"]})
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
            writer._work.clear()

    async def test_a_writer_remembers_only_so_many_pieces(self) -> None:
        self.first()
        with mock.patch.object(store_writer, "MOST_KNOWN", 2):
            async with Writer(self.engine) as writer:
                for hashed in ("h1", "h2", "h3", "h1", "h1"):
                    writer.keep_piece(hashed, f"words of {hashed}")
                    self.assertLessEqual(len(writer._known_pieces), 2)
                self.assertEqual([p["hash"] for p in writer._pieces], ["h1", "h2", "h3", "h1"])
                writer.do_later(lambda session: None)
        with Session(self.engine) as session:
            kept = {p.hash for p in session.query(tables.Piece) if p.hash.startswith("h")}
        self.assertLessEqual({"h1", "h2", "h3"}, kept)
