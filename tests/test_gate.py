"""Holding the line: floors, what broke, and how much less often a run may pass; hand-worked."""

from __future__ import annotations

import json
import unittest
from datetime import date
from pathlib import Path
from typing import Any

from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.gate import GateRules, judge_broken, judge_floor, judge_no_worse
from ferox.core.known import known_failure
from ferox.formats.suite import Suite
from ferox.runs.baseline import BaselineError, baseline_cells, read_baseline
from ferox.runs.gate import GateReport, judge_run
from ferox.store.board import read_cells
from ferox.store.database import Session as StoreSession
from ferox.store.database import read_session
from ferox.store.ledger import read_ledger
from ferox.store.runs import change_run
from tests.test_store import StoreCase
from tests.workers import work_in_threads
from tests.workspaces import WorkspaceCase

DAY = 86_400.0


class Floors(unittest.TestCase):
    def test_the_floor_itself_is_reached(self) -> None:
        nine_of_ten = [1.0] * 9 + [0.0]
        self.assertTrue(judge_floor("pass", 0.9, nine_of_ten).held)
        # Three times 0.1 is not quite 0.3 in floating point; it reaches it all the same.
        self.assertTrue(judge_floor("choice", 0.3, [0.1 + 0.2] * 3).held)
        self.assertTrue(judge_floor("choice", 0.1 + 0.2, [0.3]).held)

    def test_below_it_the_distance_and_the_number_are_said(self) -> None:
        found = judge_floor("pass", 0.9, [1.0] * 8 + [0.0] * 2)
        self.assertIs(found.held, False)
        self.assertEqual(
            found.says, "--fail-under pass=0.9 fails: pass is 0.8 in 10 trials, 0.1 too low"
        )

    def test_what_no_trial_tests_cannot_be_told(self) -> None:
        found = judge_floor("order", 0.5, [])
        self.assertIsNone(found.held)
        self.assertIn("no trial tests order", found.says)
        self.assertEqual([found.fails(strict=strict) for strict in (False, True)], [False, True])


class Broken(unittest.TestCase):
    def test_one_cell_is_enough(self) -> None:
        self.assertTrue(judge_broken([], 4).held)
        found = judge_broken(["a", "b", "c", "d", "e"], 9)
        self.assertIs(found.held, False)
        self.assertIn("5 of 9 cells compared broke: a, b, c and 2 more", found.says)

    def test_without_a_predecessor_it_cannot_be_told(self) -> None:
        self.assertIsNone(judge_broken([], 0).held)


class NoWorse(unittest.TestCase):
    """Two tasks, ten trials each, all passed before; then one of them passes 9, or 8."""

    BEFORE = [(10, 10), (10, 10)]

    def test_the_difference_decides_and_its_bound_is_allowed(self) -> None:
        now = [(10, 10), (8, 10)]  # (0 − 0.2) / 2 = −0.1
        held = judge_no_worse(self.BEFORE, now, most=0.1, strict=False)
        self.assertTrue(held.held)
        found = judge_no_worse(self.BEFORE, now, most=0.09, strict=False)
        self.assertIs(found.held, False)
        self.assertIn("−10 points on 2 tasks, 20 and 20 trials", found.says)
        self.assertIn("1 points too low", found.says)

    def test_where_it_is_strict_the_lower_limit_decides(self) -> None:
        # d = −0.05. V = (0.9·0.1/9)/4 = 0.0025; F = (1/44 + 1/44)/4 = 0.0113636.
        # The lower limit: −0.05 − 1.959964 · √0.0138636 = −0.280775.
        now = [(10, 10), (9, 10)]
        self.assertTrue(judge_no_worse(self.BEFORE, now, most=0.281, strict=True).held)
        self.assertIs(judge_no_worse(self.BEFORE, now, most=0.2807, strict=True).held, False)
        lenient = judge_no_worse(self.BEFORE, now, most=0.05, strict=False)
        self.assertTrue(lenient.held)
        self.assertIn("more may hide", lenient.says)

    def test_a_gain_is_no_loss(self) -> None:
        self.assertTrue(judge_no_worse([(1, 10)], [(9, 10)], most=0.0, strict=True).held)

    def test_one_trial_of_a_task_tells_nothing(self) -> None:
        found = judge_no_worse([(1, 1)], [(0, 1)], most=0.05, strict=False)
        self.assertIsNone(found.held)
        self.assertIn("repeat each task at least twice", found.says)
        self.assertIsNone(judge_no_worse([], [], most=0.05, strict=False).held)


def suite_with(*known: dict[str, Any]) -> Suite:
    return Suite.model_validate({"ferox": 1, "suite": "s", "tasks": [], "known": list(known)})


