"""The Agents place, and holds from the dock, in a real browser with real agents behind it."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from tests.test_screens import ScreenCase
from tests.test_web_agents import ASKING
from tests.waiting import until

AGENT = Path(__file__).parent / "servers/link_agent.py"


class AgentsScreen(ScreenCase):
    def process_agent(self, how: str) -> None:
        command = json.dumps([sys.executable, "-u", str(AGENT), how])
        self.write(
            "agents/any.yaml",
            f"ferox: 1\nagent: any\nlink: process\nmodel: steady\ncommand: {command}\n",
        )

    def say(self, words: str) -> None:
        field = self.see("[data-testid=words]")
        field.send_keys(words)
        field.send_keys(Keys.ENTER)

    def hold(self, which: str, where: str = "[data-testid=conversation]") -> None:
        Select(self.see(f"{where} [data-testid=hold-choice] select")).select_by_visible_text(which)

    def test_a_conversation_is_held_changed_and_opens_as_a_trial(self) -> None:
        self.open("/agents/plain")
        self.see("[data-testid=facts]", "high_water")
        self.say("When is high water today?")
        self.see("[data-testid=conversation]", "High water is at 14:31.")
        self.see("[data-testid=conversation]", "high_water")
        self.hold("every call")
        self.say("When is high water today?")
        self.see("[data-testid=held]", "tides/high_water")
        self.press_button("Answer in its place…")
        self.see("[aria-label='Answer in its place']").send_keys('{"high_water": "23:59"}')
        self.press_button("Answer with this")
        self.see("[data-testid=conversation]", "High water is at 23:59.")
        self.see("[data-testid=conversation] .text-doubt", "answered by hand")
        self.page.refresh()  # the conversation goes on without its page
        self.see("[data-testid=conversation]", "High water is at 23:59.")
        self.press_button("End it, keep as trial 1")
        self.press("[data-testid=conversation] a", "Open it as trial 1")
        self.see("[data-testid=remarks]", "1 call was held by hand")
        self.assertEqual(self.errors(), [])

    def test_approvals_and_questions_are_answered(self) -> None:
        self.process_agent("asks")
        self.open("/agents/any")
        self.say("Book it.")
        self.see("[data-testid=approval]", "May it call harbour/assign_berth?")
        field = self.see("[data-testid=approval] textarea")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("{oops")
        self.press_button("Yes, with these arguments")
        self.see("[data-testid=approval]", "These are not arguments")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys('{"berth": "N2"}')
        self.press_button("Yes, with these arguments")
        self.see("[data-testid=conversation]", "approved, with other arguments")
        (self.root / "tasks/small.yaml").unlink()
        self.write("servers/tides.yaml", ASKING)
        self.open("/agents/plain")
        self.say("When is high water today?")
        self.see("[data-testid=asked]", "At which gauge?")
        self.see("[data-testid=asked] #argument-gauge").send_keys("North")
        self.press_button("Answer")
        self.see("[data-testid=conversation]", "High water is at 14:31.")

    def test_a_probe_that_is_well_and_one_that_is_not(self) -> None:
        self.python_agent("import no_such_module_here")
        self.open("/agents/plain?view=probe")
        self.press_button("Probe it")
        self.see("[data-testid=steps]", "its model saw 2 of them")
        self.see("[data-testid=probe-reply]", "no way to help")
        self.open("/agents/coded")
        self.say("Hello.")
        self.see("[data-testid=conversation] .text-broke", "No module named 'no_such_module_here'")
        self.press("[data-testid=conversation] a", "Probe it")
        self.press_button("Probe it")
        self.see("[data-testid=steps]", "Next: install what holds")
        self.assertEqual(self.errors(), [])

    def test_an_agent_is_connected_from_ready_files_and_edited(self) -> None:
        self.open("/agents?view=new")
        self.press("[aria-label='Ways to connect'] button", "No code yet")
        name = self.see("input.mono")
        name.send_keys(Keys.CONTROL, "a")
        name.send_keys("fresh-desk")
        name.send_keys(Keys.TAB)
        self.see("pre", "agent: fresh-desk")
        self.press_button("Write these files")
        self.see("h1", "fresh-desk")
        self.assertIn("link: plain", (self.root / "agents/fresh-desk.yaml").read_text())
        self.press_button("File")
        self.see("[data-testid=editor]", "link: plain")
        self.see("[data-testid=problems]", "it loads")
        self.write("agents/broken.yaml", "ferox: 1\nagent: broken\nlink: plain\nmodel: stedy\n")
        self.open("/agents/broken")
        self.see("nav", "1 problem in its file")
        self.see("[data-testid=problems]", "1 problem")

    def test_two_hundred_agents_with_long_names(self) -> None:
        for number in range(200):
            name = f"desk-{number:03}-{'with-a-very-long-name-' * 4}end"
            self.write(f"agents/{name}.yaml", f"ferox: 1\nagent: {name}\nlink: plain\n"
                       "model: steady\n")  # fmt: skip
        self.open("/agents")
        self.see("h1", "desk-000")
        links = self.page.find_elements(By.CSS_SELECTOR, "nav[aria-label=Agents] a")
        self.assertEqual(len(links), 204)
        wide = self.page.execute_script("return document.body.scrollWidth")
        self.assertLessEqual(wide, 1280)

    def test_a_runs_call_is_held_from_the_dock(self) -> None:
        self.open("/board")
        self.press("[data-testid=start]")
        self.press("[data-testid=start-run] summary")
        self.hold("each trial's first call", "[data-testid=start-run]")
        self.press("[data-testid=go]")
        self.see("[data-testid=held-calls]", "tides/high_water")
        self.hold("no call", "[data-testid=dock]")
        link = "[data-testid=held-calls] a"
        first = self.see(link).get_attribute("href")
        self.press_button("Fail it")
        until(lambda: self.see(link).get_attribute("href") != first)  # the trial beside it
        self.press_button("Let it go")
        self.see("[data-testid=dock]", "is done: 3 of 3 trials passed")
        self.assertEqual(self.errors(), [])
