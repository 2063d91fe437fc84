"""The arms of a plan: which there are, under which names, and what each changes."""

from __future__ import annotations

import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.arms import TooManyArms, arms_of, count_arms, dimensions_of
from ferox.formats.plan import PlanFile
from ferox.formats.server import ToolWording
from ferox.runs.arm_setup import ArmFiles, arm_files
from ferox.runs.cell_setup import cell_setup, setup_key
from ferox.runs.overrides import Overrides
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.workspace import load_workspace
from ferox.workspace.load import load_loosely
from tests.workspaces import WorkspaceCase


def plan_of(**keys: Any) -> PlanFile:
    """A plan of one suite and agent, unless they are given."""
    body = {"ferox": 1, "plan": "p", "suites": ["small"], "agents": ["plain"], **keys}
    return PlanFile.model_validate(body)


def names_of(**keys: Any) -> list[str]:
    return [arm.name for arm in arms_of(plan_of(**keys))]


class Names(unittest.TestCase):
    def test_a_baseline_is_called_as_its_agent_and_others_by_what_differs(self) -> None:
        vary = {"model": ["steady", "hasty"], "decoys": {"from": "yard", "add": [0, 20]}}
        self.assertEqual(
            names_of(agents=["plain", "coded"], vary=vary),
            [
                *("plain", "plain · 20 decoys", "plain · hasty", "plain · hasty · 20 decoys"),
                *("coded", "coded · 20 decoys", "coded · hasty", "coded · hasty · 20 decoys"),
            ],
        )

    def test_one_at_a_time_changes_one_thing_in_each_arm(self) -> None:
        vary = {"model": ["a", "b", "c"], "params": {"warm": {}, "cool": {"t": 0}}}
        self.assertEqual(
            names_of(vary=vary, design="one_at_a_time"),
            ["plain", "plain · b", "plain · c", "plain · cool"],
        )

    def test_the_baseline_is_what_is_named_else_the_first(self) -> None:
        vary = {"model": ["a", "b"], "offer": {"all": "as_is", "none": "none"}}
        plan = plan_of(vary=vary, baseline={"model": "b"})
        self.assertEqual([d.baseline for d in dimensions_of(plan)], ["b", "all"])
        self.assertEqual(
            [arm.name for arm in arms_of(plan)],
            ["plain", "plain · a", "plain · a · none", "plain · none"],
        )

    def test_values_of_one_name_are_told_apart_by_what_they_are_values_of(self) -> None:
        vary = {
            "offer": {"as_is": "as_is", "none": "none"},
            "faults": {"as_is": "as_is", "none": "none"},
            "server": {"tides": ["mock", "live"], "pilots": ["mock", "live"]},
        }
        self.assertEqual(
            names_of(vary=vary, design="one_at_a_time"),
            ["plain", "plain · offer none", "plain · tides live", "plain · pilots live",
             "plain · faults none"],
        )  # fmt: skip

    def test_more_than_200_are_refused_with_their_number(self) -> None:
        vary = {"params": {f"v{n}": {} for n in range(15)}, "model": [f"m{n}" for n in range(14)]}
        with self.assertRaisesRegex(TooManyArms, "makes 210 arms"):
            arms_of(plan_of(vary=vary))
        self.assertEqual(len(names_of(vary=vary, design="one_at_a_time")), 15 + 14 - 1)

    @given(
        st.lists(st.sampled_from(["plain", "coded", "third"]), min_size=1, unique=True),
        st.lists(st.sampled_from("abcd"), unique=True),
        st.lists(st.sampled_from(["a", "b", "x"]), unique=True),
        st.sampled_from(["full", "one_at_a_time"]),
    )
    def test_names_are_unique_and_as_many_as_counted(
        self, agents: list[str], models: list[str], params: list[str], design: str
    ) -> None:
        vary = {"model": models, "params": {name: {} for name in params}}
        plan = plan_of(agents=agents, vary=vary, design=design)
        arms = arms_of(plan)
        self.assertEqual(len({arm.name for arm in arms}), len(arms))
        self.assertEqual(len(arms), count_arms(plan))
        self.assertEqual([arm.name for arm in arms if not arm.changed], agents)


