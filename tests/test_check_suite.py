"""What is found wrong in a suite before anything runs: its place, and what to do."""

from __future__ import annotations

import textwrap
import unittest
from pathlib import Path
from typing import Any

from ferox.core.schema_fit import never_fits
from ferox.core.schema_paths import schemas_at, types_of
from ferox.core.user_rules import never_fires
from ferox.formats.server import Reach, ServerFile
from ferox.formats.suite import Suite
from ferox.workspace.check_suite import SuiteContext, check_suite
from ferox.workspace.problems import Problem
from ferox.workspace.yaml_files import parse_yaml, validate_file

BERTHS = {
    "type": "object",
    "properties": {
        "berths": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {"code": {"type": "string"}, "depth_m": {"type": "number"}},
                "additionalProperties": False,
            },
        }
    },
    "additionalProperties": False,
}
TOOLS = [
    {"name": "list_berths", "output": BERTHS,
     "input": {"type": "object", "properties": {"side": {"enum": ["north", "south"]}}}},
    {"name": "vessel_details",
     "input": {"type": "object", "required": ["imo"], "additionalProperties": False,
               "properties": {"imo": {"type": "string", "pattern": "^[0-9]{7}$"}}},
     "output": {"type": "object", "properties": {"imo": {"type": "string"}}}},
    {"name": "assign_berth",
     "input": {"type": "object", "required": ["berth", "imo"],
               "properties": {"berth": {"type": "string"}, "imo": {"type": "string"},
                              "metres": {"type": "integer", "minimum": 1, "maximum": 9}}}},
    {"name": "search",
     "input": {"type": "object",
               "properties": {"filter": {}, "range": {"properties": {"matches": {}}}}}},
]  # fmt: skip
SERVERS = {
    name: ServerFile.model_validate({"ferox": 1, "server": name, "mock": {"tools": TOOLS}})
    for name in ("harbour", "tides")
}


def found(task: str) -> list[Problem]:
    """What is found in one task, `t`, whose other keys are these lines."""
    head = "ferox: 1\nsuite: s\nservers: {harbour: mock}\ntasks:\n  - task: t\n"
    text = head + textwrap.indent(textwrap.dedent(task).strip("\n"), "    ") + "\n"
    file = parse_yaml(text, "tasks/s.yaml")
    suite = validate_file(file, Suite)
    assert suite is not None, file.problems
    return list(check_suite(file, suite, SuiteContext(SERVERS, Path())))


def expecting(*calls: str, more: str = "") -> list[Problem]:
    """What is found in a task that expects these calls."""
    listed = "".join(f"    - {call}\n" for call in calls)
    return found(f"say: Go.\nexpect:\n  calls:\n{listed}{textwrap.indent(more, '  ')}")


def mode_problems(modes: str, task: str) -> list[Problem]:
    """What is found in a suite with these modes."""
    text = f"ferox: 1\nsuite: s\nservers: {modes}\ntasks:\n  - {{task: t, say: Go., {task}}}\n"
    file = parse_yaml(text, "tasks/s.yaml")
    suite = validate_file(file, Suite)
    assert suite is not None, file.problems
    return list(check_suite(file, suite, SuiteContext(SERVERS, Path())))


class CheckCase(unittest.TestCase):
    def only(
        self, problems: list[Problem], words: str, place: tuple[int, int] | None = None
    ) -> None:
        """The only thing found: its words, and its line and column."""
        self.assertEqual(len(problems), 1, problems)
        self.assertIn(words, problems[0].message)
        if place:
            self.assertEqual((problems[0].line, problems[0].column), place)

    def assert_says(self, problems: list[Problem], *pieces: str) -> None:
        everything = "\n".join(str(p) for p in problems)
        for piece in pieces:
            self.assertIn(piece, everything)


