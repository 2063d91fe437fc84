"""A stand-in made from a suite carries its expectations out, and says what it could not know."""

from __future__ import annotations

import re
import shutil
import tempfile
import unittest
from pathlib import Path
from typing import Any

from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from ferox.cli.main import main
from ferox.formats.suite import Suite
from ferox.making.fitting_words import fitting_words
from ferox.making.stand_in_of_suite import MadeStandIn, stand_in_of_suite
from ferox.runs.overrides import Overrides
from ferox.runs.records import plan_run
from ferox.store.database import open_database, read_session
from ferox.store.trials import trials_of_run
from ferox.workspace import load_workspace
from tests.waiting import HANG_S
from tests.workers import start_in_thread

DEMO = Path(__file__).resolve().parents[1] / "demo"
TOOLS: dict[str, dict[str, Any]] = {
    "harbour/find_vessel": {
        "description": "Search the register by name.",
        "inputSchema": {"type": "object", "properties": {"name": {"type": "string"}}},
    },
    "harbour/assign_berth": {
        "description": "Book a berth for a vessel.",
        "inputSchema": {
            "type": "object",
            "properties": {
                "imo": {"type": "string"},
                "berth": {"type": "string", "enum": ["N1", "S1"]},
                "draught_m": {"type": "number", "minimum": 2},
            },
        },
    },
}


def made_of(**task: Any) -> MadeStandIn:
    suite = Suite.model_validate(
        {
            "ferox": 1,
            "suite": "first",
            "servers": {"harbour": "mock"},
            "tasks": [{"task": "one", "say": "Book S1 for 9471102, draught 7.4 m.", **task}],
        }
    )
    return stand_in_of_suite(suite, TOOLS)


def steps_of(**task: Any) -> list[dict[str, Any]]:
    steps: list[dict[str, Any]] = made_of(**task).document["scenes"][0]["does"]
    return steps


def book(**args: Any) -> dict[str, Any]:
    return {"calls": [{"tool": "harbour/assign_berth", "args": args}]}


class Values(unittest.TestCase):
    def test_each_matcher_becomes_where_its_value_comes_from(self) -> None:
        for wanted, value in (
            ("9471102", {"constant": "9471102"}),
            ({"equal": "9"}, {"constant": "9"}),
            ({"one_of": ["9", "8"]}, {"constant": "9"}),
            ({"near": 7.9, "within": 0.5}, {"constant": 7.9}),
            ({"contains": "47"}, {"constant": "47"}),
            ({"same_words": "berth one"}, {"constant": "berth one"}),
            ({"day": "+2"}, {"day": 2}),
            ({"day": "tomorrow"}, {"day": 1}),
            ({"matches": r"\d{7}"}, {"said": r"\d{7}"}),
            ({"matches": "^north$"}, {"constant": "north"}),
            ({"every": {"equal": 3}}, {"constant": [3]}),
            ({"all": [{"from_user": True}, "9471102"]}, {"constant": "9471102"}),
            ({"all": [{"matches": "fog"}, {"contains": "16:00"}]}, {"constant": "fog 16:00"}),
        ):
            with self.subTest(wanted=wanted):
                made = made_of(expect=book(imo=wanted))
                self.assertEqual(made.document["scenes"][0]["does"][0]["values"]["imo"], value)
                self.assertEqual(made.notes, [])

    def test_what_is_absent_is_left_out(self) -> None:
        self.assertNotIn("values", steps_of(expect=book(imo={"absent": True}))[0])

    def test_what_the_user_must_have_said_is_read_by_the_arguments_schema(self) -> None:
        (call, _) = steps_of(expect=book(berth={"seen": True}, draught_m={"from_user": True}))
        self.assertEqual(call["values"]["berth"], {"constant": "S1"})
        self.assertEqual(call["values"]["draught_m"]["guess"], 2)

    def test_what_the_script_leaves_open_is_told(self) -> None:
        made = made_of(expect=book(imo={"any": True}))
        self.assertEqual(
            made.notes, ["one: assign_berth.imo: write its value, which the script leaves open"]
        )


