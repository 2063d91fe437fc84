"""The screens in a real browser, with real runs behind them."""

from __future__ import annotations

import subprocess
import sys
import time
from typing import Any

from selenium.common.exceptions import (
    ElementClickInterceptedException,
    StaleElementReferenceException,
)
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.select import Select

from ferox.runs.records import plan_run
from ferox.workspace import load_workspace
from tests.browser import chromium
from tests.serving import ServedCase
from tests.waiting import HANG_S, until

# One question to the browser for all elements: each costs more than drawing them.
SEEN = """
    const shows = e => e.checkVisibility({ visibilityProperty: true })
        && (e.innerText ?? e.textContent).includes(arguments[1]);
    return [...document.querySelectorAll(arguments[0])].find(shows) ?? null;
"""
ASKED = """
    return performance.getEntriesByName(arguments[0]).map(entry => entry.initiatorType);
"""
MATRIX = "table[aria-label='Tasks against agents']"
TIMES = "[data-testid=trial-times] svg path[fill]"
SLIPS = "stand_in: desk\nmanners: {slips: {look_alike: 1}}"


class ScreenCase(ServedCase):
    """A served workspace and a browser in front of it, one for all tests of a class: each serves
    at an address of its own, so that none finds what another kept in the browser."""

    page: Chrome

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        browser = chromium()
        cls.page = browser.__enter__()
        cls.addClassCleanup(browser.__exit__, None, None, None)

    def setUp(self) -> None:
        super().setUp()
        self.page.get("about:blank")
        self.errors()

    def open(self, path: str) -> None:
        self.page.get(self.url + path)

    def see(self, css: str, text: str = "") -> WebElement:
        """Wait for an element that shows a text."""
        end = time.monotonic() + HANG_S
        while time.monotonic() < end:
            element: WebElement | None = self.page.execute_script(SEEN, css, text)
            if element is not None:
                return element
            time.sleep(0.1)
        body = self.page.find_element(By.TAG_NAME, "body").text
        raise AssertionError(f"no {css} with “{text}”; the page shows:\n{body}")

    def press(self, css: str, text: str = "") -> None:
        """Click an element that shows a text; once more if it was drawn anew meanwhile."""
        until(lambda: self._clicked(self.see(css, text)))

    def press_button(self, name: str) -> None:
        """Click a button once it can be pressed: a press of one that cannot be is lost."""
        self.press("button:not([disabled])", name)

    def _clicked(self, element: WebElement) -> bool:
        try:
            element.click()
        except (StaleElementReferenceException, ElementClickInterceptedException):
            return False
        return True

    def start(self, repeats: int) -> None:
        self.open("/")
        self.press_button("run")
        field = self.see("input[type=number]")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(str(repeats))
        self.press("[data-testid=go]", f"Start {repeats}")

    def errors(self) -> list[Any]:
        log: list[Any] = self.page.get_log("browser")
        return [entry for entry in log if entry["level"] == "SEVERE"]


