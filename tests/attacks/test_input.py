"""Hostile input: bombs, patterns, references, templates, files. Each ends in a clear error."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
import unittest
from contextlib import suppress
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any, ClassVar

from ferox.core.clock import Clock
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.json_paths import find_nodes
from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.matcher import MatchContext
from ferox.core.matchers import compile_matcher
from ferox.formats.server import Mock
from ferox.intake.json_text import read_json
from ferox.intake.limits import GivenUp, IntakeError
from ferox.intake.patterns import PatternError, compile_pattern
from ferox.intake.yaml_text import read_yaml_text
from ferox.making.from_openapi import from_openapi
from ferox.making.mocks import MakingError
from ferox.making.pasted import parse_pasted
from ferox.making.pasted_server import PasteError
from ferox.servers.sources.mock import MockServer
from ferox.web.bounded_process import run_apart
from tests.serving import AppCase, OwnProcessCase
from tests.waiting import HANG_S

ALIASES = "a: &a [x,x,x,x,x,x,x,x,x]\n" + "".join(
    f"{chr(98 + i)}: &{chr(98 + i)} [{','.join(['*' + chr(97 + i)] * 9)}]\n" for i in range(9)
)
"""A bomb of a few hundred bytes: 9¹⁰ values with its aliases written out."""


def open_api(schemas: dict[str, Any]) -> str:
    """An OpenAPI document whose only answer has the schema `N`."""
    schema = {"$ref": "#/components/schemas/N"}
    answer = {"200": {"content": {"application/json": {"schema": schema}}}}
    return json.dumps(
        {
            "openapi": "3.0.0",
            "paths": {"/a": {"get": {"responses": answer}}},
            "components": {"schemas": schemas},
        }
    )


def context() -> MatchContext:
    return MatchContext(Clock("2031-03-14T06:30:00Z"))


def multiplying_document() -> str:
    """An OpenAPI document whose schemas refer to the next twice, 40 times over."""
    doubling: dict[str, Any] = {
        f"N{i}": {"properties": {x: {"$ref": f"#/components/schemas/N{i + 1}"} for x in "lr"}}
        for i in range(40)
    }
    return open_api({**doubling, "N40": {}, "N": doubling["N0"]})


class Bombs(unittest.TestCase):
    """A text that means more than it says"""

    def test_aliases_that_multiply(self) -> None:
        (fault,) = read_yaml_text(ALIASES).faults
        self.assertIn("more than 400000 values", fault.message)
        with self.assertRaisesRegex(MakingError, "more than 400000 values"):
            run_apart("from_openapi", f"openapi: '3.0'\n{ALIASES}", within_s=HANG_S)

    def test_depth_digits_and_numbers_that_are_none(self) -> None:
        for text, words in (
            ("[" * 100_000, "levels"),
            ("[" * 103 + "]" * 103, "levels"),
            ('{"a":' * 100_000, "levels"),
            ("9" * 5_000, "digits"),
            ("9" * 200, "digits"),
            ("[NaN]", "not a JSON number"),
            ("1e999", "not a JSON number"),
            ("[" + "1," * 1_000_000 + "1]", "values"),
        ):
            with self.subTest(text[:20]), self.assertRaisesRegex(IntakeError, words):
                read_json(text)
        for text in (
            "- " * 10_000 + "a", "[" * 10_000 + "]" * 10_000, "a: " + "9" * 5_000,
            "a: !!int abc", "a: .nan", "a: &x [*x]", "{a: " * 500 + "}" * 500,
        ):  # fmt: skip
            self.assertTrue(read_yaml_text(text).faults, text[:20])

    def test_references_that_refer_to_themselves_or_multiply(self) -> None:
        own = {"$ref": "#/components/schemas/N"}
        _, mock, _ = run_apart(
            "from_openapi",
            open_api({"N": {"type": "object", "properties": {"l": own, "r": own}}}),
            within_s=HANG_S,
        )
        self.assertLess(len(json.dumps(mock)), 5_000)
        with self.assertRaisesRegex(MakingError, "multiply to more than"):
            run_apart("from_openapi", multiplying_document(), within_s=HANG_S)

    def test_documents_of_any_shape(self) -> None:
        for hostile in (
            {"paths": 3}, {"paths": {"/a": 7}}, {"paths": {"/a": {"get": {"parameters": 7}}}},
            {"paths": {"/a": {"get": {"parameters": [{"in": "query", "schema": {"allOf": 3}}]}}}},
            {"paths": {"/a": {"get": {"responses": {"200": {"content": {"x": 7}}}}}}},
            {"info": [], "paths": {"/a": {"get": {"requestBody": [1]}}}},
        ):  # fmt: skip
            with self.subTest(str(hostile)):
                try:
                    from_openapi(json.dumps({"openapi": "3.1.0", **hostile}))
                except MakingError as error:
                    self.assertNotIn("cannot be read", str(error))

    def test_work_that_is_too_long_is_ended(self) -> None:
        with self.assertRaisesRegex(MakingError, "given up"):
            run_apart("from_openapi", "{}", within_s=0.01)


SLOW, LONG = "^(a|aa)+$", "a" * 100 + "!"
"""A pattern, and a text that it tries to cut in every way."""


class Patterns(unittest.TestCase):
    """A regular expression from outside"""

    def test_it_is_given_up_and_others_run_meanwhile(self) -> None:
        ticks: list[float] = []
        over = threading.Event()

        def tick() -> None:
            while not over.wait(0.01):
                ticks.append(time.monotonic())

        beside = threading.Thread(target=tick)
        beside.start()
        self.addCleanup(beside.join)
        self.addCleanup(over.set)
        with self.assertRaisesRegex(GivenUp, "was given up"):
            compile_pattern(SLOW).is_found_in(LONG)
        self.assertGreater(len(ticks), 2, "the others stood still")

    def test_counts_that_multiply_are_refused_before_they_are_compiled(self) -> None:
        for source in (
            "(?:" * 60 + "a" + "){2}" * 60,
            "((a{1000}){1000}){1000}",
            "(?x)(?:(?: a {500} ) {500}) {500}",
            "(?:(?:a)(?#x){500}(?#y)){500}(?:b){500}" * 20,
            "a" * 5_000,
        ):
            with self.subTest(source[:30]), self.assertRaises(PatternError):
                compile_pattern(source)

    def test_wherever_they_come_from(self) -> None:
        text, schema = LONG, {"type": "string", "pattern": SLOW}
        for hostile in (
            lambda: schema_of(schema).find_fault(text),
            lambda: schema_of({"patternProperties": {SLOW: {}}}).find_fault({text: 1}),
            lambda: schema_of({"additionalProperties": False, "patternProperties": {SLOW: {}}})
            .find_fault({text: 1}),
            lambda: find_nodes([text], f"$[?search(@, '{SLOW}')]"),
            lambda: compile_matcher({"matches": SLOW}).test(text, context()),
            lambda: compile_matcher({"not": {"matches": SLOW}}).test(text, context()),
        ):  # fmt: skip
            with self.assertRaises(GivenUp):
                hostile()
        undecided = compile_matcher({"not": {"matches": SLOW}})
        self.assertFalse(undecided.holds_for(text, context()), "what is undecided does not hold")

    def test_our_own_take_long_texts_in_one_go(self) -> None:
        """Ferox's own patterns, each on long texts of every piece that it knows."""
        command = [sys.executable, "-m", "tests.attacks.own_patterns"]
        done = subprocess.run(command, capture_output=True, text=True, timeout=20 * HANG_S)
        self.assertEqual(done.returncode, 0, done.stdout[-3000:] + done.stderr[-3000:])

    def test_pasted_words(self) -> None:
        for text in (
            '"\\' * 40_000, '{"' + '"\\' * 40_000, "{" + "/*" * 40_000, "{" + ", " * 40_000,
            "npx " + " " * 80_000 + "x", "npx x" + "@" * 80_000, "npx x" + "-mcp" * 20_000 + "x",
            "`" * 80_000, "\\\n" * 40_000, "npx '" + "@\n" * 40_000 + "'", '[{"command":' * 5_000,
            "https://[", '{"a": {"url": "http://[", "headers": [1]}}',
            '{"command": "npx", "args": 7}',
        ):  # fmt: skip
            try:
                parse_pasted(text)
            except PasteError:
                continue


