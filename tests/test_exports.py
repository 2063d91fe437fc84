"""Results in formats that other programs read: complete, valid, and harmless."""

from __future__ import annotations

import csv
import io
import json
import tracemalloc
from pathlib import Path
from typing import Any
from unittest import mock

import xmlschema
from click.testing import CliRunner
from google.protobuf.json_format import ParseDict
from junitparser import Error, Failure, JUnitXml, Skipped
from opentelemetry.proto.collector.trace.v1.trace_service_pb2 import ExportTraceServiceRequest
from opentelemetry.proto.trace.v1.trace_pb2 import Span, Status

from ferox.cli.main import main
from ferox.exports.finished import AT_ONCE
from ferox.exports.sending import SendingError, collector_address, send_trials
from ferox.exports.trial_table import COLUMNS
from ferox.exports.writing import export_to_file
from ferox.store import tables
from ferox.store.database import Session, read_session
from ferox.store.results import keep_result
from ferox.store.runs import change_run
from ferox.store.trials import finished_numbers
from tests.collector import Collector, with_base64
from tests.test_store import StoreCase
from tests.traces import call, end, reply, trace, turn

DATA = Path(__file__).parent / "data"
HOSTILE = (
    "<script>alert(1)</script>",
    "]]><testcase name='x'/>",
    "=cmd|' /C calc'!A0",
    "\x1b[2J\x00\ufffe\u202eabc",
    "\ud800 half",
    '"><img src=x onerror=alert(1)>',
)


class ExportCase(StoreCase):
    def export(self, run: int, form: str, *more: Any) -> str:
        """What `ferox export` prints."""
        words = ["export", str(self.root), str(run), "--format", form, *map(str, more)]
        done = CliRunner().invoke(main, words, catch_exceptions=False)
        self.assertEqual(done.exit_code, 0, done.stderr)
        return done.stdout

    def refused(self, *words: Any) -> str:
        done = CliRunner().invoke(main, ["export", str(self.root), *map(str, words)])
        self.assertNotEqual(done.exit_code, 0)
        return done.stderr

    def keep_trial(self, changed: Any, verdict: str = "f") -> int:
        """A run of one trial with a trace of one's own."""
        run = self.run_of("w")
        with Session(self.engine) as session, session.begin():
            trial = session.query(tables.Trial).filter_by(run_id=run).one()
            trial.started_at = 1_700_000_000.5
            whole = {**trace(call("c1", "tides/high_water", 1.0, {"day": "today"})), **changed}
            keep_result(session, trial.id, whole, self.result(verdict), "same")
        return run


class Lines(ExportCase):
    def test_results_are_a_line_for_each_trial_and_brief_for_each_cell(self) -> None:
        run = self.run_of("ppfe")
        lines = [json.loads(line) for line in self.export(run, "results").splitlines()]
        self.assertEqual([line["verdict"] for line in lines], ["pass", "pass", "fail", "error"])
        self.assertEqual({line["arm"] for line in lines}, {"plain"})
        (cell,) = map(json.loads, self.export(run, "results", "--brief").splitlines())
        self.assertEqual((cell["passes"], cell["n"], cell["failed_check"]), (2, 3, "answer.0"))

    def test_a_brief_export_of_equal_runs_is_equal(self) -> None:
        one, other = self.run_of("ppf"), self.run_of("fpp")
        brief = [self.export(run, "results", "--brief") for run in (one, other)]
        self.assertEqual(*brief)

    def test_the_table_has_a_line_for_each_trial_and_nothing_runs_in_it(self) -> None:
        run = self.run_of("pfw")
        rows = list(csv.DictReader(io.StringIO(self.export(run, "csv"))))
        self.assertEqual(tuple(rows[0]), COLUMNS)
        self.assertEqual([row["verdict"] for row in rows], ["pass", "fail"])
        self.assertEqual((rows[1]["failed"], rows[1]["outcome"]), ("answer.0", "0.0"))
        self.assertEqual((rows[0]["order"], rows[0]["simulated"]), ("", "yes"))
        with Session(self.engine) as session, session.begin():
            for trial in session.query(tables.Trial).filter_by(run_id=run, number=1):
                trial.went_wrong, trial.reason = HOSTILE[2], HOSTILE[3]
        row = next(csv.DictReader(io.StringIO(self.export(run, "csv"))))
        self.assertEqual(row["went_wrong"], f"'{HOSTILE[2]}")
        self.assertNotIn("\x1b", row["reason"])

    def test_options_that_do_not_go_together(self) -> None:
        self.run_of("p")
        for words, why in (
            ((1, "--brief"), "--brief goes with --format results"),
            ((1, "--each", "trial"), "--each goes with --format junit"),
            ((1, "--to", "http://127.0.0.1:1"), "it goes with --format otlp"),
            ((1, "--header", "a=b"), "--header goes with --to"),
            ((2,), "there is no run 2; the newest is 1"),
            ((1, "--format", "otlp", "--to", "nowhere"), "`nowhere` is no address of a collector"),
        ):
            with self.subTest(words):
                self.assertIn(why, self.refused(*words))