class Names(CheckCase):
    def test_unknown_server_tool_and_argument(self) -> None:
        self.only(
            expecting("{tool: harbor/list_berths}"),
            "`harbor/list_berths`: no such server; did you mean `harbour`?", (9, 12),
        )  # fmt: skip
        self.only(
            expecting("{tool: harbour/list_berth}"), "no such tool; did you mean `list_berths`?"
        )
        self.only(
            expecting('{tool: harbour/vessel_details, args: {imoo: "9471102"}}'),
            "has no argument `imoo`; did you mean `imo`?", (9, 49),
        )  # fmt: skip
        self.only(
            expecting("{tool: tides/list_berths}"), "does not list `tides` under `servers`; add"
        )

    def test_wherever_a_tool_is_named(self) -> None:
        problems = found(
            """
            say: Go.
            truth: [{as: v, tool: harbour/vessel_detail}, {as: w, tool: harbour/vessel_details}]
            given: {harbour: {answers: {list_berth: []}}, tides: {}}
            approvals: [{tool: harbour/asign_berth, decision: approve}]
            faults:
              - {server: harbour, tool: lst_berths, do: slow, ms: 1, all: true}
              - {server: harbr, do: slow, ms: 1, all: true}
            expect:
              never: [harbour/release_berth]
              may_poll: [harbour/list_berhs]
              others: ["harbour/*", harbour/nope]
              failures: {recovers: {by: [harbour/none]}}
            """
        )
        self.assert_says(
            problems, "vessel_detail`: no such tool", "requires `imo`; Ferox cannot look it up",
            "harbour/list_berth`: no such", "`tides` is not a server", "asign_berth`: no",
            "lst_berths`: no such tool", "`harbr`: no server of this suite; did you mean `harbour`",
            "release_berth`: no such tool", "list_berhs`: no such", "harbour/nope`",
            "harbour/none`",
        )  # fmt: skip
        self.assertEqual(len(problems), 11)

    def test_by_itself_nothing_is_said_of_servers(self) -> None:
        file = parse_yaml(
            "ferox: 1\nsuite: s\ntasks: [{task: t, say: x, expect: {calls: [{tool: a/b}]}}]", "s"
        )
        suite = validate_file(file, Suite)
        assert suite
        self.assertEqual(list(check_suite(file, suite, SuiteContext())), [])


