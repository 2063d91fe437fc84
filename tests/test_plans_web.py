"""The interface of plans: previews, starts, arms, rewordings, mending, and set-ups side by side."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from tests.serving import AppCase

PLAN = """ferox: 1
plan: words
suites: [small]
agents: [plain]
vary:
  wording: {as_is: as_is, clearer: {tides: {low_water: {description: When the ebb is over.}}}}
trials: 4
"""


class Plans(AppCase):
    def setUp(self) -> None:
        super().setUp()
        slips = "manners: {slips: {look_alike: 1}}\nscenes:"
        self.change("stand_ins/desk.yaml", "scenes:", slips)
        self.change(
            "ferox.yaml",
            "models:",
            "models:\n  slips: {stand_in: stand_ins/desk.yaml, manner: slips}",
        )
        self.change("agents/plain.yaml", "model: steady", "model: slips")

    def read(self, text: str) -> Any:
        return self.ask("/api/plan/read", {"name": "plans/words.yaml", "text": text}).body

    def started(self, text: str = PLAN) -> int:
        body = {"name": "plans/words.yaml", "text": text, "at_once": 2}
        answer = self.ask("/api/plan/start", body)
        self.assertEqual(answer.status, 201, answer.body)
        run = int(answer.body["id"])
        self.follow(run)
        return run

    def test_a_plan_says_what_it_would_run(self) -> None:
        found = self.read(PLAN)["preview"]
        self.assertEqual(
            [(arm["arm"], arm["against"]) for arm in found["arms"]],
            [("plain", None), ("plain · clearer", "plain")],
        )
        self.assertEqual((found["tasks"], found["trials"], found["first_trials"]), (1, 8, 8))
        self.assertEqual((found["found_drop"], found["rates_known"]), (None, 0))
        looks = self.read(PLAN.replace("trials: 4", "until: {looks: [2, 5]}"))["preview"]
        self.assertEqual((looks["trials"], looks["first_trials"], looks["looks"]), (10, 4, [2, 5]))

    def test_what_it_cannot_run_has_its_line(self) -> None:
        wrong = self.read(PLAN.replace("[plain]", "[plane]"))
        self.assertEqual(wrong["preview"], None)
        self.assertIn("line 4: `plane`: no such agent", wrong["fault"])
        many = ", ".join(f"v{n}: {{}}" for n in range(300))
        vary = f"vary:\n  params: {{{many}}}"
        self.assertIn("makes 600 arms", self.read(PLAN.replace("vary:", vary))["fault"])
        body = {"name": "plans/words.yaml", "text": "plan: [", "at_once": 1}
        self.assertEqual(self.ask("/api/plan/start", body).status, 422)
        outside = {"name": "../x.yaml", "text": PLAN}
        self.assertGreaterEqual(self.ask("/api/plan/read", outside).status, 400)

    def test_a_plan_whose_name_is_no_text_is_listed_and_breaks_nothing(self) -> None:
        self.write("plans/words.yaml", PLAN)
        self.write("plans/nameless.yaml", "plan: [words]\n")
        self.write("plans/open.yaml", "plan: [words\n")
        files = {f["file"]: f for f in self.ask("/api/plans").body["files"]}
        for broken in ("plans/nameless.yaml", "plans/open.yaml"):
            self.assertIsNone(files[broken]["plan"])
            self.assertGreater(files[broken]["problems"], 0)
        (found,) = self.ask("/api/find?words=words").body["found"]
        self.assertEqual((found["kind"], found["within"]), ("plan", "plans/words.yaml"))

    def test_its_arms_stand_on_the_board_and_beside_each_other(self) -> None:
        self.write("plans/words.yaml", PLAN)
        run = self.started()
        board = self.ask(f"/api/runs/{run}/board").body
        self.assertEqual(board["plan"], "words")
        agents = [(a["agent"], a["file"]) for a in board["agents"]]
        self.assertEqual(agents, [("plain", "plain"), ("plain · clearer", "plain")])
        arms = self.ask(f"/api/runs/{run}/arms").body
        self.assertEqual([(a["passes"], a["n"]) for a in arms["arms"]], [(0, 4), (4, 4)])
        self.assertEqual(arms["arms"][1]["pass_difference"]["says"], "passes more often")
        self.assertEqual(self.ask("/api/runs/99/arms").status, 404)
        (listed,) = self.ask("/api/plans").body["files"]
        self.assertEqual((listed["plan"], listed["runs"], listed["problems"]), ("words", [run], 0))
        known = self.read(PLAN)["preview"]
        self.assertEqual((known["rates_known"], known["estimate"]["known"]), (1, 2))

    def test_what_differs_is_what_agents_read(self) -> None:
        run = self.started()
        query = urlencode({"a": f"{run}:plain", "b": f"{run}:plain · clearer"})
        (part,) = self.ask(f"/api/compare/setup?{query}").body["parts"]
        self.assertEqual((part["part"], part["about"]), ("wording", "tides/low_water"))
        self.assertIn("Times of low water on one day.", part["a"])
        self.assertIn("When the ebb is over.", part["b"])
        same = urlencode({"a": run, "b": run})
        self.assertEqual(self.ask(f"/api/compare/setup?{same}").body["parts"], [])
        gone = urlencode({"a": run, "b": 99})
        self.assertEqual(self.ask(f"/api/compare/setup?{gone}").status, 422)

    def test_what_was_chosen_instead_stands_beside_likeness(self) -> None:
        run = self.started()
        query = urlencode({"a": f"{run}:plain", "b": f"{run}:plain · clearer"})
        (found,) = self.ask(f"/api/compare?{query}").body["confusions"]
        self.assertEqual(
            (found["expected"], found["chosen"]), ("tides/high_water", "tides/low_water")
        )
        self.assertEqual((found["a"], found["n_a"], found["b"], found["n_b"]), (4, 4, 0, 4))
        self.assertGreater(found["likeness"], 0.5)
        self.assertEqual((found["words_expected"], found["words_chosen"]), (["high"], ["low"]))

    def test_two_confused_tools_and_the_tasks_to_try_other_words_on(self) -> None:
        other = "  - {task: other, say: Hello., expect: {calls: []}}\n"
        third = "  - {task: third, say: Hello again., expect: {calls: []}}\n"
        self.change("tasks/small.yaml", "tasks:\n", f"tasks:\n{other}{third}")
        run = self.started()
        pair = {"expected": "tides/high_water", "chosen": "tides/low_water"}
        basis = self.ask(f"/api/plan/reword?{urlencode({'side': f'{run}:plain', **pair})}").body
        self.assertEqual((basis["agents"], basis["touched"]), (["plain"], ["small/high"]))
        self.assertEqual(basis["untouched"], ["small/other"])
        self.assertEqual(basis["chosen"]["description"], "Times of low water on one day.")
        clearer = {"side": f"{run}:plain · clearer", **pair}
        basis = self.ask(f"/api/plan/reword?{urlencode(clearer)}").body
        self.assertEqual(basis["agents"], ["plain"])
        self.assertEqual(basis["chosen"]["description"], "When the ebb is over.")
        nothing = {"side": str(run), "expected": "tides/high_water", "chosen": "tides/none"}
        refused = self.ask(f"/api/plan/reword?{urlencode(nothing)}")
        self.assertEqual(refused.status, 422)
        self.assertIn("`tides/none` was not offered", refused.body["message"])

    def test_a_failing_trial_becomes_a_plan_of_what_could_mend_it(self) -> None:
        run = self.started(PLAN.replace("trials: 4", "trials: 1"))
        query = urlencode({"suite": "small", "task": "high", "agent": "plain"})
        (trial,) = self.ask(f"/api/runs/{run}/trials?{query}").body["trials"]
        path = f"/api/trials/{trial['id']}/mend"
        draft = self.ask(path, {"trials": 2, "sentence": "High is high."}).body
        self.assertEqual(draft["name"], "plans/mend-high-plain.yaml")
        self.assertIn("without `low_water`", draft["changes"])
        self.assertIn("with your sentence in its instructions", draft["changes"])
        mended = self.started(draft["text"])
        arms = self.ask(f"/api/runs/{mended}/arms").body
        self.assertEqual(arms["mends"], "small/high")
        by_change = {arm["change"]: arm for arm in arms["arms"]}
        self.assertEqual(by_change["without `low_water`"]["passes"], 2)
        self.assertEqual(by_change[None]["passes"], 0)
        passing = self.ask(
            f"/api/runs/{run}/trials?{query.replace('plain', 'plain+%C2%B7+clearer')}"
        )
        (other,) = passing.body["trials"]
        refused = self.ask(f"/api/trials/{other['id']}/mend", {})
        self.assertEqual((refused.status, "did not fail" in refused.body["message"]), (422, True))
        self.assertEqual(self.ask("/api/trials/999/mend", {}).status, 404)
