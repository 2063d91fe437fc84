"""The Tasks place in a real browser: the editor, the picture, and what happened."""

from __future__ import annotations

import time
from typing import Any

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from tests.test_screens import ScreenCase
from tests.waiting import until

ALL = {"suites": ["small"], "agents": ["plain"], "repeats": 2}
FILE = "tasks/small.yaml"


class TasksScreen(ScreenCase):
    def finished(self) -> int:
        run = self.ask("/api/runs", ALL).body["id"]
        self.ask(f"/api/watch/runs/{run}")
        return int(run)

    def trial(self, run: int) -> int:
        where = "suite=small&task=high&agent=plain"
        return int(self.ask(f"/api/runs/{run}/trials?{where}").body["trials"][0]["id"])

    def at_end_of(self, words: str) -> Any:
        """The editor, with the cursor at the end of the line that holds these words."""
        lines = self.page.find_elements(By.CSS_SELECTOR, ".cm-line")
        next(line for line in lines if words in line.text).click()
        area = self.see(".cm-content")
        area.send_keys(Keys.END)
        return area

    def until(self, css: str, text: str) -> None:
        """Wait until no such element shows a text any more."""
        shown = lambda: self.page.find_elements(By.CSS_SELECTOR, css)  # noqa: E731
        until(lambda: not any(text in e.text for e in shown()))

    def test_expectations_are_tried_saved_and_scored_again(self) -> None:
        trial = self.trial(self.finished())
        self.open("/tasks")
        self.see("[data-testid=picture] .card", "high")
        self.see("[data-testid=tried]", "2 of 2 pass")
        self.see("[data-testid=tried]", "no verdict changes")
        area = self.at_end_of("answer:")
        area.send_keys(Keys.BACKSPACE, Keys.BACKSPACE, Keys.BACKSPACE)
        area.send_keys(Keys.BACKSPACE, '9"}]')
        self.see("[data-testid=picture]", "14:39")
        self.see("[data-testid=tried]", "2 verdicts would change")
        self.see("[data-testid=tried]", 'does not mention "14:39"')
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.see("[data-testid=tried]", "2 stored trials were scored under another script")
        self.press_button("Score them again")
        self.see("[data-testid=tried]", "2 scored again, 2 verdicts changed")
        self.open(f"/trial/{trial}")
        self.see("[data-testid=verdict]", "fail")
        self.press("button", "under another script than it ran with")
        self.see("[data-testid=differences]", "14:39")
        choice = Select(self.see("[data-testid=times] select"))
        choice.select_by_index(1)
        self.see("[data-testid=verdict]", "pass")
        self.assertIn("result=", self.page.current_url)
        self.assertEqual(self.errors(), [])

    def test_completion_help_errors_and_format(self) -> None:
        self.open("/tasks/small")
        self.see("[data-testid=picture]", "high")
        area = self.at_end_of("calls:")
        area.send_keys(Keys.BACKSPACE, ", {tool: tides/lo")
        self.see(".cm-tooltip-autocomplete", "tides/low_water")
        time.sleep(0.3)
        area.send_keys(Keys.ENTER)
        area.send_keys(", args: {da")
        self.see(".cm-tooltip-autocomplete", "day")
        area.send_keys(Keys.ESCAPE)
        area.send_keys(Keys.END, "]")
        self.see("[data-testid=picture] .card", "low_water")
        self.see(".cm-lintRange-error", "da}}]")  # not of the text before it was closed
        self.press("[data-testid=problems]", "1 problem")
        self.see(".cm-panel-lint, .cm-tooltip-lint, .cm-diagnostic", "no argument `da`")
        area = self.see(".cm-content")
        area.send_keys(Keys.ESCAPE)
        self.see("[data-testid=tried]", "No stored trial of this task yet")
        self.press_button("Format")
        self.see("[data-testid=file-bar]", "•")
        self.assertEqual(self.errors(), [])

    def test_a_text_that_does_not_load_and_a_change_on_disk(self) -> None:
        self.open("/tasks/small?task=high")
        self.see("[data-testid=picture]", "high")
        area = self.at_end_of("suite: small")
        area.send_keys(Keys.ENTER, "suites: [")
        self.see(
            "[data-testid=task-side] [role=status]", "The picture is of the last text that loaded"
        )
        self.see("[data-testid=picture].stale")
        self.press_button("Save")
        self.see("[role=alert]", "not saved")
        # What is not saved is there again, until it is discarded.
        self.open("/tasks/small")
        self.see("[data-testid=editor]", "suites: [")
        self.see("[data-testid=file-bar]", "What you typed before; it is not saved yet.")
        self.press_button("Discard my changes")
        self.see("[data-testid=picture]", "high")
        # Of another text, a change on disk is noticed.
        text = (self.root / FILE).read_text()
        (self.root / FILE).write_text(text.replace("water today?", "water today, please?"))
        self.see("[data-testid=picture]", "please?")  # nothing was changed here: read again
        area = self.at_end_of("suite: small")
        area.send_keys("   # mine")
        (self.root / FILE).write_text(text)
        self.see("[role=alert]", "changed on disk since it was read, and you changed it")
        self.press_button("Keep mine")
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.assertIn("# mine", (self.root / FILE).read_text())

    def test_a_trial_becomes_a_task_to_be_reviewed(self) -> None:
        trial = self.trial(self.finished())
        self.open(f"/trial/{trial}")
        self.see("[data-testid=verdict]", "pass")
        self.page.find_element(By.TAG_NAME, "body").send_keys("k")
        field = self.see("[data-testid=task-name]")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("kept")
        self.press_button("Make the task")
        inferred = self.see("[aria-label='What was inferred']", "high_water.day")
        self.assertIn("it is the clock's day", inferred.text)
        self.see("[data-testid=picture]", "the day today")
        self.see("[data-testid=file-bar]", "Made from what happened; it is not saved yet.")
        self.assertNotIn("kept", (self.root / FILE).read_text())
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.assertIn("- task: kept", (self.root / FILE).read_text())
        self.see("nav li a", "kept")
        self.assertEqual(self.errors(), [])

    def test_a_new_suite_none_and_no_such_suite(self) -> None:
        self.open("/tasks/small")
        field = self.see("[aria-label='New suite']")
        field.send_keys("evening", Keys.ENTER)
        self.see("[data-testid=picture]", "no tool is to be called")
        self.assertFalse((self.root / "tasks/evening.yaml").exists())
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.see("nav h3", "evening")
        self.assertTrue((self.root / "tasks/evening.yaml").exists())
        self.open("/tasks/nothing")
        self.see("h2", "There is no tasks/nothing.yaml")
        (self.root / FILE).unlink()
        (self.root / "tasks/evening.yaml").unlink()
        self.open("/tasks")
        self.see("h2", "No suite yet")

    def test_three_hundred_tasks_with_long_names(self) -> None:
        name = "a-task-with-a-name-as-long-as-a-harbour-wall-in-winter"
        tasks = "".join(
            f"  - task: {name}-{n}\n    say: When is high water today?\n"
            f"    expect: {{calls: [{{tool: tides/high_water, args: {{day: {{day: +{n}}}}}}}]}}\n"
            for n in range(300)
        )
        self.write(FILE, f"ferox: 1\nsuite: small\nservers: {{tides: mock}}\ntasks:\n{tasks}")
        self.open(f"/tasks/small?task={name}-299")
        self.see("[data-testid=picture]", f"{name}-299")
        self.see("[data-testid=picture]", "the day 299")
        wide = self.page.execute_script(
            "return document.documentElement.scrollWidth - document.documentElement.clientWidth"
        )
        self.assertEqual(wide, 0)
        self.see("[aria-label='Find a task']").send_keys("winter-150")
        self.press("nav li a", f"{name}-150")
        self.see("[data-testid=picture]", "the day 150")