class Values(CheckCase):
    def test_a_value_that_the_schema_never_allows(self) -> None:
        self.only(
            expecting('{tool: harbour/vessel_details, args: {imo: "94711"}}'),
            "`imo` can never be so: the tool's schema never allows \"94711\"", (9, 49),
        )  # fmt: skip

    def test_each_matcher_against_a_schema(self) -> None:
        text: dict[str, Any] = {"type": "string"}
        number = {"type": "integer", "minimum": 1, "maximum": 9}
        side = {"enum": ["north", "south"]}
        never: list[tuple[Any, Any]] = [
            (7, text), ({"equal": 7}, text), ({"one_of": [1, 2]}, text),
            ({"near": 3, "within": 1}, text), ({"near": 20, "within": 5}, number),
            ({"near": -5, "percent": 10}, number), ({"near": 2.5, "within": 0.2}, number),
            ({"matches": "x"}, number), ({"matches": "^e"}, side), ({"same_words": "east"}, side),
            ({"day": "today"}, number), ({"contains": 1}, number), ({"every": 1}, text),
            ({"near": 10, "percent": 9}, number), ({"near": 0.5, "within": 0.4}, number),
            ({"all": [{"any": True}, 7]}, text),
        ]  # fmt: skip
        for spec, schema in never:
            with self.subTest(spec=spec):
                self.assertIsNotNone(never_fits(spec, schema))
        may: list[tuple[Any, Any]] = [
            ("7", text), ({"one_of": [1, "2"]}, text), ({"near": 10, "within": 1}, number),
            ({"near": 2.5, "within": 0.5}, number), ({"matches": "^n"}, side),
            ({"near": 10, "percent": 10}, number), ({"near": 9.5, "percent": 9}, number),
            ({"same_words": "North!"}, side), ({"day": "today"}, text), ({"absent": True}, text),
            ({"not": 7}, text), ({"every": 1}, {"type": ["array", "null"]}), ({"seen": True}, side),
            (7, {}), (7, {"$ref": "#/$defs/x"}), ("a", {"type": "nonsense"}),
        ]  # fmt: skip
        for spec, schema in may:
            with self.subTest(spec=spec):
                self.assertIsNone(never_fits(spec, schema))
        self.assertIsNotNone(never_fits({"absent": True}, text, required=True))
        root = {"$defs": {"x": {"type": "string"}}}
        self.assertIsNotNone(never_fits(7, {"$ref": "#/$defs/x"}, root))
        named = {"$defs": {"x/y": {"$anchor": "z", "type": "string"}}}
        for reference in ("#z", "#/$defs/x~1y"):
            self.assertIsNotNone(never_fits(7, {"$ref": reference}, named))
        circle = {"$defs": {"a": {"$ref": "#/$defs/b"}, "b": {"$ref": "#/$defs/a"}}}
        self.assertIsNone(never_fits(7, {"$ref": "#/$defs/a"}, circle))
        self.assertIsNone(never_fits(7, {"$ref": "https://example.org/x"}, root))

    def test_what_never_fits_is_told_with_its_place(self) -> None:
        self.assertEqual(never_fits(7, False), "the tool takes nothing here")
        self.assertIsNone(never_fits(7, True))
        inner = {"type": "object", "properties": {"berth": {"type": "string"}}}
        self.assertRegex(never_fits({"berth": 7}, inner) or "", r"never allows .* at \$\.berth: ")
        self.assertNotIn(" at $", never_fits(7, {"type": "string"}) or "")
        choices = {"type": "string", "enum": ["N1", "N2"]}
        self.assertIsNone(never_fits({"day": "today"}, choices))
        self.assertIsNone(never_fits({"contains": "N"}, {"type": "string"}))
        self.assertEqual(never_fits({"matches": "^S"}, choices), 'the tool takes one of "N1", "N2"')

    def test_only_args_without_what_the_tool_requires(self) -> None:
        self.only(
            expecting("{tool: harbour/assign_berth, args: {berth: N1}, only_args: true}"),
            "`only_args` forbids `imo`, which `harbour/assign_berth` requires",
        )

    def test_matchers_that_cannot_be_understood(self) -> None:
        for spec in ("{matches: '('}", "{near: x, within: 1}", "{day: someday}", "{time: noon}",
                     "{from: v, path: '$['}", "{schema: {type: nonsense}}"):  # fmt: skip
            with self.subTest(spec=spec):
                problems = expecting(f"{{tool: harbour/list_berths, args: {{side: {spec}}}}}")
                self.assertEqual([p.line for p in problems][:1], [9], problems)

    def test_patterns_schemas_and_paths_of_an_answer(self) -> None:
        problems = found(
            """
            say: Go.
            expect:
              answer:
                - {matches: "("}
                - {not_matches: "[a"}
                - {json: {type: nonsense}}
                - {data: "$[", is: 1}
                - {claims_tools: "$["}
                - {matches: x, is: 1}
                - {mentions: {from: nothing, path: $.x}}
              failures: {tells_user: "(", claims: x}
            """
        )
        self.assertEqual(sorted({p.line for p in problems}), [9, 10, 11, 12, 13, 14, 15, 16])
        self.assert_says(problems, "`claims` and `write` go together; `write` is missing")


