"""Reports, exports and bringing in, as the screens ask for them."""

from __future__ import annotations

import json
from typing import Any
from unittest import mock

from ferox.runs.records import plan_run
from ferox.web.sharing import bringings
from ferox.web.sharing.job import Job
from ferox.web.sharing.kept_files import MOST_KEPT
from ferox.workspace import load_workspace
from tests.collector import Collector
from tests.serving import AppCase
from tests.spans import document
from tests.test_bringing import two_chats
from tests.waiting import until


class SharingCase(AppCase):
    def run_small(self, repeats: int = 2) -> int:
        body = {"suites": ["small"], "agents": ["plain"], "repeats": repeats}
        run = int(self.ask("/api/runs", body).body["id"])
        until(lambda: self.ask(f"/api/runs/{run}/board").body["run"]["state"] == "done")
        return run

    def over(self, kind: str, started: Any) -> Any:
        """A job once it is over."""
        if started["state"] != "running":
            return started
        return self.watch(kind, started["id"], lambda shown: shown["state"] != "running")


class Reports(SharingCase):
    def test_a_report_of_a_run_as_a_page_and_as_markdown(self) -> None:
        run = self.run_small()
        page = self.ask(f"/api/runs/{run}/report").body
        self.assertEqual(page["name"], "run-1.html")
        self.assertTrue(page["text"].startswith("<!doctype html>"))
        text = self.ask(f"/api/runs/{run}/report?form=markdown&against=1").body
        self.assertEqual(text["name"], "run-1.md")
        self.assertIn("Since run 1: nothing changed", text["text"])
        for path, status in (
            ("/api/runs/9/report", 404),
            (f"/api/runs/{run}/report?against=9", 422),
            (f"/api/runs/{run}/report?form=pdf", 422),
        ):
            self.assertEqual(self.ask(path).status, status, path)

    def test_a_report_of_two_sides(self) -> None:
        run = self.run_small()
        page = self.ask(f"/api/compare/report?a={run}&b={run}:plain").body
        self.assertEqual(page["name"], "1-and-1-plain.html")
        self.assertIn("<!doctype html>", page["text"])
        self.assertEqual(self.ask("/api/compare/report?a=1&b=7").status, 422)


class Exports(SharingCase):
    def export(self, run: int, **body: Any) -> Any:
        started = self.ask(f"/api/runs/{run}/exports", {"format": "traces", **body})
        self.assertEqual(started.status, 201, started.body)
        return self.over("exports", started.body)

    def test_each_format_becomes_a_file_to_keep(self) -> None:
        run = self.run_small()
        for form, begins in (
            ("traces", '{"ferox_trace": 1'), ("results", '{"run": 1'), ("baseline", '{"suite"'),
            ("csv", "run,trial_id"), ("junit", "<?xml"), ("otlp", '{"resourceSpans"'),
            ("run", '{"ferox_run": 1'),
        ):  # fmt: skip
            with self.subTest(form):
                export = self.export(run, format=form)
                self.assertEqual(export["state"], "done", export)
                file = self.ask(f"/api/exports/{export['id']}/file")
                self.assertIn(export["name"], file.headers["Content-Disposition"])
                self.assertIn("attachment", file.headers["Content-Disposition"])
                text = file.body if isinstance(file.body, str) else json.dumps(file.body)
                self.assertTrue(text.startswith(begins), text[:60])

    def test_it_can_be_stopped_and_leaves_no_file(self) -> None:
        run = self.run_small()
        with mock.patch.object(Job, "step", lambda job, *_: job._stop.wait(5) and _refuse()):
            started = self.ask(f"/api/runs/{run}/exports", {"format": "traces"}).body
            self.assertEqual(started["state"], "running")
            self.assertEqual(self.ask(f"/api/exports/{started['id']}/stop", {}).status, 200)
            over = self.over("exports", started)
        self.assertEqual((over["state"], over["message"]), ("stopped", None))
        self.assertEqual(self.ask(f"/api/exports/{over['id']}/file").status, 404)
        self.assertEqual(list((self.root / ".ferox/exports").iterdir()), [])

    def test_spans_are_sent_only_where_it_is_said(self) -> None:
        run = self.run_small()
        with Collector() as collector:
            sent = self.export(run, format="otlp", to=collector.url)
            self.assertRegex(sent["message"], r"\A\d+ spans taken\Z")
            self.assertEqual(len(collector.messages), 1)
        refused = self.export(run, format="otlp", to=collector.url)
        self.assertEqual(refused["state"], "failed")
        self.assertIn("cannot be reached", refused["message"])
        body = {"format": "csv", "to": collector.url}
        self.assertEqual(self.ask(f"/api/runs/{run}/exports", body).status, 422)

    def test_a_run_without_trials_and_old_files(self) -> None:
        run = self.run_small(1)
        for _ in range(MOST_KEPT + 3):
            self.export(run, format="csv")
        self.assertLessEqual(len(list((self.root / ".ferox/exports").iterdir())), MOST_KEPT)
        self.assertEqual(self.ask("/api/runs/9/exports", {"format": "csv"}).status, 404)
        waiting = plan_run(
            self.engine, load_workspace(self.root), ["small"], ["plain"], repeats=1, at_once=1
        )
        answer = self.ask(f"/api/runs/{waiting}/exports", {"format": "csv"})
        self.assertEqual(answer.status, 409)
        self.assertIn("no finished trial", answer.body["message"])


