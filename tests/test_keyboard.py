"""The screens by keyboard alone; and files renamed and removed, with the way back."""

from __future__ import annotations

import unittest
from typing import Any

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.test_screens import ScreenCase
from tests.waiting import until

GO_TO = "[data-testid=go-to]"
OTHER = "ferox: 1\nagent: other\nlink: plain\nmodel: steady\n"


class KeyCase(ScreenCase):
    def keys(self, *keys: str) -> None:
        """Press keys where the focus is."""
        ActionChains(self.page).send_keys(*keys).perform()

    def chord(self, key: str) -> None:
        """Press a key together with Ctrl."""
        chain = ActionChains(self.page).key_down(Keys.CONTROL).send_keys(key)
        chain.key_up(Keys.CONTROL).perform()

    def focused(self, script: str) -> Any:
        """Something of the element that has the focus, called `e`."""
        return self.page.execute_script(f"const e = document.activeElement; return {script}")

    def until_focused(self, script: str, expected: str) -> None:
        """Wait until the focus is where something of it is as expected."""
        until(lambda: self.focused(script) == expected)

    def go_to(self, words: str) -> None:
        """Type in what is to be gone to."""
        self.chord("k")
        self.until_focused("e.getAttribute('aria-label')", "What to go to")
        self.keys(words)


class Keyboard(KeyCase):
    def test_anything_is_reached_by_its_name(self) -> None:
        self.open("/servers")
        self.see("[data-testid=tools]", "high_water")
        self.go_to("low wat")
        self.see(f"{GO_TO} [aria-selected=true]", "low_water")
        self.keys(Keys.ENTER)
        until(lambda: self.page.current_url.endswith("/servers/tides?tool=low_water"))
        self.go_to("high")
        self.see(f"{GO_TO} [aria-selected=true]", "high")
        self.keys(Keys.DOWN)
        self.see(f"{GO_TO} [aria-selected=true]", "high_water")
        self.keys(Keys.UP, Keys.ENTER)
        until(lambda: self.page.current_url.endswith("/tasks/small?task=high"))
        self.go_to("nothing of the kind")
        self.see(GO_TO, "Nothing has that name.")
        self.keys(Keys.ESCAPE)
        until(lambda: not self.page.find_elements("css selector", GO_TO))
        self.go_to("start a run")
        self.see(f"{GO_TO} [aria-selected=true]", "Start a run")
        self.keys(Keys.ENTER)
        self.see("[data-testid=start-run]")
        self.assertEqual(self.errors(), [])

    def test_the_board_and_its_lists_by_arrows(self) -> None:
        self.write("agents/other.yaml", OTHER)
        self.change("tasks/small.yaml", "tasks:\n", "tasks:\n  - {task: greet, say: Hello}\n")
        self.start_all()
        cells = [f"small/{t}/{a}" for t in ("greet", "high") for a in ("other", "plain")]
        self.see(f"[data-cell='{cells[0]}']")
        self.page.execute_script("document.querySelector('[data-cell]').focus()")
        for key, cell in (
            (Keys.RIGHT, 1), (Keys.DOWN, 3), (Keys.DOWN, 3), (Keys.LEFT, 2), (Keys.UP, 0),
        ):  # fmt: skip
            self.keys(key)
            self.assertEqual(self.focused("e.dataset.cell"), cells[cell])
        # Past the trials of an opened cell to the cell below it.
        self.keys(Keys.ENTER)
        self.see("[data-testid=cell-trials]", "trial 1")
        self.keys(Keys.DOWN)
        self.assertEqual(self.focused("e.dataset.cell"), cells[2])
        self.open("/agents")
        self.see("nav[aria-label=Agents]", "plain")
        self.page.execute_script("document.querySelector('nav[aria-label=Agents] a').focus()")
        self.keys(Keys.DOWN)
        self.assertEqual(self.focused("e.getAttribute('href')"), "/agents/plain")
        self.keys(Keys.END)
        self.assertEqual(self.focused("e.getAttribute('href')"), "/agents?view=secrets")

    def start_all(self) -> None:
        body = {"suites": ["small"], "agents": ["other", "plain"], "repeats": 1}
        self.assertEqual(self.ask("/api/runs", body).status, 201)
        self.open("/board")
        self.see("[data-testid=dock]", "Run 1 is done")

    def test_the_keys_of_a_place_are_shown_and_heeded_unless_one_types(self) -> None:
        self.open("/board")
        self.see("h2", "No run yet")
        self.keys("?")
        self.see("dialog", "starts a run")
        self.keys(Keys.ESCAPE)
        until(lambda: not self.page.find_elements("css selector", "dialog[open]"))
        self.keys("r")
        self.see("[data-testid=start-run]")
        self.keys(Keys.ESCAPE)
        self.open("/tasks/small")
        self.see("[data-testid=picture]", "high")
        self.keys("/")
        self.until_focused("e.getAttribute('aria-label')", "Find a task")
        self.keys("r?")
        self.assertEqual(self.focused("e.value"), "r?")

    def test_the_focus_is_never_lost(self) -> None:
        self.open("/board")
        self.see("h2", "No run yet")
        button = self.see("[data-testid=start]")
        button.send_keys(Keys.ENTER)
        self.see("[data-testid=start-run]")
        self.keys(Keys.ESCAPE)
        self.until_focused("e.dataset.testid", "start")
        self.open("/trial/77")
        self.see("main a", "To the board").send_keys(Keys.ENTER)
        self.until_focused("e.tagName", "MAIN")