class Sources(CheckCase):
    BERTH = "{as: book, tool: harbour/assign_berth, args: {berth: {from: free, path: '%s'}}}"
    FREE = "{as: free, tool: harbour/list_berths}"

    def test_a_source_that_stands_later_or_is_the_call_itself(self) -> None:
        path = "$.berths[*].code"
        problems = expecting(self.BERTH % path, self.FREE)
        self.only(problems, "`from: free` points forward", (9, 57))
        self.assertIn("list `free` first", problems[0].message)
        own = "{as: a, tool: harbour/list_berths, args: {side: {from: a, path: $.x}}}"
        self.only(expecting(own), "is this call itself")

    def test_an_optional_source_is_noted(self) -> None:
        optional = "{as: free, tool: harbour/list_berths, optional: true}"
        problems = expecting(optional, self.BERTH % "$.berths[*].code")
        self.only(problems, "`free` is optional: when it is not called")
        self.assertTrue(problems[0].note)

    def test_a_path_that_cannot_exist(self) -> None:
        problems = expecting(self.FREE, self.BERTH % "$.berths[*].cod")
        self.only(problems, "`$.berths[*]` has no `cod`; did you mean `code`?")
        self.only(expecting(self.FREE, self.BERTH % "$.berths.code"), "`$.berths` is array")
        self.only(
            expecting(self.FREE, self.BERTH % "$.berths[*].depth_m"),
            "`berth` takes string, and `$.berths[*].depth_m` gives number",
        )
        self.assertEqual(expecting(self.FREE, self.BERTH % "$.berths[?@.depth_m > 7].code"), [])
        self.assertEqual(expecting(self.FREE, self.BERTH % "$..code"), [])

    def test_a_name_that_the_output_allows_and_does_not_declare_is_noted(self) -> None:
        details = "{as: v, tool: harbour/vessel_details}"
        book = "{tool: harbour/assign_berth, args: {imo: {from: v, path: $.imoo}}}"
        problems = expecting(details, book)
        self.only(problems, "does not declare `imoo`; did you mean `imo`?")
        self.assertTrue(problems[0].note)

    def test_paths_through_schemas(self) -> None:
        deep = {
            "$defs": {"berth": {"type": "object", "properties": {"code": {"type": "string"}},
                                "additionalProperties": False}},
            "anyOf": [{"type": "array", "items": {"$ref": "#/$defs/berth"}},
                      {"type": "object", "properties": {"one": {"$ref": "#/$defs/berth"}},
                       "additionalProperties": False}],
        }  # fmt: skip
        for path, there in (("$[0].code", 1), ("$.one.code", 1), ("$.two", 0), ("$[0].depth", 0),
                            ("$['one']['code']", 1), ("$[*].code", 1)):  # fmt: skip
            with self.subTest(path=path):
                self.assertEqual(bool(schemas_at(deep, path)[0]), bool(there))
        pair = {"type": "array", "prefixItems": [{"type": "string"}], "items": False}
        self.assertEqual(schemas_at(pair, "$[0]")[0], [{"type": "string"}])
        self.assertEqual(schemas_at(pair, "$[1]")[0], [])
        self.assertEqual(schemas_at({"type": "array", "maxItems": 2}, "$[2]")[0], [])
        self.assertEqual(schemas_at(True, "$.a.b")[0], [{}])

    def test_paths_into_tuples_patterns_and_what_is_never_there(self) -> None:
        text = {"type": "string"}
        open_end = {"type": "array", "prefixItems": [text], "items": {"type": "integer"}}
        self.assertEqual(schemas_at(open_end, "$[2]")[0], [{"type": "integer"}])
        self.assertEqual(schemas_at(open_end, "$[-1]")[0], [text, {"type": "integer"}])
        closed = {"type": "object", "patternProperties": {"^b": text, "(": text},
                  "additionalProperties": False}  # fmt: skip
        self.assertEqual(schemas_at(closed, "$.berth")[0], [text, text])  # a bad pattern may fit
        self.assertEqual(schemas_at({**closed, "patternProperties": {"^b": text}}, "$.x")[0], [])
        self.assertEqual(schemas_at(closed, "$[0]")[0], [])
        never = {"type": "object", "properties": {"a": False}}
        self.assertEqual(schemas_at(never, "$.a.b")[0], [])
        self.assertEqual(types_of(False), frozenset())
        self.assertIn("null", types_of(True))

    def test_the_nearest_name_is_proposed(self) -> None:
        schema = {"properties": {"berth": {}, "breadth": {}, "depth": {}},
                  "type": "object", "additionalProperties": False}  # fmt: skip
        self.assertIn("did you mean `berth`?", schemas_at(schema, "$.bert")[1] or "")
        inner = {"type": "object", "allOf": [schema]}
        self.assertIn("did you mean `berth`?", schemas_at(inner, "$.bert")[1] or "")


class Chains(CheckCase):
    A = "{as: a, tool: harbour/list_berths}"
    B = "{as: b, tool: harbour/list_berths}"
    C = "{as: c, tool: harbour/list_berths}"

    def test_chains_that_contradict_each_other(self) -> None:
        problems = expecting(self.A, self.B, self.C, more="order: [[a, b, c], [c, a]]\n")
        words = "`c` before `a` contradicts `a` before `b` before `c`"
        self.only(problems, words, (12, 30))
        self.only(expecting(self.A, more="order: [[a, a]]\n"), "cannot come before itself")

    def test_a_chain_against_the_way_a_value_goes(self) -> None:
        taker = "{as: b, tool: harbour/assign_berth, args: {imo: {from: a, path: $.x}}}"
        source = "{as: a, tool: harbour/assign_berth}"
        problems = expecting(source, taker, more="order: [[b, a]]\n")
        self.only(problems, "`b` before `a` contradicts `a` before `b`")

    def test_a_later_part_cannot_come_first(self) -> None:
        problems = found(
            """
            parts:
              - {say: One., expect: {calls: [{as: a, tool: harbour/list_berths}]}}
              - {say: Two., expect: {calls: [{as: b, tool: harbour/list_berths}]}}
            expect: {order: [[b, a]]}
            """
        )
        self.only(problems, "`b` belongs to a later part than `a`", (9, 26))

    def test_required_and_forbidden_at_once(self) -> None:
        never = expecting(self.A, more='never: ["harbour/list_*"]\n')
        self.only(never, "`a` is required, and `never: harbour/list_*` forbids")
        self.only(expecting(self.A, self.B, more="at_most: {calls: 1}\n"), "2 are required")
        denied = found(
            """
            say: Go.
            approvals: [{tool: "harbour/*", decision: deny}]
            expect: {calls: [{as: a, tool: harbour/list_berths, as_approved: true}]}
            """
        )
        self.assert_says(denied, "its approval is denied", "so this can never hold")