class Steps(unittest.TestCase):
    def test_calls_stand_after_what_they_need(self) -> None:
        steps = steps_of(
            expect={
                "calls": [
                    {
                        "as": "book",
                        "tool": "harbour/assign_berth",
                        "args": {"imo": {"from": "found", "path": "$.vessels[*].imo"}},
                    },
                    {"as": "spare", "tool": "harbour/find_vessel", "optional": True},
                    {"as": "found", "tool": "harbour/find_vessel", "optional": True},
                ]
            }
        )
        self.assertEqual([step.get("as") for step in steps], ["found", "book", None])
        self.assertEqual(steps[1]["values"]["imo"], {"from": "found", "path": "$.vessels[*].imo"})

    def test_chains_put_calls_in_order(self) -> None:
        calls = [
            {"as": "b", "tool": "harbour/assign_berth", "times": 2},
            {"as": "a", "tool": "harbour/find_vessel"},
        ]
        steps = steps_of(expect={"calls": calls, "order": [["a", "b"]]})
        self.assertEqual([step.get("as") for step in steps], ["a", "b", "b", None])

    def test_one_call_for_every_item(self) -> None:
        each = {"from": "found", "path": "$.vessels[*].imo", "arg": "imo"}
        steps = steps_of(
            expect={
                "calls": [
                    {"as": "found", "tool": "harbour/find_vessel"},
                    {"as": "book", "tool": "harbour/assign_berth", "each": each},
                ]
            }
        )
        self.assertEqual(steps[1]["each"], {"from": "found", "path": "$.vessels[*].imo"})
        self.assertEqual(steps[1]["values"], {"imo": {"item": "$"}})

    def test_it_asks_for_a_go_ahead_and_for_what_the_user_has_not_said(self) -> None:
        user = [
            {"if_reply": {"matches": "(?i)which berth"}, "say": "N1, please."},
            {"if_reply": {"matches": "(?i)go ahead"}, "say": "Yes.", "grants": "booking"},
        ]
        call = {
            "tool": "harbour/assign_berth",
            "args": {"berth": "N1"},
            "after_grant": "booking",
        }
        steps = steps_of(user=user, expect={"calls": [call]})
        self.assertEqual(
            steps[:2],
            [{"say": "which berth", "asks": True}, {"say": "Shall I go ahead?", "asks": True}],
        )
        self.assertEqual(steps[2]["intent"], "assign berth")

    def test_a_failure_is_told_in_the_words_that_the_script_waits_for(self) -> None:
        failures = {"tells_user": "(?i)no answer|busy"}
        (call, _) = steps_of(expect={**book(imo="9"), "failures": failures})
        self.assertEqual(call["if_failed"], [{"say": "no answer"}])

    def test_of_alternatives_the_first_is_carried_out(self) -> None:
        either = [book(imo="1"), {"calls": []}]
        (call, last) = steps_of(expect={"either": either, "answer": [{"matches": "booked"}]})
        self.assertEqual(call["values"]["imo"], {"constant": "1"})
        self.assertEqual(last, {"say": "booked."})

    def test_words_alone_where_no_tool_is_to_be_called(self) -> None:
        (only,) = steps_of(expect={"calls": [], "answer": [{"mentions": "S2"}]})
        self.assertEqual(only, {"say": "S2."})

    def test_a_tool_that_nobody_has_seen_is_told(self) -> None:
        made = made_of(expect={"calls": [{"tool": "tides/high_water"}]})
        self.assertIn("its words are not known yet", made.notes[0])