class Schemas(unittest.TestCase):
    """A JSON Schema from outside"""

    asked: ClassVar[list[str]] = []

    @classmethod
    def setUpClass(cls) -> None:
        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                cls.asked.append(self.path)
                self.send_response(404)
                self.end_headers()

            def log_message(self, *_: object) -> None:
                pass

        cls.server = HTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=cls.server.serve_forever, daemon=True).start()
        cls.addClassCleanup(cls.server.server_close)
        cls.addClassCleanup(cls.server.shutdown)

    def test_no_reference_leads_out(self) -> None:
        base = f"http://127.0.0.1:{self.server.server_port}"
        for reference in (f"{base}/x", "file:///etc/passwd", "other.json", "/etc/passwd#/a"):
            leads_out = self.assertRaisesRegex(UnusableSchema, "leads out")
            for schema in (
                {"$ref": reference}, {"$id": base, "$ref": reference}, {"$dynamicRef": reference},
                {"properties": {"a": {"$ref": reference}}},
            ):  # fmt: skip
                with self.subTest(f"{schema}"), leads_out:
                    schema_of(schema).find_fault({"a": 1})
            with self.assertRaises(MakingError):
                run_apart("from_openapi", open_api({"N": {"$ref": reference}}))
        self.assertEqual(self.asked, [])

    def test_references_that_never_end_or_multiply(self) -> None:
        with self.assertRaisesRegex(UnusableSchema, "without end"):
            schema_of({"$ref": "#"}).find_fault(1)
        defs: dict[str, Any] = {
            f"a{i}": {"anyOf": [{"$ref": f"#/$defs/a{i + 1}"}] * 2} for i in range(40)
        }
        with self.assertRaises(GivenUp):
            schema_of(
                {"$ref": "#/$defs/a0", "$defs": {**defs, "a40": {"type": "null"}}}
            ).find_fault(1)

    def test_a_path_that_multiplies(self) -> None:
        value: Any = [1] * 5
        for _ in range(40):
            value = {"a": value, "b": [1] * 20}
        many = [{"i": i} for i in range(5_000)]
        for data, path in ((value, "$..*..*..*..*..*"), (many, "$..[?$..[?$..[?@.i > 3]]]")):
            with self.assertRaises(GivenUp):
                find_nodes(data, path)