class Parts(CheckCase):
    def test_names_are_unique_in_a_task_and_parts_keep_what_is_theirs(self) -> None:
        problems = found(
            """
            parts:
              - {say: One., expect: {calls: [{as: a, tool: harbour/list_berths}]}}
              - {say: Two., expect: {calls: [{as: a, tool: harbour/list_berths}]}}
            expect: {answer: [{matches: x}]}
            """
        )
        self.assert_says(problems, "the name `a` is taken", "`answer` belongs to one part")

    def test_alternatives_may_share_names_and_later_parts_refer_to_them(self) -> None:
        problems = found(
            """
            parts:
              - say: One.
                expect:
                  either:
                    - {calls: [{as: a, tool: harbour/list_berths}]}
                    - {calls: [{as: a, tool: harbour/vessel_details}]}
              - say: Two.
                expect: {answer: [{mentions: {from: a, path: $.x}}]}
            """
        )
        self.assertEqual([p for p in problems if "taken" in p.message], [])


class Users(CheckCase):
    def test_a_rule_that_can_never_fire(self) -> None:
        problems = found(
            """
            say: Go.
            user:
              - {if_reply: {matches: "(?i)shall I|confirm"}, say: Yes.}
              - {if_reply: {matches: "Shall I"}, say: No.}
            """
        )
        self.only(problems, "this rule can never fire: rule 0 before it fits every reply", (9, 9))

    def test_what_covers_what(self) -> None:
        covered = [(("a", False), ("a", False)), ((".", False), ("x", False)),
                   (("", False), ("x", False)),
                   (("(?i)go|on", False), ("(?i)go ahead", False))]  # fmt: skip
        for earlier, later in covered:
            with self.subTest(earlier=earlier, later=later):
                self.assertEqual(len(never_fires([earlier, later])), 1)
        free = [(("a", True), ("a", False)), (("go", False), ("(?i)go ahead", False)),
                (("^go", False), ("go ahead", False)), (("go$", False), ("go", False)),
                ((r"\bgo\b", False), ("go", False)), (("go", False), ("g.", False)),
                (("(", False), ("x", False))]  # fmt: skip
        for earlier, later in free:
            with self.subTest(earlier=earlier, later=later):
                self.assertEqual(never_fires([earlier, later]), [])

    def test_a_tasks_rules_behind_a_parts(self) -> None:
        problems = found(
            """
            user: [{if_reply: {matches: "x"}, say: Late.}]
            parts:
              - {say: One., user: [{if_reply: {matches: "."}, say: All.}]}
            """
        )
        self.assertEqual(problems, [])  # in another part it may fire


class Notes(CheckCase):
    def test_a_state_that_nobody_holds(self) -> None:
        self.only(
            found("say: Go.\nexpect: {state: [{server: harbor, path: $.x, count: 1}]}"),
            "`harbor` is not a server of this suite; did you mean `harbour`?",
        )