class Answers(unittest.TestCase):
    def said(self, path: str, **task: Any) -> str:
        call = {"as": "found", "tool": "harbour/find_vessel"}
        answer = [{"mentions": {"from": "found", "path": path}}]
        return str(steps_of(expect={"calls": [call], "answer": answer}, **task)[-1]["say"])

    def test_paths_become_expressions(self) -> None:
        self.assertEqual(self.said("$.a.b[0]"), "{{ found.a.b[0] }}.")
        self.assertEqual(self.said("$.items[1]"), "{{ found['items'][1] }}.")
        self.assertEqual(self.said("$.a[*].b"), "{{ value_of('found', '$.a[*].b') }}.")

    def test_a_truth_is_read_from_the_call_that_looks_the_same_up(self) -> None:
        truth = [{"as": "real", "tool": "harbour/find_vessel", "args": {}}]
        expect = {
            "calls": [{"as": "found", "tool": "harbour/find_vessel"}],
            "answer": [{"mentions": {"from": "real", "path": "$.name"}}],
        }
        self.assertEqual(steps_of(truth=truth, expect=expect)[-1]["say"], "{{ found.name }}.")
        made = made_of(truth=truth, expect={**expect, "calls": []})
        self.assertIn("which only Ferox looks up", made.notes[0])

    def test_an_answer_that_the_script_forbids_is_told(self) -> None:
        made = made_of(
            user=[{"if_reply": {"matches": "S2"}, "say": "Yes."}],
            expect={"calls": [], "answer": [{"mentions": "S2"}, {"not_matches": "S2"}]},
        )
        self.assertEqual(
            made.notes,
            [
                "one: its answer fits /S2/, which it must not",
                "one: its answer makes rule 1 of the user answer once more",
            ],
        )


class FittingWords(unittest.TestCase):
    def test_by_hand(self) -> None:
        for pattern, words in (
            ("(?i)shall I|confirm", "Shall I go ahead?"),
            (r"(?i)\bwhich (vessel|ship)\b", "which vessel"),
            (r"[0-9]{2}:[0-9]{2}", "00:00"),
            (r"\d+\s?m", "1m"),
            (r"^no.*berths?$", "noberth"),
            ("(unclosed", None),
            (r"(?!x)x", None),
        ):
            with self.subTest(pattern):
                self.assertEqual(fitting_words(pattern), words)

    @given(st.lists(st.sampled_from(["berth", r"\d", "[a-f]+", "(x|y)?", ".", r"\s*", "z{2,3}"])))
    def test_they_fit(self, pieces: list[str]) -> None:
        pattern = "".join(pieces)
        words = fitting_words(pattern)
        if words is not None:
            self.assertRegex(words, pattern)
        else:
            self.assertNotIn("berth", pattern)


class DemosSuites(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(tempfile.mkdtemp(prefix="ferox-stand-in-"))
        self.addCleanup(shutil.rmtree, folder)
        self.root = folder / "demo"
        shutil.copytree(DEMO, self.root, ignore=shutil.ignore_patterns(".*", "node_modules"))

    def test_every_suite_runs_by_its_own_stand_in_but_for_what_was_told(self) -> None:
        told: set[str] = set()
        for suite in ("arrivals", "watches", "quayside", "messages"):
            done = CliRunner().invoke(main, ["stand-in", str(self.root), suite])
            self.assertEqual(done.exit_code, 0, done.output)
            told |= set(re.findall(rf"{suite}\.yaml: ([\w-]+): ", done.output))
            self.assertIn(f"--suite {suite} --model stand-in-{suite}", done.output)
        loaded = load_workspace(self.root)
        engine = open_database(self.root)
        self.addCleanup(engine.dispose)
        failed = set()
        for suite in ("arrivals", "watches", "quayside", "messages"):
            overrides = Overrides(models={"*": f"stand-in-{suite}"})
            run = plan_run(
                engine, loaded, [suite], ["plain-desk-steady"], 1, 2, overrides=overrides
            )
            self.assertEqual(start_in_thread(self.root, run).wait(HANG_S), 0)
            with read_session(engine) as session:
                failed |= {t.task for t in trials_of_run(session, run) if t.verdict != "pass"}
        # The plain loop asks nobody for approvals, which that task is about.
        self.assertEqual(failed - {"wording-by-the-master"}, told)
        self.assertEqual(told, {"shift-and-tell", "vessel-without-a-number"})

    def test_a_suite_that_is_not_there(self) -> None:
        done = CliRunner().invoke(main, ["stand-in", str(self.root), "arivals"])
        self.assertEqual(done.exit_code, 2)
        self.assertIn("did you mean `arrivals`?", done.output)
        self.assertEqual(Path(self.root, "stand_ins/arivals.yaml").exists(), False)