class Screens(ScreenCase):
    def test_a_run_started_here_is_read_back_from_the_screen(self) -> None:
        self.open("/")
        self.see("h2", "No run yet")
        self.start(3)
        self.see("[data-testid=dock]", "Run 1 is done: 3 of 3 trials passed")
        cell = self.see("[data-cell='small/high/plain']", "3")
        self.assertIn(
            "3 of 3 trials passed; 95 % interval 44 % to 100 %", cell.get_attribute("title")
        )
        cell.click()
        trials = self.see("[data-testid=cell-trials]", "trial 3")
        self.assertIn("3 passed", trials.text)
        self.see("[data-testid=trial-times]", "Times of 3 trials: from")
        until(lambda: len(self.page.find_elements(By.CSS_SELECTOR, TIMES)) >= 3)
        trials.find_elements(By.TAG_NAME, "a")[1].click()
        self.see("[data-testid=verdict]", "pass")
        self.assertIn("/trial/", self.page.current_url)
        self.page.back()
        self.see("[data-testid=cell-trials]", "trial 2")
        for path, css, asked in (
            ("/board/1", "[data-cell]", "/api/runs/1/board"),
            ("/board/1?base=1", "[data-cell]", "/api/runs/1/board?base=1"),
            ("/trial/2?call=none", "[data-testid=verdict]", "/api/trials/2"),
        ):
            self.open(path)
            self.see(css)
            fetched = self.page.execute_script(ASKED, self.url + asked)
            self.assertEqual(fetched, ["link"], "fetched once, before the screens are there")
        self.assertEqual(self.errors(), [])

    def test_a_run_begins_with_what_is_shown_and_says_what_it_would_take(self) -> None:
        greet = "{task: greet, say: Hello, tags: [short], expect: {answer: [{matches: .}]}}"
        two = f"tasks:\n  - {greet}\n"
        self.change("tasks/small.yaml", "tasks:\n", two)
        self.write("agents/other.yaml", "ferox: 1\nagent: other\nlink: plain\nmodel: steady\n")
        self.open("/")
        self.press("[data-testid=start]")
        self.see("[data-testid=agent-choice] legend", "1 of 2")  # the first agent, not everything
        self.see("[data-testid=estimate]", "None of this has run yet, so there is no estimate.")
        self.press("[data-testid=task-choice] button", "short")
        self.see("[data-testid=task-choice] legend", "1 of 2")
        field = self.see("input[type=number]")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("2")
        self.press("[data-testid=go]", "Start 2 trials")
        self.see("[data-testid=dock]", "Run 1 is done: 2 of 2 trials passed")
        self.press("[data-testid=start]")
        self.see("[data-testid=task-choice] legend", "1 of 2")  # as the board that is shown
        self.see("[data-testid=estimate]", "by their last run")
        on = self.see("input[list=clusters]")
        on.send_keys("tcp://quay:8786")
        self.see("[data-testid=estimate]", "How long is up to the cluster")
        numbers = self.page.find_elements(By.CSS_SELECTOR, "[data-testid=start-run] [type=number]")
        self.assertEqual(numbers[1].get_attribute("value"), "")
        on.send_keys(Keys.CONTROL, "a")
        on.send_keys(Keys.DELETE)
        until(lambda: numbers[1].get_attribute("value") == "2")
        self.press("[data-testid=task-choice] button", "1 of 2 tasks")
        self.press("[data-testid=task-choice] label", "high")
        self.press("[data-testid=agent-choice] button", "all")
        self.see("[data-testid=estimate]", "3 cells have not run yet and count like the others")
        self.press("[data-testid=agent-choice] button", "none")
        self.see("[data-testid=start-run]", "Choose an agent.")
        self.assertFalse(self.see("[data-testid=go]").is_enabled())

    def test_a_board_of_eight_agents_is_dense_and_filtered(self) -> None:
        names = [f"desk-of-watch-{n}" for n in range(7)]
        for name in names:
            text = f"ferox: 1\nagent: {name}\nlink: plain\nmodel: steady\n"
            self.write(f"agents/{name}.yaml", text)
        lost = "{task: lost, say: Hello, tags: [short], expect: {answer: [{matches: never}]}}"
        self.change("tasks/small.yaml", "tasks:\n", f"tasks:\n  - {lost}\n")
        body = {"suites": ["small"], "agents": [*names, "plain"], "repeats": 1, "at_once": 4}
        self.ask("/api/runs", body)
        self.open("/board/1")
        self.see("[data-testid=dock]", "Run 1 is done: 8 of 16 trials passed")
        self.see("[data-total=plain]", "1/2")
        wide = self.page.execute_script(
            "const m = document.querySelector('main'); return m.scrollWidth - m.clientWidth"
        )
        self.assertLessEqual(wide, 0, "eight agents fit without scrolling sideways")
        rows = f"{MATRIX} tbody th[scope=row]"

        def shown() -> list[str]:
            return [e.text for e in self.page.find_elements(By.CSS_SELECTOR, rows)]

        self.assertEqual(shown(), ["lost", "high"])
        Select(self.see("[aria-label='Tasks shown']")).select_by_visible_text("with a failure")
        until(lambda: shown() == ["lost"])
        self.assertIn("only=failed", self.page.current_url)
        Select(self.see("[aria-label='Tasks shown']")).select_by_visible_text("that waver")
        self.see("td", "No task is like that.")
        Select(self.see("[aria-label='Tasks shown']")).select_by_visible_text("every task")
        self.see("[aria-label='Find a task']").send_keys("high")
        until(lambda: shown() == ["high"])
        self.page.get(f"{self.url}/board/1?order=worst&group=tag&hide=plain")
        self.see("[scope=rowgroup]", "no tag")
        self.assertEqual(shown(), ["lost", "high"])
        self.assertEqual(self.page.find_elements(By.CSS_SELECTOR, "[data-total=plain]"), [])
        # Columns are put in another order, which the address keeps.
        agents = f"{MATRIX} thead .agent"

        def columns() -> list[str]:
            return [e.text for e in self.page.find_elements(By.CSS_SELECTOR, agents)]

        self.open("/board/1")
        until(lambda: columns() == [*names, "plain"])
        self.press("summary", "8 agents")
        # The list lies above the board's own head, which stays in sight.
        over = """const box = document.querySelector(arguments[0]).getBoundingClientRect();
            return document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)
                .closest('button')?.ariaLabel"""
        name = f"{names[0]} further to the right"
        self.assertEqual(self.page.execute_script(over, f"[aria-label='{name}']"), name)
        self.press("[aria-label='plain further to the left']")
        until(lambda: columns() == [*names[:-1], "plain", names[-1]])
        self.page.refresh()
        until(lambda: columns() == [*names[:-1], "plain", names[-1]])

    def test_of_many_tasks_only_those_in_sight_are_drawn(self) -> None:
        tasks = "".join(f"  - {{task: t{n:03}, say: Hello}}\n" for n in range(300))
        self.change("tasks/small.yaml", "tasks:\n", f"tasks:\n{tasks}")
        plan_run(self.engine, load_workspace(self.root), ["small"], ["plain"], 1, 1)
        self.open("/board/1")
        self.see(f"{MATRIX} th", "t000")
        drawn = "return document.querySelectorAll(arguments[0]).length"
        rows = f"{MATRIX} tbody th[scope=row]"
        self.assertLess(self.page.execute_script(drawn, rows), 150)
        self.page.execute_script("const m = document.querySelector('main'); m.scrollTop = 1e6")
        self.see(f"{MATRIX} th", "t299")
        self.assertLess(self.page.execute_script(drawn, rows), 150)
        self.see("[data-cell='small/high/plain']")

    def test_when_ferox_is_gone_the_screen_says_so_and_goes_on_once_it_is_back(self) -> None:
        self.open("/servers/tides?view=file")
        area = self.see(".cm-content", "server: tides")
        area.send_keys(Keys.CONTROL, Keys.END)
        area.send_keys("# typed")
        self.stop_serving()
        self.see("[data-testid=gone]", "Ferox does not answer.")
        self.press_button("Save")
        self.see("[role=alert]", "Is `ferox serve` still running?")
        self.write("servers/depths.yaml", "ferox: 1\nserver: depths\nmock: {tools: []}\n")
        self.start_serving(self.port)
        self.see("nav", "depths")  # what it missed is read
        self.assertEqual(self.page.find_elements(By.CSS_SELECTOR, "[data-testid=gone]"), [])
        self.see(".cm-content", "# typed")
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.assertIn("# typed", (self.root / "servers/tides.yaml").read_text())

    def test_the_trial_shows_expected_and_actual_and_leads_to_the_evidence(self) -> None:
        self.change("stand_ins/desk.yaml", "stand_in: desk", SLIPS)
        self.change("ferox.yaml", "manner: steady", "manner: slips")
        self.start(2)
        self.see("[data-testid=dock]", "0 of 2 trials passed")
        self.press("[data-cell='small/high/plain']", "0")
        self.see("[data-testid=cell-trials]", "trial 2")
        self.page.find_elements(By.CSS_SELECTOR, "[data-testid=cell-trials] a")[0].click()
        self.see("[data-testid=verdict]", "checks failed")
        tracks = self.see("[data-testid=tracks]")
        self.assertEqual(len(tracks.find_elements(By.CSS_SELECTOR, ".node.missing")), 1)
        extra = tracks.find_elements(By.CSS_SELECTOR, ".bar.extra")
        self.assertTrue(extra)
        self.see("[data-testid=checks] button", "high.called")
        # A check lights its calls; the arrow keys step through them.
        self.press("[data-testid=checks] button", "extra.c1")
        self.see("[aria-label='Chosen call']", "tides/low_water")
        self.see("[aria-label='Chosen call']", "There is no table.")
        tracks.find_element(By.CSS_SELECTOR, ".node.missing").click()
        self.see("[aria-label='Chosen call']", "did not propose it")
        body = self.page.find_element(By.TAG_NAME, "body")
        body.send_keys("s")
        self.see("button", "Show in time")
        self.assertIn("by=steps", self.page.current_url)
        before = self.page.current_url
        body.send_keys("n")
        self.see("[data-testid=verdict]", "failed")
        self.assertNotEqual(self.page.current_url.split("?")[0], before.split("?")[0])
        self.assertEqual(self.errors(), [])

    def test_a_run_fills_in_live_and_is_stopped_from_the_dock(self) -> None:
        self.change("stand_ins/desk.yaml", "{ms: 0}", "{ms: 200}")
        self.start(30)
        self.see("[data-testid=dock]", "of 30 trials")
        cell = "[data-cell='small/high/plain']"
        self.see(cell, "/")
        first = self.see(cell).text
        until(lambda: self.see(cell).text != first)
        self.press_button("Stop")
        self.see("[data-testid=dock]", "was stopped")
        self.see("[data-testid=halted]", "trials are missing")
        self.press_button("Resume")
        self.see("[data-testid=dock]", "30 of 30 trials passed")
        self.assertEqual(self.errors(), [])

    def test_the_dock_follows_a_run_that_was_started_elsewhere(self) -> None:
        self.change("stand_ins/desk.yaml", "{ms: 0}", "{ms: 100}")
        self.open("/board")
        self.see("[data-testid=dock]", "No run in progress.")
        command = [sys.executable, "-m", "ferox", "run", str(self.root), "--trials", "12"]
        with subprocess.Popen(command, stdout=subprocess.DEVNULL) as terminal:
            self.see("[data-testid=dock]", "of 12 trials")
            self.see("[data-testid=dock]", "Run 1 is done: 12 of 12 trials passed")
            self.assertEqual(terminal.wait(HANG_S), 0)
        self.see("[data-cell='small/high/plain']", "12")

    def test_the_ledger_names_causes_and_what_differs(self) -> None:
        self.start(1)
        self.see("[data-testid=ledger]", "No cell has a predecessor")
        self.see("[data-testid=ledger]", "Every task passed always.")
        self.change("servers/tides.yaml", '"14:31"', '"15:31"')
        self.change("agents/plain.yaml", "model:", "instructions: Be brief.\nmodel:")
        self.start(1)
        self.see("[data-testid=ledger]", "Since run 1")
        self.see("[data-testid=ledger] tr", 'The answer does not mention "14:31"')
        self.see("[data-testid=ledger] tr", "differs too: instructions, servers")
        self.press("[data-cell='small/high/plain']", "0")
        self.see("[data-testid=cell-trials]", 'The answer does not mention "14:31"')
        self.start(1)
        self.see("[data-testid=ledger]", "Nothing changed in 1 cell; 1 cell fails as before.")
        Select(self.see("[aria-label='Compared with']")).select_by_visible_text("run 1")
        self.see("[data-testid=ledger] tr", "Broke")
        self.assertIn("base=1", self.page.current_url)
        self.assertEqual(self.errors(), [])

    def test_a_task_of_which_nothing_is_demanded_is_not_judged(self) -> None:
        text = (self.root / "tasks/small.yaml").read_text()
        (self.root / "tasks/small.yaml").write_text(text[: text.index("    expect:")])
        self.start(1)
        self.press("[data-cell='small/high/plain']", "not judged")
        self.see("[data-testid=cell-trials]", "1 not judged")
        self.press("[data-testid=cell-trials] a", "trial 1")
        self.see("[data-testid=verdict]", "not judged: nothing is demanded of it")

    def test_broken_files_and_addresses_are_reported(self) -> None:
        self.change("tasks/small.yaml", "tides/high_water", "tides/high")
        self.open("/")
        self.see("[aria-label='Problems of the workspace']", "tasks/small.yaml:8:26")
        self.open("/trial/77")
        self.see("h2", "This trial cannot be shown")
        self.see("[data-testid=notice]", "there is no trial 77")
        self.open("/servers/nope")
        self.see("h2", "There is no server nope")
        self.open("/nowhere")
        self.see("h2", "There is nothing at this address")

    def test_what_failed_is_run_again_from_the_board(self) -> None:
        self.change("tasks/small.yaml", 'mentions: "14:31"', 'mentions: "19:19"')
        self.start(2)
        self.see("[data-testid=dock]", "Run 1 is done: 0 of 2 trials passed")
        self.change("tasks/small.yaml", 'mentions: "19:19"', 'mentions: "14:31"')
        self.press_button("Run what failed again")
        self.see("[data-testid=dock]", "Run 2 is done: 2 of 2 trials passed")
        self.see("[data-cell='small/high/plain']", "2")

    def test_a_tool_is_found_tried_and_its_wording_compared(self) -> None:
        self.open("/servers")
        self.see("[data-testid=tools]", "high_water")
        self.see("input[type=search]").send_keys("no table")
        self.see("[data-testid=no-tools]", "No tool matches")
        self.see("input[type=search]").clear()
        self.see("input[type=search]").send_keys("high")
        self.press("[data-testid=tools] button", "high_water")
        self.see("#argument-day").send_keys("2031-03-14")
        self.press_button("As JSON")
        self.assertIn('"2031-03-14"', self.see("textarea").get_attribute("value"))
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "14:31")
        self.see("[data-testid=call-by-hand]", "/asked")
        area = self.see("textarea")
        area.clear()
        area.send_keys("{}")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "'day' is a required property")
        self.press_button("Wording")
        self.see("[data-testid=wording]", "arguments without a description: day")
        self.assertEqual(self.errors(), [])

    def test_a_server_out_of_reach_says_what_to_try(self) -> None:
        self.write(
            "servers/live.yaml", "ferox: 1\nserver: live\nlive: {command: [no-such-command]}\n"
        )
        self.open("/servers/live")
        self.see("h2", "`no-such-command` was not found")
        self.see("[data-testid=notice]", "Next: install it")

    def test_text_from_a_tool_is_never_markup(self) -> None:
        evil = "<img src=x onerror=document.title='owned'>"
        self.change("servers/tides.yaml", '"14:31"', f'"{evil}"')
        self.start(1)
        self.see("[data-testid=dock]", "0 of 1 trial passed")
        self.open("/trial/1?call=c1")
        self.see("[aria-label='Chosen call']", evil)
        self.see("[aria-label=Conversation]", evil)
        self.assertEqual(self.page.title, "Skerrow test desk · Ferox")
        self.assertEqual(self.errors(), [])

    def test_both_themes_have_readable_contrast(self) -> None:
        self.start(1)
        self.see("[data-testid=dock]", "is done")
        for theme in ("light", "dark"):
            self.page.execute_script("document.documentElement.dataset.theme = arguments[0]", theme)
            for name in ("--ink", "--soft", "--holds", "--doubt", "--broke", "--iron"):
                pair = (name, "--ground")
                self.assertGreaterEqual(self.contrast(*pair), 4.5, (theme, pair))

    def contrast(self, one: str, other: str) -> float:
        """WCAG's contrast ratio of two of the page's colours."""

        def luminance(name: str) -> float:
            style = "getComputedStyle(document.documentElement)"
            text = self.page.execute_script(f"return {style}.getPropertyValue('{name}')").strip(
                "# "
            )
            parts = [int(text[i : i + 2], 16) / 255 for i in (0, 2, 4)]
            r, g, b = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
            return 0.2126 * r + 0.7152 * g + 0.0722 * b

        light, dark = sorted((luminance(one), luminance(other)), reverse=True)
        return (light + 0.05) / (dark + 0.05)