class ClockTest(CheckCase):
    def test_a_live_server_under_a_fixed_clock_is_noted(self) -> None:
        live = SERVERS["tides"].model_copy(update={"live": Reach(command=["tides"])})
        text = "ferox: 1\nsuite: s\nservers: {tides: live}\ntasks:\n  - {task: t, say: Go.}\n"
        for clock, noted in (("", True), ("clock: '2031-03-14T06:30:00Z'\n", True),
                             ("clock: now\n", False)):  # fmt: skip
            file = parse_yaml(clock + text, "tasks/s.yaml")
            suite = validate_file(file, Suite)
            assert suite is not None, file.problems
            problems = list(check_suite(file, suite, SuiteContext({"tides": live}, Path())))
            self.assertEqual([p.note for p in problems], [True] * noted, problems)

    def test_a_clock_that_is_none(self) -> None:
        problems = mode_problems("{harbour: mock}\nclock: later", "expect: {}")
        self.only(problems, "`clock`: `later` is not a date-time")


class TextValueTest(CheckCase):
    def answer(self, entry: str) -> list[Problem]:
        return expecting("{as: a, tool: harbour/search}", more=f"answer: [{entry}]\n")

    def test_only_has_to_know_what_such_a_value_is(self) -> None:
        source = "mentions: {from: a, path: $.x}"
        self.only(self.answer(f"{{{source}, only: true}}"), "give a `pattern`, `of: links`")
        self.assertEqual(self.answer(f"{{{source}, only: true, as: number}}"), [])
        links = "mentions: {from: a, of: links}"
        self.assertEqual(self.answer(f"{{{links}, only: true, at_least: 0}}"), [])

    def test_what_belongs_to_mentions(self) -> None:
        self.only(self.answer("{matches: x, at_least: 1}"), "`at_least` goes with `mentions`")

    def test_sources_are_checked_wherever_they_stand(self) -> None:
        self.only(self.answer("{mentions: {from: b, of: lines}}"), "`from: b`: no such call")
        self.only(self.answer("{mentions: {from: a, of: words}}"), "takes lines, items or links")
        each = "{tool: harbour/vessel_details, each: {from: a, pattern: '(', arg: imo}}"
        self.only(expecting("{as: a, tool: harbour/search}", each), "no regular expression")
        later = "{tool: harbour/assign_berth, args: {berth: {day: {from: b, path: $, plus: 1}}}}"
        self.only(expecting(later), "`from: b`: no such call")


class MistakenMatcherTest(CheckCase):
    """Objects on an untyped argument that are no matcher, and were most likely meant as one."""

    def search(self, argument: str) -> list[Problem]:
        return expecting(f"{{tool: harbour/search, args: {{filter: {argument}}}}}")

    def test_a_near_miss_of_a_key_is_told(self) -> None:
        self.only(self.search("{mathces: x}"), "did you mean `matches`?", (9, 41))
        self.only(self.search("{regex: x}"), "did you mean `matches`?")
        self.only(self.search("{every: {contians: x}}"), "did you mean `contains`?")
        self.only(self.search("{all: [{any: true}, {any_of: [1]}]}"), "did you mean `one_of`?")

    def test_half_of_a_matcher_is_told_with_what_it_lacks(self) -> None:
        self.only(self.search("{near: 5}"), "`near` lacks `within` or `percent`")
        self.only(self.search("{from: call}"), "`from` lacks `path`")

    def test_two_matchers_in_one_object_are_told_to_be_joined(self) -> None:
        self.only(self.search("{matches: x, not: y}"), "join them as `all:")

    def test_plain_objects_stay_plain(self) -> None:
        for plain in ("{status: open}", "{days: 3}", "{path: /x}", "{}", "{matches: x, berth: N1}"):
            self.assertEqual(self.search(plain), [], plain)
        self.assertEqual(self.search("{equal: {mathces: x}}"), [])
        known = "{tool: harbour/search, args: {range: {matches: x, near: 1}}}"
        self.assertEqual(expecting(known), [])


class WrongModeTest(CheckCase):
    def test_a_wrong_mode_is_the_only_thing_said(self) -> None:
        problems = mode_problems(
            "{harbour: mok}",
            "given: {harbour: {answers: {nothing: []}}}, "
            "truth: [{as: x, tool: harbour/nothing}], expect: {calls: [{tool: harbour/nope}], "
            "state: [{server: harbour, path: $, count: 1}]}",
        )
        self.only(problems, "`harbour` has no `mok`; did you mean `mock`?", (3, 11))

    def test_so_is_a_wrong_server(self) -> None:
        problems = mode_problems("{harbor: mock}", "expect: {calls: [{tool: harbour/list_berths}]}")
        self.only(problems, "`harbor`: no such server; did you mean `harbour`?")
