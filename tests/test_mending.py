"""What would mend it: which changes are tried for which failure, and what they come to."""

from __future__ import annotations

import unittest
from typing import Any
from unittest.mock import patch

from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from ferox.cli.main import main
from ferox.core.arms import arms_of
from ferox.formats.plan import FaultsInstead, PlanFile
from ferox.formats.result import FAMILIES
from ferox.runs.mending import (
    ASPECTS,
    PLAIN_WORDS,
    MendingError,
    change_meaning,
    change_text,
    mend_plan,
    plan_text,
)
from ferox.runs.records import plan_arms
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store import tables
from ferox.store.database import read_session
from ferox.store.results import read_result
from ferox.store.traces import read_trace
from ferox.store.trials import newest_failing_trial, trials_of_run
from ferox.workspace import load_workspace
from ferox.workspace.yaml_files import parse_yaml, validate_file
from tests.test_runs import RunCase

SLIPS = "stand_in: desk\nmanners: {slips: {look_alike: 1}}"


class MendCase(RunCase):
    def setUp(self) -> None:
        super().setUp()
        slips = "  slips: {stand_in: stand_ins/desk.yaml, manner: slips}"
        self.change("stand_ins/desk.yaml", "stand_in: desk", SLIPS)
        self.change("ferox.yaml", "models:", f"models:\n{slips}")
        self.change("agents/plain.yaml", "model: steady", "model: slips\ninstructions: Be brief.")

    def fails(self) -> int:
        """A trial in which low_water was taken for high_water."""
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        (trial,) = self.trials(run)
        self.assertEqual(trial.verdict, "fail")
        return trial.id

    def mended(self, trial: int, **more: Any) -> PlanFile:
        with read_session(self.engine) as session:
            result, trace = read_result(session, trial), read_trace(session, trial)
            snapshot = snapshot_of(session, session.get_one(tables.Trial, trial).run_id)
        assert result is not None and trace is not None
        loaded = load_workspace(self.root)
        return mend_plan(loaded, result, trace, snapshot, **{"trials": 4, **more})