class Files(KeyCase):
    def test_a_server_is_renamed_and_named_back(self) -> None:
        self.open("/servers/tides?view=file")
        self.see("[data-testid=editor]", "server: tides")
        self.press_button("Rename")
        self.keys("pilots", Keys.ENTER)
        self.see("[data-testid=undo]", "tides is now pilots. 2 problems came of it, in tasks/small")
        self.see("[data-testid=editor]", "server: pilots")
        self.see("nav[aria-label='Tool servers']", "pilots")
        self.press_button("Undo")
        self.see("[data-testid=editor]", "server: tides")
        self.assertFalse((self.root / "servers/pilots.yaml").exists())
        self.assertEqual(self.errors(), [])

    def test_an_agent_is_removed_and_put_back(self) -> None:
        self.write("agents/other.yaml", OTHER)
        self.open("/agents/other?view=file")
        self.see("[data-testid=editor]", "agent: other")
        self.press_button("Remove")
        self.see("[data-testid=undo]", "agents/other.yaml was removed.")
        until(lambda: "other" not in self.see("nav[aria-label=Agents]").text)
        self.press_button("Undo")
        self.see("[data-testid=editor]", "agent: other")
        self.see("nav[aria-label=Agents]", "other")

    def test_what_is_typed_outlives_places_back_and_reload(self) -> None:
        self.open("/agents/plain?view=file")
        area = self.see(".cm-content", "agent: plain")
        area.send_keys(Keys.CONTROL, Keys.END)
        area.send_keys("# typed")
        self.see("[data-testid=file-bar]", "•")
        self.press("header a", "Servers")
        self.see("[data-testid=tools]", "high_water")
        self.page.back()
        self.see(".cm-content", "# typed")
        self.page.refresh()
        self.see(".cm-content", "# typed")
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.page.refresh()
        self.see(".cm-content", "# typed")
        self.assertNotIn("•", self.see("[data-testid=file-bar]").text)
        # What is taken back needs no saving.
        area = self.see(".cm-content")
        area.send_keys(Keys.CONTROL, Keys.END)
        area.send_keys("x")
        self.see("[data-testid=file-bar]", "•")
        area.send_keys(Keys.BACKSPACE)
        until(lambda: "•" not in self.see("[data-testid=file-bar]").text)


if __name__ == "__main__":
    unittest.main()