class Known(unittest.TestCase):
    def why(
        self, suite: Suite, agent: str = "desk", task: str = "t", on: str = "2031-06-01"
    ) -> Any:
        found = known_failure(suite, task, agent, date.fromisoformat(on))
        return found and found.why

    def test_it_is_of_its_task_and_agents_and_of_their_arms(self) -> None:
        suite = suite_with({"task": "t", "agents": ["desk", "night · hasty"], "why": "asks twice"})
        self.assertEqual(self.why(suite), "asks twice")
        self.assertEqual(self.why(suite, "desk · 20 decoys"), "asks twice")
        self.assertEqual(self.why(suite, "night · hasty"), "asks twice")
        self.assertIsNone(self.why(suite, "night"))
        self.assertIsNone(self.why(suite, "night · steady"))
        self.assertIsNone(self.why(suite, task="other"))
        self.assertEqual(self.why(suite_with({"task": "t", "why": "any"}), "anyone"), "any")

    def test_its_last_day_is_included_and_then_it_counts_again(self) -> None:
        suite = suite_with({"task": "t", "why": "w", "until": "2031-06-01"})
        self.assertEqual(self.why(suite, on="2031-06-01"), "w")
        self.assertIsNone(self.why(suite, on="2031-06-02"))


KNOWN = "known: [{task: high, agents: [plain], why: asks twice, until: 2031-06-01}]\n"


class Ledger(StoreCase):
    def kinds(self, run: int) -> list[tuple[str, str | None]]:
        known = {("small", "high", "plain"): "asks twice"}
        with read_session(self.engine) as session:
            found = read_ledger(session, run, read_cells(session, run), known=known)
        return [(group.kind, group.known) for group in found.groups]

    def test_a_known_failure_is_not_broken_and_one_that_passes_is_mended(self) -> None:
        self.run_of("ppp")
        for verdicts, kind in (("fff", "known"), ("ppf", "known"), ("ppp", "mended")):
            with self.subTest(verdicts):
                self.assertEqual(self.kinds(self.run_of(verdicts)), [(kind, "asks twice")])


class Gate(StoreCase):
    def judge(self, run: int, against: str | None = None, **rules: Any) -> GateReport:
        with read_session(self.engine) as session:
            base = read_baseline(session, against) if against else None
            return judge_run(session, run, GateRules(rules.pop("floors", {}), **rules), base)

    def held(self, *given: Any, **rules: Any) -> list[bool | None]:
        return [verdict.held for verdict in self.judge(*given, **rules).verdicts]

    def test_a_run_against_a_run(self) -> None:
        self.run_of("pppp"), self.run_of("pppp"), self.run_of("pfff")
        self.assertEqual(self.held(2, "1", no_worse=0.05), [True, True])
        self.assertEqual(self.held(3, "1", no_worse=0.05), [False, False])
        self.assertEqual(self.held(3, "1", no_worse=0.75), [False, True])
        self.assertEqual(self.held(3, "3"), [True])

    def test_floors_count_judged_trials_only(self) -> None:
        self.run_of("pppfeu")
        floors = {"pass": 0.75, "outcome": 0.75, "order": 0.1}
        self.assertEqual(self.held(1, floors=floors), [True, True, None])
        self.assertEqual(self.held(1, floors={"pass": 0.76}), [False])

    def test_an_arm_stands_against_every_agent(self) -> None:
        self.write("agents/other.yaml", "ferox: 1\nagent: other\nlink: plain\nmodel: steady\n")
        self.run_of("pp"), self.run_of("ff", agents=("other",))
        self.assertEqual(self.held(2, "1"), [None])
        self.assertEqual(self.held(2, "1:plain"), [False])
        for wrong, why in (
            ("1:nobody", "has no judged trials of `nobody`; it has plain"),
            ("7", "there is no run 7"),
            ("main", "`main` is no baseline"),
        ):
            with self.assertRaisesRegex(BaselineError, why):
                self.judge(1, wrong)

    def test_another_script_is_not_compared(self) -> None:
        self.run_of("pp", script="old"), self.run_of("ff", script="new")
        report = self.judge(2, "1")
        self.assertEqual([v.held for v in report.verdicts], [None])
        self.assertEqual(report.changes.other_script, [("small", "high", "plain")])

    def test_what_is_known_is_in_no_rule_until_its_day_has_passed(self) -> None:
        self.run_of("pp")
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write(KNOWN)
        self.run_of("ff")
        report = self.judge(2, "1", floors={"pass": 0.9})
        self.assertEqual([v.held for v in report.verdicts], [None, None])
        self.assertEqual(list(report.changes.known.values()), ["asks twice"])
        last = 1_938_038_400.0  # 2031-06-01, 00:00 UTC
        for at, held in ((last + DAY - 1, [None]), (last + DAY, [False])):
            with self.engine.begin() as connection, StoreSession(connection) as session:
                change_run(session, 2, created_at=at)
                session.commit()
            self.assertEqual(self.held(2, "1"), held)
        self.run_of("pp")
        self.assertEqual(self.judge(3).changes.mended_known, [("small", "high", "plain")])

    def test_a_baseline_file_says_the_same_as_its_run(self) -> None:
        self.run_of("pfe"), self.run_of("fff")
        with read_session(self.engine) as session:
            cells = baseline_cells(session, 1)
        path = self.write("base.jsonl", "\n".join(cell.model_dump_json() for cell in cells))
        self.assertEqual(
            json.loads(path.read_text()),
            {"suite": "small", "task": "high", "agent": "plain", "passes": 1, "n": 2,
             "failed_check": "answer.0", "script": "same"},
        )  # fmt: skip
        self.assertEqual(self.held(2, str(path), no_worse=0.1), self.held(2, "1", no_worse=0.1))

    def test_results_of_trials_are_a_baseline_too(self) -> None:
        result: dict[str, Any] = {"suite": "small", "task": "high", "agent": "plain"}
        lines = [{**result, "verdict": verdict} for verdict in ("pass", "pass", "error")]
        path = self.write("base.jsonl", "\n".join(map(json.dumps, lines)))
        self.run_of("ff")
        self.assertEqual(self.held(1, str(path)), [False])

    def test_a_faulty_baseline_is_named_by_its_line(self) -> None:
        good = '{"suite": "s", "task": "t", "agent": "a", "passes": 1, "n": 1}'
        for text, why in (
            (f"{good}\nnot json", r"base.jsonl:2: no JSON"),
            (f"{good}\n\n{good}", r"base.jsonl:3: s/t · a stands here twice"),
            (good.replace('"n": 1', '"n": "x"'), r"base.jsonl:1: /n: "),
            (good.replace('"n": 1', '"n": 0'), r"base.jsonl:1: /: .*1 passes of 0 trials"),
            ('{"verdict": "pass", "task": 3}', r"base.jsonl:1: a result says its"),
            ("\n", "it holds no results"),
        ):
            with self.subTest(text), self.assertRaisesRegex(BaselineError, why):
                self.judge(0, str(self.write("base.jsonl", text)))