class Changes(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        tools = "".join(f"    - {{name: crane_{n}}}\n" for n in range(9))
        self.write("servers/yard.yaml", f"ferox: 1\nserver: yard\nmock:\n  tools:\n{tools}")

    def files(self, **keys: Any) -> dict[str, ArmFiles]:
        return arm_files(load_workspace(self.root), plan_of(**keys))

    def snapshot(self, **keys: Any) -> Snapshot:
        loaded, plan = load_workspace(self.root), plan_of(**keys)
        return take_snapshot(loaded, plan.suites_used, [], plan=plan, arms=arm_files(loaded, plan))

    def test_model_params_instructions_and_offer_change_the_agents_file(self) -> None:
        self.write("agents/short.md", "Be short.")
        self.change("agents/plain.yaml", "model: steady", "model: steady\nparams: {n: 1, top: 2}")
        found = self.files(
            vary={
                "model": {"calm": "steady", "quick": "hasty"},
                "params": {"as_is": {}, "cool": {"n": 0}},
                "instructions": {"as_is": "as_is", "short": "agents/short.md"},
                "offer": {"as_is": "as_is", "none": "none", "few": {"tides": ["high_water"]}},
            },
            design="one_at_a_time",
        )
        self.assertEqual(found["plain"].file.model, "steady")
        self.assertEqual(found["plain · quick"].file.model, "hasty")
        self.assertEqual(found["plain · cool"].file.params, {"n": 0, "top": 2})
        self.assertEqual(found["plain · short"].instructions, "Be short.")
        self.assertEqual(found["plain"].instructions, "")
        offers = [found[f"plain{arm}"].file.offer for arm in ("", " · none", " · few")]
        self.assertEqual(offers, [None, {}, {"tides": ["high_water"]}])

    def test_few_decoys_are_among_the_more_and_all_else_stays_on_offer(self) -> None:
        vary = {"decoys": {"from": "yard", "add": [0, 3, 7]}}
        found = self.files(vary=vary)
        self.assertIsNone(found["plain"].file.offer)
        offers: list[Any] = [found[f"plain · {n} decoys"].file.offer for n in (3, 7)]
        few, more = offers
        self.assertEqual((few["tides"], len(few["yard"]), len(more["yard"])), ("all", 3, 7))
        self.assertEqual(more["yard"][:3], few["yard"])
        self.assertNotEqual(more["yard"], sorted(more["yard"]))
        snapshot = self.snapshot(vary=vary)
        self.assertEqual(snapshot.suites["small"].servers, {"tides": "mock"})
        met = snapshot.of_arm("plain · 3 decoys")
        self.assertEqual(met.suites["small"].servers, {"tides": "mock", "yard": "mock"})
        self.assertIn("yard", met.servers)

    def test_no_tools_and_decoys_offer_the_decoys_alone(self) -> None:
        vary = {"offer": {"none": "none"}, "decoys": {"from": "yard", "add": [2]}}
        offer = self.files(vary=vary)["plain"].file.offer
        assert offer is not None
        self.assertEqual({s: len(tools) for s, tools in offer.items()}, {"yard": 2})

    def test_a_wording_lies_over_the_servers_own(self) -> None:
        own = "wording: {high_water: {title: High, arguments: {day: {name: on}}}}\nmock:"
        self.change("servers/tides.yaml", "mock:", own)
        new = {"high_water": {"description": "Flood.", "arguments": {"zone": {"name": "z"}}}}
        snapshot = self.snapshot(vary={"wording": {"as_is": "as_is", "new": {"tides": new}}})
        worded = snapshot.of_arm("plain · new").servers["tides"].wording["high_water"]
        self.assertEqual((worded.title, worded.description), ("High", "Flood."))
        self.assertEqual({*worded.arguments}, {"day", "zone"})
        self.assertEqual(
            snapshot.of_arm("plain").servers["tides"].wording["high_water"],
            ToolWording.model_validate({"title": "High", "arguments": {"day": {"name": "on"}}}),
        )

    def test_faults_are_added_or_stand_in_place_of_the_tasks_own(self) -> None:
        slow, drop = ({"do": do, "all": True, "ms": 1} for do in ("slow", "drop"))
        self.change(
            "tasks/small.yaml", "    expect:", f"    faults: [{json.dumps(slow)}]\n    expect:"
        )
        faults = {"as_is": "as_is", "none": "none", "more": [drop], "other": {"instead": [drop]}}
        snapshot = self.snapshot(vary={"faults": faults})
        found = {
            arm: [f.do for f in snapshot.of_arm(arm).find_task("small", "high").faults]
            for arm in snapshot.agents
        }
        self.assertEqual(
            found,
            {"plain": ["slow"], "plain · none": [], "plain · more": ["slow", "drop"],
             "plain · other": ["drop"]},
        )  # fmt: skip

    def test_arms_are_compared_with_their_own_kind_in_other_runs(self) -> None:
        rough = [{"do": "drop", "call": 1}]
        vary: Any = {"faults": {"calm": [], "rough": rough}, "model": ["steady", "hasty"]}
        snapshot, otherwise = self.snapshot(vary=vary), Overrides()
        plain = take_snapshot(load_workspace(self.root), ["small"], ["plain"])

        def key(snapshot: Snapshot, arm: str) -> str:
            setup = cell_setup(snapshot, "small", arm, overrides=otherwise, code=None)
            return setup_key(setup)

        self.assertEqual(key(snapshot, "plain"), key(plain, "plain"))
        self.assertEqual(len({key(snapshot, arm) for arm in snapshot.agents}), 4)


class Checks(WorkspaceCase):
    def problems(self, more: str, head: str = "suites: [small]\nagents: [plain]") -> list[str]:
        self.write("plans/p.yaml", f"ferox: 1\nplan: p\n{head}\n{more}\n")
        return [str(p) for p in load_loosely(self.root)[1]]

    def says(self, more: str, *words: str, head: str = "suites: [small]\nagents: [plain]") -> None:
        found = "\n".join(self.problems(more, head))
        for word in words:
            self.assertIn(word, found)

    def test_a_good_plan(self) -> None:
        self.assertEqual(self.problems("vary: {model: [steady, hasty]}"), [])
        self.assertEqual(load_workspace(self.root).plans["p"].vary.model, ["steady", "hasty"])

    def test_names_that_are_not_there_have_their_place(self) -> None:
        self.says(
            "vary: {model: [steady, hast]}",
            "plans/p.yaml:3:10: `smal`: no such suite; did you mean `small`?",
            "plans/p.yaml:4:10: `plane`: no such agent; did you mean `plain`?",
            "plans/p.yaml:5:24: `hast`: no such model; did you mean `hasty`?",
            head="suites: [smal]\nagents: [plane]",
        )
        self.says("", "`low`: no such task in small", head="tasks: [small/low]\nagents: [plain]")
        self.says("", "either `suites` or `tasks`", head="agents: [plain]")
        self.says(
            "vary: {server: {tides: [mock, live]}}",
            "`live`: no such mode of `tides`; there is `mock`",
        )
        self.says("vary: {offer: {few: {tides: [hi]}}}", "`hi`: no such tool of `tides`")
        self.says("vary: {wording: {new: {tides: {hi: {title: x}}}}}", "hi")
        self.says("vary: {instructions: {new: agents/no.md}}", "`agents/no.md`: no such file")
        self.says("vary: {faults: {bad: [{server: tide, do: drop, call: 1}]}}", "`tide`: no such")
        self.says("vary: {faults: {b: {instead: [{server: t, do: drop, call: 1}]}}}", "`t`: no")
        self.says(
            "vary: {model: [steady, hasty]}\nbaseline: {model: quick, offer: none}",
            "6:12: `quick` is none of the values: steady, hasty", "`offer` is not varied",
        )  # fmt: skip

    def test_decoys_come_from_a_mock_that_no_task_needs_and_has_enough(self) -> None:
        self.says("vary: {decoys: {from: tides, add: [0, 1]}}", "uses `tides` itself")
        self.says("vary: {decoys: {from: yrd, add: [0, 1]}}", "`yrd`: no such server")
        self.write("servers/yard.yaml", "ferox: 1\nserver: yard\nmock: {tools: [{name: crane}]}\n")
        self.says("vary: {decoys: {from: yard, add: [0, 2]}}", "5:38: `yard` has 1 tools, not 2")

    def test_an_agent_that_thinks_elsewhere_has_no_model_to_exchange(self) -> None:
        self.write(
            "agents/far.yaml", "ferox: 1\nagent: far\nlink: chat\nurl: http://127.0.0.1:9/v1\n"
        )
        self.says("vary: {model: [steady]}", "`far` has no `model`",
                  head="suites: [small]\nagents: [far]")  # fmt: skip

    def test_looks_rise_and_are_few(self) -> None:
        self.says("until: {looks: [5, 3]}", "`looks` must rise")
        self.says("until: {looks: [1, 3]}", "greater than or equal to 2")
        self.says(f"until: {{looks: {[*range(2, 13)]}}}", "at most 10")
        self.says("until: {looks: [3]}\ntrials: 5", "either `trials` or `until`")

    def test_too_many_arms(self) -> None:
        params = ", ".join(f"v{n}: {{}}" for n in range(201))
        self.says(f"vary: {{params: {{{params}}}}}", "makes 201 arms; at most 200")