def _refuse() -> None:
    from ferox.web.sharing.job import JobStopped

    raise JobStopped


class Bringings(SharingCase):
    def bring(self, *pieces: str, **how: Any) -> Any:
        number = self.ask("/api/bringings", {"name": "spans.jsonl"}).body["id"]
        for piece in pieces:
            self.assertEqual(
                self.ask(f"/api/bringings/{number}/pieces", {"text": piece}).status, 200
            )
        started = self.ask(f"/api/bringings/{number}/start", how)
        self.assertEqual(started.status, 200, started.body)
        return self.over("bringings", started.body)

    def test_a_file_in_pieces_becomes_a_run(self) -> None:
        text = json.dumps(document(*two_chats()), ensure_ascii=False)
        brought = self.bring(text[:500], text[500:], "\n{broken}\n", agent="far", clock="suite")
        self.assertEqual((brought["state"], brought["trials"], brought["passes"]), ("done", 1, 1))
        (line,) = brought["left_out"]
        self.assertTrue(line.startswith("spans.jsonl:2: no JSON"), line)
        board = self.ask(f"/api/runs/{brought['run']}/board").body
        self.assertEqual((board["run"]["origin"], board["agents"][0]["agent"]),
                         ("brought in", "far"))  # fmt: skip
        self.assertEqual(list((self.root / ".ferox/brought").iterdir()), [])
        again = self.ask(f"/api/bringings/{brought['id']}/pieces", {"text": "x"})
        self.assertEqual(again.status, 409)
        self.assertEqual(self.ask(f"/api/bringings/{brought['id']}/start", {}).status, 409)

    def test_what_cannot_be_brought_in_says_why_by_its_own_name(self) -> None:
        for text, how, why in (
            ("{broken}", {}, "nothing was brought in: spans.jsonl:1: no JSON"),
            ("{broken}\n{}", {}, "nothing was brought in: spans.jsonl:1: no JSON"),
            ("", {}, "there is no trace in it"),
            ("{}", {"task": "nope"}, "there is no task `nope`"),
        ):
            with self.subTest(text):
                brought = self.bring(*filter(None, [text]), **how)
                self.assertEqual(brought["state"], "failed")
                self.assertIn(why, brought["message"])
                self.assertIsNone(brought["run"])

    def test_a_file_that_is_too_large_or_given_up_leaves_nothing(self) -> None:
        number = self.ask("/api/bringings", {"name": "large"}).body["id"]
        with mock.patch.object(bringings, "LARGEST_FILE", 10):
            answer = self.ask(f"/api/bringings/{number}/pieces", {"text": "x" * 11})
        self.assertEqual(answer.status, 413)
        other = self.ask("/api/bringings", {"name": "given up"}).body["id"]
        self.ask(f"/api/bringings/{other}/pieces", {"text": "x"})
        self.assertEqual(self.ask(f"/api/bringings/{other}/stop", {}).status, 200)
        self.assertEqual(list((self.root / ".ferox/brought").iterdir()), [])
        self.assertEqual(self.ask("/api/bringings/nothing").status, 404)