class Templates(unittest.TestCase):
    """A template of a mock"""

    def test_work_and_size_are_bounded(self) -> None:
        big = "ab\n" * 100_000
        for text in (
            "{{ 'a'|center(300000000) }}", "{{ 'a'.center(300000000) }}",
            "{{ 'a\t'.expandtabs(300000000) }}", "{{ 'a'.zfill(300000000) }}",
            "{% for a in range(9999) %}{% for b in range(9999) %}x{% endfor %}{% endfor %}",
            "{% set x='aaaaaaaaaa' %}" + "{% set x=x~x %}" * 60 + "{{ x }}",
            "{% set x=[1,1] %}" + "{% set x=[x,x] %}" * 60 + "{{ x == x }}",
            "{% set x=(1,) %}" + "{% set x=x+x %}" * 60 + "{{ x }}",
            "{% set x={'a': 1} %}" + "{% set x={'a': x, 'b': x} %}" * 60 + "{{ x|tojson }}",
            "{% set x=9 %}" + "{% set x=x*x %}" * 60 + "{{ x }}", "{{ 9 ** 9 ** 9 }}",
            "{{ '%1000000000d' % 1 }}", "{{ '{:>1000000000}'.format(1) }}",
            "{{ '{:{}}'.format(1, 1000000000) }}", "{{ '%*d'|format(1000000000, 1) }}",
            "{{ big.replace('', big) }}", "{{ [big, big]|join(big) }}", "{{ big|indent(9999) }}",
            "{{ range(10)|batch(999999999, 'x')|list }}", "{{ range(3)|slice(99999999)|list }}",
            "{{ range(9999)|sum(start=[]) }}", "{{ (5).to_bytes(1000000000, 'big') }}",
            "{% macro f(n) %}{{ f(n-1) + f(n-1) }}{% endmacro %}{{ f(50) }}",
            "{% for x in [1] recursive %}{{ loop([1]) }}{% endfor %}", "{% include 'x' %}",
            "{{ " + "(" * 10_000 + "1" + ")" * 10_000 + " }}", "{{ " + "-" * 10_000 + "1 }}",
            "{{ " + "9" * 5_000 + " }}", "{% for a in range(9999) %}{{ big }}{% endfor %}",
            "{% set x %}{{ big }}{% endset %}" + "{% set x %}{{x}}{{x}}{% endset %}" * 30 + "{{x}}",
            "{{ ''.__class__.__mro__ }}", "{{ lipsum.__globals__ }}", "{{ state.update({}) }}",
        ):  # fmt: skip
            with self.subTest(text[:40]), self.assertRaises(ExpressionError):
                render_value(text, {"big": big, "state": {}})

    def test_a_state_that_doubles(self) -> None:
        doubling = {"op": "add", "path": "/x", "value": ["{{ state }}", "{{ state }}"]}
        copying = {"op": "copy", "from": "", "path": "/x"}
        for change in (doubling, copying):
            tool = {"name": "grow", "input": {}, "answers": [{"give": 1, "change": [change] * 3}]}
            mock = MockServer(
                "m", Mock.model_validate({"tools": [tool], "state": {"a": [1] * 50}}), 1,
                context(),
            )  # fmt: skip
            given: Any = None
            for _ in range(40):
                given = mock.answer_call("grow", {}).answer
            self.assertIn("is broken", given.error)
            self.assertLess(len(json.dumps(mock.state)), 3_000_000)


