"""The place Compare, in a browser, over real runs."""

from __future__ import annotations

import unittest

from selenium.webdriver.support.select import Select

from tests.test_screens import ScreenCase
from tests.waiting import until

BAD_PLAN = "ferox: 1\nplan: bad\nsuites: [small]\nagents: [plane]\nvary: {model: [steady]}\n"
SLIPPING = """ferox: 1
plan: p
suites: [small]
agents: [plain]
vary: {model: [slips, steady]}
trials: 3
"""
OTHER = "ferox: 1\nagent: other\nlink: plain\nmodel: hasty\n"


class Compare(ScreenCase):
    def wait_for_runs(self) -> None:
        """Wait until no run goes on any more."""
        until(lambda: not self.ask("/api/going").body["runs"])

    def run_all(self, agents: list[str], repeats: int = 4) -> int:
        body = {"suites": ["small"], "agents": agents, "repeats": repeats}
        run = int(self.ask("/api/runs", body).body["id"])
        self.wait_for_runs()
        return run

    def test_nothing_is_said_before_there_is_a_run(self) -> None:
        self.open("/compare")
        self.see("h2", "No run yet")

    def test_two_agents_of_a_run(self) -> None:
        self.write("agents/other.yaml", OTHER)
        run = self.run_all(["plain", "other"])
        self.open(f"/compare?a={run}:plain&b={run}:other")
        self.see("[data-testid=metrics] [data-metric=pass]", "points")
        self.see("[data-testid=says]", "B")
        self.see("[data-testid=setup-diff] dt", "model")
        self.see("[data-testid=setup-diff] dd", "main: hasty")
        svg = self.see("[data-metric=pass] svg")
        self.assertIn("on these tasks", svg.get_attribute("aria-label"))
        self.see("[data-testid=gains]", "passed as often on both sides")
        self.see("[data-testid=times]", "half of A's trials took at most")
        self.press_button("Swap")
        until(lambda: f"a={run}%3Aother" in self.page.current_url)
        Select(self.see("[aria-label='Agent of B']")).select_by_visible_text("other")
        self.see("[data-testid=says]", "B and A cannot be told apart")
        self.assertEqual(self.errors(), [])

    def test_the_newest_run_against_the_one_before_and_what_cannot_be(self) -> None:
        self.run_all(["plain"], 2)
        self.run_all(["plain"], 2)
        self.open("/compare")
        self.see("[data-testid=says]", "cannot be told apart")
        self.see("p", "The set-up is the same on both sides.")
        self.open("/compare?a=1&b=77")
        self.see("[data-testid=notice]", "there is no run 77")

    def test_a_plan_is_begun_looked_at_and_run(self) -> None:
        self.open("/compare?view=plans")
        self.see("h2", "No plan yet")
        self.see("[aria-label='New plan']").send_keys("models")
        self.press_button("Begin")
        self.see("[data-testid=planned-arms] li", "plain · hasty")
        self.see("[data-testid=plan-side]", "2 arms over 1 task: 10 trials")
        self.see("[data-testid=plan-side]", "as if every task passed half the time")
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.assertIn("vary:", (self.root / "plans/models.yaml").read_text())
        self.press_button("Start 10 trials")
        self.see("table[aria-label='Tasks against agents']", "plain · hasty")
        self.wait_for_runs()
        self.open("/compare?view=arms&run=1")
        self.see("[data-testid=arms] [data-arm='plain · hasty']", "· hasty")
        self.see("[data-testid=arms-said]", "2 arms")
        self.see("[data-arm='plain · hasty'] a", "hasty").click()
        self.see("[data-testid=metrics] [data-metric=pass]", "points")
        self.assertEqual(self.errors(), [])

    def test_a_plan_is_found_renamed_removed_and_put_back(self) -> None:
        self.write("plans/p.yaml", BAD_PLAN.replace("[plane]", "[plain]"))
        found = self.ask("/api/find?words=bad").body["found"]
        self.assertEqual([(f["kind"], f["within"]) for f in found], [("plan", "plans/p.yaml")])
        self.open("/compare?view=plans&plan=p")
        self.press_button("Rename")
        field = self.see("[data-testid=file-bar] input")
        field.clear()
        field.send_keys("words")
        self.press_button("Rename")
        until(lambda: "plan=words" in self.page.current_url)
        self.see("[data-testid=file-bar]", "plans/words.yaml")
        self.press_button("Remove")
        self.see("h2", "No plan yet")
        self.press_button("Undo")
        self.see("[data-testid=file-bar]", "plans/words.yaml")
        self.assertEqual(self.errors(), [])

    def test_a_plan_that_cannot_run_says_why_and_keeps_what_is_typed(self) -> None:
        self.write("plans/bad.yaml", BAD_PLAN)
        self.open("/compare?view=plans&plan=bad")
        self.see("[data-testid=plan-side]", "It cannot run yet: line 4: `plane`: no such agent")
        self.see("[data-testid=problems]", "1 problem")
        self.open("/compare?view=plans&plan=none")
        self.see("h2", "There is no plans/none.yaml")

    def test_what_is_varied_in_start_a_run_becomes_a_plan(self) -> None:
        self.open("/board?start=1")
        self.see("[data-testid=vary] summary").click()
        for model in ("steady", "hasty"):
            self.see("[data-testid=vary] label", model).click()
        self.see("[data-testid=go]", "Plan 2 arms").click()
        self.see("[data-testid=planned-arms] li", "plain · hasty")
        self.see("[data-testid=file-bar]", "plans/plan-1.yaml")

    def test_both_sides_are_scored_under_todays_script(self) -> None:
        before = self.run_all(["plain"], 2)
        self.change("tasks/small.yaml", 'mentions: "14:31"', 'mentions: "14:32"')
        after = self.run_all(["plain"], 2)
        self.open(f"/compare?a={before}&b={after}")
        self.see("[data-testid=other-script]", "1 task was judged by another on each side")
        self.press_button("Score both under today’s script")
        self.see("[data-testid=says]", "0 % against 0 %")
        self.assertEqual(self.page.find_elements("css selector", "[data-testid=other-script]"), [])

    def slipping(self) -> int:
        """A run of two arms of a model that takes low water for high water, or does not."""
        self.change("stand_ins/desk.yaml", "scenes:", "manners: {slips: {look_alike: 1}}\nscenes:")
        slips = "models:\n  slips: {stand_in: stand_ins/desk.yaml, manner: slips}"
        self.change("ferox.yaml", "models:", slips)
        plan = {"name": "plans/p.yaml", "text": SLIPPING, "at_once": 2}
        run = int(self.ask("/api/plan/start", plan).body["id"])
        self.wait_for_runs()
        return run

    def test_confused_tools_are_reworded_and_tried_by_a_plan(self) -> None:
        run = self.slipping()
        self.open(f"/compare?a={run}:plain&b={run}:plain · steady")
        self.see("[data-testid=says]", "B passes more often: 100 % against 0 %, 100 points more")
        self.see("[data-testid=chosen-instead] td", "tides/low_water")
        self.see("[data-testid=chosen-instead] td", "3 of 3")
        self.press_button("Reword")
        words = self.see("[data-testid=reword-pair] fieldset:last-child textarea")
        self.assertEqual(words.get_attribute("value"), "Times of low water on one day.")
        words.clear()
        words.send_keys("When the ebb is over.")
        self.press_button("Make a plan of it")
        self.see("[data-testid=planned-arms] li", "plain · yours")
        self.see(".cm-content", "When the ebb is over.")
        self.assertEqual(self.errors(), [])

    def test_two_columns_of_the_board_are_picked(self) -> None:
        run = self.slipping()
        self.open(f"/board/{run}")
        self.see("main a", "Arms of p")
        self.see("[data-total='plain']", "0/3").click()
        self.see("p[role=status]", "A is plain.")
        self.see("[data-total='plain · steady']", "B? 3/3").click()
        self.see("[data-testid=says]", "B passes more often")
        self.see("[data-testid=gains] td", "mended")

    def test_two_trials_of_a_task_beside_each_other(self) -> None:
        run = self.slipping()
        self.open(f"/compare?a={run}:plain&b={run}:plain · steady")
        self.see("[data-testid=gains] a", "A beside B").click()
        self.see("[data-testid=parting]", "first step: A asked low_water, B asked high_water")
        self.see("[data-testid=pair] svg text", "here they part")
        halves = self.page.execute_script(
            "return [...document.querySelectorAll('[data-testid=pair] .node')]"
            ".map(e => e.classList.contains('missing'))"
        )
        self.assertEqual(halves, [True, False])
        self.press_button("Show in steps")
        until(lambda: "by=steps" in self.page.current_url)
        self.press_button("Swap")
        self.see("[data-testid=parting]", "A asked high_water, B asked low_water")
        self.assertEqual(self.errors(), [])

    def test_what_would_mend_a_failing_trial(self) -> None:
        run = self.slipping()
        self.open(f"/compare?a={run}:plain&b={run}:plain · steady")
        self.see("[data-testid=gains] a", "trial").click()
        self.press_button("What would mend it?")
        self.see("[data-testid=mend-changes] li", "without low_water")
        repeats = self.see("[data-testid=mend] input[type=number]")
        repeats.clear()
        repeats.send_keys("3")
        self.see("[data-testid=start-mend]", "Start 15 trials").click()
        self.see("[data-testid=arms]", "as it is")
        self.wait_for_runs()
        self.open(f"/compare?view=arms&run={run + 1}")
        self.see("[data-testid=arms] tr", "it takes that tool for the one that is needed")
        self.assertEqual(self.errors(), [])


if __name__ == "__main__":
    unittest.main()
