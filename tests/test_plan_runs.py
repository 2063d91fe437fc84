"""Runs of plans: fair to their arms, ended once they are decided, and compared arm by arm."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

import numpy as np
from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.comparison.verdict import POCOCK
from ferox.runs.arm_comparison import compare_arms
from ferox.runs.cells import mixed_trials
from ferox.runs.comparison import ComparisonError, SideName, compare_sides
from ferox.runs.looks import Look, look_at, savings_of
from ferox.runs.records import RunError, find_plan, make_ready_again, plan_arms, plan_failed
from ferox.runs.rescoring import rescore_next
from ferox.store import tables
from ferox.store.compared_trials import ComparedTrial
from ferox.store.database import read_session, write_session
from ferox.store.runs import change_run
from ferox.workspace import load_workspace
from tests.test_arms import plan_of
from tests.test_runs import RunCase

PLAN = """
    ferox: 1
    plan: models
    suites: [small]
    agents: [plain]
    vary: {model: [steady, muddled]}
    trials: 4
"""


class PlanCase(RunCase):
    def setUp(self) -> None:
        super().setUp()
        muddled = "  muddled: {stand_in: stand_ins/desk.yaml, manner: muddled}"
        self.change("ferox.yaml", "models:", f"models:\n{muddled}")
        self.change(
            "stand_ins/desk.yaml", "scenes:", "manners: {muddled: {from_memory: 1}}\nscenes:"
        )
        self.write("plans/models.yaml", PLAN)

    def plan_run(self, name: str = "models", **more: Any) -> int:
        loaded = load_workspace(self.root)
        return plan_arms(self.engine, loaded, find_plan(loaded, name), at_once=2, **more)

    def counts(self, run: int) -> dict[str, tuple[int, int]]:
        found: dict[str, tuple[int, int]] = {}
        for trial in self.trials(run):
            passes, n = found.get(trial.agent, (0, 0))
            found[trial.agent] = (passes + (trial.verdict == "pass"), n + 1)
        return found


class Carried(PlanCase):
    def test_arms_stand_where_agents_do(self) -> None:
        run = self.plan_run()
        self.carry_out(run)
        self.assertEqual(self.counts(run), {"plain": (4, 4), "plain · muddled": (0, 4)})
        first = self.trials(run)[-1]
        self.assertEqual(self.trace(first.id)["agent"], "plain · muddled")
        with read_session(self.engine) as session:
            sides = SideName.parse(f"{run}:plain"), SideName.parse(f"{run}:plain · muddled")
            compared = compare_sides(session, *sides)
        self.assertEqual(compared.metrics[0].says, "B passes less often")
        self.assertEqual(compared.differs, ["model", "model settings"])

    def test_arms_of_an_agent_meet_the_same_luck(self) -> None:
        self.write(
            "plans/models.yaml",
            """
            ferox: 1
            plan: models
            suites: [small]
            agents: [plain]
            vary: {model: [hasty], params: {one: {}, two: {x: 1}}}
            trials: 12
            """,
        )
        run = self.plan_run()
        self.carry_out(run)
        shown = {(t.agent, t.number): (t.verdict, t.calls) for t in self.trials(run)}
        one = [shown["plain", n] for n in range(1, 13)]
        two = [shown["plain · two", n] for n in range(1, 13)]
        self.assertEqual(one, two)
        self.assertGreater(len(set(one)), 1)

    def test_trials_are_mixed_over_arms(self) -> None:
        cells = [("s", "t", agent) for agent in ("a", "b")]
        mixed = mixed_trials(cells, range(1, 51), seed=1)
        self.assertEqual(mixed, mixed_trials(cells, range(1, 51), seed=1))
        self.assertEqual(sorted(mixed), sorted((*c, n) for c in cells for n in range(1, 51)))
        firsts = sum(agent == "a" for *_, agent, _ in mixed[:50])
        self.assertTrue(15 < firsts < 35, firsts)

    def test_faults_of_an_arm_are_judged_by_one_script(self) -> None:
        self.write(
            "plans/models.yaml",
            """
            ferox: 1
            plan: models
            suites: [small]
            agents: [plain]
            vary: {faults: {calm: [], rough: [{server: tides, do: tool_error, all: true}]}}
            trials: 2
            """,
        )
        run = self.plan_run()
        self.carry_out(run)
        self.assertEqual(self.counts(run), {"plain": (2, 2), "plain · rough": (0, 2)})
        self.assertEqual(len({trial.script for trial in self.trials(run)}), 1)
        before = [(t.id, t.verdict, t.went_wrong) for t in self.trials(run)]
        self.change("tasks/small.yaml", 'mentions: "14:31"', 'mentions: "14:32"')
        suite = load_workspace(self.root).suites["small"]
        rescore_next(self.engine, suite, suite.tasks)
        self.change("tasks/small.yaml", 'mentions: "14:32"', 'mentions: "14:31"')
        suite = load_workspace(self.root).suites["small"]
        rescore_next(self.engine, suite, suite.tasks)
        self.assertEqual([(t.id, t.verdict, t.went_wrong) for t in self.trials(run)], before)

    def test_what_failed_runs_again_under_the_plan(self) -> None:
        run = self.plan_run()
        self.carry_out(run)
        again = plan_failed(self.engine, load_workspace(self.root), run)
        self.assertEqual({t.agent for t in self.trials(again)}, {"plain · muddled"})

    def test_a_plan_that_is_not_there(self) -> None:
        with self.assertRaisesRegex(RunError, "`model`: no such plan; did you mean `models`"):
            self.plan_run("model")

    def test_the_table_of_arms(self) -> None:
        run = self.plan_run()
        self.carry_out(run)
        with read_session(self.engine) as session:
            report = compare_arms(session, run)
            with self.assertRaisesRegex(ComparisonError, "no run 99"):
                compare_arms(session, 99)
        plain, muddled = report.arms
        self.assertEqual((plain.against, muddled.against), (None, "plain"))
        self.assertEqual((plain.passes, plain.n, muddled.passes, muddled.n), (4, 4, 0, 4))
        assert muddled.pass_difference is not None and muddled.choice is not None
        self.assertEqual(muddled.pass_difference.difference, -1.0)
        # Newcombe over Wilson's limits of 4/4 and 0/4 (one task): 0.5101 and 0.4899 from Wilson.
        low, high = muddled.pass_difference.low, muddled.pass_difference.high
        assert low is not None and high is not None
        self.assertAlmostEqual(high, -1 + np.hypot(0.4899, 0.4899), places=3)
        self.assertEqual((plain.tools, plain.offered_recall), (2.0, 1.0))
        self.assertEqual((plain.chosen_of_shown, muddled.chosen_of_shown), (1.0, 0.0))
        self.assertIsNone(report.saved)

    def test_the_command_prints_arms_and_goes_with_no_other_choice(self) -> None:
        def call(*arguments: str) -> Any:
            with patch("ferox.cli.run.start_worker", self.start):
                return CliRunner().invoke(main, ["run", str(self.root), *arguments])

        done = call("--plan", "models", "--trials", "2")
        self.assertEqual(done.exit_code, 1)
        self.assertIn("plain · muddled", done.output)
        self.assertIn("arms of models", done.output)
        self.assertIn("0/2", done.output)
        refused = call("--plan", "models", "--agent", "plain")
        self.assertEqual(refused.exit_code, 2)
        self.assertIn("--plan says what is run", refused.output)
        self.assertEqual(call("--plan", "nope").exit_code, 2)


class Looks(PlanCase):
    def setUp(self) -> None:
        super().setUp()
        self.change("plans/models.yaml", "trials: 4", "until: {looks: [2, 3, 5]}")

    def looks(self, run: int) -> list[Look]:
        with read_session(self.engine) as session:
            record = session.get_one(tables.Run, run)
            return [Look.model_validate(look) for look in record.looks]

    def test_an_arm_that_is_decided_stops_and_its_baseline_with_it(self) -> None:
        run = self.plan_run()
        self.assertEqual(len(self.trials(run)), 4)
        self.carry_out(run)
        looks = self.looks(run)
        decided = looks[-1].repeats
        self.assertEqual(self.counts(run), {"plain": (decided, decided),
                                            "plain · muddled": (0, decided)})  # fmt: skip
        self.assertTrue(looks[-1].arms[0].decided)
        self.assertEqual({*looks[-1].stopped}, {"plain", "plain · muddled"})
        with read_session(self.engine) as session:
            report = compare_arms(session, run)
        self.assertEqual((report.decided_after, report.all_trials), (decided, 10))
        self.assertEqual(report.saved, 10 - 2 * decided)
        self.assertEqual(report.z, POCOCK[2])

    def test_without_a_difference_it_goes_on_to_the_last_look(self) -> None:
        self.change("plans/models.yaml", "muddled", "steady2")
        self.change(
            "ferox.yaml", "  muddled:", "  steady2: {stand_in: stand_ins/desk.yaml}\n  muddled:"
        )
        run = self.plan_run()
        self.carry_out(run)
        self.assertEqual([look.repeats for look in self.looks(run)], [2, 3, 5])
        self.assertEqual(self.counts(run), {"plain": (5, 5), "plain · steady2": (5, 5)})
        self.assertEqual(self.state(run), "done")
        with read_session(self.engine) as session:
            self.assertIsNone(compare_arms(session, run).decided_after)

    def test_a_run_that_broke_off_before_a_look_takes_it_when_resumed(self) -> None:
        run = self.plan_run()
        self.carry_out(run)
        with write_session(self.engine) as session:  # as if it had been killed before the look
            change_run(session, run, looks=[], state="running")
        self.assertEqual(make_ready_again(self.engine, self.root, run), 0)
        self.carry_out(run)
        self.assertEqual(self.looks(run)[0].repeats, 2)
        with self.assertRaisesRegex(RunError, "nothing is missing"):
            make_ready_again(self.engine, self.root, run)
        self.assertEqual(self.state(run), "done")

    def test_repeats_given_by_hand_take_its_place(self) -> None:
        run = self.plan_run(repeats=6)
        self.assertEqual(len(self.trials(run)), 12)
        self.carry_out(run)
        with read_session(self.engine) as session:
            self.assertIsNone(session.get_one(tables.Run, run).looks)


def trial_of(arm: str, task: str, passed: bool) -> ComparedTrial:
    values = dict.fromkeys(ComparedTrial._fields) | {
        "id": 1, "suite": "s", "task": task, "agent": arm, "script": "x",
        "verdict": "pass" if passed else "fail",
    }  # fmt: skip
    return ComparedTrial(**values)


class Deciding(PlanCase):
    def test_by_hand(self) -> None:
        """Two tasks, five repeats: 1.0 and 1.0 against 0.2 and 0.0.

        V = (0 + 0 + 0.16/4 + 0)/4 = 0.01; F = (1/24 + 1/24)/4 = 0.0208333;
        d = −0.9, z of two looks 2.178: limits −0.9 ± 2.178·√0.0308333 = ±0.382444.
        """
        plan = plan_of(vary={"model": ["a", "b"]}, until={"looks": [5, 9], "same_within": 0.05})
        rates = {("plain", "x"): 5, ("plain", "y"): 5, ("plain · b", "x"): 1, ("plain · b", "y"): 0}
        trials = [
            trial_of(arm, task, n < passes) for (arm, task), passes in rates.items()
            for n in range(5)
        ]  # fmt: skip
        look = look_at(plan, 5, ["plain", "plain · b"], trials)
        (arm,) = look.arms
        assert arm.difference is not None and arm.high is not None and arm.low is not None
        self.assertAlmostEqual(arm.difference, -0.9)
        self.assertAlmostEqual(arm.high, -0.9 + 0.382444, places=5)
        self.assertEqual(arm.low, -1.0)
        self.assertEqual((arm.says, look.stopped), ("passes less often", ["plain", "plain · b"]))
        savings = savings_of(plan, [look], tasks=2)
        self.assertEqual((savings.saved, savings.of), ((9 - 5) * 2 * 2, 9 * 2 * 2))

    def test_a_baseline_goes_on_while_any_arm_of_its_own_does(self) -> None:
        plan = plan_of(vary={"model": ["a", "b", "c"]}, until={"looks": [5, 9]})
        passes = {"plain": 5, "plain · b": 0, "plain · c": 4}
        trials = [
            trial_of(arm, task, n < count) for arm, count in passes.items() for n in range(5)
            for task in "xyz"
        ]  # fmt: skip
        look = look_at(plan, 5, list(passes), trials)
        self.assertEqual([arm.decided for arm in look.arms], [True, False])
        self.assertEqual(look.stopped, ["plain · b"])
        self.assertTrue(look.arms[1].says.startswith("not decided: a difference of up to "))
        last = look_at(plan, 9, ["plain", "plain · c"], trials)
        self.assertEqual(last.stopped, ["plain", "plain · c"])

    def test_without_judged_trials_nothing_is_decided(self) -> None:
        plan = plan_of(vary={"model": ["a", "b"]}, until={"looks": [5, 9]})
        look = look_at(plan, 5, ["plain", "plain · b"], [trial_of("plain", "x", True)] * 5)
        self.assertEqual((look.arms[0].decided, look.stopped), (False, []))