class Files(AppCase):
    """A file of the workspace that is none"""

    def test_pipes_links_and_odd_texts(self) -> None:
        os.mkfifo(self.root / "servers/pipe.yaml")
        os.mkfifo(self.root / "agents/pipe.md")
        (self.root / "servers/loop.yaml").symlink_to(self.root / "servers/loop.yaml")
        (self.root / "servers/bytes.yaml").write_bytes(b"\xff\xfe")
        (self.root / "servers/deep.yaml").write_text("- " * 10_000)
        (self.root / "servers/bomb.yaml").write_text(ALIASES)
        self.change("agents/plain.yaml", "link: plain", "link: plain\ninstructions: agents/pipe.md")
        lines = {s["file"]: s["problems"] for s in self.ask("/api/servers").body["servers"]}
        for name in ("pipe", "loop", "bytes", "deep", "bomb"):
            self.assertTrue(lines[f"servers/{name}.yaml"], name)
        (problem,) = lines["servers/pipe.yaml"]
        self.assertIn("not an ordinary file", problem["message"])
        self.assertEqual(self.ask("/api/file?name=servers/pipe.yaml").status, 409)
        problems = self.ask("/api/workspace").body["problems"]
        self.assertTrue([p for p in problems if "not an ordinary file" in p["message"]])

    def test_bodies_that_are_none(self) -> None:
        for raw in (
            b"[" * 10_000, b'{"a":' * 10_000, b'"\xff"', b"\xef\xbb\xbf{}", b"NaN", b"9" * 5_000,
        ):  # fmt: skip
            answer = self.client.post(
                "/api/pasted", data=raw, content_type="application/json",
                base_url="http://127.0.0.1",
            )  # fmt: skip
            self.assertIn(answer.status_code, (400, 422), raw[:20])
        half = {"name": "servers/half.yaml", "text": "ferox: 1\nserver: half # \ud800"}
        self.assertLess(self.ask("/api/file", half, method="PUT").status, 500)
        text = "- " * 10_000 + "a"
        self.assertEqual(
            self.ask("/api/file/format", {"name": "servers/x.yaml", "text": text}).status, 409
        )
        for path in ("/" + "a" * 3_000, "/assets/../../app.py", "/assets/" + "a" * 300,
                     "/api/trials/18446744073709551617", "/api/connections?model=%26",
                     "/api/trials/1/models/" + "9" * 400, "/api/file?name=" + "a" * 5_000,
                     "/api/file?name=servers/%00.yaml"):  # fmt: skip
            self.assertLess(self.ask(path).status, 500, path)


class WhileOthersWork(OwnProcessCase):
    """The server while it is attacked"""

    def test_it_answers_while_it_works_on_a_bomb(self) -> None:
        bombs = [{"server": "x", "openapi": multiplying_document()}] * 2
        found: list[int] = []
        attacks = [
            threading.Thread(target=lambda b=b: found.append(self.ask("/api/mocks", b).status))
            for b in bombs
        ]
        for attack in attacks:
            attack.start()
        self.assertEqual(self.ask("/api/runs").status, 200)
        for attack in attacks:
            attack.join()
        self.assertEqual(found, [422, 422])

    def test_it_ends_when_asked_to(self) -> None:
        body = {"server": "x", "openapi": multiplying_document()}
        threading.Thread(target=lambda: self.tried(body), daemon=True).start()
        time.sleep(0.3)
        self.server.terminate()
        self.server.wait(HANG_S)

    def tried(self, body: Any) -> None:
        with suppress(OSError):  # it is ended meanwhile
            self.ask("/api/mocks", body)


class FullDisks(AppCase):
    """A place that cannot be written"""

    def test_what_cannot_be_kept_is_said_and_nothing_is_half_there(self) -> None:
        self.assertEqual(self.ask("/api/runs").status, 200)
        (self.root / ".ferox/results.sqlite").rename(self.root / "elsewhere.sqlite")
        answer = self.ask("/api/runs", {"suites": ["small"], "agents": ["plain"]})
        self.assertEqual(answer.status, 503)
        self.assertIn("removed or replaced", answer.body["message"])
        (self.root / "elsewhere.sqlite").rename(self.root / ".ferox/results.sqlite")
        self.assertEqual(self.ask("/api/runs").status, 200)
        self.assertEqual([*Path(self.root).rglob("*.part")], [])

    def test_a_disk_that_is_full(self) -> None:
        full = Path("/dev/full")
        if not full.exists():
            self.skipTest("this system has no device that is always full")
        (self.root / "servers/.new.yaml.part").symlink_to(full)
        body = {"name": "servers/new.yaml", "text": "ferox: 1\nserver: new\nmock: {tools: []}\n"}
        answer = self.ask("/api/file", body, method="PUT")
        self.assertEqual(answer.status, 409, answer.body)
        self.assertIn("cannot be written: No space left", answer.body["message"])
        self.assertFalse((self.root / "servers/new.yaml").exists())
        self.assertFalse((self.root / "servers/.new.yaml.part").is_symlink())