class Files(ExportCase):
    def test_what_is_stopped_or_fails_leaves_no_half_file(self) -> None:
        run = self.run_of("p" * 5)
        out = self.write("out.jsonl", "before\n")
        for cause in (KeyboardInterrupt(), OSError(28, "No space left on device")):
            done = mock.Mock(side_effect=[None, None, cause])
            with read_session(self.engine) as session, self.assertRaises(type(cause)):
                numbers = finished_numbers(session, run)
                export_to_file(session, run, out, "traces", numbers=numbers, done=done)
            self.assertEqual(out.read_text(), "before\n")
            self.assertEqual([p.name for p in self.root.iterdir() if "part" in p.name], [])

    def test_a_run_of_any_length_is_read_a_few_trials_at_a_time(self) -> None:
        def peak(run: int) -> int:
            with read_session(self.engine) as session:
                numbers = finished_numbers(session, run)
                tracemalloc.start()
                export_to_file(session, run, self.root / "out", "traces", numbers=numbers)
                most = tracemalloc.get_traced_memory()[1]
                tracemalloc.stop()
            return most

        short, long = self.run_of("p" * AT_ONCE), self.run_of("p" * AT_ONCE * 10)
        peak(short)  # once for what is only loaded the first time
        self.assertLess(peak(long), 2 * peak(short))


class JUnit(ExportCase):
    SCHEMA = xmlschema.XMLSchema(DATA / "junit.xsd")

    def read(self, run: int, *more: Any) -> JUnitXml:
        """What a build server reads of it, once it is valid."""
        text = self.export(run, "junit", *more)
        self.SCHEMA.validate(text)
        return JUnitXml.fromstring(text.encode())

    def test_a_case_for_each_task_with_what_became_of_it(self) -> None:
        for agent in ("bad", "odd", "idle"):
            text = f"ferox: 1\nagent: {agent}\nlink: plain\nmodel: steady\n"
            self.write(f"agents/{agent}.yaml", text)
        (suite,) = self.read(self.run_of("pp"))
        self.assertEqual((suite.name, suite.tests, suite.failures), ("small · plain", 1, 0))
        properties = {p.name: p.value for p in suite.properties()}
        self.assertEqual((properties["passes"], properties["trials"]), ("2", "2"))
        self.assertEqual(properties["pass_rate_95_low"], "0.3424")  # Wilson: 1/(1 + 1.96²/2)
        (suite,) = self.read(self.run_of("pff"))
        (case,) = suite
        (failure,) = case.result
        self.assertIsInstance(failure, Failure)
        self.assertIn("1 of 3 trials passed", failure.message)
        self.assertEqual(failure.type, "answer.0")
        self.assertIn("failed checks:\n  answer.0", failure.text)
        for verdicts, kind in (("pe", Error), ("ee", Error), ("u", Skipped), ("w", Skipped)):
            with self.subTest(verdicts):
                (suite,) = self.read_if_any(self.run_of(verdicts))
                (case,) = suite
                self.assertIsInstance(case.result[0], kind)

    def read_if_any(self, run: int) -> Any:
        with read_session(self.engine) as session:
            out = self.root / "junit.xml"
            export_to_file(session, run, out, "junit", numbers=[])
        self.SCHEMA.validate(out)
        return JUnitXml.fromfile(str(out))

    def test_a_case_for_each_trial(self) -> None:
        run = self.run_of("pfe")
        (suite,) = self.read(run, "--each", "trial")
        self.assertEqual([case.name for case in suite], ["high #1", "high #2", "high #3"])
        self.assertEqual((suite.tests, suite.failures, suite.errors), (3, 1, 1))

    def test_a_known_failure_is_skipped_with_its_reason(self) -> None:
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write("known: [{task: high, why: asks twice}]\n")
        (suite,) = self.read(self.run_of("pf"))
        (case,) = suite
        self.assertIn("known: asks twice (1 of 2 trials passed", case.result[0].message)
        self.assertEqual((suite.failures, suite.skipped), (0, 1))
        (suite,) = self.read(self.run_of("pp"))
        self.assertEqual(suite.skipped, 0)

    def test_nothing_that_an_agent_says_is_markup(self) -> None:
        for text in HOSTILE:
            with self.subTest(text):
                run = self.keep_trial({"events": [turn(), reply(2.0, text), end()]})
                with Session(self.engine) as session, session.begin():
                    trial = session.query(tables.Trial).filter_by(run_id=run).one()
                    trial.went_wrong = text.encode("utf-8", "replace").decode()
                (suite,) = self.read(run)
                self.assertEqual([case.name for case in suite], ["high"])