class Planning(MendCase):
    def test_a_wrong_tool_is_left_out_and_other_models_tried(self) -> None:
        plan = self.mended(self.fails())
        self.assertEqual(
            dict(plan.vary.offer),
            {
                "as_is": "as_is",
                "without_low_water": {"tides": ["high_water"]},
                "only_expected": {"tides": ["high_water"]},
            },
        )
        self.assertEqual(list(plan.vary.model), ["slips", "steady", "hasty"])
        self.assertEqual((plan.vary.faults, plan.vary.instructions), ({}, {}))
        self.assertEqual((plan.design, plan.trials, plan.mends), ("one_at_a_time", 4, "small/high"))

    def test_servers_that_no_expectation_needs_are_left_out(self) -> None:
        yard = "ferox: 1\nserver: yard\nmock: {tools: [{name: crane}]}\n"
        self.write("servers/yard.yaml", yard)
        self.change("tasks/small.yaml", "{tides: mock}", "{tides: mock, yard: mock}")
        plan = self.mended(self.fails())
        self.assertEqual(plan.vary.offer["no_other_servers"], {"tides": "all"})
        self.assertEqual(
            plan.vary.offer["without_low_water"], {"tides": ["high_water"], "yard": ["crane"]}
        )

    def test_a_sentence_goes_to_the_end_of_the_instructions(self) -> None:
        plan = self.mended(self.fails(), sentence=" High is high. ")
        self.assertEqual(
            plan.vary.instructions,
            {"as_is": "as_is", "with_sentence": "Be brief.\n\nHigh is high.\n"},
        )

    def test_faults_are_left_out_or_put_in_plainer_words(self) -> None:
        self.change("agents/plain.yaml", "model: slips", "model: steady")
        fault = "{server: tides, all: true, do: status, status: 503}"
        self.change("tasks/small.yaml", "    expect:", f"    faults: [{fault}]\n    expect:")
        plan = self.mended(self.fails())
        self.assertEqual([*plan.vary.faults], ["as_is", "none", "plainer"])
        plainer = plan.vary.faults["plainer"]
        assert isinstance(plainer, FaultsInstead)
        (said,) = plainer.instead
        self.assertEqual((said.do, said.text, said.all), ("tool_error", PLAIN_WORDS, True))

    def test_an_arm_is_mended_as_it_was(self) -> None:
        self.write("servers/yard.yaml", "ferox: 1\nserver: yard\nmock: {tools: [{name: crane}]}\n")
        self.change("agents/plain.yaml", "model: slips", "model: steady")
        self.write(
            "plans/p.yaml",
            """
            ferox: 1
            plan: p
            suites: [small]
            agents: [plain]
            vary:
              model: {calm: steady, rash: slips}
              decoys: {from: yard, add: [0, 1]}
              params: {warm: {n: 1}}
            trials: 1
            """,
        )
        loaded = load_workspace(self.root)
        run = plan_arms(self.engine, loaded, loaded.plans["p"], at_once=1)
        self.carry_out(run)
        (failing,) = [t.id for t in self.trials(run) if t.agent == "plain · rash · 1 decoy"]
        plan = self.mended(failing)
        self.assertEqual(plan.vary.model, {"rash": "slips", "steady": "steady", "hasty": "hasty"})
        self.assertEqual((plan.vary.params, plan.agents), ({"warm": {"n": 1}}, ["plain"]))
        decoys = plan.vary.decoys
        assert decoys is not None
        self.assertEqual((decoys.from_, decoys.add), ("yard", [1, 0]))
        self.assertEqual(list(plan.vary.offer), ["as_is", "without_low_water"])
        changes = [change_text(d, arm.values[d]) for arm in arms_of(plan) for d in arm.changed]
        self.assertEqual(
            changes,
            ["with the model `steady`", "with the model `hasty`", "without `low_water`",
             "without decoys"],
        )  # fmt: skip

    def test_a_passing_trial_and_what_is_gone(self) -> None:
        trial = self.fails()
        self.change("tasks/small.yaml", "task: high", "task: higher")
        with self.assertRaisesRegex(MendingError, "small/high is no longer in the workspace"):
            self.mended(trial)
        self.change("tasks/small.yaml", "task: higher", "task: high")
        self.change("agents/plain.yaml", "model: slips", "model: steady")
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        with self.assertRaisesRegex(MendingError, "did not fail"):
            self.mended(self.trials(run)[0].id)

    def test_the_plan_as_a_file_is_the_same_plan(self) -> None:
        plan = self.mended(self.fails(), sentence="High is high.")
        file = parse_yaml(plan_text(plan), "plans/p.yaml")
        self.assertEqual(validate_file(file, PlanFile), plan)

    def test_the_command_runs_it_and_says_what_mends(self) -> None:
        self.fails()
        with patch("ferox.cli.mend.start_worker", self.start):
            done = CliRunner().invoke(main, ["mend", str(self.root), "high", "plain"])
        self.assertEqual(done.exit_code, 0, done.output)
        for words in ("as it is", "0 of 10", "without `low_water`", "10 of 10",
                      "it takes that tool for the one that is needed"):  # fmt: skip
            self.assertIn(words, done.output)
        for task, agent, words in (
            ("other", "plain", "`other`: no such task; there is `high`"),
            ("small/hihg", "plain", "did you mean `small/high`?"),
            ("high", "plian", "`plian`: no such agent; did you mean `plain`?"),
        ):
            gone = CliRunner().invoke(main, ["mend", str(self.root), task, agent])
            self.assertEqual(gone.exit_code, 2)
            self.assertIn(words, gone.output)

    def test_the_command_says_that_nothing_failed(self) -> None:
        gone = CliRunner().invoke(main, ["mend", str(self.root), "high", "plain"])
        self.assertEqual(gone.exit_code, 2)
        self.assertIn("no failed trial of high with plain is kept", gone.output)

    def test_the_newest_failing_trial_of_a_task(self) -> None:
        first, second = self.fails(), self.fails()
        with read_session(self.engine) as session:
            found = newest_failing_trial(session, "high", "plain")
            assert found is not None
            self.assertEqual((found.id, found.id > first), (second, True))
            self.assertIsNone(newest_failing_trial(session, "high", "plain", "other"))
            self.assertEqual(len(trials_of_run(session, found.run_id)), 1)


class Words(unittest.TestCase):
    def test_every_family_has_something_to_try(self) -> None:
        self.assertEqual({*ASPECTS}, {*FAMILIES})

    @given(st.sampled_from(["offer", "faults", "model", "instructions"]), st.text(max_size=9))
    def test_every_change_has_words(self, dimension: str, value: str) -> None:
        self.assertIsInstance(change_text(dimension, value), str)
        self.assertTrue(change_meaning(dimension, value))
