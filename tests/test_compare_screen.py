"""The place Compare, in a browser, over real runs."""

from __future__ import annotations

import unittest

from selenium.webdriver.support.select import Select

from tests.test_screens import ScreenCase
from tests.waiting import until

OTHER = "ferox: 1\nagent: other\nlink: plain\nmodel: hasty\n"


class Compare(ScreenCase):
    def run_all(self, agents: list[str], repeats: int = 4) -> int:
        body = {"suites": ["small"], "agents": agents, "repeats": repeats}
        run = int(self.ask("/api/runs", body).body["id"])
        until(lambda: self.ask(f"/api/runs/{run}/board").body["run"]["state"] == "done")
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
        self.see("p", "What differs in the set-up: agent, agent settings, model")
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
        self.see("p", "The set-up is the same")
        self.open("/compare?a=1&b=77")
        self.see("[data-testid=notice]", "there is no run 77")


if __name__ == "__main__":
    unittest.main()