class Spans(ExportCase):
    def spans(self, run: int) -> list[Span]:
        (line,) = self.export(run, "otlp").splitlines()
        request = ParseDict(with_base64(json.loads(line)), ExportTraceServiceRequest())
        return list(request.resource_spans[0].scope_spans[0].spans)

    def attributes(self, span: Span) -> dict[str, Any]:
        values = {a.key: a.value for a in span.attributes}
        return {key: getattr(v, str(v.WhichOneof("value"))) for key, v in values.items()}

    def test_a_trial_is_a_trace_of_the_conventions_spans(self) -> None:
        run = self.keep_trial({}, "p")
        root, *spans = self.spans(run)
        self.assertEqual(root.name, "trial small/high")
        self.assertEqual({span.trace_id for span in spans}, {root.trace_id})
        self.assertEqual(len({span.span_id for span in (root, *spans)}), 1 + len(spans))
        by_id = {span.span_id: span for span in (root, *spans)}
        for span in spans:
            self.assertIn(span.parent_span_id, by_id)
            self.assertLessEqual(span.start_time_unix_nano, span.end_time_unix_nano)
        operations = {self.attributes(s).get("gen_ai.operation.name") for s in spans}
        self.assertEqual(operations, {"invoke_agent", "execute_tool"})
        tool = next(s for s in spans if s.name.startswith("execute_tool"))
        self.assertTrue(by_id[tool.parent_span_id].name.startswith("invoke_agent"))
        self.assertEqual(tool.start_time_unix_nano, 1_700_000_001_500_000_000)
        self.assertEqual(tool.end_time_unix_nano, 1_700_000_001_600_000_000)
        found = self.attributes(tool)
        self.assertEqual(json.loads(found["gen_ai.tool.call.arguments"]), {"day": "today"})
        verdicts = [e for e in root.events if e.name == "gen_ai.evaluation.result"]
        self.assertIn("pass", [a.value.string_value for e in verdicts for a in e.attributes])

    def test_ids_are_hexadecimal_and_follow_from_the_trial(self) -> None:
        run = self.keep_trial({})
        line = json.loads(self.export(run, "otlp"))
        span = line["resourceSpans"][0]["scopeSpans"][0]["spans"][1]
        self.assertRegex(span["traceId"], r"\A[0-9a-f]{32}\Z")
        self.assertRegex(span["spanId"], r"\A[0-9a-f]{16}\Z")
        self.assertRegex(span["parentSpanId"], r"\A[0-9a-f]{16}\Z")
        self.assertIsInstance(span["kind"], int)
        self.assertEqual(json.loads(self.export(run, "otlp")), line)
        other = json.loads(self.export(self.keep_trial({}), "otlp"))
        self.assertNotEqual(
            other["resourceSpans"][0]["scopeSpans"][0]["spans"][1]["traceId"], span["traceId"]
        )

    def test_what_failed_and_what_was_never_answered_has_a_status(self) -> None:
        error = {"kind": "tool_error", "message": HOSTILE[4]}
        events = [
            turn(),
            call("c1", "tides/high_water", 1.0, error=error),
            call("c2", "tides/high_water", 2.0, s=None),
            call("c3", "tides/high_water", 3.0, error={"kind": "denied", "message": ""}),
            end(why="limit", reason="too long"),
        ]
        root, *spans = self.spans(self.keep_trial({"events": events}))
        tools = [s for s in spans if s.name.startswith("execute_tool")]
        self.assertEqual([self.attributes(s)["error.type"] for s in tools],
                         ["tool_error", "never_answered"])  # fmt: skip
        self.assertEqual({s.status.code for s in (root, *tools)}, {Status.STATUS_CODE_ERROR})
        self.assertEqual(tools[1].end_time_unix_nano - tools[1].start_time_unix_nano, 7 * 10**9)
        self.assertEqual(self.attributes(root)["error.type"], "limit")

    def test_a_collector_takes_them_as_protobuf_and_as_json(self) -> None:
        run = self.run_of("pfp")
        kept = []
        for encoding in ("protobuf", "json"):
            with Collector() as collector:
                said = self.export(run, "otlp", "--to", collector.url, "--encoding", encoding)
                self.assertIn(f"3 trials sent to {collector.url}/v1/traces: ", said)
                kept.append(
                    [list(m.resource_spans) for m in collector.messages]  # type: ignore[attr-defined]
                )
        self.assertEqual(*kept)
        self.assertEqual(len(kept[0][0]), 3)

    def test_a_collector_that_refuses_or_is_not_there_is_named(self) -> None:
        run = self.run_of("p")
        with Collector(refuses=401) as collector:
            said = self.refused(run, "--format", "otlp", "--to", collector.url)
            self.assertIn(f"{collector.url}/v1/traces answered 401", said)
        said = self.refused(run, "--format", "otlp", "--to", collector.url)
        self.assertIn("cannot be reached", said)

    def test_a_busy_collector_is_asked_again(self) -> None:
        run = self.run_of("p")
        with Collector(refuses=503) as collector, read_session(self.engine) as session:
            numbers = finished_numbers(session, run)
            with mock.patch("ferox.exports.sending.time.sleep") as pause:
                with self.assertRaisesRegex(SendingError, "answered 503"):
                    send_trials(session, numbers, collector.url, lambda: None)
        self.assertEqual(len(collector.headers), 4)
        self.assertEqual([call.args[0] for call in pause.call_args_list], [1.0, 2.0, 4.0])

    def test_headers_hold_secrets_that_may_go_there(self) -> None:
        run = self.run_of("p")
        (self.root / ".env").write_text("COLLECTOR_KEY=abcdef123456\n")
        words = (run, "--format", "otlp", "--header", "X-Key=COLLECTOR_KEY", "--to")
        with Collector() as collector:
            self.assertIn("ferox agree COLLECTOR_KEY", self.refused(*words, collector.url))
            self.assertEqual(collector.headers, [])
            agreed = CliRunner().invoke(
                main, ["agree", str(self.root), "COLLECTOR_KEY", collector.url]
            )
            self.assertEqual(agreed.exit_code, 0, agreed.output)
            self.export(run, "otlp", "--header", "X-Key=COLLECTOR_KEY", "--to", collector.url)
            self.assertEqual(collector.headers[0]["X-Key"], "abcdef123456")
            self.assertIn("X-Other", self.refused(*words[:3], "--header", "X-Other=NO_SUCH",
                                                  "--to", collector.url))  # fmt: skip

    def test_an_address_gets_the_protocols_path_unless_it_has_one(self) -> None:
        for given, wanted in (
            ("http://x:4318", "http://x:4318/v1/traces"),
            ("http://x:4318/", "http://x:4318/v1/traces"),
            ("https://x/otlp/v1/traces", "https://x/otlp/v1/traces"),
        ):
            self.assertEqual(collector_address(given), wanted)
        for given in ("x:4318", "ftp://x", "http://", "file:///etc/passwd"):
            with self.assertRaises(SendingError):
                collector_address(given)

    def test_a_run_that_never_began_has_nothing_to_write(self) -> None:
        run = self.run_of("w")
        with Session(self.engine) as session, session.begin():
            change_run(session, run, state="stopped")
        self.assertIn("has no finished trial", self.refused(run))