class AtTheTerminal(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)

    def ferox(self, *words: object) -> tuple[int, str, str]:
        done = CliRunner().invoke(main, [str(word) for word in words], catch_exceptions=False)
        return done.exit_code, done.stdout, done.stderr

    def test_the_status_follows_the_rules_and_the_last_line_says_which_failed(self) -> None:
        self.assertEqual(self.ferox("run", self.root, "--trials", 2)[0], 0)
        self.change("stand_ins/desk.yaml", "{{ high.high_water }}", "noon")
        status, out, err = self.ferox("run", self.root, "--trials", 2, "--against", 1)
        self.assertEqual(status, 1)
        self.assertRegex(
            err.strip().splitlines()[-1],
            r"nothing breaks: fails: 1 of 1 cell compared broke: small/high · plain \(2/2 → 0/2\)",
        )
        rules = ("--fail-under", "outcome=0.5", "--fail-under", "choice=1")
        status, out, err = self.ferox("run", self.root, "--trials", 2, *rules)
        self.assertEqual(status, 0, err)
        self.assertIn("--fail-under outcome=0.5 holds: outcome is 0.5 in 2 trials", out)
        # As before: what fails in both breaks nothing.
        self.assertEqual(self.ferox("run", self.root, "--against", 2, "--trials", 2)[0], 0)

    def test_known_failures_fail_no_run(self) -> None:
        self.change("stand_ins/desk.yaml", "{{ high.high_water }}", "noon")
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write(KNOWN)
        status, out, err = self.ferox("run", self.root, "--trials", 2)
        self.assertEqual(status, 0)
        self.assertIn("2 trials failed, 2 of them known to", err)
        self.assertIn("known: asks twice", out)

    def test_wrong_rules_are_refused_before_anything_runs(self) -> None:
        for words, why in (
            (("--no-worse", "0.1"), "--no-worse needs --against"),
            (("--strict",), "--strict goes with"),
            (("--fail-under", "speed=1"), "metrics are pass, choice"),
            (("--fail-under", "pass=2"), "a floor from 0 to 1"),
            (("--fail-under", "pass=nan"), "a floor from 0 to 1"),
            (("--fail-under", "pass"), "write METRIC=FLOOR"),
            (("--against", "12"), "--against: there is no run 12"),
        ):
            with self.subTest(words):
                status, _, err = self.ferox("run", self.root, *words)
                self.assertEqual(status, 2)
                self.assertIn(why, err)
        self.assertEqual(self.ferox("export", self.root, 1)[0], 2)

    def test_what_known_names_has_to_be_there(self) -> None:
        path = Path("tasks/small.yaml")
        text = (self.root / path).read_text()
        for known, why in (
            ("{task: hihg, why: w}", "11:10: `hihg`: no such task in this suite; did you mean"),
            ("{task: high, agents: [plian], why: w}", "`plian`: no such agent; did you mean"),
            ("{task: high}", "why"),
            ("{task: high, why: w, until: soon}", "until"),
        ):
            with self.subTest(known):
                self.write(str(path), f"{text}known: [{known}]\n")
                status, _, err = self.ferox("verify", self.root)
                self.assertEqual(status, 2)
                self.assertIn(why, err)
        self.write(str(path), f"{text}known: [{{task: high, agents: [plain · x], why: w}}]\n")
        self.assertEqual(self.ferox("verify", self.root)[0], 0)
